// W10: a supply with no current asked of it, and a supply that must be absent.
#include <algorithm>

#include "base/text.h"
#include "circuit/operating_point.h"
#include "machine/charging.h"
#include "machine/paths.h"
#include "proving/anywhere.h"
#include "proving/judge_context.h"
#include "proving/unstated.h"
#include "quantity/trade.h"
#include "wording/words.h"

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
        j.arithmetic = inWords("open.missing-through-meter-means", volts2(c.value_V), volts2(battery),
                               volts2(shortfall), ohmsText(c.reading.instrument.inputResistance_ohm), ohmsText(r));
        j.traps.push_back(
            {"T2", inWords("open.meter-takes-almost-current", formatShare(shortfall / battery), ohmsText(r))});
        return;
    }
    const double standing = currentDuring(c.map, c.evidence, c.reading);
    if (standing > 1e-3 && c.isOwnAssumed() && !c.reading.measuredCurrent_A) {
        j.arithmetic = inWords("open.missing-current-nobody-stated", volts2(c.value_V), volts2(battery),
                               volts2(shortfall), amps(standing), ohmsText(shortfall / standing));
    } else if (standing > 1e-3) {
        j.loopResistance_ohm = shortfall / standing;
        j.arithmetic = inWords("open.missing-module-standing-about", volts2(c.value_V), volts2(battery),
                               volts2(shortfall), amps(standing), ohmsText(shortfall / standing));
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
        if (!other || std::abs(other->value.value - c.value_V) <= trade::siblingsAgreeWithin_V) continue;
        j.doesNotProve.push_back(inWords("open.sibling-same-fuse-reads", id, formatQuantity(other->value)));
    }
}

Judgement staleBattery(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::NotDecided;
    j.word = inWords("judgement.battery-stale");
    j.arithmetic = volts2(c.value_V) + inWords("open.battery-reading-minute-state");
    j.doesNotProve.push_back(inWords("open.anything-against-battery-until"));
    j.traps.push_back({"T3", inWords("open.feed-judged-against-battery")});
    return j;
}

// While the battery is charged a feed that branches off nearer to the alternator stands above the posts by what the
// charging cable loses.
bool isNearerToAlternator(const JudgeContext& c, double above_V)
{
    return isChargedIn(c.map, c.state) && above_V <= trade::chargingCableLoses * c.map.systemVoltage_V;
}

// Another battery of the map hangs on this feed, not beyond the first one's posts.
bool hasOtherBattery(const JudgeContext& c)
{
    const Terminal& t = c.map.terminal(c.terminal);
    if (!c.map.isOfSheet() || t.a < 0) return false;
    for (std::size_t i = 0; i < c.map.elements.size(); ++i) {
        const Element& e = c.map.elements[i];
        if (e.kind != ElementKind::Battery || static_cast<int>(i) == c.map.battery) continue;
        const auto way = conductorPath(c.map, e.nodes[0], t.a);
        if (way && std::ranges::none_of(*way, [&](const PathStep& s) { return s.to == c.map.batteryPlus(); }))
            return true;
    }
    return false;
}

// Of the system voltage: no further are two batteries apart.
constexpr double otherBatteryWithin = 0.1;

// The engine charges another battery over a part of this feed's way: what that loses is nobody's fault.
bool carriesCharge(const JudgeContext& c, double short_V)
{
    return isChargedIn(c.map, c.state) && short_V <= otherBatteryWithin * c.map.systemVoltage_V && hasOtherBattery(c);
}

