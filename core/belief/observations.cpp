#include "belief/observations.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "belief/slip.h"
#include "belief/spread.h"
#include "circuit/operating_point.h"
#include "machine/charging.h"
#include "machine/paths.h"
#include "proving/assumed_feed.h"
#include "proving/clamped.h"
#include "proving/dangers.h"
#include "proving/lamp.h"
#include "proving/live_ohms.h"
#include "proving/part_ohms.h"
#include "proving/plausible.h"
#include "proving/trend.h"
#include "proving/unstated.h"
#include "proving/wire_ends.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// A probe tip and its contact move a reading by about this, one sigma.
constexpr double tipNoise_V = 0.004;
// An instrument's stated accuracy is a bound; half of it is taken as one sigma.
constexpr double sigmaOfAccuracy = 0.5;
// A battery at rest, charged or drained some minutes ago, one sigma; and what further minutes of a job make of it, for
// each 12 V: no more than a battery of which nothing is known. A lead-acid battery falls by some 1.1 V from full to
// empty, and what is on with the key on takes a tenth of it in an hour, or a charger gives it.
constexpr double batteryDrift_V = 0.06, batteryDrift_V_per_h = 0.15;
// An ohmmeter with its leads zeroed, in decades (about 4 %), and above ten kilohms: its own volts bend the laws of the
// electronics that hang on the circuit, which the prediction takes as straight.
// What the tips press through is a tenth of an ohm, more or less.
constexpr double tipsOhms_ohm = 0.07;
constexpr double leadsUnstated_ohm = 0.12;  // of leads and clips that nobody took off
constexpr double ohmsSigma = 0.02, highOhmsSigma = 0.05, highOhmsFrom = 4.0;
constexpr double endsSigma = 0.5;  // where one meter still shows a figure, and another none
// A part works with at least this share of its healthy current; a level is right within a tenth.
constexpr double worksAtShare = 0.7;
// A clamp meter's scale and its zero, one sigma.
constexpr double clampShare = 0.02, clampZero_A = 0.02;
// A level read off a recording through its own lead and ground, one sigma.
constexpr double recordedLevel_V = 0.25;
constexpr double restCurrent_A = 0.02;
constexpr double levelShare = 0.1;
// A module's own figure of its supply: its divider, and a digit of a tenth, one sigma.
constexpr double reported_V = 0.06, reportedShare = 0.01;
// On a machine whose figures nobody stated: what flows through a fault with the machine's own draw, and with a load
// whose law is known.
constexpr double besideUnstated = 0.35, besideLoad = 0.015, untoldUnstated = 0.5;
// Drops smaller than this share of the system voltage are what currents and wires that nobody stated make of one
// another.
constexpr double petty = 0.003, pettyLoaded = 0.0015;
// Of the usual current, and of the system voltage: how sharply a function comes on. Of a machine that nobody mapped it
// is not known where, nor do two of its drives agree.
constexpr double comesOnWithin = 0.05, comesOnAnywhere = 0.08;
constexpr double wakesWithin_V = 0.2, wakesAnywhere = 0.06;
// A module that watches what it drives calls less than this share of the usual current none.
constexpr double quietShare = 0.2;
// Across a breaker that holds.
constexpr double breakerHolds_V = 0.5;

// The level at the module's own side of a terminal, against the module's ground or battery minus.
Probe levelProbe(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    const int own = t.ownReturn >= 0 ? map.terminal(t.ownReturn).b : -1;
    return {t.b, own >= 0 ? own : map.batteryMinus(), 1e12, -1};
}

// A module that lacks one of its supplies may drive nothing, or only what hangs on that one: no sheet says which.
constexpr double mayBeNeeded = 0.5;

std::vector<int> suppliesThatMayBeNeeded(const Map& map, const Function& f)
{
    std::vector<int> out;
    if (!map.isOfSheet()) return out;
    const auto inside = insideModule(map);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const bool told = std::find(f.ports.begin(), f.ports.end(), static_cast<int>(i)) != f.ports.end();
        if (inside[i] && map.elements[i].kind == ElementKind::SupplyPort && !told) out.push_back(static_cast<int>(i));
    }
    return out;
}

