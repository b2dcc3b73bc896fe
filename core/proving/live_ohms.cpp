#include "proving/live_ohms.h"

#include <algorithm>

#include "machine/paths.h"
#include "proving/judge.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

bool isPost(const Map& map, int node)
{
    return node >= 0 && (node == map.batteryMinus() || node == map.batteryPlus() ||
                         std::ranges::any_of(map.terminals,
                                             [&](const Terminal& t) { return t.role == Role::Return && t.a == node; }));
}

// A battery behind it would make a meter show a few ohms too, and blow a fuse: only what is lifted weakly can tell.
bool isLiftedWeakly(const Map& map, int node)
{
    const int at = terminalOnWire(map, node);
    if (at < 0 || !map.terminal(at).role) return false;
    const Group group = groupOf(*map.terminal(at).role);
    return group == Group::Inputs || group == Group::Networks || group == Group::References;
}

}  // namespace

Short shortBy(const Map& map, const Reading& r)
{
    const int red = map.nodeIndex(r.red), black = map.nodeIndex(r.black);
    if (!map.isOfSheet() || unitAsked(r.test) != Unit::Ohm || r.value.overLimit ||
        isPost(map, red) == isPost(map, black))
        return Short::Unknown;
    if (!isLiftedWeakly(map, isPost(map, red) ? black : red)) return Short::Unknown;
    const double ohms = partOhms(r);
    if (ohms >= 0 && ohms < trade::liveShortBelow_ohm) return Short::Yes;
    return ohms > trade::liveFreeFrom_ohm && ohms < trade::liveFreeTo_ohm ? Short::No : Short::Unknown;
}

}  // namespace ilvek
