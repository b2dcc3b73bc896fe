// A reading anywhere, against what the sound circuit gives there.
#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "proving/assumed_feed.h"
#include "proving/judge_context.h"
#include "proving/live_ohms.h"
#include "proving/plausible.h"
#include "proving/unstated.h"
#include "quantity/trade.h"
#include "wording/words.h"

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
    if (!c.map.isOfSheet()) return false;
    const int onWire = terminalOnWire(c.map, c.map.nodeIndex(c.reading.red)), at = onWire >= 0 ? onWire : c.terminal;
    if (at < 0 || !c.map.terminal(at).assumed || !c.map.terminal(at).role) return false;
    if (mayBeOtherReference(c.map, at, c.state, c.reading.value.value)) return true;
    if (isHeldDown(c.map, at, c.reading)) return false;
    if (isPulsedByUnknownShare(c.map, at, c.reading) || mayBeCommandedByItself(c.map, at, c.reading)) return true;
    const Group group = groupOf(*c.map.terminal(at).role);
    // Elsewhere on its wire only a signal stands as at its pin.
    if (at != c.terminal && group != Group::Inputs && group != Group::Networks) return false;
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
    const std::string share = !c.isOwnAssumed() && c.ownCurrent_A() > 0
                                  ? inWords("point.circuit-own-current", formatShare(current / c.ownCurrent_A()))
                                  : inWords("point.circuit-carries-service-nobody");
    j.proves.push_back(inWords("point.way-here-carries", amps(current)));
    j.doesNotProve.push_back(inWords("point.carries-more"));
    j.traps.push_back({"T21", inWords("point.flowed-tried", amps(current), share)});
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
        j.arithmetic += inWords("point.sound-circuit-leaves-place");
        j.doesNotProve.push_back(inWords("point.level-nothing-holds-place"));
        return j;
    }
    // The battery of the minute moves what hangs on it, from what the map's own gives in that state.
    double expected = *healthy;
    const double modelled = modelledBattery_V(c);
    if (c.battery_V && modelled > 0 && std::abs(expected) > hangsOnBattery * modelled)
        expected *= *c.battery_V / modelled;
    j.arithmetic += inWords("judgement.if-all-were-sound", volts2(expected));
    j.limits = inWords("point.computed-map", volts2(expected));
    const double allowed = std::max(pointAtLeast_V, pointShare * std::abs(expected)) +
                           (c.battery_V ? 0.0 : 0.05 * std::abs(expected)) +
                           (c.map.isOfSheet() ? trade::soundLoomLoses * c.map.systemVoltage_V : 0.0);
    const double current = loadCurrentAt(c);
    if (std::abs(read - expected) <= allowed) {
        j.verdict = Verdict::Noted;
        j.word = inWords("judgement.sound-circuit");
        j.proves.push_back(inWords("point.would-move-point-current"));
        if (current > 0)
            sayWhatFlowed(c, current, j);
        else
            j.doesNotProve.push_back(inWords("point.conductor-carries-current-now"));
    } else if (mayBeHeldWire(c.map, c.reading)) {
        j.verdict = Verdict::Noted;
        j.word = inWords("open.something-stands-there");
        j.doesNotProve.push_back(inWords("point.module-apart-tells"));
    } else if (restsOnUnstated(c) || mayBeFedAlways(c.map, c.reading)) {
        j.verdict = Verdict::Noted;
        j.word = inWords("point.nothing-judge");
        j.doesNotProve.push_back(inWords("point.whether-right-hangs-assumed"));
    } else {
        j.verdict = read < expected ? Verdict::Low : Verdict::High;
        j.word = read < expected ? inWords("point.lower-sound") : inWords("point.higher-sound");
        j.proves.push_back(inWords("point.something-point-depends-drawn"));
        j.doesNotProve.push_back(inWords("judgement.part-see-suspects"));
    }
    return j;
}

Judgement judgePartResistance(const JudgeContext& c)
{
    Judgement j;
    auto condition = conditionOf(c.map, c.reading);
    const int red = c.map.nodeIndex(c.reading.red), black = c.map.nodeIndex(c.reading.black);
    j.doesNotProve.push_back(inWords("judgement.path-carries-current-ohmmeter"));
    j.traps.push_back({"T7", inWords("point.ohms-dead-circuit-only")});
    if (!condition || red < 0 || black < 0) {
        j.word = inWords("judgement.place-unknown");
        return j;
    }
    condition->meter = Meter{red, black, 10e6, Meter::Mode::Ohms};
    const auto healthy = displayOf(c.map, *condition);
    const bool open = c.reading.value.overLimit;
    const double read = partOhms(c.reading);
    j.arithmetic = (open ? std::string("OL") : ohmsText(read)) + inWords("point.between-leads");
    if (const Short shorted = shortBy(c.map, c.reading); healthy && healthy->live && shorted != Short::Unknown) {
        j.verdict = shorted == Short::Yes ? Verdict::Low : Verdict::Noted;
        j.word = inWords(shorted == Short::Yes ? "point.is-short" : "point.is-no-short");
        (shorted == Short::Yes ? j.proves : j.doesNotProve)
            .push_back(inWords(shorted == Short::Yes ? "point.few-ohms-say-short" : "point.ohms-of-live-say-only"));
        return j;
    }
    if (!healthy || healthy->live) {
        j.verdict = Verdict::NoEvidence;
        j.word = inWords("judgement.circuit-dead");
        j.arithmetic += inWords("judgement.map-voltage-stands-state");
        return j;
    }
    const std::string expected = healthy->overLimit ? "OL" : ohmsText(healthy->value);
    if (c.reading.testLeads_ohm)
        j.arithmetic += inWords("point.leads-own-taken-off", ohmsText(*c.reading.testLeads_ohm));
    j.arithmetic += inWords("judgement.if-all-were-sound", expected);
    j.limits = expected + inWords("judgement.computed-map");
    // Leads that nobody took off are part of it.
    const double allowed = 0.12 * healthy->value + (c.map.isOfSheet() && !c.reading.testLeads_ohm ? 0.6 : 0.3);
    const bool isOpen = open || read >= trade::ohmmeterEndsFrom_ohm;
    const bool soundIsOpen = healthy->overLimit || healthy->value >= trade::ohmmeterEndsFrom_ohm;
    const bool fits = isOpen || soundIsOpen ? isOpen && soundIsOpen : std::abs(read - healthy->value) <= allowed;
    if (fits) {
        j.verdict = Verdict::Noted;
        j.word = inWords("judgement.sound-circuit");
        j.proves.push_back(inWords("point.parts-between-leads-have"));
    } else if (mayBeFurtherTerminations(c.map, c.reading)) {
        j.verdict = Verdict::Noted;
        j.word = inWords("point.terminations");
        j.doesNotProve.push_back(inWords("point.terminations-listed"));
    } else if (const RightBy by = ohmsRightBy(c.map, c.reading, *condition); by != RightBy::Nothing) {
        j.verdict = Verdict::Noted;
        j.word = inWords("point.such-part-may");
        j.doesNotProve.push_back(
            inWords(by == RightBy::Warmth ? "point.right-nobody-told-warmth" : "point.right-nobody-stated-ohms"));
    } else {
        const bool low = healthy->overLimit || (!open && read < healthy->value);
        j.verdict = low ? Verdict::Low : Verdict::High;
        j.word = low ? inWords("point.lower-sound") : inWords("point.higher-sound");
        j.proves.push_back(inWords("point.some-part-between-leads"));
    }
    return j;
}

}  // namespace ilvek
