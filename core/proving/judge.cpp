#include "proving/judge.h"

#include <algorithm>

#include "base/text.h"
#include "circuit/operating_point.h"
#include "proving/dangers.h"
#include "proving/judge_context.h"
#include "proving/plausible.h"
#include "wording/words.h"

namespace ilvek {

namespace {

using JudgeTest = Judgement (*)(const JudgeContext&);

// One line per test.
JudgeTest judgeFor(TestKind test)
{
    switch (test) {
        case TestKind::Battery:
            return judgeBattery;
        case TestKind::ReturnDrop:
            return judgeReturnDrop;
        case TestKind::OpenSupply:
            return judgeOpenSupply;
        case TestKind::AbsentSupply:
            return judgeAbsentSupply;
        case TestKind::LoadedSupply:
            return judgeLoadedSupply;
        case TestKind::GroundSwap:
            return judgeGroundSwap;
        case TestKind::SegmentWalk:
            return judgeSegmentWalk;
        case TestKind::FuseCheck:
            return judgeFuseCheck;
        case TestKind::Reference:
            return judgeReference;
        case TestKind::Point:
            return judgePoint;
        case TestKind::PartResistance:
            return judgePartResistance;
        case TestKind::Look:
            return judgeLook;
        case TestKind::Level:
        case TestKind::Resistance:
            return judgeAgainstTable;
        case TestKind::Current:
            return judgeCurrent;
        case TestKind::Shown:
            return judgeShown;
        case TestKind::Reported:
            return judgeReported;
        case TestKind::Junction:
            return judgeJunction;
        case TestKind::Alternating:
        case TestKind::Duty:
        case TestKind::Frequency:
        case TestKind::Duration:
            return judgeKept;
    }
    return judgeAgainstTable;
}

Judgement undecided(std::string word, std::string why)
{
    Judgement j;
    j.verdict = Verdict::NotDecided;
    j.word = std::move(word);
    j.doesNotProve.push_back(std::move(why));
    return j;
}

std::string boundsWords(const Expected& expected)
{
    const Unit unit = unitOf(expected.measure);
    const auto figure = [unit](double value) { return formatQuantity({value, unit}); };
    const bool below = expected.measure == Measure::BelowBattery;
    const std::string tail = below ? inWords("judge.below-battery") : "";
    if (expected.low && expected.high && !below && expected.measure != Measure::Drop)
        return figure(*expected.low) + " to " + figure(*expected.high);
    if (expected.high) return inWords("judge.at-most") + figure(*expected.high) + tail;
    return inWords("judge.at-least") + figure(*expected.low) + tail;
}

}  // namespace

std::string volts2(double value_V)
{
    return formatQuantity(volts(value_V));
}

std::string amps(double value_A)
{
    return formatQuantity(amperes(value_A));
}

std::string ohmsText(double value_ohm)
{
    return formatQuantity(ohms(value_ohm));
}

namespace {

// By how much a sound battery stands higher in the reading's set-up than in that in which it was read, V.
double batteryShift_V(const Map& map, const Evidence& evidence, const Reading& reading)
{
    const Reading* battery = batteryReadingOfTheMinute(map, evidence, reading);
    if (!battery || reading.test == TestKind::Battery) return 0;
    auto then = conditionOf(map, *battery), now = conditionOf(map, reading);
    // Under a load the open reading is the other half of the pair, not the battery.
    if (!then || !now || now->load || *then == *now) return 0;
    const auto a = operatingPoint(map, *then), b = operatingPoint(map, *now);
    const double shift_V = a && b ? b->potential(map.batteryPlus()) - a->potential(map.batteryPlus()) : 0;
    constexpr double worthCounting_V = 0.02;  // less than that is in the digits
    return std::abs(shift_V) < worthCounting_V ? 0 : shift_V;
}

}  // namespace

JudgeContext::JudgeContext(const Map& m, const Evidence& e, const Reading& r)
    : map(m),
      evidence(e),
      reading(r),
      terminal(m.terminalIndex(r.terminal)),
      state(stateOf(m, r)),
      value_V(r.value.value),
      battery_V(batteryOfTheMinute(m, e, r))
{
    if (battery_V) {
        const double shift_V = batteryShift_V(m, e, r);
        batteryRead_V = battery_V;
        *battery_V += shift_V;
        constexpr double drawsOffBy = 3;  // what nobody stated may be so many times as much
        if (m.isOfSheet()) batteryBlur_V = drawsOffBy * std::abs(shift_V);
    }
    const std::string minus = map.node(map.batteryMinus());
    const std::string plus = map.node(map.batteryPlus());
    const std::string own = terminal >= 0 && self().ownReturn >= 0 ? map.node(map.terminal(self().ownReturn).a) : "";
    const bool exchanged = reading.red == minus || (!own.empty() && reading.red == own);
    std::string black = reading.black;
    if (exchanged && reading.test != TestKind::Battery) {
        // Red on the ground side, black on the subject: the same figure with the other sign.
        value_V = -value_V;
        black = reading.red;
    }
    blackOnBatteryMinus = black == minus;
    blackOnOwnReturn = !own.empty() && black == own;
    // A supply against battery plus shows what is missing from the battery.
    if (black == plus && battery_V && reading.test != TestKind::Battery) {
        value_V = *battery_V + value_V;
        blackOnBatteryMinus = true;
    }
    if (value_V < -0.5 && isVoltageTest(reading.test) && reading.test != TestKind::Point) {
        value_V = -value_V;
        leadsReversed = true;
    }
}

double JudgeContext::ownCurrent_A() const
{
    return terminal >= 0 ? self().current_A.value_or(0.0) : 0.0;
}

bool JudgeContext::isOwnAssumed() const
{
    return terminal < 0 || !map.isCurrentStated(self());
}

double JudgeContext::meterMayBeOff_V() const
{
    const double digit = reading.value.resolution > 0 ? reading.value.resolution : reading.instrument.resolution_V;
    return digit + reading.instrument.accuracy * std::abs(value_V);
}

AgainstLimits JudgeContext::against(Measure measure, bool loaded, double value) const
{
    const std::vector<Expected>& all = terminal >= 0 ? self().expected : map.batteryExpected;
    AgainstLimits result;
    bool inside = false, low = false, high = false;
    std::vector<std::string> words;
    // What may be missing from the battery of the minute is the same in every state in which the feed must be present,
    // and a reference that stands has one level.
    const auto isFor = [&](int wanted) {
        return [=](const Expected& e) { return e.state == wanted && e.measure == measure && e.loaded == loaded; };
    };
    int asIn = state;
    const bool isReference = measure == Measure::Level && terminal >= 0 && self().role == Role::Reference;
    constexpr double stands_V = 1;
    if ((measure == Measure::BelowBattery || (isReference && healthyReading(map, reading).value_or(0) > stands_V)) &&
        std::none_of(all.begin(), all.end(), isFor(state))) {
        const auto elsewhere = std::find_if(
            all.begin(), all.end(), [&](const Expected& e) { return e.measure == measure && e.loaded == loaded; });
        if (elsewhere != all.end()) asIn = elsewhere->state;
    }
    for (const Expected& expected : all) {
        if (!isFor(asIn)(expected)) continue;
        words.push_back(boundsWords(expected) + " (" + map.sourceId(expected.source) + ")");
        constexpr double rounding = 1e-9;
        const double slack = rounding + (measure == Measure::Level ? meterMayBeOff_V() : 0.0);
        const bool isLow = expected.low && value < *expected.low - slack;
        const bool isHigh = expected.high && value > *expected.high + slack;
        low = low || isLow;
        high = high || isHigh;
        inside = inside || (!isLow && !isHigh);
        result.atLimit = result.atLimit || (expected.low && !isLow && value < *expected.low - rounding) ||
                         (expected.high && !isHigh && value > *expected.high + rounding);
    }
    result.words = listed(words);
    using Outcome = AgainstLimits::Outcome;
    if (words.empty())
        result.outcome = Outcome::None;
    else if (inside && (low || high))
        result.outcome = Outcome::SourcesDisagree;
    else if (inside)
        result.outcome = Outcome::Inside;
    else
        result.outcome = low && !high ? Outcome::Low : high && !low ? Outcome::High : Outcome::SourcesDisagree;
    return result;
}

std::optional<double> JudgeContext::upperLimit(Measure measure, bool loaded) const
{
    std::optional<double> here, anywhere;
    for (const Expected& expected : self().expected) {
        if (expected.measure != measure || expected.loaded != loaded || !expected.high) continue;
        anywhere = std::min(anywhere.value_or(*expected.high), *expected.high);
        if (expected.state == state) here = std::min(here.value_or(*expected.high), *expected.high);
    }
    return here ? here : anywhere;
}

namespace {

bool needsTerminal(TestKind test)
{
    switch (test) {
        case TestKind::ReturnDrop:
        case TestKind::OpenSupply:
        case TestKind::AbsentSupply:
        case TestKind::LoadedSupply:
        case TestKind::GroundSwap:
        case TestKind::SegmentWalk:
        case TestKind::Reference:
        case TestKind::Level:
        case TestKind::Resistance:
        case TestKind::Look:
            return true;
        default:
            return false;
    }
}

// What must be asked before the figure is looked at; nullopt where the reading can be judged.
std::optional<Judgement> notToBeJudged(const Map& map, const JudgeContext& c, const Reading& reading)
{
    if (c.state < 0)
        return undecided(inWords("judge.unknown-state"), inWords("judge.map-operating-state") + reading.state + "”.");
    if (needsTerminal(reading.test) && c.terminal < 0)
        return undecided(inWords("judge.unknown-terminal"), inWords("judge.map-terminal") + reading.terminal + "”.");
    if (c.terminal >= 0 && c.self().asFound == AsFound::Empty)
        return undecided(inWords("judge.cavity-empty"), inWords("judge.found-terminal-cavity"));
    if (reading.value.overLimit && unitAsked(reading.test) == Unit::Volt && reading.test != TestKind::Junction)
        return undecided(inWords("judge.over-limit"), inWords("judge.ol-voltage-range-means"));
    const auto noEvidence = [](std::string word, std::string doubt, std::string arithmetic) {
        Judgement j = undecided(std::move(word), std::move(doubt));
        j.verdict = Verdict::NoEvidence;
        j.arithmetic = std::move(arithmetic);
        return j;
    };
    if (const auto why = implausible(map, reading))
        return noEvidence(inWords("judge.can-that-be"), inWords("judge.kept-read-evidence-nothing"), *why);
    if (const auto dangers = dangersOf(map, reading); !dangers.empty()) {
        Judgement j = noEvidence(inWords("judge.not-to-be-done"), inWords("judge.anything-taken-evidence-nothing"),
                                 figureOf(reading) + ".");
        for (const std::string& danger : dangers)
            j.doesNotProve.push_back(danger);
        return j;
    }
    if (reading.inShutDown) {
        Judgement j = noEvidence(inWords("judge.shut-down-meanwhile"), inWords("judge.anything-module-had-shut"),
                                 figureOf(reading) + ".");
        j.traps.push_back({"T13", inWords("judge.protected-itself-reads-if")});
        return j;
    }
    return std::nullopt;
}

// A figure that moved while it was read is as good as its worse end.
Judgement worseOfBoth(const Map& map, const Evidence& evidence, const Reading& reading)
{
    constexpr double steadyWithin_V = 0.05, steadyShare = 0.02;
    Reading low = reading, high = reading;
    low.most.reset(), high.most.reset();
    high.value.value = *reading.most;
    Judgement atLow = judge(map, evidence, low), atHigh = judge(map, evidence, high);
    const auto rank = [](const Judgement& j) { return isFailure(j.verdict) ? 2 : j.verdict == Verdict::Good ? 0 : 1; };
    Judgement j = rank(atHigh) > rank(atLow) ? std::move(atHigh) : std::move(atLow);
    j.arithmetic = fmt::format("Between {}. {}", figureOf(reading), j.arithmetic);
    const double spread = std::abs(*reading.most - reading.value.value);
    if (spread <= std::max(steadyWithin_V, steadyShare * std::abs(reading.value.value))) return j;
    if (j.verdict == Verdict::Good) j.verdict = Verdict::OpenOnly;
    j.word = isFailure(j.verdict) ? j.word : inWords("judgement.it-moves");
    j.proves.push_back(inWords("judge.something-circuit-changes-while"));
    j.doesNotProve.push_back(reading.touched.empty() ? inWords("judge.moves-touch-one-place")
                                                     : inWords("judge.only-touched") + reading.touched + ".");
    return j;
}

}  // namespace

Judgement judge(const Map& map, const Evidence& evidence, const Reading& reading)
{
    const JudgeContext c(map, evidence, reading);
    if (auto instead = notToBeJudged(map, c, reading)) return std::move(*instead);
    // A signal is there to move; what must stand still is as good as its worse end.
    const bool isSignal = c.terminal >= 0 && !c.self().moves.empty() && reading.test == TestKind::Level;
    if (reading.most && !isSignal) return worseOfBoth(map, evidence, reading);
    Judgement j = judgeFor(reading.test)(c);
    if (c.leadsReversed) j.traps.push_back({"T4", inWords("judge.sign-says-red-black")});
    sayAround(c, j);
    return j;
}

}  // namespace ilvek
