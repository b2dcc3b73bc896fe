// W18 to W21 and W26 as far as the map's table of expected values goes.
#include "base/text.h"
#include "circuit/operating_point.h"
#include "proving/judge_context.h"
#include "proving/step.h"
#include "proving/unstated.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

void decideByTable(const AgainstLimits& limits, Judgement& j)
{
    using Outcome = AgainstLimits::Outcome;
    j.limits = limits.words;
    switch (limits.outcome) {
        case Outcome::Inside:
            j.verdict = Verdict::Good;
            j.word = inWords("judgement.within-limits");
            if (limits.atLimit) j.doesNotProve.push_back(inWords("table.at-limit"));
            break;
        case Outcome::Low:
            j.verdict = Verdict::Low;
            j.word = inWords("judgement.too-low");
            break;
        case Outcome::High:
            j.verdict = Verdict::High;
            j.word = inWords("judgement.too-high");
            break;
        case Outcome::SourcesDisagree:
            j.verdict = Verdict::NotDecided;
            j.finding = Finding::SourcesDisagree;
            j.word = inWords("judgement.sources-disagree");
            j.doesNotProve.push_back(inWords("table.whether-right") + j.limits +
                                     inWords("table.reading-proven-good-machine"));
            break;
        case Outcome::None:
            j.verdict = Verdict::NotDecided;
            j.word = inWords("table.nothing-judge");
            j.doesNotProve.push_back(inWords("table.anything-nobody-stated-terminal"));
            break;
    }
}

// T5: a signal read against the body says nothing about the return of its sensor.
void checkBlackLead(const JudgeContext& c, Judgement& j)
{
    if (c.blackOnOwnReturn || c.self().ownReturn < 0) return;
    j.traps.push_back(
        {"T5", inWords("table.read-against-circuit-own",
                       c.blackOnBatteryMinus ? inWords("table.battery-minus") : inWords("table.another-ground"),
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
    j.arithmetic = open ? inWords("table.ol-nothing-conducts-between") : ohmsText(r) + inWords("table.between-leads");
    j.doesNotProve.push_back(inWords("judgement.path-carries-current-ohmmeter"));
    j.traps.push_back({"T7", inWords("table.ohms-dead-circuit-only")});
    if (sound && sound->live) {
        j.verdict = Verdict::NoEvidence;
        j.word = inWords("judgement.circuit-dead");
        j.arithmetic += inWords("table.map-voltage-stands-state");
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
        j.word = inWords("table.module-apart");
        j.arithmetic = volts2(c.value_V) + " with " + connector + inWords("table.unplugged-reference-comes-module");
        j.doesNotProve.push_back(inWords("table.anything-about-reference-mate"));
        return j;
    }
    // Any connector apart may hold a consumer, so only a fully mated reading is one under load.
    const bool loaded = c.reading.unplugged.empty() && c.reading.removed.empty();
    const bool isReturn = c.self().role == Role::ReferenceReturn;
    const bool withPower = isReturn && c.self().ownReturn >= 0 && c.blackOnBatteryMinus && c.value_V > 0;
    const double value_V = withPower ? std::max(0.0, c.value_V - trade::returnDrop_V) : c.value_V;
    decideByTable(c.against(isReturn ? Measure::Drop : Measure::Level, loaded, value_V), j);
    if (withPower) j.doesNotProve.push_back(inWords("table.sensors-return-itself-against"));
    if (j.verdict == Verdict::High && mayBeOtherReference(c.map, c.terminal, c.state, c.value_V)) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("table.other-level");
        j.doesNotProve.push_back(inWords("table.whether-other-level"));
    }
    j.arithmetic = fmt::format("{} {}.", volts2(c.value_V),
                               loaded ? inWords("table.consumers-connected") : inWords("table.consumers-released"));
    j.current_A = loaded ? currentDuring(c.map, c.evidence, c.reading) : 0.0;
    if (j.verdict == Verdict::Low) {
        j.doesNotProve.push_back(inWords("table.whether-consumer-wiring-regulator"));
        j.proves.push_back(inWords("table.everything-fed-reference-reads"));
    } else if (j.verdict == Verdict::High) {
        j.doesNotProve.push_back(inWords("table.source-look-short-supply"));
    } else if (j.verdict == Verdict::Good) {
        if (loaded)
            j.proves.push_back(inWords("table.reference-stands-own-consumers"));
        else {
            j.verdict = Verdict::OpenOnly;
            j.word = inWords("table.right-released");
            j.proves.push_back(inWords("table.regulator-gives-level-without"));
            j.doesNotProve.push_back(inWords("table.holds-them-mate-everything"));
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
    if (isReleasedDrive(c.map, c.terminal, c.reading)) {
        j.verdict = Verdict::Noted;
        j.word = inWords("table.released-drive");
        j.arithmetic = volts2(c.value_V) + ".";
        j.doesNotProve.push_back(inWords("table.module-own-level"));
        return j;
    }
    decideByTable(byBattery ? below : level, j);
    // Too far below the battery is too low.
    if (byBattery && (j.verdict == Verdict::High || j.verdict == Verdict::Low)) {
        const bool low = j.verdict == Verdict::High;
        j.verdict = low ? Verdict::Low : Verdict::High;
        j.word = low ? inWords("judgement.too-low") : inWords("judgement.too-high");
    }
    j.arithmetic = volts2(c.value_V) + ", " + lowered(c.map.state(c.state).name) + ".";
    if (j.verdict == Verdict::NotDecided && byBattery && !c.battery_V)
        j.traps.push_back({"T3", inWords("table.terminal-judged-against-battery")});
    j.moved = !c.self().moves.empty() && showsMovement(c);
    if (j.verdict == Verdict::Good) {
        j.proves.push_back(inWords("table.level-terminal-expected-state"));
        if (!j.moved && !apart) j.doesNotProve.push_back(inWords("table.changes-should-produce-other"));
    }
    checkBlackLead(c, j);
    return j;
}

}  // namespace ilvek
