// Readings without a table of their own: a clamp on a conductor, a lamp or a breaker, diode mode, what the module
// itself reports, and figures that the map cannot foretell.
#include <fmt/ranges.h>
#include <cmath>

#include "base/text.h"
#include "circuit/operating_point.h"
#include "proving/judge_context.h"
#include "proving/lamp.h"

namespace ilvek {

namespace {

// A clamp's scale and zero, and what sound parts differ by.
constexpr double clampShare = 0.15, clampAtLeast_A = 0.05;
// The module's own figure has a last digit of a tenth.
constexpr double reportedDigit_V = 0.1;

const std::string kept = "It is kept with the job.";

// "from A2 wire side to A2 pin": the way the current is counted.
std::string wayOf(const Map& map, const Element& e)
{
    return fmt::format("from {} to {}", map.nodeWords(e.nodes[0]), map.nodeWords(e.nodes[1]));
}

// What feeds the conductor or takes its current is nobody's figure.
bool restsOnAssumed(const Map& map, const Element& e)
{
    if (e.assumed) return true;
    for (const Terminal& t : map.terminals) {
        if (t.contact >= 0 && map.element(t.contact).id == e.id) return t.assumed;
    }
    return false;
}

std::string pairWords(const JudgeContext& c)
{
    const int red = c.map.nodeIndex(c.reading.red), black = c.map.nodeIndex(c.reading.black);
    if (red < 0) return c.reading.terminal;
    if (black < 0) return c.map.nodeWords(red);
    return fmt::format("{} against {}", c.map.nodeWords(red), c.map.nodeWords(black));
}

Judgement placeUnknown()
{
    Judgement j;
    j.word = "Place unknown";
    j.doesNotProve.push_back("Anything: a place of this reading is not on the map.");
    return j;
}

Judgement lampSeen(const LampPlace& lamp, const OperatingPoint& healthy, Shown seen)
{
    Judgement j;
    const double sound_V = std::abs(healthy.voltage(lamp.from, lamp.to));
    const Shown expected = lampAt(sound_V, lamp.rated_V);
    j.limits = fmt::format("{} across it if all were sound", volts2(sound_V));
    j.arithmetic = fmt::format("{}; a sound circuit puts {} across it: {}.", shownWords(seen), volts2(sound_V),
                               shownWords(expected));
    if (seen == Shown::Bright) {
        j.verdict = expected == Shown::Bright ? Verdict::OpenOnly : Verdict::High;
        j.word = expected == Shown::Bright ? "Lamp bright" : "Lit, must be dark";
        if (expected == Shown::Bright) {
            j.proves.push_back("Feed and return of the lamp carry its current together.");
            j.doesNotProve.push_back(
                "The last tenth of the voltage: the eye does not see it. Read the volts across it.");
            j.traps.push_back({"T6", "The lamp's current is what was tried, not the circuit's own."});
        } else {
            j.proves.push_back("Something feeds this lamp that should not.");
        }
        return j;
    }
    if (expected == Shown::Dark) {
        j.verdict = seen == Shown::Dark ? Verdict::Noted : Verdict::High;
        j.word = seen == Shown::Dark ? "Dark, as it should" : "Glows, must be dark";
        return j;
    }
    j.verdict = Verdict::FailsLoaded;
    j.word = seen == Shown::Dark ? "Lamp stays dark" : "Lamp is dim";
    j.proves.push_back("The circuit cannot feed this lamp.");
    j.doesNotProve.push_back(
        "Which side is bad, the feed or the return. Hold the lamp to battery minus, then to plus.");
    j.doesNotProve.push_back("Anything, if the lamp itself is bad: hold it to the battery first.");
    return j;
}

Judgement breakerSeen(const JudgeContext& c, const OperatingPoint& healthy, Shown seen)
{
    Judgement j;
    if (c.reading.jumpers.empty()) {
        j.word = "No breaker in it";
        j.doesNotProve.push_back("Anything: the set-up has no breaker or fused lead.");
        return j;
    }
    std::vector<std::string> ratings;
    for (const FusedLead& lead : c.reading.jumpers)
        ratings.push_back(amps(lead.fuse_A));
    const std::string rating = fmt::format("{}", fmt::join(ratings, " or "));
    const bool trips = seen == Shown::Tripped;
    const bool expected = healthy.jumperBlew();
    j.arithmetic = fmt::format("{} of {}; a sound circuit would {}.", shownWords(seen), rating,
                               expected ? "trip it too" : "hold it");
    if (trips == expected) {
        j.verdict = Verdict::Noted;
        j.word = trips ? "Trips, as it should" : "Breaker holds";
        if (!trips) j.doesNotProve.push_back("That it never trips: hot, wet and moving it may.");
    } else {
        j.verdict = trips ? Verdict::High : Verdict::Low;
        j.word = trips ? "More than it may carry" : "Should have tripped";
        j.proves.push_back(
            trips ? fmt::format("More than {} flows behind it: a short, or a load that takes too much.", rating)
                  : "Less flows than in a sound circuit.");
        j.doesNotProve.push_back("Where. Free the loads behind it one after the other.");
    }
    return j;
}

}  // namespace

Judgement judgeCurrent(const JudgeContext& c)
{
    Judgement j;
    const int element = c.map.elementIndex(c.reading.conductor);
    const auto condition = conditionOf(c.map, c.reading);
    if (element < 0 || !condition) return placeUnknown();
    const Element& e = c.map.element(element);
    const auto point = operatingPoint(c.map, *condition);
    const double read = c.reading.value.value;
    j.current_A = std::abs(read);
    j.verdict = Verdict::Noted;
    j.word = "Current noted";
    j.arithmetic = fmt::format("{} {}", amps(read), wayOf(c.map, e));
    j.traps.push_back({"T20",
                       "The clamp at zero before, its arrow the way the current is counted, and this conductor "
                       "alone in its jaws."});
    if (!point) {
        j.arithmetic += ".";
        return j;
    }
    const double sound = point->currentThrough(element);
    if (restsOnAssumed(c.map, e)) {
        j.arithmetic += fmt::format("; the map assumes {}.", amps(sound));
        j.proves.push_back("What flows here in this state.");
        j.doesNotProve.push_back("That it is right: nobody stated what should flow.");
        return j;
    }
    j.arithmetic += fmt::format("; {} if all were sound.", amps(sound));
    j.limits = amps(sound) + " (computed from the map)";
    if (std::abs(read - sound) <= std::max(clampAtLeast_A, clampShare * std::abs(sound))) {
        j.word = "As a sound circuit";
        j.proves.push_back("The parts that set this current are right in this state.");
    } else {
        const bool low = std::abs(read) < std::abs(sound);
        j.verdict = low ? Verdict::Low : Verdict::High;
        j.word = low ? "Less than sound" : "More than sound";
        j.proves.push_back("Something that this current depends on is not as drawn or not sound.");
        j.doesNotProve.push_back("Which part: see the suspects.");
    }
    return j;
}

Judgement judgeShown(const JudgeContext& c)
{
    const Shown seen = c.reading.shows.value_or(Shown::Moves);
    const auto condition = conditionOf(c.map, c.reading);
    const auto point = condition ? operatingPoint(c.map, *condition) : fail("", "");
    if (!point) return placeUnknown();
    Judgement j;
    switch (seen) {
        case Shown::Bright:
        case Shown::Dim:
        case Shown::Dark:
            if (const auto lamp = lampOf(c.map, c.reading)) return lampSeen(*lamp, *point, seen);
            j.verdict = Verdict::Noted;
            j.word = "Noted";
            j.arithmetic = fmt::format("{}. No lamp of the map or of the set-up hangs there.", shownWords(seen));
            j.doesNotProve.push_back("Anything by computing: say with the set-up which lamp it was and where.");
            return j;
        case Shown::Tripped:
        case Shown::Holds:
            return breakerSeen(c, *point, seen);
        case Shown::Moves:
            j.moved = c.terminal >= 0 && !c.self().moves.empty();
            j.verdict = j.moved ? Verdict::Good : Verdict::Noted;
            j.word = "It moves";
            j.arithmetic = pairWords(c) + " moves.";
            j.proves.push_back("What makes this signal works, and its wire reaches to here.");
            j.doesNotProve.push_back("Its levels, nor its count: read hertz, or record it.");
            return j;
        default: {
            // Against battery plus what reads nothing stands at battery.
            const bool againstPlus = c.reading.black == c.map.node(c.map.batteryPlus());
            const bool high = (seen == Shown::StuckHigh) != againstPlus;
            j.verdict = Verdict::Noted;
            j.word = high ? "Stuck high" : "Stuck low";
            j.arithmetic = fmt::format("{}: {}.", pairWords(c), shownWords(seen));
            if (againstPlus)
                j.traps.push_back(
                    {"T4", fmt::format("Read against battery plus the meaning turns: the place stands {}.",
                                       high ? "near the battery" : "near ground")});
            j.doesNotProve.push_back(
                "Which of the two is at fault, what moves it or what holds it: free the wire and "
                "read both ends.");
            return j;
        }
    }
}

Judgement judgeReported(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::Noted;
    j.word = "As the module says";
    const std::string of = c.reading.terminal.empty() ? "" : " for " + c.reading.terminal;
    j.arithmetic = fmt::format("The module reports {}{}.", figureOf(c.reading), of);
    j.doesNotProve.push_back("The wire or the sensor: compare with the meter at the terminal and at the part.");
    const bool ofSupply = c.terminal >= 0 && c.self().role && isSupply(*c.self().role) &&
                          c.reading.value.unit == Unit::Volt && !c.reading.value.overLimit;
    if (!ofSupply) {
        j.doesNotProve.push_back("Anything to the suspects: what the module makes of it stands on no map. " + kept);
        return j;
    }
    if (!c.battery_V) {
        j.traps.push_back(
            {"T3", "The module's own voltage is judged against the battery of the minute: read it, then this again."});
        return j;
    }
    // The module's own voltage lacks what feed and return lose together, at the current that it draws itself.
    const double shortfall = std::max(0.0, *c.battery_V - std::abs(c.value_V));
    const double limit = c.upperLimit(Measure::BelowBattery, true).value_or(0.05 * *c.battery_V);
    j.doesNotProve.clear();
    j.arithmetic = fmt::format("The module sees {} of {} at the battery: {} lost in feed and return together.",
                               volts2(std::abs(c.value_V)), volts2(*c.battery_V), volts2(shortfall));
    j.limits = fmt::format("at most {} lost", volts2(limit));
    if (shortfall > limit + reportedDigit_V) {
        j.verdict = Verdict::FailsLoaded;
        j.word = "Module sees too little";
        j.proves.push_back("Feed or return loses too much at the module's own current.");
        j.doesNotProve.push_back("Which of them. Load the terminal and swap the ground.");
    } else if (shortfall > limit) {
        j.verdict = Verdict::NotDecided;
        j.word = "Too close to call";
        j.doesNotProve.push_back("Whether it is within the limit: the module's last digit decides.");
    } else {
        j.verdict = Verdict::Good;
        j.word = "Module is fed";
        j.proves.push_back("Feed and return carry what the module draws at this moment.");
        j.doesNotProve.push_back("One feed of several by itself: inside the module they lie in parallel.");
        j.traps.push_back({"T21", "It is sound at what the module draws now; more is asked when its outputs work."});
    }
    return j;
}

Judgement judgeJunction(const JudgeContext& c)
{
    Judgement j;
    auto condition = conditionOf(c.map, c.reading);
    const int red = c.map.nodeIndex(c.reading.red), black = c.map.nodeIndex(c.reading.black);
    if (!condition || red < 0 || black < 0) return placeUnknown();
    condition->meter = Meter{red, black, 10e6, Meter::Mode::Diode};
    const auto healthy = displayOf(c.map, *condition);
    const bool open = c.reading.value.overLimit;
    j.verdict = Verdict::Noted;
    j.word = "Noted";
    j.arithmetic =
        fmt::format("{} in diode mode, {}", open ? std::string("OL") : volts2(c.reading.value.value), pairWords(c));
    j.traps.push_back({"T9", "Diode mode tells a dead junction, never a good one: read both ways, and to the case."});
    if (healthy && healthy->live) {
        j.verdict = Verdict::NoEvidence;
        j.word = "Circuit not dead";
        j.arithmetic += "; by the map a voltage stands there in this state.";
    } else if (healthy) {
        j.arithmetic += fmt::format("; {} if all were as drawn.", healthy->overLimit ? "OL" : volts2(healthy->value));
    }
    j.doesNotProve.push_back("That it works under current. " + kept);
    return j;
}

Judgement judgeKept(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::Noted;
    j.word = "Kept";
    j.arithmetic = fmt::format("{}, {}.", figureOf(c.reading), pairWords(c));
    const Measure measure = c.reading.test == TestKind::Duty ? Measure::Duty : Measure::Frequency;
    const bool inTable = c.terminal >= 0 && (c.reading.test == TestKind::Duty || c.reading.test == TestKind::Frequency);
    const AgainstLimits limits = inTable ? c.against(measure, true, c.reading.value.value) : AgainstLimits{};
    using Outcome = AgainstLimits::Outcome;
    if (limits.outcome == Outcome::None && c.terminal >= 0 && !c.self().moves.empty() && showsMovement(c)) {
        j.moved = true;
        j.verdict = Verdict::Good;
        j.word = "It moves";
        j.proves.push_back("What makes this signal works, and its wire reaches to here.");
        j.doesNotProve.push_back("That it counts right: compare with what the module reports.");
        return j;
    }
    if (limits.outcome == Outcome::None) {
        j.doesNotProve.push_back("Anything by itself: nothing on this map foretells it. " + kept);
        if (c.reading.test == TestKind::Duty)
            j.traps.push_back({"T18", "Per cent is a share of time; the volts of the meter are its mean."});
        return j;
    }
    j.limits = limits.words;
    j.verdict = limits.outcome == Outcome::Inside ? Verdict::Good
                : limits.outcome == Outcome::Low  ? Verdict::Low
                : limits.outcome == Outcome::High ? Verdict::High
                                                  : Verdict::NotDecided;
    j.word = limits.outcome == Outcome::Inside ? "Within limits"
             : limits.outcome == Outcome::Low  ? "Too low"
             : limits.outcome == Outcome::High ? "Too high"
                                               : "Sources disagree";
    return j;
}

}  // namespace ilvek