Observation functionSeen(const Map& map, const Function& f, bool works)
{
    Observation o;
    o.kind = works ? Observation::Kind::FunctionWorks : Observation::Kind::FunctionDead;
    o.words = f.name + (works ? " works" : " fails");
    o.setup.state = f.state;
    const auto point = operatingPoint(map, o.setup);
    if (!point) return o;
    const double comesOn = map.isOfSheet() ? comesOnAnywhere : comesOnWithin;
    const double wakes_V = map.isOfSheet() ? wakesAnywhere * map.systemVoltage_V : wakesWithin_V;
    for (const int e : f.currents) {
        const double healthy = point->currentThrough(e);
        const double least = worksAtShare * std::abs(healthy);
        Observation::Need need{{-1, -1, 10e6, e}, least, 1e9, comesOn * std::abs(healthy) + 1e-6};
        if (healthy < 0) std::swap(need.low, need.high), need.low = -1e9, need.high = -least;
        o.needs.push_back(need);
    }
    for (const int t : f.levels) {
        const Probe probe = levelProbe(map, t);
        const double healthy = point->voltage(probe.red, probe.black);
        const double band = std::max(0.15, levelShare * std::abs(healthy));
        o.needs.push_back({probe, healthy - band, healthy + band, 0.3 * band});
    }
    for (const int p : f.ports) {
        const Element& e = map.element(p);
        o.needs.push_back({{e.nodes[0], e.nodes[1], 1e12, -1}, e.value("brown_out"), 1e9, wakes_V});
    }
    const std::size_t currents = f.currents.size();
    const auto isAssumedOn = [&](int node) {
        return std::ranges::any_of(
            map.elements, [&](const Element& e) { return e.feedAssumed && e.isIn(f.state) && e.nodes[0] == node; });
    };
    for (const int p : f.currents.empty() ? std::vector<int>{} : suppliesThatMayBeNeeded(map, f)) {
        const Element& e = map.element(p);
        for (std::size_t i = 0; i < currents && isAssumedOn(e.nodes[0]); ++i)
            o.needs[i].feed = static_cast<int>(o.needs.size());
        o.needs.push_back({{e.nodes[0], e.nodes[1], 1e12, -1}, e.value("brown_out"), 1e9, wakes_V, mayBeNeeded});
    }
    for (const int e : f.rests)
        o.needs.push_back({{-1, -1, 10e6, e}, -restCurrent_A, restCurrent_A, 0.2 * restCurrent_A});
    return o;
}

// A function that was tried in a set-up: with what was bridged, pulled or unplugged for it (W17).
void functionsSeen(const Map& map, const FunctionsSeen& seen, std::vector<Observation>& out)
{
    const auto condition = conditionOf(map, seen);
    if (!condition || !dangersOf(map, seen).empty()) return;
    for (const Function& f : map.functions) {
        const auto in = [&](const auto& list) { return std::find(list.begin(), list.end(), f.id) != list.end(); };
        if (!map.has(f) || (!in(seen.works) && !in(seen.fails))) continue;
        Observation o = functionSeen(map, f, in(seen.works));
        o.setup = *condition;
        o.setup.state = f.state;
        o.id = seen.id;
        out.push_back(std::move(o));
    }
}

Observation codeSeen(const Map& map, const CodeCondition& c)
{
    Observation o;
    o.kind = Observation::Kind::Code;
    o.words = "code " + c.code;
    o.setup.state = c.state;
    if (c.quiet >= 0) {
        const auto point = operatingPoint(map, o.setup);
        const double least = quietShare * std::abs(point ? point->currentThrough(c.quiet) : 0);
        o.needs.push_back({{-1, -1, 10e6, c.quiet}, -least, least, 0.1 * least + 1e-6});
        return o;
    }
    o.needs.push_back({levelProbe(map, c.terminal), c.above_V.value_or(-1e9), c.below_V.value_or(1e9), 0.05});
    return o;
}

// The current that a clamp showed with the module as the load; which way it sat nobody wrote down (T20).
std::optional<Observation> clampSeen(const Map& map, const Reading& r, Observation o)
{
    const int terminal = map.terminalIndex(r.terminal);
    if (!r.measuredCurrent_A || !isVoltageTest(r.test) || !r.load.empty() || terminal < 0 ||
        map.terminal(terminal).contact < 0)
        return std::nullopt;
    const auto point = operatingPoint(map, o.setup);
    if (!point) return std::nullopt;
    o.probe = {-1, -1, 10e6, map.terminal(terminal).contact};
    o.words = r.terminal + ", clamp";
    o.value = std::copysign(std::abs(*r.measuredCurrent_A), point->currentThrough(o.probe.element));
    o.sigma = std::hypot(clampShare * o.value, clampZero_A);
    o.gain = o.petty_V = 0;
    return o;
}

Observation lookSeen(const Map& map, const Reading& r)
{
    Observation o;
    o.kind = Observation::Kind::Look;
    o.id = r.id;
    o.terminal = map.terminalIndex(r.terminal);
    o.found = r.found.value_or(Found::AsDrawn);
    o.words = fmt::format("{} looks: {}", r.terminal, foundWords(o.found));
    return o;
}

