// W9: a return is proven by its drop while current flows, never by a beep.
#include <algorithm>

#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "proving/judge_context.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

Judgement noCurrent(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::NoEvidence;
    j.word = inWords("return.current-proof");
    j.arithmetic = volts2(c.value_V) + inWords("return.current-flowing-through-any");
    j.doesNotProve.push_back(inWords("return.return-carries-any-current"));
    j.traps.push_back({"T1", inWords("return.drop-without-current-evidence")});
    return j;
}

Judgement readsSupply(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::FailsLoaded;
    j.word = inWords("return.return-open");
    j.arithmetic = volts2(c.value_V) + " of " + volts2(c.battery_V.value_or(c.map.systemVoltage_V)) +
                   inWords("return.stand-return-all-voltage");
    j.proves.push_back(inWords("return.return-carries-current-open"));
    j.doesNotProve.push_back(inWords("return.where-walk-return"));
    j.traps.push_back({"T8", inWords("return.return-reads-full-supply")});
    return j;
}

void addSiblings(const JudgeContext& c, Judgement& j)
{
    std::vector<std::string> others;
    for (const int sibling : siblingsOf(c.map, c.terminal))
        others.push_back(c.map.terminal(sibling).id);
    if (others.empty()) return;
    j.traps.push_back({"T12", inWords("return.same-ground-point-proven", fmt::join(others, ", "),
                                      others.size() == 1 ? "is" : "are")});
}

// Mated, the module's other returns lie in parallel inside it and carry for this one.
std::vector<std::string> parallelReturns(const JudgeContext& c)
{
    std::vector<std::string> out;
    if (isApart(c.map, c.reading, c.terminal)) return out;
    for (const int other : c.map.moduleTerminals()) {
        const Terminal& t = c.map.terminal(other);
        if (other != c.terminal && t.role == Role::Return && t.asFound != AsFound::Empty &&
            !isApart(c.map, c.reading, other))
            out.push_back(t.id);
    }
    return out;
}

// The most that flows anywhere on the return's way by the map, A, with what else returns there; nothing where a load
// was put on it or a clamp told, or where no more flows than at the terminal.
std::optional<double> mostOnTheWay(const JudgeContext& c, double current)
{
    constexpr double noMore = 1.25;
    const auto way = returnPath(c.map, c.terminal);
    const auto condition = conditionOf(c.map, c.reading);
    if (!c.reading.load.empty() || c.reading.measuredCurrent_A || !way || !condition) return std::nullopt;
    const auto point = operatingPoint(c.map, *condition);
    if (!point) return std::nullopt;
    double most = 0;
    for (const PathStep& step : *way)
        most = std::max(most, std::abs(point->currentThrough(step.element)));
    return most > noMore * current ? std::optional(most) : std::nullopt;
}

}  // namespace

