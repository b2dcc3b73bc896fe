#include "trace/formats/gaps.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ilvek {

std::vector<Gap> takeGaps(std::vector<float>& values)
{
    std::vector<Gap> gaps;
    const auto first = std::find_if(values.begin(), values.end(), [](float v) { return std::isfinite(v); });
    float last = first == values.end() ? 0.0F : *first;
    for (std::size_t i = 0; i < values.size(); ++i) {
        if (std::isfinite(values[i])) {
            last = values[i];
            continue;
        }
        values[i] = last;
        if (!gaps.empty() && gaps.back().last == i)
            ++gaps.back().last;
        else
            gaps.push_back({i, i + 1});
    }
    return gaps;
}

bool isInGap(const std::vector<Gap>& gaps, double first, double last)
{
    const auto at = std::lower_bound(gaps.begin(), gaps.end(), first,
                                     [](const Gap& g, double x) { return static_cast<double>(g.last) <= x; });
    return at != gaps.end() && static_cast<double>(at->first) <= last;
}

std::string gapWords(const std::vector<Gap>& gaps, const std::string& placeOfFirst)
{
    std::size_t samples = 0;
    for (const Gap& g : gaps)
        samples += g.last - g.first;
    return samples == 1
               ? fmt::format("One sample is no figure and is left out: {}.", placeOfFirst)
               : fmt::format("{} samples are no figures and are left out, the first at {}.", samples, placeOfFirst);
}

}  // namespace ilvek
