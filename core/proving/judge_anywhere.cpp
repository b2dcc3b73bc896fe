// Readings without a table of their own: a clamp on a conductor, a lamp or a breaker, diode mode, what the module
// itself reports, and figures that the map cannot foretell.
#include <fmt/ranges.h>
#include <cmath>

#include "base/text.h"
#include "circuit/operating_point.h"
#include "proving/clamped.h"
#include "proving/judge_context.h"
#include "proving/lamp.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// A clamp's scale and zero, and what sound parts differ by.
constexpr double clampShare = 0.15, clampAtLeast_A = 0.05;
// The module's own figure has a last digit of a tenth.
constexpr double reportedDigit_V = 0.1;

// "from A2 wire side to A2 pin": the way the current is counted.
std::string wayOf(const Map& map, const Element& e, bool isBack)
{
    return inWords("anywhere.from-to", map.nodeWords(e.nodes[isBack ? 1 : 0]), map.nodeWords(e.nodes[isBack ? 0 : 1]));
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
    j.word = inWords("judgement.place-unknown");
    j.doesNotProve.push_back(inWords("anywhere.anything-place-reading-map"));
    return j;
}

Judgement lampSeen(const LampPlace& lamp, const OperatingPoint& healthy, Shown seen)
{
    Judgement j;
    const double sound_V = std::abs(healthy.voltage(lamp.from, lamp.to));
    const Shown expected = lampAt(sound_V, lamp.rated_V);
    j.limits = inWords("anywhere.across-if-all-were", volts2(sound_V));
    j.arithmetic =
        inWords("anywhere.sound-circuit-puts-across", shownWords(seen), volts2(sound_V), shownWords(expected));
    if (seen == Shown::Bright) {
        j.verdict = expected == Shown::Bright ? Verdict::OpenOnly : Verdict::High;
        j.word = expected == Shown::Bright ? inWords("anywhere.lamp-bright") : inWords("anywhere.lit-must-dark");
        if (expected == Shown::Bright) {
            j.proves.push_back(inWords("anywhere.feed-return-lamp-carry"));
            j.doesNotProve.push_back(inWords("anywhere.last-tenth-voltage-eye"));
            j.traps.push_back({"T6", inWords("anywhere.lamp-current-tried-circuit")});
        } else {
            j.proves.push_back(inWords("anywhere.something-feeds-lamp-should"));
        }
        return j;
    }
    if (expected == Shown::Dark) {
        j.verdict = seen == Shown::Dark ? Verdict::Noted : Verdict::High;
        j.word = seen == Shown::Dark ? inWords("anywhere.dark-should") : inWords("anywhere.glows-must-dark");
        return j;
    }
    j.verdict = Verdict::FailsLoaded;
    j.word = seen == Shown::Dark ? inWords("anywhere.lamp-stays-dark") : inWords("anywhere.lamp-dim");
    j.proves.push_back(inWords("anywhere.circuit-cannot-feed-lamp"));
    j.doesNotProve.push_back(inWords("anywhere.side-bad-feed-return"));
    j.doesNotProve.push_back(inWords("anywhere.anything-if-lamp-itself"));
    return j;
}