// One lamp, breaker or the like without a figure, as levels that hold.
std::optional<Observation> shownSeen(const Map& map, const Reading& r, Observation o)
{
    const Shown shown = *r.shows;
    o.words = fmt::format("{}{}", r.terminal.empty() ? "" : r.terminal + ", ", shownWords(shown));
    o.source = Observation::Source::Seen;
    o.kind = Observation::Kind::FunctionWorks;
    if (shown == Shown::Tripped || shown == Shown::Holds) {
        if (r.jumpers.empty()) return std::nullopt;
        // Across a breaker that tripped stands what it parts.
        const FusedLead& lead = r.jumpers.back();
        if (shown == Shown::Tripped) o.kind = Observation::Kind::FunctionDead;
        const Probe across{map.nodeIndex(lead.from), map.nodeIndex(lead.to), 1e12, -1};
        o.needs.push_back({across, -breakerHolds_V, breakerHolds_V, 0.1});
        return o;
    }
    const auto lamp = lampOf(map, r);
    if (!lamp || shown == Shown::Moves || shown == Shown::StuckHigh || shown == Shown::StuckLow) return std::nullopt;
    const auto point = operatingPoint(map, o.setup);
    if (!point) return std::nullopt;
    // Counted the way it burns in a sound circuit.
    Probe across{lamp->from, lamp->to, 1e12, -1};
    if (point->voltage(across.red, across.black) < 0) std::swap(across.red, across.black);
    const double dim = (lamp::dimFrom + lamp::darkBelow) / 2, bright = (lamp::brightFrom + lamp::dimBelow) / 2;
    Observation::Need need{across, -1e9, 1e9, 0.04 * lamp->rated_V};
    if (shown != Shown::Bright) need.high = (shown == Shown::Dark ? dim : bright) * lamp->rated_V;
    if (shown != Shown::Dark) need.low = (shown == Shown::Dim ? dim : bright) * lamp->rated_V;
    o.needs.push_back(need);
    return o;
}

// The module's own voltage is that between its supply and its own return, inside.
std::optional<Observation> reportedSeen(const Map& map, const Reading& r, Observation o)
{
    const int terminal = map.terminalIndex(r.terminal);
    if (terminal < 0 || !map.terminal(terminal).role || r.value.unit != Unit::Volt || r.value.overLimit)
        return std::nullopt;
    const Group group = groupOf(*map.terminal(terminal).role);
    if (group != Group::Supplies && group != Group::Inputs) return std::nullopt;
    o.probe = levelProbe(map, terminal);
    o.words = r.terminal + inWords("observations.module-reports");
    o.value = r.value.value;
    o.sigma = std::hypot(reported_V, r.value.resolution / 2);
    o.petty_V = 0;
    o.gain = reportedShare * r.value.value;
    return o;
}

std::optional<Observation> currentSeen(const Map& map, const Reading& r, Observation o)
{
    const int element = map.elementIndex(r.conductor);
    if (element < 0 || r.value.overLimit) return std::nullopt;
    o.probe = {-1, -1, 10e6, element};
    o.words = r.conductor + ", clamp";
    o.value = clampedCurrent_A(map, r);
    o.sigma = std::hypot(clampShare * o.value, clampZero_A);
    o.petty_V = 0;
    return o;
}

// A figure that moved is the fault's doing when it moved much, and then no state of the circuit gives it; else its
// middle.
bool isSteady(const Reading& r)
{
    return !r.most || std::abs(*r.most - r.value.value) <= std::max(0.1, 0.03 * std::abs(r.value.value));
}

constexpr double pickUpMoves_V = 0.2, pickUpWithin = 0.5;  // decades

// Decades that a coil of which nobody stated the ohms may lie beside what is assumed, one sigma: a factor of two.
constexpr double unstatedCoil = 0.3;

// An ohmmeter across the coil of a relay by itself.
bool isUnstatedCoil(const Map& map, const Reading& r)
{
    const int part = partAlone(map, r);
    if (part < 0 || !map.isOfSheet()) return false;
    const Element& e = map.element(part);
    return e.kind == ElementKind::Relay && e.assumed &&
           (r.red == map.node(e.nodes[2]) || r.red == map.node(e.nodes[3]));
}

std::optional<Observation> ohmsSeen(const Map& map, const Reading& r, Observation o)
{
    o.probe.ohms = true;
    o.value = decadesOf(r.value.overLimit ? 1e9 : partOhms(r));
    o.sigma = std::hypot(ohmsSigmaAt(o.value), isUnstatedCoil(map, r) ? unstatedCoil : 0);
    // Leads only add: what lies between the figure and it without two sigmas of them is two sigmas.
    if (map.isOfSheet() && !r.testLeads_ohm && !r.value.overLimit) {
        const double least_ohm = std::max(0.0, partOhms(r) - 2 * leadsUnstated_ohm);
        o.sigma = std::hypot(o.sigma, 0.5 * (o.value - std::min(o.value, decadesOf(least_ohm))));
    }
    o.gain = o.petty_V = 0;  // in it already
    return o;
}

// A pick-up that gives its volts at the module is whole, and so are its wires: as an ohmmeter there would show it,
// within a factor of three.
std::optional<Observation> pickUpSeen(const Map& map, const Reading& r, Observation o)
{
    const int t = map.terminalIndex(r.terminal);
    const bool moves = r.shows == Shown::Moves ||
                       (r.test == TestKind::Alternating && !r.value.overLimit && r.value.value >= pickUpMoves_V);
    if (t < 0 || !moves || map.terminal(t).role != Role::ReluctanceInput) return std::nullopt;
    const int far = farEndOf(map, t);
    Condition apart;
    apart.unplugged.insert(map.terminal(t).connector);
    apart.meter = Meter{map.terminal(t).a, far >= 0 ? far : map.batteryMinus(), 10e6, Meter::Mode::Ohms};
    const auto sound = displayOf(map, apart);
    if (!sound || sound->overLimit || sound->live || sound->floating) return std::nullopt;
    apart.meter.reset();
    o.setup = apart;
    o.probe = {map.terminal(t).a, far >= 0 ? far : map.batteryMinus(), 10e6, -1};
    o.probe.ohms = true;
    o.value = decadesOf(sound->value);
    o.sigma = pickUpWithin, o.gain = o.petty_V = 0;
    o.battery_V.reset();
    return o;
}

