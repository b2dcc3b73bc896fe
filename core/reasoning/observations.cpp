#include "reasoning/observations.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "circuit/operating_point.h"
#include "proving/plausible.h"

namespace ilvek {

namespace {

// A probe tip and its contact move a reading by about this, one sigma.
constexpr double tipNoise_V = 0.004;
// An instrument's stated accuracy is a bound; half of it is taken as one sigma.
constexpr double sigmaOfAccuracy = 0.5;
// A battery at rest, charged or drained some minutes ago, one sigma.
constexpr double batteryDrift_V = 0.06;
// An ohmmeter with its leads zeroed, in decades (about 4 %), and above ten kilohms: its own volts bend the laws of the
// electronics that hang on the circuit, which the prediction takes as straight.
constexpr double ohmsSigma = 0.02, highOhmsSigma = 0.05, highOhmsFrom = 4.0;
// A part works with at least this share of its healthy current; a level is right within a tenth.
constexpr double worksAtShare = 0.7;
// A clamp meter's scale and its zero, one sigma.
constexpr double clampShare = 0.02, clampZero_A = 0.02;
// A level read off a recording through its own lead and ground, one sigma.
constexpr double recordedLevel_V = 0.25;
constexpr double restCurrent_A = 0.02;
constexpr double levelShare = 0.1;

// The level at the module's own side of a terminal, against the module's ground or battery minus.
Probe levelProbe(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    const int own = t.ownReturn >= 0 ? map.terminal(t.ownReturn).b : -1;
    return {t.b, own >= 0 ? own : map.batteryMinus(), 1e12, -1};
}

Observation functionSeen(const Map& map, const Function& f, bool works)
{
    Observation o;
    o.kind = works ? Observation::Kind::FunctionWorks : Observation::Kind::FunctionDead;
    o.words = f.name + (works ? " works" : " fails");
    o.setup.state = f.state;
    const auto point = operatingPoint(map, o.setup);
    if (!point) return o;
    for (const int e : f.currents) {
        const double healthy = point->currentThrough(e);
        const double least = worksAtShare * std::abs(healthy);
        Observation::Need need{{-1, -1, 10e6, e}, least, 1e9, 0.05 * std::abs(healthy) + 1e-6};
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
        o.needs.push_back({{e.nodes[0], e.nodes[1], 1e12, -1}, e.value("brown_out"), 1e9, 0.2});
    }
    for (const int e : f.rests)
        o.needs.push_back({{-1, -1, 10e6, e}, -restCurrent_A, restCurrent_A, 0.2 * restCurrent_A});
    return o;
}

Observation codeSeen(const Map& map, const CodeCondition& c)
{
    Observation o;
    o.kind = Observation::Kind::Code;
    o.words = "code " + c.code;
    o.setup.state = c.state;
    o.needs.push_back({levelProbe(map, c.terminal), c.above_V.value_or(-1e9), c.below_V.value_or(1e9), 0.05});
    return o;
}

// The current that a clamp showed with the module as the load; which way it sat nobody wrote down (T20).
std::optional<Observation> clampSeen(const Map& map, const Reading& r, Observation o)
{
    const int terminal = map.terminalIndex(r.terminal);
    if (!r.measuredCurrent_A || !r.load.empty() || terminal < 0 || map.terminal(terminal).contact < 0)
        return std::nullopt;
    const auto point = operatingPoint(map, o.setup);
    if (!point) return std::nullopt;
    o.probe = {-1, -1, 10e6, map.terminal(terminal).contact};
    o.words = r.terminal + ", clamp";
    o.value = std::copysign(std::abs(*r.measuredCurrent_A), point->currentThrough(o.probe.element));
    o.sigma = std::hypot(clampShare * o.value, clampZero_A);
    o.gain = 0;
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

// A recording stands as long as nothing was mended or corrected since.
bool stands(const TraceSeen& t, const Evidence& evidence)
{
    return std::none_of(evidence.repairs.begin(), evidence.repairs.end(), [&](const Repair& r) { return r.id > t.id; });
}

// The drive told on and off, whatever the state does with it: the current at the end of a pulse and the levels at the
// lead are what would be read then.
void traceSeen(const Map& map, const TraceSeen& t, std::vector<Observation>& out)
{
    const int element = map.elementIndex(t.element), drive = map.elementIndex(t.drive), state = map.stateIndex(t.state);
    if (element < 0 || drive < 0 || state < 0) return;
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
             std::hypot(t.currentSigma_A, clampShare * *t.current_A, clampZero_A), t.element + ", recorded current");
    }
    const int lead = map.nodeIndex(t.lead);
    if (lead < 0) return;
    const Probe at{lead, map.batteryMinus(), 10e6, -1};
    if (t.off_V) seen(false, at, *t.off_V, recordedLevel_V, t.lead + ", recorded before it is driven");
    if (t.on_V) seen(true, at, *t.on_V, recordedLevel_V, t.lead + ", recorded while it is driven");
}

}  // namespace

