#include "trace/noise.h"

#include <algorithm>
#include <cmath>

#include "base/expects.h"
#include "base/stop.h"

namespace ilvek {

double medianOf(std::vector<double> x)
{
    EXPECTS(!x.empty());
    const auto middle = x.begin() + static_cast<std::ptrdiff_t>(x.size() / 2);
    std::nth_element(x.begin(), middle, x.end());
    return *middle;
}

double noiseOf(const std::vector<double>& x, double converterStep)
{
    if (x.size() < 8) return std::abs(converterStep) / std::sqrt(12.0);
    std::vector<double> d;
    const std::size_t stride = std::max<std::size_t>(1, x.size() / 20000);
    for (std::size_t i = 1; i + 1 < x.size(); i += stride)
        d.push_back(std::abs(x[i - 1] - 2 * x[i] + x[i + 1]));
    return std::max(medianOf(std::move(d)) / (0.6745 * std::sqrt(6.0)), std::abs(converterStep) / std::sqrt(12.0));
}

LevelPair levelsOf(const std::vector<double>& x)
{
    if (x.empty()) return {};
    std::vector<double> sorted;
    const std::size_t stride = std::max<std::size_t>(1, x.size() / 100000);
    for (std::size_t i = 0; i < x.size(); i += stride)
        sorted.push_back(x[i]);
    std::sort(sorted.begin(), sorted.end());
    const auto at = [&](double share) {
        return sorted[static_cast<std::size_t>(share * static_cast<double>(sorted.size() - 1))];
    };
    const double low = at(0.002), high = at(0.998);
    // The medians of what lies in the lower and in the upper half of the range.
    const double middle = 0.5 * (low + high);
    const auto split = std::lower_bound(sorted.begin(), sorted.end(), middle);
    const auto middleOf = [](auto begin, auto end, double none) {
        return begin == end ? none : *(begin + (end - begin) / 2);
    };
    return {middleOf(sorted.begin(), split, low), middleOf(split, sorted.end(), high)};
}

Kinks::Kinks(const std::vector<double>& x) : sum_(x.size() + 1, 0.0), moment_(x.size() + 1, 0.0)
{
    // About the first value and the middle of the stretch, so that the sums stay small.
    middle_ = 0.5 * static_cast<double>(x.size());
    origin_ = x.empty() ? 0 : x.front();
    for (std::size_t i = 0; i < x.size(); ++i) {
        stopPointAt(i);
        sum_[i + 1] = sum_[i] + (x[i] - origin_);
        moment_[i + 1] = moment_[i] + (static_cast<double>(i) - middle_) * (x[i] - origin_);
    }
}

double Kinks::slopeSigma(std::size_t n)
{
    const double count = static_cast<double>(n);
    return std::sqrt(12.0 / (count * (count * count - 1)));
}

}  // namespace ilvek
