#include "proving/unstated.h"

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "proving/judge.h"
#include "proving/part_ohms.h"
#include "quantity/trade.h"

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

bool mayStandAnywhere(const Map& map, int terminal, const Reading& r)
{
    constexpr double wide_V = 1;
    const Terminal& t = map.terminal(terminal);
    if (!map.isOfSheet() || (t.role != Role::AnalogueInput && t.role != Role::ThermistorInput)) return false;
    if (!r.unplugged.empty() || !r.removed.empty() || !r.unpinned.empty()) return true;
    const int state = map.stateIndex(r.state);
    return std::any_of(t.expected.begin(), t.expected.end(), [&](const Expected& e) {
        return e.state == state && e.measure == Measure::Level && e.low && e.high && *e.high - *e.low > wide_V;
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
    return healthyReading(map, r).value_or(0) > trade::switchedHigh_V;
}

namespace {

// What the regulator behind a reference's terminal makes on the map; 0: none is drawn there.
double madeLevel_V(const Map& map, int terminal)
{
    for (const Element& tie : map.elements) {
        if (tie.kind != ElementKind::Joint || tie.nodes[0] != map.terminal(terminal).b) continue;
        for (const Element& e : map.elements) {
            if (e.kind == ElementKind::Regulator && e.nodes[1] == tie.nodes[1]) return e.value("voltage");
        }
    }
    return 0;
}

}  // namespace

bool mayBeOtherReference(const Map& map, int terminal, int state, double volts)
{
    constexpr double within = 0.03, ofBattery = 0.9;
    if (!map.isOfSheet() || map.terminal(terminal).role != Role::Reference || isLevelStated(map, terminal, state))
        return false;
    if (std::abs(volts - madeLevel_V(map, terminal)) < within * volts) return false;
    if (volts > ofBattery * map.systemVoltage_V) return true;
    // Below the usual one a level is rather that one, dragged down.
    return std::ranges::any_of(trade::otherReferences_V, [&](double other) {
        return other > trade::reference_V && std::abs(volts - other) < within * other;
    });
}

bool mayBeFurtherTerminations(const Map& map, const Reading& r)
{
    constexpr double one_ohm = trade::termination_ohm, two_ohm = one_ohm / 2, within = 0.1;
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

bool mayBeElectronics(const Map& map, const Reading& r)
{
    constexpr double least_ohm = 1000;
    const auto condition = conditionOf(map, r);
    const int red = map.nodeIndex(r.red);
    if (!map.isOfSheet() || unitAsked(r.test) != Unit::Ohm || r.value.overLimit || red < 0 || !condition) return false;
    if (partOhms(r) < least_ohm || condition->alone >= 0) return false;
    const std::set<int> joined = joinedTo(map, red);
    const auto isAny = [&](auto&& is) {
        return std::ranges::any_of(map.moduleTerminals(), [&](int t) {
            const Terminal& terminal = map.terminal(t);
            return terminal.role && (terminal.a == red || joined.contains(terminal.a)) && is(t, *terminal.role);
        });
    };
    // What units have between a line of a bus and ground, as long as any of them is on it.
    const bool isLine = isAny([](int, Role role) { return groupOf(role) == Group::Networks; });
    if (isLine && !isLineOfPair(map, map.nodeIndex(r.black))) {
        Condition sound = *condition;
        sound.meter = Meter{red, map.nodeIndex(r.black), 10e6, Meter::Mode::Ohms};
        const auto listed = displayOf(map, sound);
        return listed && !listed->live && !listed->overLimit;
    }
    return isAny([&](int t, Role role) {
        return isSupply(role) && !condition->unplugged.contains(map.terminal(t).connector) &&
               !condition->unpinned.contains(t);
    });
}

RightBy ohmsRightBy(const Map& map, const Reading& r, const Condition& dead)
{
    if (mayBeElectronics(map, r) || mayBeOfPartAtRest(map, r)) return RightBy::Unstated;
    constexpr double coldest_C = -20, windingAtMost_C = 100, thermistorAtMost_C = 120;
    // Leads and contacts add to what a part has; nothing takes from it.
    constexpr double unstatedTimes = 2.5, sigmas = 3.3, more = 0.12, less = 0.05, own_ohm = 0.6;
    if (!map.isOfSheet() || r.value.overLimit) return RightBy::Nothing;
    Condition one = dead, other = dead;
    const double read = partOhms(r);
    const auto isBetween = [&] {
        const auto a = displayOf(map, one), b = displayOf(map, other);
        if (!a || !b || a->live || b->live) return false;
        const auto ohms = [](const Display& d) { return d.overLimit ? INFINITY : d.value; };
        return read > (1 - less) * std::min(ohms(*a), ohms(*b)) &&
               read < (1 + more) * std::max(ohms(*a), ohms(*b)) + own_ohm;
    };
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const int element = static_cast<int>(i);
        const ElementKind kind = map.elements[i].kind;
        const bool isThermistor = kind == ElementKind::Thermistor;
        if ((!isThermistor && kind != ElementKind::Winding) || dead.celsius.contains(element)) continue;
        one.celsius[element] = coldest_C;
        other.celsius[element] = isThermistor ? thermistorAtMost_C : windingAtMost_C;
    }
    if (isBetween()) return RightBy::Warmth;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        const int element = static_cast<int>(i);
        if (e.assumed && e.kind == ElementKind::Relay) {
            const auto coil = [&](double times) {
                const double more_ohm = (times - 1) * e.value("coil");
                return Fault{Fault::Kind::AddedCoilResistance, element, -1, -1, more_ohm};
            };
            one.faults.push_back(coil(1 / unstatedTimes));
            other.faults.push_back(coil(unstatedTimes));
        }
        if (!e.assumed || !specOf(e.kind).isLoad || e.kind == ElementKind::SupplyPort) continue;
        // A sender stands anywhere in its range, whose ends are two sigmas out; pages and places add to it.
        const double off = std::max(unstatedTimes, std::pow(1 + e.value("tolerance", 0) / 100, sigmas));
        // Of a thermistor cold adds to what it has, of all else warmth.
        const double times = e.kind == ElementKind::Thermistor ? off : 1 / off;
        one.faults.push_back(Fault{Fault::Kind::OutOfValue, element, -1, -1, 0, times});
        other.faults.push_back(Fault{Fault::Kind::OutOfValue, element, -1, -1, 0, 1 / times});
    }
    return isBetween() ? RightBy::Unstated : RightBy::Nothing;
}

namespace {

// What an LED lamp passes of the little that the module puts onto its wire to watch it lights nothing, and holds
// nothing down.
bool isUnderALed(const Map& map, int terminal, const Reading& r)
{
    // Of the system voltage: a lamp that is fed by its other wire keeps what it needs to light of that.
    constexpr double floatsTo = 0.6, keepsFrom = 0.25, keepsTo = 0.95;
    const Terminal& t = map.terminal(terminal);
    const int part = map.elementIndex("load " + t.id), state = stateOf(map, r);
    const double share = r.value.value / map.systemVoltage_V;
    const bool isFed = t.role == Role::LowSideDrive;
    if (part < 0 || state < 0 || (isFed ? share < keepsFrom || share > keepsTo : share > floatsTo)) return false;
    const bool isOn = std::ranges::any_of(map.elements, [&](const Element& e) {
        return std::ranges::count(e.nodes, t.b) > 0 && specOf(e.kind).usesStates && e.isIn(state);
    });
    const bool isCommanded = std::ranges::any_of(r.commands, [](const Command& c) { return c.share > 0; });
    return isLed(map.element(part)) && !isOn && !isCommanded;
}

}  // namespace

bool isReleasedDrive(const Map& map, int terminal, const Reading& r)
{
    const Terminal& t = map.terminal(terminal);
    if (!map.isOfSheet() || !t.role || groupOf(*t.role) != Group::Drives) return false;
    if (r.load.empty() && r.jumpers.empty() && isUnderALed(map, terminal, r)) return true;
    const bool isParted = !r.unplugged.empty() || !r.removed.empty() || !r.unpinned.empty();
    return isParted && r.load.empty() && r.jumpers.empty() && !healthyReading(map, r);
}

double drivenShare(const Map& map, int terminal, const SetUp& setUp)
{
    const int state = stateOf(map, setUp), inside = map.terminal(terminal).b;
    double share = 0;
    for (const Element& e : map.elements) {
        const bool low = e.kind == ElementKind::LowSideDriver, high = e.kind == ElementKind::HighSideDriver;
        if ((!low && !high) || e.nodes[low ? 0 : 1] != inside) continue;
        const auto told = std::ranges::find(setUp.commands, e.id, &Command::element);
        const double is = told != setUp.commands.end()  ? told->share
                          : state >= 0 && e.isIn(state) ? e.value("duty", 100) / 100
                                                        : 0.0;
        share = std::max(share, is);
    }
    return share;
}

bool isPulsedByUnknownShare(const Map& map, int terminal, const Reading& r)
{
    const Terminal& t = map.terminal(terminal);
    const int state = stateOf(map, r);
    if (!map.isOfSheet() || t.role != Role::DutyDrive || state < 0 || isLevelStated(map, terminal, state)) return false;
    if (!r.load.empty() || !r.jumpers.empty()) return false;
    return drivenShare(map, terminal, r) == 1;
}

bool mayBeCommandedByItself(const Map& map, int terminal, const Reading& r)
{
    const Terminal& t = map.terminal(terminal);
    const int state = stateOf(map, r);
    if (!map.isOfSheet() || !t.role || groupOf(*t.role) != Group::Drives || state < 0 || !r.commands.empty())
        return false;
    // One that holds a relay of the module's own feeds is on then.
    const bool isOn = std::ranges::any_of(map.elements, [&](const Element& e) {
        return std::ranges::count(e.nodes, t.b) > 0 && specOf(e.kind).usesStates && e.isIn(state);
    });
    const std::string& id = map.state(state).id;
    if (isOn || (id != "running" && id != "cranking") || isLevelStated(map, terminal, state)) return false;
    // Where it stands as when it is off it is off.
    constexpr double asOff = 0.2;  // of the system voltage
    const auto off_V = healthyReading(map, r);
    return off_V && std::abs(r.value.value - *off_V) > asOff * map.systemVoltage_V;
}

bool mayBeHeldWire(const Map& map, const Reading& r)
{
    constexpr double dead_V = 0.1, held = 0.5, charged = 0.9;  // of the system voltage
    const int terminal = map.terminalIndex(r.terminal);
    const bool isBehindRelay = terminal >= 0 && map.terminal(terminal).role == Role::RelayFedSupply;
    const double upTo = isBehindRelay ? charged : held;
    if (!map.isOfSheet() || !isVoltageTest(r.test) || !r.load.empty() || !r.jumpers.empty()) return false;
    if (r.value.value < dead_V || r.value.value > upTo * map.systemVoltage_V) return false;
    const int state = map.stateIndex(r.state);
    const auto isOff = [&](const Terminal& t) {
        return std::find(t.absentIn.begin(), t.absentIn.end(), state) != t.absentIn.end();
    };
    const auto holds = [&](const Terminal& t) {
        const std::string& connector = map.connectors[static_cast<std::size_t>(t.connector)].id;
        const bool isApart = std::find(r.unplugged.begin(), r.unplugged.end(), connector) != r.unplugged.end();
        return t.role && groupOf(*t.role) == Group::Drives && !isApart;
    };
    if (std::none_of(map.terminals.begin(), map.terminals.end(), isOff)) return false;
    if (!isBehindRelay && std::none_of(map.terminals.begin(), map.terminals.end(), holds)) return false;
    return std::abs(healthyReading(map, r).value_or(0)) < dead_V;
}

}  // namespace ilvek