// What stands at the posts by figures that nobody stated: a starter's current, a charger that lifts them, a load put on
// them to try them. Feeds are compared with it all the same.
bool isOfUnstated(const Map& map, const Observation& o)
{
    if (!map.isOfSheet()) return false;
    // Of the system's voltage: above the first a charger is on, and between them an alternator may hold it.
    constexpr double restsBelow = 13.0 / 12.0, chargedTo = 15.0 / 12.0;
    const double share = std::abs(o.value) / map.systemVoltage_V;
    const bool charges = isChargedIn(map, o.setup.state);
    const bool cranks = map.state(o.setup.state).id == "cranking";
    return cranks || o.setup.load || (share > restsBelow && (!charges || share < chargedTo));
}

double batteryDriftOver(const Map& map, std::int64_t time_ms)
{
    const double hours = static_cast<double>(std::max<std::int64_t>(0, time_ms)) / 3.6e6;
    return std::hypot(batteryDrift_V,
                      std::min(batteryUnknown_V, batteryDrift_V_per_h * hours) * map.systemVoltage_V / 12);
}

// `since_ms`: the job's first reading.
std::optional<Observation> batterySeen(const Map& map, Observation o, std::int64_t since_ms,
                                       const std::vector<Observation>& before)
{
    if (isOfUnstated(map, o)) return std::nullopt;
    // The battery counts once for each state: what it shows later is its own story.
    const bool there = std::any_of(before.begin(), before.end(), [&](const Observation& b) {
        return b.probe == batteryProbeOf(map) && b.setup == o.setup;
    });
    if (there) return std::nullopt;
    // Between two states it has drained, or recovered.
    o.sigma = std::hypot(o.sigma, batteryDriftOver(map, since_ms));
    o.probe = batteryProbeOf(map);
    o.value = std::abs(o.value);
    o.words = "battery, " + map.state(o.setup.state).name;
    o.battery_V.reset();
    return o;
}

// The battery that the reading is compared with, and in which set-up that was read.
void takeBattery(const Map& map, const Assessment& a, const Reading& r, Observation& o)
{
    const Reading* taken = batteryReadingOfTheMinute(map, a.evidence, r);
    if (taken) o.battery_V = std::abs(taken->value.value);
    if (const auto with = taken ? conditionOf(map, *taken) : std::nullopt) o.batterySetup = *with;
    if (!o.battery_V && r.battery_V && isPossibleVoltage(map, *r.battery_V)) o.battery_V = r.battery_V;
}

// A level that a sensor, a switch or another module makes, of which nobody stated a figure in that state, or a range
// that it moves in: while it stands where such a signal may stand it says nothing of the circuit. Of a switch's line
// that should be closed and stands open the figure says nothing either.
bool saysNothing(const Map& map, const Reading& r, const Judgement& j, int at)
{
    const bool isLevel = r.test == TestKind::Level || r.test == TestKind::Point || r.test == TestKind::Reported ||
                         r.test == TestKind::Reference;
    if (at < 0 || !isLevel || r.value.unit != Unit::Volt) return false;
    const Terminal& t = map.terminal(at);
    const int state = map.stateIndex(r.state);
    if (isReleasedDrive(map, at, r) || mayBeCommandedByItself(map, at, r) ||
        mayBeOtherReference(map, at, state, r.value.value))
        return true;
    const bool standsOpen = t.role == Role::SwitchInput && r.value.value >= trade::switchedHigh_V;
    if ((isFailure(j.verdict) && !standsOpen) || isHeldDown(map, at, r)) return false;
    const Group group = t.role ? groupOf(*t.role) : Group::Empty;
    const bool isSignal = group == Group::Inputs || group == Group::Networks;
    const bool isTold = isLevelStated(map, at, state) && !mayStandAnywhere(map, at, r);
    return isSignal && r.load.empty() && r.jumpers.empty() && !isTold;
}

// The line of a single-wire bus stands near its supply, less what traffic takes of the mean, or something holds it
// down: which of them is seen, as when units are taken off it one by one.
void lineSeen(const Map& map, const Terminal& t, Observation o, std::vector<Observation>& out)
{
    constexpr double upFrom = 0.4, soft = 0.03, unbounded_V = 1e9;  // of the system voltage
    const auto sound = operatingPoint(map, o.setup);
    // With the module apart who else lifts it nobody knows.
    if (!sound || sound->voltage(o.probe.red, o.probe.black) < upFrom * map.systemVoltage_V) return;
    const bool isUp = o.value > upFrom * map.systemVoltage_V;
    o.kind = isUp ? Observation::Kind::FunctionWorks : Observation::Kind::FunctionDead;
    o.source = Observation::Source::Seen;
    o.words = inWords(isUp ? "observations.line-is-up" : "observations.line-is-down", t.id);
    o.needs = {{o.probe, upFrom * map.systemVoltage_V, unbounded_V, soft * map.systemVoltage_V}};
    out.push_back(std::move(o));
}