Judgement breakerSeen(const JudgeContext& c, const OperatingPoint& healthy, Shown seen)
{
    Judgement j;
    if (c.reading.jumpers.empty()) {
        j.word = inWords("anywhere.no-breaker-in-it");
        j.doesNotProve.push_back(inWords("anywhere.anything-set-up-breaker"));
        return j;
    }
    std::vector<std::string> ratings;
    for (const FusedLead& lead : c.reading.jumpers)
        ratings.push_back(amps(lead.fuse_A));
    const std::string rating = fmt::format("{}", fmt::join(ratings, " or "));
    const bool trips = seen == Shown::Tripped;
    const bool expected = healthy.jumperBlew();
    j.arithmetic = inWords("anywhere.sound-circuit-would", shownWords(seen), rating,
                           expected ? inWords("anywhere.trip-too") : inWords("anywhere.hold-it"));
    if (trips == expected) {
        j.verdict = Verdict::Noted;
        j.word = trips ? inWords("anywhere.trips-should") : inWords("anywhere.breaker-holds");
        if (!trips) j.doesNotProve.push_back(inWords("anywhere.never-trips-hot-wet"));
    } else {
        j.verdict = trips ? Verdict::High : Verdict::Low;
        j.word = trips ? inWords("anywhere.more-may-carry") : inWords("anywhere.should-have-tripped");
        j.proves.push_back(trips ? inWords("anywhere.more-flows-behind-short", rating)
                                 : inWords("anywhere.less-flows-sound-circuit"));
        j.doesNotProve.push_back(inWords("anywhere.where-free-loads-behind"));
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
    // An amount is said with the way that it flows.
    const double flows = clampedCurrent_A(c.map, c.reading);
    const bool isBack = flows < 0 && c.reading.value.value > 0;
    const double read = isBack ? -flows : flows;
    j.current_A = std::abs(read);
    j.verdict = Verdict::Noted;
    j.word = inWords("anywhere.current-noted");
    j.arithmetic = fmt::format("{} {}", amps(read), wayOf(c.map, e, isBack));
    j.traps.push_back({"T20", inWords("anywhere.clamp-zero-before-arrow")});
    if (!point) {
        j.arithmetic += ".";
        return j;
    }
    const double sound = (isBack ? -1 : 1) * point->currentThrough(element);
    if (restsOnAssumed(c.map, e)) {
        j.arithmetic += inWords("anywhere.map-assumes", amps(sound));
        j.proves.push_back(inWords("anywhere.flows-here-state"));
        j.doesNotProve.push_back(inWords("anywhere.right-nobody-stated-should"));
        return j;
    }
    j.arithmetic += inWords("judgement.if-all-were-sound", amps(sound));
    j.limits = amps(sound) + inWords("judgement.computed-map");
    if (std::abs(read - sound) <= std::max(clampAtLeast_A, clampShare * std::abs(sound))) {
        j.word = inWords("judgement.sound-circuit");
        j.proves.push_back(inWords("anywhere.parts-set-current-right"));
    } else {
        const bool low = std::abs(read) < std::abs(sound);
        j.verdict = low ? Verdict::Low : Verdict::High;
        j.word = low ? inWords("anywhere.less-sound") : inWords("anywhere.more-sound");
        j.proves.push_back(inWords("anywhere.something-current-depends-drawn"));
        j.doesNotProve.push_back(inWords("judgement.part-see-suspects"));
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
            j.arithmetic = inWords("anywhere.lamp-map-set-up", shownWords(seen));
            j.doesNotProve.push_back(inWords("anywhere.anything-computing-say-set"));
            return j;
        case Shown::Tripped:
        case Shown::Holds:
            return breakerSeen(c, *point, seen);
        case Shown::Moves:
            j.moved = c.terminal >= 0 && !c.self().moves.empty();
            j.verdict = j.moved ? Verdict::Good : Verdict::Noted;
            j.word = inWords("judgement.it-moves");
            j.arithmetic = pairWords(c) + " moves.";
            j.proves.push_back(inWords("judgement.makes-signal-works-wire"));
            j.doesNotProve.push_back(inWords("anywhere.levels-nor-count-read"));
            return j;
        default: {
            // Against battery plus what reads nothing stands at battery.
            const bool againstPlus = c.reading.black == c.map.node(c.map.batteryPlus());
            const bool high = (seen == Shown::StuckHigh) != againstPlus;
            j.verdict = Verdict::Noted;
            j.word = high ? inWords("judgement.stuck-high") : inWords("judgement.stuck-low");
            j.arithmetic = fmt::format("{}: {}.", pairWords(c), shownWords(seen));
            if (againstPlus)
                j.traps.push_back(
                    {"T4", inWords("anywhere.read-against-battery-plus",
                                   high ? inWords("anywhere.near-battery") : inWords("anywhere.near-ground"))});
            j.doesNotProve.push_back(inWords("anywhere.two-fault-moves-holds"));
            return j;
        }
    }
}

Judgement judgeReported(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::Noted;
    j.word = inWords("anywhere.module-says");
    const std::string of = c.reading.terminal.empty() ? "" : " for " + c.reading.terminal;
    j.arithmetic = inWords("anywhere.module-reports", figureOf(c.reading), of);
    j.doesNotProve.push_back(inWords("anywhere.wire-sensor-compare-meter"));
    const bool ofSupply = c.terminal >= 0 && c.self().role && isSupply(*c.self().role) &&
                          c.reading.value.unit == Unit::Volt && !c.reading.value.overLimit;
    if (!ofSupply) {
        j.doesNotProve.push_back(inWords("anywhere.anything-suspects-module-makes") +
                                 inWords("anywhere.kept-with-job"));
        return j;
    }
    if (!c.battery_V) {
        j.traps.push_back({"T3", inWords("anywhere.module-own-voltage-judged")});
        return j;
    }
    // The module's own voltage lacks what feed and return lose together, at the current that it draws itself.
    const double shortfall = std::max(0.0, *c.battery_V - std::abs(c.value_V));
    const double limit = c.upperLimit(Measure::BelowBattery, true).value_or(0.05 * *c.battery_V);
    j.doesNotProve.clear();
    j.arithmetic = inWords("anywhere.module-sees-battery-lost", volts2(std::abs(c.value_V)), volts2(*c.battery_V),
                           volts2(shortfall));
    j.limits = inWords("anywhere.most-lost", volts2(limit));
    if (shortfall > limit + reportedDigit_V) {
        j.verdict = Verdict::FailsLoaded;
        j.word = inWords("anywhere.module-sees-too-little");
        j.proves.push_back(inWords("anywhere.feed-return-loses-too"));
        j.doesNotProve.push_back(inWords("anywhere.them-load-terminal-swap"));
    } else if (shortfall > limit) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("judgement.too-close-call");
        j.doesNotProve.push_back(inWords("anywhere.whether-within-limit-module"));
    } else {
        j.verdict = Verdict::Good;
        j.word = inWords("anywhere.module-fed");
        j.proves.push_back(inWords("anywhere.feed-return-carry-module"));
        j.doesNotProve.push_back(inWords("anywhere.one-feed-several-itself"));
        j.traps.push_back({"T21", inWords("anywhere.sound-module-draws-now")});
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
        inWords("anywhere.diode-mode", open ? std::string("OL") : volts2(c.reading.value.value), pairWords(c));
    j.traps.push_back({"T9", inWords("anywhere.diode-mode-tells-dead")});
    if (healthy && healthy->live) {
        j.verdict = Verdict::NoEvidence;
        j.word = inWords("judgement.circuit-dead");
        j.arithmetic += inWords("judgement.map-voltage-stands-state");
    } else if (healthy) {
        j.arithmetic += inWords("anywhere.if-all-were-drawn", healthy->overLimit ? "OL" : volts2(healthy->value));
    }
    j.doesNotProve.push_back(inWords("anywhere.works-under-current") + inWords("anywhere.kept-with-job"));
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
        j.word = inWords("judgement.it-moves");
        j.proves.push_back(inWords("judgement.makes-signal-works-wire"));
        j.doesNotProve.push_back(inWords("anywhere.counts-right-compare-module"));
        return j;
    }
    const bool pickUp = c.terminal >= 0 && c.self().role == Role::ReluctanceInput && !c.self().moves.empty();
    if (limits.outcome == Outcome::None && pickUp && c.reading.test == TestKind::Alternating) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("anywhere.nothing-alternates");
        j.doesNotProve.push_back(inWords("anywhere.does-it-turn"));
        return j;
    }
    if (limits.outcome == Outcome::None) {
        j.doesNotProve.push_back(inWords("anywhere.anything-itself-nothing-map") + inWords("anywhere.kept-with-job"));
        if (c.reading.test == TestKind::Duty) j.traps.push_back({"T18", inWords("anywhere.per-cent-share-time")});
        return j;
    }
    j.limits = limits.words;
    j.verdict = limits.outcome == Outcome::Inside ? Verdict::Good
                : limits.outcome == Outcome::Low  ? Verdict::Low
                : limits.outcome == Outcome::High ? Verdict::High
                                                  : Verdict::NotDecided;
    j.word = limits.outcome == Outcome::Inside ? inWords("judgement.within-limits")
             : limits.outcome == Outcome::Low  ? inWords("judgement.too-low")
             : limits.outcome == Outcome::High ? inWords("judgement.too-high")
                                               : inWords("judgement.sources-disagree");
    return j;
}

}  // namespace ilvek
