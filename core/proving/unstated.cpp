#include "proving/unstated.h"

#include <algorithm>
#include <cmath>

#include "circuit/operating_point.h"
#include "proving/judge.h"

namespace ilvek {

bool isLineOfPair(const Map& map, int node)
{
    return node >= 0 && std::any_of(map.terminals.begin(), map.terminals.end(), [&](const Terminal& t) {
               return t.role == Role::DifferentialBus && (t.a == node || t.b == node);
           });
}

bool isLevelStated(const Map& map, int terminal, int state)
{
    const Terminal& t = map.terminal(terminal);
    return !t.assumed || std::any_of(t.expected.begin(), t.expected.end(), [&](const Expected& e) {
        const std::string& kind = map.sources[static_cast<std::size_t>(e.source)].kind;
        return e.state == state && (kind == "maker" || kind == "measured");
    });
}

bool hasLevel(const Map& map, int terminal, int state)
{
    const auto& expected = map.terminal(terminal).expected;
    return std::any_of(expected.begin(), expected.end(),
                       [&](const Expected& e) { return e.measure == Measure::Level && e.state == state; });
}

bool isHeldDown(const Map& map, int terminal, const Reading& r)
{
    constexpr double downTo_V = 1;
    const bool isSwitch = map.terminal(terminal).role == Role::SwitchInput;
    if (!isSwitch || !hasLevel(map, terminal, map.stateIndex(r.state)) || r.value.value > downTo_V) return false;
    return healthyReading(map, r).value_or(0) > switchOpenFrom_V;
}

bool mayBeOtherReference(const Map& map, int terminal, int state, double volts)
{
    constexpr double others_V[] = {8, 9, 10, 12}, within = 0.03, ofBattery = 0.9;
    if (!map.isOfSheet() || map.terminal(terminal).role != Role::Reference || isLevelStated(map, terminal, state))
        return false;
    if (volts > ofBattery * map.systemVoltage_V) return true;
    return std::any_of(std::begin(others_V), std::end(others_V),
                       [&](double other) { return std::abs(volts - other) < within * other; });
}

bool mayBeFurtherTerminations(const Map& map, const Reading& r)
{
    constexpr double one_ohm = 120, two_ohm = 60, within = 0.1;
    if (!map.isOfSheet() || unitAsked(r.test) != Unit::Ohm || r.value.overLimit) return false;
    if (!isLineOfPair(map, map.nodeIndex(r.red)) || !isLineOfPair(map, map.nodeIndex(r.black))) return false;
    const double read = partOhms(r);
    if (std::abs(read / one_ohm - 1) > within && std::abs(read / two_ohm - 1) > within) return false;
    auto condition = conditionOf(map, r);
    if (!condition) return false;
    condition->meter = Meter{map.nodeIndex(r.red), map.nodeIndex(r.black), 10e6, Meter::Mode::Ohms};
    const auto listed = displayOf(map, *condition);
    return listed && !listed->live && (listed->overLimit || read < (1 - within) * listed->value);
}

bool isReleasedDrive(const Map& map, int terminal, const Reading& r)
{
    const Terminal& t = map.terminal(terminal);
    if (!map.isOfSheet() || !t.role || groupOf(*t.role) != Group::Drives) return false;
    const bool isParted = !r.unplugged.empty() || !r.removed.empty() || !r.unpinned.empty();
    return isParted && r.load.empty() && r.jumpers.empty() && !healthyReading(map, r);
}

}  // namespace ilvek