// Where signals end: at the level of their sensors' supply, as far as one was read that is not the customary one.
double railOf(const Map& map, const Assessment& a)
{
    double rail_V = trade::reference_V;
    for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
        const Reading& r = a.evidence.readings[i];
        const int at = a.stale[i] ? -1 : terminalOnWire(map, map.nodeIndex(r.red));
        if (at < 0 || !isVoltageTest(r.test) || r.value.overLimit) continue;
        if (mayBeOtherReference(map, at, map.stateIndex(r.state), r.value.value))
            rail_V = std::max(rail_V, std::min(r.value.value, map.systemVoltage_V));
    }
    return rail_V;
}

// Its figure then; but that it stands off a rail says that it is not held to it. Counted once: what nobody stated
// stands there again. `isStuck`: it is judged not to follow its switch.
void standsSeen(const Map& map, const Assessment& a, const Reading& r, int at, bool isStuck, Observation o,
                std::vector<Observation>& out)
{
    const int red = map.nodeIndex(r.red), black = map.nodeIndex(r.black);
    const Terminal& t = map.terminal(at);
    if (red < 0 || black < 0 || r.value.unit != Unit::Volt || r.value.overLimit) return;
    if (t.role == Role::SingleWireBus) {
        lineSeen(map, t, std::move(o), out);
        return;
    }
    constexpr double low_V = 0.25, below = 0.95, soft_V = 0.05, unbounded_V = 1e9;
    const double high_V = below * railOf(map, a);
    o.kind = Observation::Kind::FunctionWorks;
    o.words = inWords("observations.stands-between-rails", t.id);
    // At one rail it is not held to the other.
    o.needs = {{{red, black, r.instrument.inputResistance_ohm, -1},
                o.value < low_V ? -unbounded_V : low_V,
                o.value > high_V ? unbounded_V : high_V,
                soft_V}};
    // A switch's line stands at a rail when it is open, wherever its pull-up leaves it: it is the other one that it is
    // not held to.
    constexpr double closedTo_V = 1;
    if (t.role == Role::SwitchInput && o.value >= trade::switchedHigh_V) o.needs[0].high = unbounded_V;
    if (t.role == Role::SwitchInput && o.value <= closedTo_V) o.needs[0].low = -unbounded_V;
    const auto sound = operatingPoint(map, o.setup);
    const double level_V = sound ? sound->voltage(red, black) : 0;
    if (t.role == Role::SwitchInput && (isStuck || hasLevel(map, at, o.setup.state))) {
        // The sheet has it closed or open in the state, or it does not follow: that is no guess.
        if (o.value >= trade::switchedHigh_V)
            o.needs[0].low = trade::switchedHigh_V, o.source = Observation::Source::Seen;
    } else if (sound) {
        // What the map's own guess puts beyond a rail, as a sensor that lives on more than 5 V, is held to neither.
        if (level_V > high_V - soft_V) o.needs[0].high = unbounded_V;
        if (level_V < low_V + soft_V) o.needs[0].low = -unbounded_V;
    }
    // In another state it stands there again, where it should: the same witness.
    for (const Observation& b : out) {
        Condition setup = b.setup;
        setup.state = o.setup.state;
        if (b.kind != o.kind || !(setup == o.setup) || b.needs.size() != 1 || !(b.needs[0].probe == o.needs[0].probe))
            continue;
        const auto there = sound ? operatingPoint(map, b.setup) : sound;
        if (there && std::abs(there->voltage(red, black) - level_V) > closedTo_V) continue;
        if (b.needs[0].low >= o.needs[0].low) o.needs[0].low = -unbounded_V;
        if (b.needs[0].high <= o.needs[0].high) o.needs[0].high = unbounded_V;
    }
    if (o.needs[0].low > -unbounded_V || o.needs[0].high < unbounded_V) out.push_back(std::move(o));
}

// Two places of one signal's own wire that do not read alike: something lies between, or the sensor moved meanwhile.
void endsSeen(const Map& map, const Assessment& a, std::size_t index, int at, Observation o,
              std::vector<Observation>& out)
{
    constexpr double whole_V = 0.5, soft_V = 0.1;
    const std::string& state = map.state(o.setup.state).id;
    const bool turns = state == "running" || state == "cranking";
    const std::vector<Reading>& readings = a.evidence.readings;
    const Reading& r = readings[index];
    for (std::size_t i = index; i-- > 0;) {
        const WireEnds ends = a.stale[i] ? WireEnds::NotCompared : wireEndsOf(map, r, readings[i]);
        if (ends == WireEnds::NotCompared) continue;
        // Alike they say no more than each of them does.
        if (ends != WireEnds::Differ) return;
        o.kind = Observation::Kind::FunctionDead;
        o.source = turns ? Observation::Source::Vague : Observation::Source::MayMove;
        o.words = inWords("observations.ends-differ", map.terminal(at).id);
        const int there = map.nodeIndex(readings[i].red);
        o.needs = {{{o.probe.red, there, r.instrument.inputResistance_ohm, -1}, -whole_V, whole_V, soft_V}};
        out.push_back(std::move(o));
        return;
    }
}

