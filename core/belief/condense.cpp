#include "belief/condense.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

namespace {

// Readings of one place that differ by more than this many sigma are not the same reading taken again.
constexpr double differs = 4;

bool alwaysStays(const Observation& o)
{
    return o.kind != Observation::Kind::Reading || o.probe == o.batteryProbe;
}

// 2: out of limits; 1: what its place is known by; 0: the same again.
std::vector<int> worths(const std::vector<Observation>& all, const std::set<std::int64_t>& failures)
{
    std::vector<int> worth(all.size(), 0);
    std::vector<char> seen(all.size(), 0);
    for (std::size_t i = all.size(); i-- > 0;) {
        if (seen[i] || alwaysStays(all[i])) continue;
        std::size_t least = i, most = i;
        for (std::size_t k = i; k-- > 0;) {
            if (seen[k] || alwaysStays(all[k]) || !(all[k].probe == all[i].probe) || !(all[k].setup == all[i].setup))
                continue;
            seen[k] = 1;
            if (all[k].value < all[least].value) least = k;
            if (all[k].value > all[most].value) most = k;
        }
        worth[i] = 1;
        const double sigma = std::hypot(all[least].sigma, all[most].sigma, all[i].gain);
        if (all[most].value - all[least].value > differs * sigma) worth[least] = worth[most] = 1;
    }
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (failures.contains(all[i].id)) worth[i] = 2;
    }
    return worth;
}

std::vector<Observation> cut(std::vector<Observation> all, const std::set<std::int64_t>& failures)
{
    const std::vector<int> worth = worths(all, failures);
    std::vector<std::size_t> order;
    for (std::size_t i = all.size(); i-- > 0;) {
        if (!alwaysStays(all[i])) order.push_back(i);
    }
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return worth[a] > worth[b]; });
    std::vector<char> stays(all.size(), 1);
    for (std::size_t n = leftAfterCut; n < order.size(); ++n)
        stays[order[n]] = 0;
    std::vector<Observation> out;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (stays[i]) out.push_back(std::move(all[i]));
    }
    return out;
}

}  // namespace

std::vector<Observation> condensed(std::vector<Observation> observations, const std::set<std::int64_t>& failures)
{
    std::vector<Observation> kept;
    std::size_t readings = 0;
    for (Observation& o : observations) {
        if (!alwaysStays(o)) ++readings;
        kept.push_back(std::move(o));
        if (readings < mostWeighed) continue;
        kept = cut(std::move(kept), failures);
        readings = leftAfterCut;
    }
    return kept;
}

}  // namespace ilvek
