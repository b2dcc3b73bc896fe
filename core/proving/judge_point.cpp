// A reading anywhere, against what the sound circuit gives there.
#include "circuit/operating_point.h"
#include "proving/judge_context.h"
#include "proving/rules.h"

namespace ilvek {

namespace {

// Sound parts differ: 2 % of the reading and 50 mV cover contacts, wires and meter; what is further off is named, and
// the suspects say what it means.
constexpr double pointShare = 0.02;
constexpr double pointAtLeast_V = 0.05;
constexpr double hangsOnBattery = 0.8;  // of the battery's voltage, and it moves with it

// A level that a sensor, a switch or another module makes, with figures that nobody stated.
bool restsOnUnstated(const JudgeContext& c)
{
    if (c.terminal < 0 || !c.self().assumed || !c.self().role) return false;
    const Group group = groupOf(*c.self().role);
    return group != Group::Supplies && group != Group::Returns && c.reading.load.empty();
}

// Through the substitute load, A: by its law at the volts across it where the leads are on it, else measured, else of
// the sound circuit. 0 without one.
double loadCurrentAt(const JudgeContext& c)
{
    if (c.reading.load.empty()) return 0;
    if (c.reading.measuredCurrent_A) return std::abs(*c.reading.measuredCurrent_A);
    return currentDuring(c.map, c.evidence, c.reading);
}

void sayWhatFlowed(const JudgeContext& c, double current, Judgement& j)
{
    j.current_A = current;
    const std::string share =
        !c.isOwnAssumed() && c.ownCurrent_A() > 0
            ? fmt::format(", {} of the circuit's own current", formatShare(current / c.ownCurrent_A()))
            : ", and what the circuit carries in service nobody stated";
    j.proves.push_back(fmt::format("The way to here carries {}.", amps(current)));
    j.doesNotProve.push_back("That it carries more.");
    j.traps.push_back({"T21", fmt::format("{} flowed{}; that is what was tried.", amps(current), share)});
}

double modelledBattery_V(const JudgeContext& c)
{
    Condition resting;
    resting.state = c.map.stateIndex(c.reading.state);
    if (resting.state < 0) return 0;
    const auto point = operatingPoint(c.map, resting);
    return point ? point->potential(c.map.batteryPlus()) : 0;
}

}  // namespace

Judgement judgePoint(const JudgeContext& c)
{
    Judgement j;
    const std::string place = c.map.nodeWords(c.map.nodeIndex(c.reading.red));
    const auto healthy = healthyReading(c.map, c.reading);
    const double read = c.reading.value.value;
    j.arithmetic = fmt::format("{} at {}", volts2(read), place);
    if (!healthy) {
        j.verdict = Verdict::Noted;
        j.word = "Noted";
        j.arithmetic += "; a sound circuit leaves this place floating.";
        j.doesNotProve.push_back("A level: nothing holds this place, so any figure may stand there.");
        return j;
    }
    // The battery of the minute moves what hangs on it, from what the map's own gives in that state.
    double expected = *healthy;
    const double modelled = modelledBattery_V(c);
    if (c.battery_V && modelled > 0 && std::abs(expected) > hangsOnBattery * modelled)
        expected *= *c.battery_V / modelled;
    j.arithmetic += fmt::format("; {} if all were sound.", volts2(expected));
    j.limits = fmt::format("{} (computed from the map)", volts2(expected));
    const double allowed = std::max(pointAtLeast_V, pointShare * std::abs(expected)) +
                           (c.battery_V ? 0.0 : 0.05 * std::abs(expected)) +
                           (c.map.isOfSheet() ? rules::soundLoomLoses * c.map.systemVoltage_V : 0.0);
    const double current = loadCurrentAt(c);
    if (std::abs(read - expected) <= allowed) {
        j.verdict = Verdict::Noted;
        j.word = "As a sound circuit";
        j.proves.push_back("What would move this point is not there, or not at this current.");
        if (current > 0)
            sayWhatFlowed(c, current, j);
        else
            j.doesNotProve.push_back("A conductor that carries no current now.");
    } else if (restsOnUnstated(c)) {
        j.verdict = Verdict::Noted;
        j.word = "Nothing to judge it by";
        j.doesNotProve.push_back(
            "Whether this is right: what hangs on it is assumed, nobody stated it. Change what it "
            "senses and see whether it follows, or compare with a good machine.");
    } else {
        j.verdict = read < expected ? Verdict::Low : Verdict::High;
        j.word = read < expected ? "Lower than sound" : "Higher than sound";
        j.proves.push_back("Something that this point depends on is not as drawn or not sound.");
        j.doesNotProve.push_back("Which part: see the suspects.");
    }
    return j;
}

Judgement judgePartResistance(const JudgeContext& c)
{
    Judgement j;
    auto condition = conditionOf(c.map, c.reading);
    const int red = c.map.nodeIndex(c.reading.red), black = c.map.nodeIndex(c.reading.black);
    j.doesNotProve.push_back("That the path carries current: an ohmmeter asks for microamperes.");
    j.traps.push_back({"T7", "Ohms on a dead circuit only; below an ohm the leads count; parallel paths read low."});
    if (!condition || red < 0 || black < 0) {
        j.word = "Place unknown";
        return j;
    }
    condition->meter = Meter{red, black, 10e6, Meter::Mode::Ohms};
    const auto healthy = displayOf(c.map, *condition);
    const bool open = c.reading.value.overLimit;
    const double read = partOhms(c.reading);
    j.arithmetic = (open ? std::string("OL") : ohmsText(read)) + " between the leads";
    if (!healthy || healthy->live) {
        j.verdict = Verdict::NoEvidence;
        j.word = "Circuit not dead";
        j.arithmetic += "; by the map a voltage stands there in this state.";
        return j;
    }
    const std::string expected = healthy->overLimit ? "OL" : ohmsText(healthy->value);
    if (c.reading.testLeads_ohm)
        j.arithmetic += fmt::format(", the leads' own {} taken off", ohmsText(*c.reading.testLeads_ohm));
    j.arithmetic += fmt::format("; {} if all were sound.", expected);
    j.limits = expected + " (computed from the map)";
    // A part by itself of which nobody stated the ohms: twice and half are no fault.
    const int alone = partAlone(c.map, c.reading);
    const bool unstated = alone >= 0 && c.map.isOfSheet() && c.map.element(alone).assumed && !open &&
                          !healthy->overLimit && read > healthy->value / 2.5 && read < healthy->value * 2.5;
    const double allowed = 0.12 * healthy->value + 0.3;
    const bool fits = open ? healthy->overLimit : !healthy->overLimit && std::abs(read - healthy->value) <= allowed;
    if (fits) {
        j.verdict = Verdict::Noted;
        j.word = "As a sound circuit";
        j.proves.push_back("The parts between the leads have about the resistance they should, at a meter's current.");
    } else if (unstated) {
        j.verdict = Verdict::Noted;
        j.word = "As such a part may";
        j.doesNotProve.push_back("That it is right: nobody stated its ohms. Compare with a sound one.");
    } else {
        const bool low = healthy->overLimit || (!open && read < healthy->value);
        j.verdict = low ? Verdict::Low : Verdict::High;
        j.word = low ? "Lower than sound" : "Higher than sound";
        j.proves.push_back("Some part between the leads, or beside them, is not as drawn or not sound.");
    }
    return j;
}

}  // namespace ilvek