bool isLiveByMap(const Map& map, const Reading& r, Condition setup)
{
    setup.meter = Meter{map.nodeIndex(r.red), map.nodeIndex(r.black), 10e6, Meter::Mode::Ohms};
    const auto shown = displayOf(map, setup);
    return shown && shown->live;
}

// By the map a voltage stands there: the ohms are no figure, but they tell whether the place is shorted to a post.
void shortSeen(const Map& map, const Reading& r, Short shorted, Observation o, std::vector<Observation>& out)
{
    constexpr double softDecades = 0.15, leads_ohm = 1.5, times = 2;
    constexpr double beyond_ohm = 2e3;  // what a reading beyond the range is taken for
    const double read = r.value.overLimit ? beyond_ohm : partOhms(r),
                 bound = shorted == Short::Yes ? times * read + leads_ohm : read / times;
    o.kind = shorted == Short::Yes ? Observation::Kind::FunctionWorks : Observation::Kind::FunctionDead;
    o.source = Observation::Source::Read;
    o.words = inWords(shorted == Short::Yes ? "observations.is-short" : "observations.is-no-short",
                      map.nodeWords(map.nodeIndex(r.red)));
    o.probe.ohms = true;
    o.needs = {{o.probe, -1e9, decadesOf(bound), softDecades}};
    out.push_back(std::move(o));
}

// Ohms of a unit that no page tells are compared with nothing; but they are none of a short in front of it.
bool isSurelyNoShort(const Map& map, const Reading& r, Condition dead)
{
    if (!r.value.overLimit && partOhms(r) < trade::liveFreeFrom_ohm) return false;
    dead.meter = Meter{map.nodeIndex(r.red), map.nodeIndex(r.black), 10e6, Meter::Mode::Ohms};
    const auto sound = displayOf(map, dead);
    return sound && !sound->live && (sound->overLimit || sound->value >= trade::liveFreeFrom_ohm);
}

// What an output stage keeps while it drives nobody stated, and those of one module are alike: that two of its drives
// keep half a volt is no resistance in what they share.
constexpr double driverKeeps_V = 0.25;

bool isKeptByDriver(const Map& map, int terminal, const Reading& r, const Judgement& j)
{
    constexpr double near = 0.15;  // of the system voltage, to the rail that it drives to
    const Terminal& t = map.terminal(terminal);
    if (!map.isOfSheet() || !t.role || groupOf(*t.role) != Group::Drives || isFailure(j.verdict)) return false;
    if (!isVoltageTest(r.test) || !r.load.empty()) return false;
    const double share = r.value.value / map.systemVoltage_V;
    return t.role == Role::HighSideDrive ? share > 1 - near : share < near;
}

// The mean of a drive that is pulsed with a share nobody told may be anything from one rail to the other: off both, it
// says that its driver works. Of the system voltage:
constexpr double pulseAtRail = 0.02, pulseSoft = 0.01;

bool isPulsedMean(const Map& map, int terminal, const Reading& r)
{
    if (!isVoltageTest(r.test) || r.value.overLimit || !isPulsedByUnknownShare(map, terminal, r)) return false;
    const double share = r.value.value / map.systemVoltage_V;
    return share > pulseAtRail && share < 1 - pulseAtRail;
}

void pulseSeen(const Map& map, const Terminal& t, Observation o, std::vector<Observation>& out)
{
    constexpr double unbounded_V = 1e9;
    const double v = map.systemVoltage_V;
    const auto sound = operatingPoint(map, o.setup);
    if (!sound) return;
    const bool feeds = sound->voltage(o.probe.red, o.probe.black) > v / 2;
    o.kind = Observation::Kind::FunctionWorks;
    o.source = Observation::Source::Seen;
    o.words = inWords("observations.is-pulsed", t.id);
    o.needs = {
        {o.probe, feeds ? pulseAtRail * v : -unbounded_V, feeds ? unbounded_V : (1 - pulseAtRail) * v, pulseSoft * v}};
    out.push_back(std::move(o));
}

