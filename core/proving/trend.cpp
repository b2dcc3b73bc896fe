#include "proving/trend.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace ilvek {

namespace {

constexpr double leastChange = 0.05;  // a clamp that was zeroed anew, another temperature
constexpr double sureOf = 3;          // sigma

// I at the first one's supply: R = U / I is what changes.
double atSupplyOf(const TraceSeen& first, const TraceSeen& t)
{
    const double ratio = first.supply_V && t.supply_V && *t.supply_V > 0 ? *first.supply_V / *t.supply_V : 1;
    return *t.current_A * ratio;
}

std::optional<Trend> trendIn(const std::vector<const TraceSeen*>& all)
{
    if (all.size() < 2) return std::nullopt;
    const TraceSeen &first = *all.front(), &last = *all.back();
    const double begins = *first.current_A, ends = atSupplyOf(first, last), change = ends - begins;
    const double sigma = std::hypot(first.currentSigma_A, last.currentSigma_A);
    if (std::abs(change) < std::max(sureOf * sigma, leastChange * std::max(begins, ends))) return std::nullopt;
    for (std::size_t i = 1; i < all.size(); ++i) {
        const double step = atSupplyOf(first, *all[i]) - atSupplyOf(first, *all[i - 1]);
        if (step * change < 0 && std::abs(step) > sureOf * sigma) return std::nullopt;
    }
    return Trend{all, begins > 0 ? ends / begins : 0, static_cast<double>(last.time_ms - first.time_ms) / 60000};
}

}  // namespace

std::vector<Trend> trendsOf(const Evidence& evidence)
{
    std::map<std::pair<std::string, std::string>, std::vector<const TraceSeen*>> by;
    for (const TraceSeen& t : evidence.traces) {
        const bool stands = std::none_of(evidence.repairs.begin(), evidence.repairs.end(),
                                         [&](const Repair& r) { return r.id > t.id; });
        if (stands && t.current_A && !t.element.empty()) by[{t.element, t.state}].push_back(&t);
    }
    std::vector<Trend> out;
    for (const auto& [of, all] : by) {
        if (auto trend = trendIn(all)) out.push_back(std::move(*trend));
    }
    return out;
}

const Trend* trendOf(const std::vector<Trend>& trends, const TraceSeen& recording)
{
    const auto at = std::find_if(trends.begin(), trends.end(), [&](const Trend& t) {
        return std::find(t.recordings.begin(), t.recordings.end(), &recording) != t.recordings.end();
    });
    return at == trends.end() ? nullptr : &*at;
}

}  // namespace ilvek
