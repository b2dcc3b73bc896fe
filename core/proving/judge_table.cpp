// W18 to W21 and W26 as far as the map's table of expected values goes.
#include "base/text.h"
#include "circuit/operating_point.h"
#include "proving/judge_context.h"
#include "proving/rules.h"
#include "proving/step.h"

namespace ilvek {

namespace {

void decideByTable(const AgainstLimits& limits, Judgement& j)
{
    using Outcome = AgainstLimits::Outcome;
    j.limits = limits.words;
    switch (limits.outcome) {
        case Outcome::Inside:
            j.verdict = Verdict::Good;
            j.word = "Within limits";
            break;
        case Outcome::Low:
            j.verdict = Verdict::Low;
            j.word = "Too low";
            break;
        case Outcome::High:
            j.verdict = Verdict::High;
            j.word = "Too high";
            break;
        case Outcome::SourcesDisagree:
            j.verdict = Verdict::NotDecided;
            j.finding = Finding::SourcesDisagree;
            j.word = "Sources disagree";
            j.doesNotProve.push_back("Whether this is right: " + j.limits +
                                     ". A reading on a proven-good machine settles it; then the terminal is corrected: "
                                     "which source holds.");
            break;
        case Outcome::None:
            j.verdict = Verdict::NotDecided;
            j.word = "Nothing to judge by";
            j.doesNotProve.push_back("Anything: nobody stated what this terminal reads in this state.");
            break;
    }
}

// T5: a signal read against the body says nothing about the return of its sensor.
void checkBlackLead(const JudgeContext& c, Judgement& j)
{
    if (c.blackOnOwnReturn || c.self().ownReturn < 0) return;
    j.traps.push_back({"T5", fmt::format("Read against {}, not the circuit's own return {}: the return stays unproven.",
                                         c.blackOnBatteryMinus ? "battery minus" : "another ground",
                                         c.map.terminal(c.self().ownReturn).id)});
}

// What a sound circuit shows to an ohmmeter; nullopt where it cannot be computed.
std::optional<Display> soundOhms(const JudgeContext& c, const SetUp& setUp)
{
    auto condition = conditionOf(c.map, setUp);
    const int red = c.map.nodeIndex(setUp.red), black = c.map.nodeIndex(setUp.black);
    if (!condition || red < 0 || black < 0) return std::nullopt;
    condition->meter = Meter{red, black, 10e6, Meter::Mode::Ohms};
    const auto display = displayOf(c.map, *condition);
    return display ? std::optional(*display) : std::nullopt;
}

// The table was made in some set-up; it holds for another one only where a sound circuit reads the same in both.
bool tableHolds(const JudgeContext& c, const Display& here)
{
    SetUp listed = tableStep(c.map, c.terminal, {TestKind::Resistance, c.state, ""});
    const auto there = soundOhms(c, listed);
    if (!there || here.overLimit || there->overLimit) return !there || here.overLimit == there->overLimit;
    constexpr double same = 0.1;
    return std::abs(here.value - there->value) <= same * std::max(here.value, there->value);
}

Judgement judgeResistance(const JudgeContext& c)
{
    const auto sound = soundOhms(c, c.reading);
    if (sound && !sound->live && !tableHolds(c, *sound)) return judgePartResistance(c);
    Judgement j;
    const bool open = c.reading.value.overLimit;
    const double r = open ? INFINITY : partOhms(c.reading);
    j.arithmetic = open ? "OL: nothing conducts between the leads." : ohmsText(r) + " between the leads.";
    j.doesNotProve.push_back("That the path carries current: an ohmmeter asks for microamperes.");
    j.traps.push_back({"T7", "Ohms on a dead circuit only; below an ohm the leads count."});
    if (sound && sound->live) {
        j.verdict = Verdict::NoEvidence;
        j.word = "Circuit not dead";
        j.arithmetic += " By the map a voltage stands there in this state.";
        return j;
    }
    decideByTable(c.against(Measure::Resistance, false, r), j);
    return j;
}

}  // namespace

Judgement judgeReference(const JudgeContext& c)
{
    Judgement j;
    const std::string& connector = c.map.connectors[static_cast<std::size_t>(c.self().connector)].id;
    bool mated = true;
    for (const std::string& id : c.reading.unplugged)
        mated = mated && id != connector;
    if (!mated) {
        j.verdict = Verdict::NoEvidence;
        j.word = "Module is apart";
        j.arithmetic = volts2(c.value_V) + " with " + connector + " unplugged: the reference comes from the module.";
        j.doesNotProve.push_back("Anything about the reference: mate the connector and read from the wire side.");
        return j;
    }
    // Any connector apart may hold a consumer, so only a fully mated reading is one under load.
    const bool loaded = c.reading.unplugged.empty() && c.reading.removed.empty();
    const bool isReturn = c.self().role == Role::ReferenceReturn;
    const bool withPower = isReturn && c.self().ownReturn >= 0 && c.blackOnBatteryMinus && c.value_V > 0;
    const double value_V = withPower ? std::max(0.0, c.value_V - rules::soundReturnLoses_V) : c.value_V;
    decideByTable(c.against(isReturn ? Measure::Drop : Measure::Level, loaded, value_V), j);
    if (withPower)
        j.doesNotProve.push_back(
            "The sensors' return by itself: against battery minus the module's power return is in it. "
            "Read it against that return.");
    j.arithmetic =
        fmt::format("{} {}.", volts2(c.value_V), loaded ? "with its consumers connected" : "with consumers released");
    j.current_A = loaded ? currentDuring(c.map, c.evidence, c.reading) : 0.0;
    if (j.verdict == Verdict::Low) {
        j.doesNotProve.push_back(
            "Whether a consumer, its wiring or the regulator pulls it down: release the consumers one at a time, on "
            "every terminal of the same regulator.");
        j.proves.push_back("Everything fed from this reference reads wrong because of it.");
    } else if (j.verdict == Verdict::High) {
        j.doesNotProve.push_back("The source: look for a short to a supply in the sensor wiring.");
    } else if (j.verdict == Verdict::Good) {
        if (loaded)
            j.proves.push_back("The reference stands with its own consumers as load.");
        else {
            j.verdict = Verdict::OpenOnly;
            j.word = "Right, released";
            j.proves.push_back("The regulator gives its level without consumers.");
            j.doesNotProve.push_back("That it holds it with them: mate everything and read again.");
        }
    }
    if (!isReturn) checkBlackLead(c, j);
    return j;
}

Judgement judgeAgainstTable(const JudgeContext& c)
{
    Judgement j;
    if (c.reading.test == TestKind::Resistance) return judgeResistance(c);
    const AgainstLimits below =
        c.battery_V ? c.against(Measure::BelowBattery, true, *c.battery_V - c.value_V) : AgainstLimits{};
    // Apart it shows what the wire brings, mated what the module makes of it.
    const bool apart = isApart(c.map, c.reading, c.terminal);
    const AgainstLimits level = c.against(Measure::Level, !apart, c.value_V);
    using Outcome = AgainstLimits::Outcome;
    if (level.outcome == Outcome::None && below.outcome == Outcome::None && !c.self().moves.empty()) {
        j = judgeMoves(c);
        checkBlackLead(c, j);
        return j;
    }
    const bool byBattery = level.outcome == Outcome::None;
    decideByTable(byBattery ? below : level, j);
    // Too far below the battery is too low.
    if (byBattery && (j.verdict == Verdict::High || j.verdict == Verdict::Low)) {
        const bool low = j.verdict == Verdict::High;
        j.verdict = low ? Verdict::Low : Verdict::High;
        j.word = low ? "Too low" : "Too high";
    }
    j.arithmetic = volts2(c.value_V) + ", " + lowered(c.map.state(c.state).name) + ".";
    if (j.verdict == Verdict::NotDecided && byBattery && !c.battery_V)
        j.traps.push_back(
            {"T3", "This terminal is judged against the battery of the minute: read the battery, then this again."});
    j.moved = !c.self().moves.empty() && showsMovement(c);
    if (j.verdict == Verdict::Good) {
        j.proves.push_back("The level at this terminal is as expected in this state.");
        if (!j.moved && !apart)
            j.doesNotProve.push_back("That it changes as it should; produce the other state and read again.");
    }
    checkBlackLead(c, j);
    return j;
}

}  // namespace ilvek