// Of what no prediction can be made nothing is added.
void readingSeen(const Map& map, const Assessment& a, std::size_t index, std::vector<Observation>& out)
{
    const Reading& r = a.evidence.readings[index];
    if (r.test == TestKind::Look) {
        if (map.terminalIndex(r.terminal) >= 0) out.push_back(lookSeen(map, r));
        return;
    }
    const auto setup = conditionOf(map, r);
    const int red = map.nodeIndex(r.red), black = map.nodeIndex(r.black);
    if (!setup || !isSteady(r) || a.judgements[index].verdict == Verdict::NoEvidence) return;
    Observation o;
    o.id = r.id;
    o.words = fmt::format("{}, {}",
                          !r.terminal.empty() ? r.terminal
                          : red >= 0          ? map.nodeWords(red)
                                              : std::string("a place"),
                          testName(r.test));
    o.setup = *setup;
    o.batterySetup.state = setup->state;  // with everything mated and no load on, where nothing else is known
    o.batteryProbe = batteryProbeOf(map);
    o.probe = {red, black, r.instrument.inputResistance_ohm, -1};
    o.value = r.most ? (r.value.value + *r.most) / 2 : r.value.value;
    o.sigma = sigmaOf(r.instrument, r.value);
    if (r.most) o.sigma = std::hypot(o.sigma, (*r.most - r.value.value) / 2);
    o.gain = sigmaOfAccuracy * r.instrument.accuracy * r.value.value;
    if (map.isOfSheet()) {
        o.besideShare = r.load.empty() ? besideUnstated : besideLoad;
        o.untoldShare = untoldUnstated;
        if (r.test != TestKind::Battery) o.petty_V = (r.load.empty() ? petty : pettyLoaded) * map.systemVoltage_V;
    }
    // What units still send moves the mean of a line that is not held hard.
    constexpr double traffic_V = 0.3, heldHard_V = 0.1;
    if (map.isOfSheet() && isLineOfPair(map, red) && isVoltageTest(r.test) && std::abs(o.value) > heldHard_V)
        o.sigma = std::hypot(o.sigma, traffic_V);
    takeBattery(map, a, r, o);
    // Anywhere on its own wire a signal stands as at its terminal.
    const int named = map.terminalIndex(r.terminal), onWire = map.isOfSheet() ? terminalOnWire(map, red) : -1;
    const int at = onWire >= 0 ? onWire : named;
    if (at >= 0 && isKeptByDriver(map, at, r, a.judgements[index])) o.sigma = std::hypot(o.sigma, driverKeeps_V);
    if (at >= 0 && isPulsedMean(map, at, r)) return pulseSeen(map, map.terminal(at), std::move(o), out);
    if (saysNothing(map, r, a.judgements[index], at)) {
        endsSeen(map, a, index, at, o, out);
        standsSeen(map, a, r, at, isFailure(a.judgements[index].verdict), std::move(o), out);
        return;
    }
    if (mayBeFurtherTerminations(map, r) || mayBeHeldWire(map, r) || mayBeFedAlways(map, r)) return;
    if (mayBeOfPartAtRest(map, r)) {
        if (isSurelyNoShort(map, r, *setup)) shortSeen(map, r, Short::No, std::move(o), out);
        return;
    }
    const bool isOfElectronics = mayBeElectronics(map, r);
    if (const Short shorted = shortBy(map, r);
        shorted != Short::Unknown && (isOfElectronics || isLiveByMap(map, r, *setup)))
        return shortSeen(map, r, shorted, std::move(o), out);
    if (isOfElectronics) return;
    expectSlips(map, a, r, setup->alone >= 0, o);
    std::optional<Observation> seen;
    if (auto whole = pickUpSeen(map, r, o))
        seen = std::move(whole);
    else if (r.shows)
        seen = shownSeen(map, r, std::move(o));
    else if (r.test == TestKind::Reported)
        seen = reportedSeen(map, r, std::move(o));
    else if (r.test == TestKind::Current)
        seen = currentSeen(map, r, std::move(o));
    else if (red < 0 || black < 0)
        return;
    else if (unitAsked(r.test) == Unit::Ohm)
        seen = ohmsSeen(map, r, std::move(o));
    else if (!isVoltageTest(r.test) || r.value.overLimit)
        return;
    else if (r.test == TestKind::Battery)
        seen = batterySeen(map, std::move(o), r.time_ms - a.evidence.readings.front().time_ms, out);
    else
        seen = std::move(o);
    if (!seen) return;
    out.push_back(*seen);
    if (auto clamped = clampSeen(map, r, std::move(*seen))) out.push_back(std::move(*clamped));
}

// A recording stands as long as nothing was mended or corrected since.
bool stands(const TraceSeen& t, const Evidence& evidence)
{
    return std::none_of(evidence.repairs.begin(), evidence.repairs.end(), [&](const Repair& r) { return r.id > t.id; });
}

// What a part took before it weakened further: now it takes no more. A fault that grows has no one severity for both.
void weakerSince(const Map& map, const TraceSeen& t, int element, int drive, int state, std::vector<Observation>& out)
{
    Observation o;
    o.id = t.id;
    o.kind = Observation::Kind::FunctionWorks;
    o.words = t.element + inWords("observations.recorded-current-weaker-since");
    o.setup.state = state, o.setup.commands[drive] = 1;
    const auto point = operatingPoint(map, o.setup);
    if (!point) return;
    const double sigma = std::hypot(t.currentSigma_A, clampShare * *t.current_A, clampZero_A);
    Observation::Need need{{-1, -1, 10e6, element}, -1e9, 1e9, sigma, 1};
    if (point->currentThrough(element) < 0)
        need.low = -*t.current_A - 2 * sigma;
    else
        need.high = *t.current_A + 2 * sigma;
    o.needs = {need};
    out.push_back(std::move(o));
}

