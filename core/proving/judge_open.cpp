// W10: a supply with no current asked of it, and a supply that must be absent.
#include "base/text.h"
#include "machine/paths.h"
#include "proving/anywhere.h"
#include "proving/judge_context.h"
#include "proving/rules.h"

namespace ilvek {

namespace {

bool isUnplugged(const JudgeContext& c)
{
    const std::string& connector = c.map.connectors[static_cast<std::size_t>(c.self().connector)].id;
    for (const std::string& id : c.reading.unplugged) {
        if (id == connector) return true;
    }
    return false;
}

// What a shortfall means as a resistance.
// Unplugged: the meter is the only load, U = U_bat R_in / (R_in + R)  =>  R = R_in (U_bat − U) / U.
// Mated: the module's standing current flows, R = (U_bat − U) / I.
void explainShortfall(const JudgeContext& c, double battery, double shortfall, Judgement& j)
{
    if (isUnplugged(c)) {
        const double r = c.reading.instrument.inputResistance_ohm * shortfall / std::max(c.value_V, 1e-3);
        j.loopResistance_ohm = r;
        j.arithmetic = fmt::format("{} of {}: {} missing through a {} meter means about {} in series.",
                                   volts2(c.value_V), volts2(battery), volts2(shortfall),
                                   ohmsText(c.reading.instrument.inputResistance_ohm), ohmsText(r));
        j.traps.push_back(
            {"T2",
             fmt::format("A meter takes almost no current: a shortfall of {} is about {}, far from “nearly good”.",
                         formatShare(shortfall / battery), ohmsText(r))});
        return;
    }
    const double standing = currentDuring(c.map, c.evidence, c.reading);
    if (standing > 1e-3 && c.isOwnAssumed() && !c.reading.measuredCurrent_A) {
        j.arithmetic = fmt::format("{} of {}: {} missing at a current that nobody stated; at {} it would be {}.",
                                   volts2(c.value_V), volts2(battery), volts2(shortfall), amps(standing),
                                   ohmsText(shortfall / standing));
    } else if (standing > 1e-3) {
        j.loopResistance_ohm = shortfall / standing;
        j.arithmetic = fmt::format("{} of {}: {} missing at the module's standing {} is about {}.", volts2(c.value_V),
                                   volts2(battery), volts2(shortfall), amps(standing), ohmsText(shortfall / standing));
    }
}

// W10: terminals of one source agree within hundredths of a volt.
void compareSiblings(const JudgeContext& c, Judgement& j)
{
    for (const int sibling : siblingsOf(c.map, c.terminal)) {
        const std::string& id = c.map.terminal(sibling).id;
        const Reading* other = c.latest([&](const Reading& r) {
            return r.terminal == id && r.test == TestKind::OpenSupply && r.state == c.reading.state &&
                   r.unplugged == c.reading.unplugged;
        });
        if (!other || std::abs(other->value.value - c.value_V) <= rules::siblingsAgreeWithin_V) continue;
        j.doesNotProve.push_back(fmt::format("Its sibling {} from the same fuse reads {}: the lower one is suspect.",
                                             id, formatQuantity(other->value)));
    }
}

Judgement staleBattery(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::NotDecided;
    j.word = "Battery is stale";
    j.arithmetic = volts2(c.value_V) + ", but no battery reading of this minute and state to compare with.";
    j.doesNotProve.push_back("Anything against the battery, until it is read within the minute.");
    j.traps.push_back(
        {"T3",
         "A feed is judged against the battery of the same minute and state. Read the battery now, then this again."});
    return j;
}

}  // namespace

Judgement judgeOpenSupply(const JudgeContext& c)
{
    if (isBridged(c.map, c.reading, c.terminal)) return judgePoint(c);
    if (!c.battery_V) return staleBattery(c);
    const double battery = *c.battery_V;
    const double shortfall = battery - c.value_V;
    Judgement j;
    // Mated, what the module draws flows while it is read: where the open limit is a custom, the loaded one holds.
    const bool flows = (c.isOwnAssumed() || c.map.isOfSheet()) && !isUnplugged(c) &&
                       currentDuring(c.map, c.evidence, c.reading) > 1e-3;
    const double within =
        shortfall > 0 ? std::max(0.0, shortfall - c.batteryBlur_V) : std::min(0.0, shortfall + c.batteryBlur_V);
    const AgainstLimits limits = c.against(Measure::BelowBattery, flows, within);
    j.limits = limits.words;
    j.arithmetic = fmt::format("{} of {} at the battery: {} lost.", volts2(c.value_V), volts2(battery),
                               volts2(std::max(0.0, shortfall)));
    using Outcome = AgainstLimits::Outcome;
    if (c.value_V < rules::absentShare * battery) {
        j.verdict = Verdict::Low;
        j.finding = Finding::SupplyAbsent;
        j.word = "Supply is absent";
        j.proves.push_back("No path from battery plus to here: fuse, relay, switch or conductor is open.");
        j.doesNotProve.push_back("Which of them. Check the fuse on both sides, then walk.");
    } else if (limits.outcome == Outcome::High) {  // more is missing than allowed
        j.verdict = Verdict::Low;
        j.word = "Low, hardly loaded";
        explainShortfall(c, battery, shortfall, j);
        j.proves.push_back("There is resistance in this feed.");
        j.doesNotProve.push_back("Where. Load it and swap the ground.");
    } else if (limits.outcome == Outcome::Low) {
        j.verdict = Verdict::High;
        j.word = "Above the battery";
        j.doesNotProve.push_back(
            "Anything: another source feeds this terminal, or the battery figure is no longer true.");
        j.traps.push_back({"T3", "A feed cannot stand above its battery: read the battery again."});
    } else if (limits.outcome == Outcome::None) {
        j.verdict = Verdict::NotDecided;
        j.word = "No limit known";
        j.doesNotProve.push_back("Whether this is right: the map holds no limit for this supply.");
    } else {
        j.verdict = Verdict::OpenOnly;
        j.word = "Right, open-circuit";
        j.proves.push_back("The conductor is not fully open and nothing pulls it down.");
        j.doesNotProve.push_back("That it can carry current: one strand left reads the same. Load it.");
    }
    constexpr double worthSaying_V = 0.015;
    if (std::abs(battery - c.batteryRead_V.value_or(battery)) > worthSaying_V)
        j.arithmetic +=
            fmt::format(" The battery was read {} with other things drawing on it.", volts2(*c.batteryRead_V));
    compareSiblings(c, j);
    if (limits.outcome == Outcome::SourcesDisagree)
        j.doesNotProve.push_back("The sources of the limit disagree: " + limits.words + ".");
    return j;
}

Judgement judgeAbsentSupply(const JudgeContext& c)
{
    Judgement j;
    AgainstLimits limits = c.against(Measure::Level, false, c.value_V);
    j.limits = limits.words;
    j.arithmetic = volts2(c.value_V) + ", " + lowered(c.map.state(c.state).name) + ".";
    if (limits.outcome == AgainstLimits::Outcome::High) {
        j.verdict = Verdict::High;
        j.word = "Present, must be absent";
        j.proves.push_back("Something feeds this terminal when nothing should: a relay that sticks or a back-feed.");
        j.doesNotProve.push_back("Which source. Pull the relay, then the fuse, and watch.");
        j.traps.push_back({"T17", "A feed from another source keeps a module awake and makes a later test lie."});
    } else if (limits.outcome == AgainstLimits::Outcome::None) {
        j.verdict = Verdict::NotDecided;
        j.word = "No limit known";
        j.doesNotProve.push_back("The map holds no limit for this state.");
    } else {
        j.verdict = Verdict::Good;
        j.word = "Absent, as it must be";
        j.proves.push_back("No other source feeds this terminal in this state.");
        j.doesNotProve.push_back("Anything about the feed when it is switched on.");
    }
    return j;
}

}  // namespace ilvek