// Another battery, fuller than the first by a tenth, lifts this place above the first one's posts by as much; of the
// cables between them nobody stated anything.
bool isFedByOther(const JudgeContext& c, double above_V)
{
    constexpr double unstatedCables = 3;
    const auto condition = conditionOf(c.map, c.reading);
    if (!c.map.isOfSheet() || !condition) return false;
    const auto abovePosts = [&](const Condition& at) {
        const auto point = operatingPoint(c.map, at);
        return point ? point->potential(c.map.terminal(c.terminal).a) - point->potential(c.map.batteryPlus()) : 0.0;
    };
    for (std::size_t i = 0; i < c.map.elements.size(); ++i) {
        const int element = static_cast<int>(i);
        if (c.map.elements[i].kind != ElementKind::Battery || element == c.map.battery) continue;
        Condition fuller = *condition;
        fuller.faults.push_back({Fault::Kind::OutOfValue, element, -1, -1, 0, 1 + otherBatteryWithin});
        if (above_V <= unstatedCables * (abovePosts(fuller) - abovePosts(*condition))) return true;
    }
    return false;
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
    j.arithmetic = inWords("open.battery-lost", volts2(c.value_V), volts2(battery), volts2(std::max(0.0, shortfall)));
    using Outcome = AgainstLimits::Outcome;
    if (c.value_V < trade::absentShare * battery) {
        j.verdict = Verdict::Low;
        j.finding = Finding::SupplyAbsent;
        j.word = inWords("open.supply-absent");
        j.proves.push_back(inWords("open.path-battery-plus-here"));
        j.doesNotProve.push_back(inWords("open.them-check-fuse-both"));
    } else if (limits.outcome == Outcome::High && carriesCharge(c, within)) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("open.charges-another");
        j.doesNotProve.push_back(inWords("open.read-with-engine-off"));
    } else if (limits.outcome == Outcome::High) {  // more is missing than allowed
        j.verdict = Verdict::Low;
        j.word = inWords("open.low-hardly-loaded");
        explainShortfall(c, battery, shortfall, j);
        j.proves.push_back(inWords("open.resistance-feed"));
        j.doesNotProve.push_back(inWords("open.where-load-swap-ground"));
    } else if (limits.outcome == Outcome::Low && !isNearerToAlternator(c, -within) && !isFedByOther(c, -within)) {
        j.verdict = Verdict::High;
        j.word = inWords("open.above-battery");
        j.doesNotProve.push_back(inWords("open.anything-another-source-feeds"));
        j.traps.push_back({"T3", inWords("open.feed-cannot-stand-above")});
    } else if (limits.outcome == Outcome::None) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("judgement.limit-known");
        j.doesNotProve.push_back(inWords("open.whether-right-map-holds"));
    } else {
        j.verdict = Verdict::OpenOnly;
        j.word = inWords("open.right-open-circuit");
        j.proves.push_back(inWords("open.conductor-fully-open-nothing"));
        j.doesNotProve.push_back(inWords("open.carry-current-one-strand"));
        if (limits.outcome == Outcome::Low)
            j.arithmetic += inWords(isFedByOther(c, -within) ? "open.above-by-other" : "open.above-while-charging");
    }
    constexpr double worthSaying_V = 0.015;
    if (std::abs(battery - c.batteryRead_V.value_or(battery)) > worthSaying_V)
        j.arithmetic += inWords("open.battery-read-other-things", volts2(*c.batteryRead_V));
    compareSiblings(c, j);
    if (limits.outcome == Outcome::SourcesDisagree)
        j.doesNotProve.push_back(inWords("open.sources-limit-disagree") + limits.words + ".");
    return j;
}

Judgement judgeAbsentSupply(const JudgeContext& c)
{
    Judgement j;
    AgainstLimits limits = c.against(Measure::Level, false, c.value_V);
    j.limits = limits.words;
    j.arithmetic = volts2(c.value_V) + ", " + lowered(c.map.state(c.state).name) + ".";
    if (limits.outcome == AgainstLimits::Outcome::High && mayBeHeldWire(c.map, c.reading)) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("open.something-stands-there");
        j.doesNotProve.push_back(inWords("open.lamp-tells-whether-fed"));
    } else if (limits.outcome == AgainstLimits::Outcome::High) {
        j.verdict = Verdict::High;
        j.word = inWords("open.present-must-absent");
        j.proves.push_back(inWords("open.something-feeds-terminal-when"));
        j.doesNotProve.push_back(inWords("open.source-pull-relay-then"));
        j.traps.push_back({"T17", inWords("open.feed-another-source-keeps")});
    } else if (limits.outcome == AgainstLimits::Outcome::None) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("judgement.limit-known");
        j.doesNotProve.push_back(inWords("open.map-holds-limit-state"));
    } else {
        j.verdict = Verdict::Good;
        j.word = inWords("open.absent-must");
        j.proves.push_back(inWords("open.other-source-feeds-terminal"));
        j.doesNotProve.push_back(inWords("open.anything-about-feed-when"));
    }
    return j;
}

}  // namespace ilvek