// The drive told on and off, whatever the state does with it: the current at the end of a pulse and the levels at the
// lead are what would be read then.
void traceSeen(const Map& map, const TraceSeen& t, const Trend* trend, std::vector<Observation>& out)
{
    const int element = map.elementIndex(t.element), drive = map.elementIndex(t.drive), state = map.stateIndex(t.state);
    if (element < 0 || drive < 0 || state < 0) return;
    if (trend && !trend->isLast(t) && trend->left < 1) return weakerSince(map, t, element, drive, state, out);
    Observation o;
    o.id = t.id;
    o.battery_V = t.supply_V;
    o.batteryProbe = batteryProbeOf(map);
    o.setup.state = o.batterySetup.state = state;
    const auto seen = [&](bool on, const Probe& probe, double value, double sigma, std::string words) {
        o.setup.commands[drive] = on ? 1 : 0;
        o.probe = probe, o.value = value, o.sigma = sigma, o.words = std::move(words);
        out.push_back(o);
    };
    if (t.current_A) {
        Condition on;
        on.state = state, on.commands[drive] = 1;
        const auto point = operatingPoint(map, on);
        if (!point) return;
        seen(true, {-1, -1, 10e6, element}, std::copysign(*t.current_A, point->currentThrough(element)),
             std::hypot(t.currentSigma_A, clampShare * *t.current_A, clampZero_A),
             t.element + inWords("observations.recorded-current"));
    }
    const int lead = map.nodeIndex(t.lead);
    if (lead < 0) return;
    const Probe at{lead, map.batteryMinus(), 10e6, -1};
    if (t.off_V) seen(false, at, *t.off_V, recordedLevel_V, t.lead + inWords("observations.recorded-before-driven"));
    if (t.on_V) seen(true, at, *t.on_V, recordedLevel_V, t.lead + inWords("observations.recorded-while-driven"));
}

}  // namespace

double ohmsSigmaAt(double decades)
{
    // d lg(R + 0.1 Ω) = 0.434 dR / (R + 0.1 Ω)
    const double tips = 0.434 * tipsOhms_ohm / std::pow(10.0, decades);
    const double read = decades > highOhmsFrom ? highOhmsSigma : ohmsSigma;
    return std::hypot(decades > decadesOf(trade::ohmmeterEndsFrom_ohm) ? endsSigma : read, tips);
}

Probe batteryProbeOf(const Map& map)
{
    return {map.batteryPlus(), map.batteryMinus(), 10e6, -1};
}

double sigmaOf(const Instrument& instrument, const Quantity& value)
{
    const double digit = value.resolution > 0 ? value.resolution : instrument.resolution_V;
    return std::sqrt(digit * digit / 3 + tipNoise_V * tipNoise_V);
}

std::vector<Observation> observationsOf(const Map& map, const Assessment& a, const Reports& reports)
{
    std::vector<Observation> out;
    for (const Function& f : map.functions) {
        if (!map.has(f)) continue;
        const auto in = [&](const auto& list) { return std::find(list.begin(), list.end(), f.id) != list.end(); };
        if (in(reports.dead)) out.push_back(functionSeen(map, f, false));
        if (in(reports.weak)) {
            out.push_back(functionSeen(map, f, false));
            out.back().words = f.name + inWords("observations.is-weak");
            out.back().source = Observation::Source::Vague;
        }
        if (in(reports.works)) out.push_back(functionSeen(map, f, true));
    }
    for (const CodeCondition& c : map.codes) {
        if (std::find(reports.codes.begin(), reports.codes.end(), c.code) != reports.codes.end())
            out.push_back(codeSeen(map, c));
    }
    for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
        // Where two sources disagree about what nobody measured, the figure accuses neither the part nor the reading.
        const bool open = map.isOfSheet() && a.judgements[i].finding == Finding::SourcesDisagree;
        if (!open && !a.stale[i] && !implausible(map, a.evidence.readings[i])) readingSeen(map, a, i, out);
    }
    for (const FunctionsSeen& seen : a.evidence.functions) {
        if (!isBeforeRepair(a.evidence, seen.id)) functionsSeen(map, seen, out);
    }
    const auto trends = trendsOf(a.evidence);
    for (const TraceSeen& t : a.evidence.traces) {
        if (stands(t, a.evidence)) traceSeen(map, t, trendOf(trends, t), out);
    }
    return out;
}

std::vector<Wanted> wantedBy(const Map& map, const std::vector<Observation>& observations)
{
    std::vector<Wanted> wanted;
    const auto want = [&](const Condition& setup, const Probe& probe) {
        auto at = std::find_if(wanted.begin(), wanted.end(), [&](const Wanted& w) { return w.setup == setup; });
        if (at == wanted.end()) at = wanted.insert(wanted.end(), {setup, {}});
        if (std::find(at->probes.begin(), at->probes.end(), probe) == at->probes.end()) at->probes.push_back(probe);
    };
    for (const Observation& o : observations) {
        if (o.kind != Observation::Kind::Reading) {
            for (const auto& need : o.needs)
                want(o.setup, need.probe);
            continue;
        }
        want(o.setup, o.probe);
        want(o.batterySetup, batteryProbeOf(map));
    }
    return wanted;
}

}  // namespace ilvek
