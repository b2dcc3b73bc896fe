// W11: the load follows the terminal's kind.
#include <fmt/format.h>
#include <algorithm>

#include "machine/paths.h"
#include "proving/step.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

bool mayBeLoaded(const Terminal& terminal)
{
    if (!terminal.role) return false;
    const Group group = groupOf(*terminal.role);
    return group == Group::Supplies || group == Group::Returns;
}

double smallestFuse_A(const Map& map, int terminal)
{
    double rating = 1e9;
    for (const int fuse : fusesOf(map, terminal))
        rating = std::min(rating, map.element(fuse).value("rating"));
    return rating;
}

}  // namespace

const SubstituteLoad* recommendedLoad(const Map& map, const std::vector<SubstituteLoad>& loads, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    if (!mayBeLoaded(t)) return nullptr;
    const double own = t.current_A.value_or(1.0);
    const double most = std::min(1.1 * own, trade::fuseShare * smallestFuse_A(map, terminal));
    const SubstituteLoad* best = nullptr;
    for (const SubstituteLoad& load : loads) {
        if (load.ratedCurrent_A <= most && (!best || load.ratedCurrent_A > best->ratedCurrent_A)) best = &load;
    }
    return best ? best : &loads.front();
}

std::vector<LoadWarning> loadWarnings(const Map& map, const SubstituteLoad& load, int terminal)
{
    std::vector<LoadWarning> out;
    const Terminal& t = map.terminal(terminal);
    if (!mayBeLoaded(t)) {
        out.push_back({true, inWords("loads.pull-up-signal-module", t.id,
                                     t.role ? roleName(*t.role) : inWords("loads.terminal-unknown-role"))});
        return out;
    }
    const double fuse = smallestFuse_A(map, terminal);
    if (load.ratedCurrent_A > trade::fuseShare * fuse) {
        out.push_back({true, inWords("loads.takes-too-much-fuse", load.name,
                                     formatQuantity(amperes(load.ratedCurrent_A)), formatQuantity(amperes(fuse)))});
    }
    const double own = t.current_A.value_or(0.0);
    if (own > 0 && load.ratedCurrent_A < trade::leastShareOfCurrent * own) {
        out.push_back({false, inWords("loads.tries-only-circuit-pass", load.name,
                                      formatShare(load.ratedCurrent_A / own), formatQuantity(amperes(own)))});
    }
    if (own > 0 && load.ratedCurrent_A > 1.5 * own) {
        out.push_back({false, inWords("loads.asks-circuit-made-drop", load.name,
                                      formatQuantity(amperes(load.ratedCurrent_A)), formatQuantity(amperes(own)))});
    }
    if (load.kind == LoadKind::Lamp && 1.0 / load.coldResistance_ohm() * load.ratedVoltage_V > 10.0 * fuse)
        out.push_back({false, load.name + inWords("loads.cold-tenth-hot-resistance")});
    return out;
}

}  // namespace ilvek
