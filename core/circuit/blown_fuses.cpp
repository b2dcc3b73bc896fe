#include "circuit/blown_fuses.h"

#include <algorithm>

#include "circuit/operating_point.h"

namespace ilvek {

namespace {

auto endOfOwn(const std::vector<Fault>& faults)
{
    return std::find_if(faults.begin(), faults.end(), [](const Fault& f) { return f.kind == Fault::Kind::Blown; });
}

}  // namespace

std::size_t ownFaults(const std::vector<Fault>& faults)
{
    return static_cast<std::size_t>(endOfOwn(faults) - faults.begin());
}

std::vector<Fault> bothFaults(const std::vector<Fault>& first, const std::vector<Fault>& second)
{
    std::vector<Fault> both(first.begin(), endOfOwn(first));
    both.insert(both.end(), second.begin(), endOfOwn(second));
    both.insert(both.end(), endOfOwn(first), first.end());
    both.insert(both.end(), endOfOwn(second), second.end());
    return both;
}

std::vector<Fault> withBlownFuses(const Map& map, const std::vector<Fault>& faults, const std::vector<Fault>& figures)
{
    std::vector<Fault> out(faults.begin(), endOfOwn(faults));
    Condition used;
    used.faults = figures;
    used.faults.insert(used.faults.end(), out.begin(), out.end());
    std::set<int> blown;
    for (std::size_t state = 0; state < map.states.size(); ++state) {
        used.state = static_cast<int>(state);
        if (const auto point = operatingPoint(map, used))
            blown.insert(point->blownFuses().begin(), point->blownFuses().end());
    }
    for (const int fuse : blown)
        out.push_back(Fault{Fault::Kind::Blown, fuse});
    return out;
}

}  // namespace ilvek
