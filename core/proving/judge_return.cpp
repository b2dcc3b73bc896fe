// W9: a return is proven by its drop while current flows, never by a beep.
#include <algorithm>

#include "machine/paths.h"
#include "proving/judge_context.h"
#include "proving/rules.h"

namespace ilvek {

namespace {

Judgement noCurrent(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::NoEvidence;
    j.word = "No current, no proof";
    j.arithmetic = volts2(c.value_V) + " with no current flowing: 0 A through any resistance is 0 V.";
    j.doesNotProve.push_back("That this return carries any current: a single strand reads the same.");
    j.traps.push_back({"T1",
                       "A drop without a current is no evidence. Put a load from battery plus onto this return, or "
                       "give the current that flowed."});
    return j;
}

Judgement readsSupply(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::FailsLoaded;
    j.word = "Return is open";
    j.arithmetic = volts2(c.value_V) + " of " + volts2(c.battery_V.value_or(c.map.systemVoltage_V)) +
                   " stand on the return: all of the voltage is lost behind it.";
    j.proves.push_back("The return carries no current: open between here and battery minus.");
    j.doesNotProve.push_back("Where. Walk the return.");
    j.traps.push_back({"T8",
                       "A return that reads the full supply: either it is open, or the lead stands on a feed. Check "
                       "the cavity once more."});
    return j;
}

void addSiblings(const JudgeContext& c, Judgement& j)
{
    std::vector<std::string> others;
    for (const int sibling : siblingsOf(c.map, c.terminal))
        others.push_back(c.map.terminal(sibling).id);
    if (others.empty()) return;
    j.traps.push_back({"T12", fmt::format("{} on the same ground point {} not proven by this.", fmt::join(others, ", "),
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

}  // namespace

Judgement judgeReturnDrop(const JudgeContext& c)
{
    const double battery = c.battery_V.value_or(c.reading.battery_V.value_or(c.map.systemVoltage_V));
    const double current = currentDuring(c.map, c.evidence, c.reading);
    const bool loadStands = !c.reading.load.empty();
    if (loadStands && c.value_V > rules::returnReadsSupply * battery) return readsSupply(c);
    if (current < 1e-3) return noCurrent(c);

    // R = U / I;  drop at the circuit's own current U_own = R I_own
    const double own = c.ownCurrent_A() > 0 ? c.ownCurrent_A() : current;
    const double resistance = std::max(0.0, c.value_V) / current;
    const double dropAtOwn = resistance * own;
    Judgement j;
    j.current_A = current;
    j.loopResistance_ohm = resistance;
    const AgainstLimits limits = c.against(Measure::Drop, true, dropAtOwn);
    j.limits = limits.words + fmt::format(" at {}", amps(own));
    j.arithmetic =
        fmt::format("{} at {}: {} in the return; {} at {} {}.", volts2(c.value_V), amps(current), ohmsText(resistance),
                    volts2(dropAtOwn), c.isOwnAssumed() ? "an assumed" : "its own", amps(own));
    using Outcome = AgainstLimits::Outcome;
    const bool failsAsTried = c.against(Measure::Drop, true, c.value_V).outcome == Outcome::High;
    if (limits.outcome == Outcome::High && c.isOwnAssumed() && !failsAsTried) {
        j.verdict = Verdict::OpenOnly;
        j.word = "Right at this load";
        j.proves.push_back(fmt::format("Sound at {}.", amps(current)));
        j.doesNotProve.push_back(
            fmt::format("What it loses at its own current: nobody stated that. At {} it would lose {}.", amps(own),
                        volts2(dropAtOwn)));
    } else if (limits.outcome == Outcome::High) {
        j.verdict = Verdict::FailsLoaded;
        j.word = "Fails under load";
        j.proves.push_back("The return loses too much: everything on this ground point sees it as a low feed.");
        j.doesNotProve.push_back("Where along the return. Walk it under the same load.");
    } else if (const auto parallel = parallelReturns(c); !parallel.empty() && !c.reading.measuredCurrent_A) {
        j.verdict = Verdict::OpenOnly;
        j.word = "Right, but shared";
        j.proves.push_back("The module's returns together carry the current.");
        j.doesNotProve.push_back("This return alone: part the connector, or clamp the current in this very conductor.");
        j.traps.push_back({"T12", fmt::format("Mated, {} carry for it inside the module.", fmt::join(parallel, ", "))});
    } else if (!loadStands && !c.reading.measuredCurrent_A) {
        j.verdict = Verdict::OpenOnly;
        j.word = "Right, current assumed";
        j.proves.push_back("The return is connected.");
        j.doesNotProve.push_back(
            "That the current flowed: it is what the map says, and a module that draws nothing reads the same.");
        j.traps.push_back(
            {"T1", "Put a load from battery plus onto this return, or type the clamp's figure with the reading."});
    } else if (current < rules::leastShareOfCurrent * own) {
        j.verdict = Verdict::OpenOnly;
        j.word = "Right, hardly loaded";
        j.proves.push_back("The return is connected.");
        j.doesNotProve.push_back("That it carries its own current.");
        j.traps.push_back(
            {"T6", fmt::format("Only {} of the circuit's {} flowed. Load the return through a lamp from battery plus.",
                               formatShare(current / own), amps(own))});
    } else if (limits.outcome == Outcome::None) {
        j.verdict = Verdict::NotDecided;
        j.word = "No limit known";
        j.doesNotProve.push_back("The map holds no limit for this return in this state.");
    } else {
        j.verdict = Verdict::Good;
        j.word = "Proven under load";
        j.proves.push_back("This return carries current to battery minus.");
        j.doesNotProve.push_back("How it behaves hot, wet or moving.");
        j.traps.push_back({"T21", fmt::format("{} flowed; that is what was tried.", amps(current))});
        addSiblings(c, j);
    }
    return j;
}

}  // namespace ilvek