double ohmsSigmaAt(double decades)
{
    return decades > highOhmsFrom ? highOhmsSigma : ohmsSigma;
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

std::vector<Observation> observationsOf(const Map& map, const Assessment& a, const Paper& paper)
{
    std::vector<Observation> out;
    for (const Function& f : map.functions) {
        if (!map.has(f)) continue;
        const auto in = [&](const auto& list) { return std::find(list.begin(), list.end(), f.id) != list.end(); };
        if (in(paper.dead)) out.push_back(functionSeen(map, f, false));
        if (in(paper.works)) out.push_back(functionSeen(map, f, true));
    }
    for (const CodeCondition& c : map.codes) {
        if (std::find(paper.codes.begin(), paper.codes.end(), c.code) != paper.codes.end())
            out.push_back(codeSeen(map, c));
    }
    for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
        const Reading& r = a.evidence.readings[i];
        const bool resistance = unitAsked(r.test) == Unit::Ohm;
        const bool battery = r.test == TestKind::Battery;
        if (a.stale[i] || (r.value.overLimit && !resistance) || implausible(map, r)) continue;
        if (r.test == TestKind::Look) {
            if (map.terminalIndex(r.terminal) >= 0) out.push_back(lookSeen(map, r));
            continue;
        }
        const int red = map.nodeIndex(r.red), black = map.nodeIndex(r.black);
        auto setup = conditionOf(map, r);
        if (red < 0 || black < 0 || !setup) continue;
        // The battery counts once for each state: what it shows later is its own story.
        const auto sameState = [&](const Observation& o) {
            return o.probe == batteryProbeOf(map) && o.setup == *setup;
        };
        if (battery && (map.node(red) != map.node(map.batteryPlus()) || std::any_of(out.begin(), out.end(), sameState)))
            continue;
        Observation o;
        o.id = r.id;
        o.words = fmt::format("{}, {}", r.terminal.empty() ? map.nodeWords(red) : r.terminal, testName(r.test));
        o.setup = *setup;
        o.batterySetup.state = setup->state;  // with everything mated and no load on, where nothing else is known
        o.probe = {red, black, r.instrument.inputResistance_ohm, -1};
        o.value = r.value.value;
        o.sigma = sigmaOf(r.instrument, r.value);
        o.gain = sigmaOfAccuracy * r.instrument.accuracy * r.value.value;
        if (resistance) {
            o.probe.ohms = true;
            o.value = r.value.overLimit ? decadesOf(1e9) : decadesOf(r.value.value);
            o.sigma = ohmsSigmaAt(o.value);
            o.gain = 0;  // in it already
        }
        if (battery) {
            // Between two states it has drained, or recovered.
            o.sigma = std::hypot(o.sigma, batteryDrift_V);
            o.probe = batteryProbeOf(map);
            o.words = "battery, " + map.state(setup->state).name;
        } else {
            const Reading* taken = batteryReadingOfTheMinute(map, a.evidence, r);
            if (taken) o.battery_V = std::abs(taken->value.value);
            if (const auto with = taken ? conditionOf(map, *taken) : std::nullopt) o.batterySetup = *with;
            if (!o.battery_V && r.battery_V && isPossibleVoltage(map, *r.battery_V)) o.battery_V = r.battery_V;
        }
        o.batteryProbe = batteryProbeOf(map);
        out.push_back(o);
        if (auto clamped = clampSeen(map, r, std::move(o))) out.push_back(std::move(*clamped));
    }
    for (const TraceSeen& t : a.evidence.traces) {
        if (stands(t, a.evidence)) traceSeen(map, t, out);
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
