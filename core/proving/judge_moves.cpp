// W19 to W21 where nobody stated a figure: a signal is shown by its moving, never by standing somewhere.
#include <algorithm>
#include <cmath>

#include "base/expects.h"
#include "base/text.h"
#include "proving/judge_context.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Two levels are two when they differ by more than meter, battery and leads do between two readings.
constexpr double leastMove_V = 0.3, leastMoveShare = 0.05;
constexpr double leastAlternating_V = 0.05;

bool differ(double a_V, double b_V)
{
    return std::abs(a_V - b_V) >= std::max(leastMove_V, leastMoveShare * std::max(std::abs(a_V), std::abs(b_V)));
}

// An earlier level of the same terminal in another state, or with something warmed, commanded or touched otherwise.
const Reading* otherLevel(const JudgeContext& c, bool mustDiffer)
{
    return c.latest([&](const Reading& r) {
        if (r.terminal != c.reading.terminal || r.test != TestKind::Level || r.value.unit != Unit::Volt || r.inShutDown)
            return false;
        const bool same = stateOf(c.map, r) == c.state && r.commands == c.reading.commands &&
                          r.warmed == c.reading.warmed && r.touched == c.reading.touched;
        return !same && r.red == c.reading.red && (!mustDiffer || differ(r.value.value, c.reading.value.value));
    });
}

// Alternating volts and hertz are the signal of these, and noise on all others.
bool pulses(const JudgeContext& c)
{
    const auto role = c.self().role;
    return role == Role::ReluctanceInput || role == Role::HallInput || role == Role::DutyInput ||
           role == Role::DutyDrive || role == Role::SingleWireBus;
}

// Whether every state between which it must move has been read.
bool readEverywhere(const JudgeContext& c)
{
    const auto& moves = c.self().moves;
    return moves.size() > 1 && std::all_of(moves.begin(), moves.end(), [&](int state) {
               return state == c.state || c.latest([&](const Reading& r) {
                   return r.terminal == c.reading.terminal && r.test == TestKind::Level && stateOf(c.map, r) == state;
               });
           });
}

std::string howToMove(const JudgeContext& c)
{
    for (const int state : c.self().moves) {
        if (state != c.state) return inWords("moves.bring-about-read-again", c.map.state(state).name);
    }
    return inWords("moves.change-measures-read-again");
}

}  // namespace

bool showsMovement(const JudgeContext& c)
{
    const Reading& r = c.reading;
    if (r.inShutDown) return false;
    switch (r.test) {
        case TestKind::Alternating:
            return pulses(c) && r.value.value >= leastAlternating_V;
        case TestKind::Frequency:
            return pulses(c) && r.value.value > 0;
        case TestKind::Duty:
            return pulses(c) && r.value.value > 1 && r.value.value < 99;
        case TestKind::Level:
            return (r.most && differ(r.value.value, *r.most)) || otherLevel(c, true) != nullptr;
        default:
            return r.shows == Shown::Moves;
    }
}

Judgement judgeMoves(const JudgeContext& c)
{
    EXPECTS(c.terminal >= 0 && !c.self().moves.empty());
    Judgement j;
    j.arithmetic = fmt::format("{}, {}", figureOf(c.reading), lowered(c.map.state(c.state).name));
    if (showsMovement(c)) {
        const Reading* other = c.reading.most ? nullptr : otherLevel(c, true);
        if (other)
            j.arithmetic +=
                fmt::format("; {} before, {}", figureOf(*other), lowered(c.map.state(stateOf(c.map, *other)).name));
        j.moved = true;
        j.verdict = Verdict::Good;
        j.word = inWords("judgement.it-moves");
        j.proves.push_back(inWords("judgement.makes-signal-works-wire"));
        j.doesNotProve.push_back(inWords("moves.figure-right-compare-module"));
    } else if (c.self().role == Role::ReluctanceInput) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("moves.mean-only");
        j.doesNotProve.push_back(inWords("moves.pick-up-alternates"));
    } else if (readEverywhere(c)) {
        const bool low = std::abs(c.value_V) < 0.5 * std::min(5.0, c.map.systemVoltage_V);
        j.verdict = low ? Verdict::Low : Verdict::High;
        j.word = low ? inWords("judgement.stuck-low") : inWords("judgement.stuck-high");
        j.arithmetic += inWords("moves.same-every-state-read");
        j.proves.push_back(inWords("moves.module-does-see-change"));
        j.doesNotProve.push_back(inWords("moves.whether-moves-wire-module"));
    } else {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("moves.one-level-only");
        j.doesNotProve.push_back(inWords("moves.that-it-moves", howToMove(c)));
    }
    j.arithmetic += ".";
    return j;
}

}  // namespace ilvek