Judgement judgeReturnDrop(const JudgeContext& c)
{
    const double battery = c.battery_V.value_or(c.reading.battery_V.value_or(c.map.systemVoltage_V));
    const double current = currentDuring(c.map, c.evidence, c.reading);
    const bool loadStands = !c.reading.load.empty();
    if (loadStands && c.value_V > trade::returnReadsSupply * battery) return readsSupply(c);
    if (current < 1e-3) return noCurrent(c);

    // R = U / I;  drop at the circuit's own current U_own = R I_own. Where I_most flows on a stretch that others share
    // the resistance may lie there: R = U / I_most at least, U_own = R (I_most − I + I_own).
    const double own = c.ownCurrent_A() > 0 ? c.ownCurrent_A() : current;
    const std::optional<double> most = mostOnTheWay(c, current);
    const double drop_V = std::max(0.0, c.value_V), resistance = drop_V / most.value_or(current);
    const double dropAtOwn = resistance * (most.value_or(current) - current + own);
    const std::string whose = c.isOwnAssumed() ? inWords("return.an-assumed") : inWords("return.its-own");
    Judgement j;
    j.current_A = current;
    if (!most) j.loopResistance_ohm = resistance;
    const AgainstLimits limits = c.against(Measure::Drop, true, dropAtOwn);
    j.limits = limits.words + fmt::format(" at {}", amps(own));
    j.arithmetic = most ? inWords("return.at-in-the-shared-return", volts2(c.value_V), amps(current), amps(*most),
                                  ohmsText(resistance), ohmsText(drop_V / current), volts2(dropAtOwn), whose, amps(own))
                        : inWords("return.at-in-the-return", volts2(c.value_V), amps(current), ohmsText(resistance),
                                  volts2(dropAtOwn), whose, amps(own));
    using Outcome = AgainstLimits::Outcome;
    const bool failsAsTried = c.against(Measure::Drop, true, c.value_V).outcome == Outcome::High;
    // In a state for which no limit is told, whatever flows there.
    const double loses_V =
        std::max(c.upperLimit(Measure::Drop, true).value_or(0), trade::soundLoomLoses * c.map.systemVoltage_V);
    const bool losesTooMuch = limits.outcome == Outcome::None && c.value_V > loses_V;
    if (losesTooMuch) j.limits = inWords("return.sound-loom-loses", volts2(loses_V));
    if (limits.outcome == Outcome::High && c.isOwnAssumed() && !failsAsTried) {
        j.verdict = Verdict::OpenOnly;
        j.word = inWords("judgement.right-load");
        j.proves.push_back(inWords("judgement.sound-at", amps(current)));
        j.doesNotProve.push_back(inWords("return.loses-own-current-nobody", amps(own), volts2(dropAtOwn)));
    } else if (limits.outcome == Outcome::High || losesTooMuch) {
        j.verdict = Verdict::FailsLoaded;
        j.word = inWords("judgement.fails-under-load");
        j.proves.push_back(inWords("return.return-loses-too-much"));
        j.doesNotProve.push_back(inWords("judgement.where-along-return-walk"));
    } else if (const auto parallel = parallelReturns(c); !parallel.empty() && !c.reading.measuredCurrent_A) {
        j.verdict = Verdict::OpenOnly;
        j.word = inWords("return.right-shared");
        j.proves.push_back(inWords("return.module-returns-together-carry"));
        j.doesNotProve.push_back(inWords("return.return-alone-part-connector"));
        j.traps.push_back({"T12", inWords("return.mated-carry-inside-module", fmt::join(parallel, ", "))});
    } else if (!loadStands && !c.reading.measuredCurrent_A) {
        j.verdict = Verdict::OpenOnly;
        j.word = inWords("judgement.right-current-assumed");
        j.proves.push_back(inWords("return.return-connected"));
        j.doesNotProve.push_back(inWords("return.current-flowed-map-says"));
        j.traps.push_back({"T1", inWords("return.put-load-battery-plus")});
    } else if (current < trade::leastShareOfCurrent * own) {
        j.verdict = Verdict::OpenOnly;
        j.word = inWords("return.right-hardly-loaded");
        j.proves.push_back(inWords("return.return-connected"));
        j.doesNotProve.push_back(inWords("return.carries-own-current"));
        j.traps.push_back({"T6", inWords("return.only-circuit-flowed-load", formatShare(current / own), amps(own))});
    } else if (limits.outcome == Outcome::None) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("judgement.limit-known");
        j.doesNotProve.push_back(inWords("return.map-holds-limit-return"));
    } else {
        j.verdict = Verdict::Good;
        j.word = inWords("judgement.proven-under-load");
        j.proves.push_back(inWords("return.return-carries-current-battery"));
        j.doesNotProve.push_back(inWords("return.how-behaves-hot-wet"));
        j.traps.push_back({"T21", inWords("return.flowed-tried", amps(current))});
        addSiblings(c, j);
    }
    return j;
}

}  // namespace ilvek
