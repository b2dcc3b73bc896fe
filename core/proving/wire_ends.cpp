#include "proving/wire_ends.h"

#include <cmath>

#include "machine/paths.h"
#include "machine/vocabulary.h"
#include "proving/setup.h"

namespace ilvek {

WireEnds wireEndsOf(const Map& map, const Reading& one, const Reading& other)
{
    constexpr double alike_V = 0.25, apart_V = 1;
    // A pin that hangs free stands at ground, or where its pull-up holds it.
    constexpr double freeBelow_V = 1, freeFrom_V = 4;
    if (!map.isOfSheet() || !isVoltageTest(one.test) || !isVoltageTest(other.test)) return WireEnds::NotCompared;
    if (one.value.overLimit || other.value.overLimit || one.black != other.black) return WireEnds::NotCompared;
    const int red = map.nodeIndex(one.red), there = map.nodeIndex(other.red);
    if (red < 0 || there < 0 || red == there) return WireEnds::NotCompared;
    const int terminal = terminalOnWire(map, red);
    if (terminal < 0 || terminal != terminalOnWire(map, there)) return WireEnds::NotCompared;
    const auto role = map.terminal(terminal).role;
    const bool isSignal = role && (groupOf(*role) == Group::Inputs || groupOf(*role) == Group::Networks);
    if (!isSignal || conditionOf(map, one) != conditionOf(map, other)) return WireEnds::NotCompared;
    const double here_V = one.value.value, differ_V = std::abs(here_V - other.value.value);
    if (differ_V > apart_V) return WireEnds::Differ;
    const bool isFree = here_V < freeBelow_V || here_V > freeFrom_V;
    return differ_V <= alike_V && !isFree ? WireEnds::Alike : WireEnds::SayNothing;
}

}  // namespace ilvek
