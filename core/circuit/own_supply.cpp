#include "circuit/own_supply.h"

#include <algorithm>

namespace ilvek {

namespace {

// A conductor that leads through one terminal into a supply port of a module.
bool isFeed(const Map& map, int node)
{
    const auto& terminals = map.moduleTerminals();
    const auto at = std::find_if(terminals.begin(), terminals.end(),
                                 [&](int terminal) { return map.terminal(terminal).a == node; });
    if (at == terminals.end()) return false;
    const int inside = map.terminal(*at).b;
    return std::any_of(map.elements.begin(), map.elements.end(),
                       [&](const Element& e) { return e.kind == ElementKind::SupplyPort && e.nodes[0] == inside; });
}

}  // namespace

bool mayFeedItself(const Map& map, const std::vector<Fault>& faults)
{
    const auto joins = [](const Fault& f) { return f.kind == Fault::Kind::ShortBetween; };
    const auto takesFeedAway = [&](const Fault& f) {
        if (f.kind != Fault::Kind::Open) return false;
        const Element& part = map.element(f.element);
        return part.kind == ElementKind::Wire && (isFeed(map, part.nodes[0]) || isFeed(map, part.nodes[1]));
    };
    return std::any_of(faults.begin(), faults.end(), joins) && std::any_of(faults.begin(), faults.end(), takesFeedAway);
}

}  // namespace ilvek
