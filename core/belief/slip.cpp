#include "belief/slip.h"

#include <algorithm>
#include <cmath>

#include "machine/connector_face.h"

namespace ilvek {

namespace {

// A misplaced lead shows what the cavity beside it has: hardly any figure in between.
constexpr double slipUnderLoad = 0.0002, slipBetween = 0.002;

// What the cavity beside it reads, taken by mistake: nothing, or the battery less a little; where the module has
// signals, anything that those may stand at. What lies between is of the circuit that is read.
enum class Beside { Neither, Signal, Nothing, Battery };
Beside besideOf(double value_V, double battery_V, bool hasSignals)
{
    constexpr double nothing = 0.04, battery = 0.93, signal_V = 5.3;
    const double share = std::abs(value_V) / battery_V;
    if (share < nothing) return Beside::Nothing;
    if (share > battery) return Beside::Battery;
    return hasSignals && std::abs(value_V) < signal_V ? Beside::Signal : Beside::Neither;
}

// Whether one in the next cavity of the connector was read the same in this set-up.
bool isReadBeside(const Map& map, const Assessment& a, const Reading& r, double within_V)
{
    const int at = map.terminalIndex(r.terminal);
    if (at < 0) return false;
    const auto isThere = [&](int beside) {
        if (map.terminal(beside).a < 0) return false;
        const std::string& node = map.node(map.terminal(beside).a);
        for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
            const Reading& other = a.evidence.readings[i];
            if (!a.stale[i] && other.red == node && other.value.unit == r.value.unit && other.state == r.state &&
                other.unplugged == r.unplugged && other.load == r.load && !other.value.overLimit &&
                std::abs(other.value.value - r.value.value) < within_V)
                return true;
        }
        return false;
    };
    const std::vector<int> beside = terminalsBeside(map, at);
    return std::any_of(beside.begin(), beside.end(), isThere);
}

// Of a slip half is what a cavity beside shows: of some machine nothing or the battery, or just what was read there.
double slipDensityOf(const Map& map, const Assessment& a, const Reading& r, const Observation& o, Beside beside)
{
    constexpr double half = 0.5, within_V = 0.1;
    const double battery_V = o.battery_V.value_or(map.systemVoltage_V);
    double density = o.slipDensity;
    if (beside == Beside::Nothing || beside == Beside::Battery) density += half / (0.1 * battery_V) / 2;
    if (beside != Beside::Neither && isReadBeside(map, a, r, within_V)) density += half / (2 * within_V);
    return density;
}

bool hasSignals(const Map& map)
{
    return std::any_of(map.terminals.begin(), map.terminals.end(), [](const Terminal& t) {
        const Group group = t.role ? groupOf(*t.role) : Group::Empty;
        return group == Group::Inputs || group == Group::References || group == Group::Networks;
    });
}

}  // namespace

void expectSlips(const Map& map, const Assessment& assessment, const Reading& reading, bool alone, Observation& o)
{
    // Under a load no signal stands.
    const bool loaded = !reading.load.empty();
    const Beside beside = besideOf(o.value, o.battery_V.value_or(map.systemVoltage_V), !loaded && hasSignals(map));
    if ((loaded || map.isOfSheet()) && beside == Beside::Neither) o.slip = loaded ? slipUnderLoad : slipBetween;
    if (map.isOfSheet() && !loaded && isVoltageTest(reading.test))
        o.slipDensity = slipDensityOf(map, assessment, reading, o, beside);
    // No lead can be misplaced.
    if (reading.test == TestKind::Reported || alone) o.slip = slipBetween;
}

}  // namespace ilvek
