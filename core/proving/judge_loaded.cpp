// W11: the same terminal open-circuit and loaded; from both and the current the series resistance of the loop.
#include <algorithm>

#include "circuit/substitute_load.h"
#include "machine/paths.h"
#include "proving/anywhere.h"
#include "proving/judge_context.h"
#include "proving/series_resistance.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Two last digits and the current's own error, as a share of the computed resistance's drop.
double dropUncertainty_V(const JudgeContext& c, const Reading& open)
{
    const auto digit = [](const Reading& r) {
        return r.value.resolution > 0 ? r.value.resolution : r.instrument.resolution_V;
    };
    return std::hypot(digit(c.reading), digit(open));
}

const Reading* openPartner(const JudgeContext& c)
{
    return c.latest([&](const Reading& r) {
        return r.terminal == c.reading.terminal && r.test == TestKind::OpenSupply && r.state == c.reading.state &&
               !r.value.overLimit && c.isSameWay(r) &&
               // Mated, the module's own current flowed: that is no open reading beside a load in its place.
               (isApart(c.map, r, c.terminal) || !isApart(c.map, c.reading, c.terminal));
    });
}

const Reading* otherLoad(const JudgeContext& c)
{
    return c.latest([&](const Reading& r) {
        return r.terminal == c.reading.terminal && r.test == TestKind::LoadedSupply && r.state == c.reading.state &&
               r.load != c.reading.load && !r.load.empty() && r.black == c.reading.black &&
               r.loadTo == c.reading.loadTo && c.isSameWay(r);
    });
}

Judgement impossibleRise(const JudgeContext& c, const Reading& open)
{
    Judgement j;
    j.verdict = Verdict::Conflict;
    j.word = inWords("judgement.these-cannot-both");
    j.arithmetic = inWords("loaded.loaded-more-open-circuit", volts2(c.value_V), formatQuantity(open.value));
    j.doesNotProve.push_back(inWords("loaded.anything-until-both-read"));
    j.traps.push_back({"T8", inWords("loaded.two-readings-ohm-law")});
    return j;
}

struct LoopFigures {
    double vOpen, vLoaded, current, resistance, own, dropAtOwn, limit, uncertainty;
    SeriesResistance series;
    bool twoLoads = false, ownAssumed = false;
};

// R = (U_open − U_loaded) / I, or from two loads R = (U1 − U2) / (I2 − I1), which does without the source reading.
LoopFigures figuresOf(const JudgeContext& c, const Reading& open, double current, double limit)
{
    LoopFigures f{};
    f.vOpen = std::abs(open.value.value);
    f.vLoaded = c.value_V;
    f.current = current;
    f.series = seriesResistance(c.map, open, c.reading, current,
                                c.reading.load.empty() ? std::nullopt : batteryOfTheMinute(c.map, c.evidence, open));
    f.resistance = f.series.likely_ohm;
    if (const Reading* other = otherLoad(c)) {
        const double otherCurrent = currentDuring(c.map, c.evidence, *other);
        if (std::abs(otherCurrent - current) > 0.3 * std::max(current, otherCurrent)) {
            // Where the two do not go together something moved between them, and neither says a resistance.
            const double fromTwo = (std::abs(other->value.value) - c.value_V) / (current - otherCurrent);
            if (fromTwo > 0.5 * f.resistance && fromTwo < 2 * f.resistance) {
                f.resistance = fromTwo;
                f.twoLoads = true;
            }
        }
    }
    f.own = c.ownCurrent_A() > 0 ? c.ownCurrent_A() : current;
    f.dropAtOwn = f.resistance * f.own;
    f.limit = limit;
    f.ownAssumed = c.isOwnAssumed();
    f.uncertainty = dropUncertainty_V(c, open) * f.own / current;
    return f;
}

void addArithmetic(const LoopFigures& f, Judgement& j)
{
    j.loopResistance_ohm = f.resistance;
    j.current_A = f.current;
    if (f.series.isDark) {
        j.arithmetic =
            inWords("loaded.open-load-next-current", volts2(f.vOpen), volts2(f.vLoaded), f.series.words(), amps(f.own));
        return;
    }
    // P = I² R;  what the module would see at its own current U = U_open − R I_own
    const double heat = f.current * f.current * f.resistance;
    const double left = std::max(0.0, f.vOpen - f.dropAtOwn);
    j.arithmetic =
        inWords("loaded.open-loop-lost-heat", volts2(f.vOpen), volts2(f.vLoaded), amps(f.current),
                ohmsText(f.resistance), f.twoLoads ? inWords("loaded.two-loads") : "",
                formatShare(std::max(0.0, f.vOpen - f.vLoaded) / f.vOpen), formatQuantity(watts(heat)), amps(f.own));
    j.arithmetic += left < 0.05 * f.vOpen ? inWords("loaded.nothing-would-left")
                                          : inWords("loaded.module-would-see") + volts2(left) + ".";
    if (f.ownAssumed) j.arithmetic += inWords("loaded.own-current-assumed");
}

void decide(const LoopFigures& f, Judgement& j)
{
    const double share = f.current / f.own;
    const bool failsAsTried = f.vOpen - f.vLoaded > f.limit;
    // Of a load that hangs there and takes nothing any more no current need be known.
    constexpr double collapsed = 0.1;
    if (f.vLoaded < collapsed * f.vOpen) {
        j.verdict = Verdict::FailsLoaded;
        j.word = inWords("judgement.fails-under-load");
        j.proves.push_back(inWords("loaded.loop-cannot-even-feed"));
        j.doesNotProve.push_back(inWords("loaded.side-bad-feed-return"));
        return;
    }
    if (f.dropAtOwn - f.limit > f.uncertainty && f.ownAssumed && !failsAsTried) {
        j.verdict = Verdict::OpenOnly;
        j.word = inWords("judgement.right-load");
        j.proves.push_back(inWords("judgement.sound-at", amps(f.current)));
        j.doesNotProve.push_back(inWords("loaded.loses-own-current-nobody", amps(f.own), volts2(f.dropAtOwn)));
        return;
    }
    if (f.dropAtOwn - f.limit > f.uncertainty) {
        j.verdict = Verdict::FailsLoaded;
        j.word = inWords("judgement.fails-under-load");
        j.proves.push_back(inWords("loaded.loop-cannot-feed-module"));
        j.doesNotProve.push_back(inWords("loaded.side-bad-feed-return"));
        return;
    }
    if (share < trade::leastShareOfCurrent) {
        j.verdict = Verdict::OpenOnly;
        j.word = inWords("loaded.load-too-small");
        j.proves.push_back(inWords("judgement.sound-at", amps(f.current)));
        j.doesNotProve.push_back(inWords("loaded.carries-circuit-own-current"));
        j.traps.push_back({"T6", inWords("loaded.only-circuit-tried-smaller", formatShare(share), amps(f.own))});
        return;
    }
    if (std::abs(f.dropAtOwn - f.limit) <= f.uncertainty) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("judgement.too-close-call");
        j.doesNotProve.push_back(inWords("loaded.whether-circuit-own-current", volts2(f.dropAtOwn), volts2(f.limit)));
        return;
    }
    j.verdict = Verdict::Good;
    j.word = inWords("judgement.proven-under-load");
    j.proves.push_back(inWords("loaded.feed-return-terminal-carry"));
    j.doesNotProve.push_back(inWords("loaded.how-they-behave-hot"));
    j.traps.push_back({"T21", inWords("loaded.flowed-circuit-own-current", amps(f.current), formatShare(share))});
}

// Mated, a sibling from the same fuse may lie in parallel inside the module.
void nameSiblings(const JudgeContext& c, Judgement& j)
{
    const std::string& connector = c.map.connectors[static_cast<std::size_t>(c.self().connector)].id;
    const bool apart =
        std::find(c.reading.unplugged.begin(), c.reading.unplugged.end(), connector) != c.reading.unplugged.end();
    if (apart || j.verdict != Verdict::Good) return;
    for (const int sibling : siblingsOf(c.map, c.terminal))
        j.traps.push_back({"T12", inWords("loaded.mated-may-carry-inside", c.map.terminal(sibling).id)});
}

// W24: a fault that is absent now is not gone. Nothing was mended between the failure and this pass under the same
// load.
void checkIntermittent(const JudgeContext& c, Judgement& j)
{
    if (j.verdict != Verdict::Good) return;
    const Reading* failed = c.latest([&](const Reading& r) {
        return r.terminal == c.reading.terminal && r.test == c.reading.test && r.state == c.reading.state &&
               r.load == c.reading.load;
    });
    if (!failed || !isFailure(judge(c.map, c.evidence, *failed).verdict)) return;
    j.verdict = Verdict::Conflict;
    j.word = inWords("loaded.failed-before");
    j.proves.clear();
    j.doesNotProve.push_back(inWords("loaded.sound-failed-entry") + std::to_string(failed->id) +
                             inWords("loaded.nothing-mended-since-wiggle"));
}

// W33: after a repair the same test under the same load. A pass at less current than the failure proves no repair.
void checkRepairProof(const JudgeContext& c, Judgement& j)
{
    if (j.verdict != Verdict::Good) return;
    for (auto it = c.evidence.readings.rbegin(); it != c.evidence.readings.rend(); ++it) {
        if (it->id >= c.idLimit() || it->terminal != c.reading.terminal || it->test != TestKind::LoadedSupply ||
            !isStale(c.map, c.evidence, *it, c.idLimit()))
            continue;
        if (it->load == c.reading.load) return;
        const auto before = findLoad(c.map.systemVoltage_V, it->load);
        const auto now = findLoad(c.map.systemVoltage_V, c.reading.load);
        if (!before || (now && now->ratedCurrent_A >= before->ratedCurrent_A)) return;
        j.verdict = Verdict::OpenOnly;
        j.word = inWords("loaded.repair-proven");
        j.traps.push_back({"T22", inWords("loaded.before-repair-read-pass", before->name)});
        return;
    }
}

// Nothing was asked of the conductor.
Judgement nothingFlowed(const JudgeContext& c)
{
    Judgement j;
    j.verdict = Verdict::NoEvidence;
    j.word = inWords("loaded.load-proof");
    j.arithmetic = volts2(c.value_V) + inWords("loaded.current-asked");
    j.doesNotProve.push_back(inWords("loaded.anything-about-carrying-current"));
    j.traps.push_back({"T1", inWords("loaded.load-connected-module-drawing")});
    return j;
}

// The other reading of the pair is missing: open-circuit, or the battery when the module is the load.
Judgement partnerMissing(const JudgeContext& c, double current)
{
    Judgement j;
    j.verdict = Verdict::NotDecided;
    j.arithmetic = fmt::format("{} at {}.", volts2(c.value_V), amps(current));
    if (!c.reading.load.empty()) {
        j.word = inWords("loaded.open-reading-missing");
        j.doesNotProve.push_back(inWords("loaded.resistance-loop-read-same"));
        return j;
    }
    j.word = inWords("judgement.battery-stale");
    j.doesNotProve.push_back(inWords("loaded.loss-against-battery-until"));
    j.traps.push_back({"T3", inWords("loaded.module-load-battery-same")});
    return j;
}

// The current of a mated module that nobody measured is what the map says. A module that does not draw reads right.
void checkAssumedCurrent(const JudgeContext& c, Judgement& j)
{
    if (!c.reading.load.empty() || c.reading.measuredCurrent_A) return;
    j.traps.push_back({"T1", inWords("loaded.map-says-module-draws", amps(j.current_A))});
    if (j.verdict != Verdict::Good) return;
    j.verdict = Verdict::OpenOnly;
    j.word = inWords("judgement.right-current-assumed");
    j.proves = {inWords("loaded.supply-stands-while-module")};
    j.doesNotProve.push_back(inWords("loaded.current-flowed-module-draws"));
}

void checkAge(const JudgeContext& c, const Reading& open, Judgement& j)
{
    const double apart_s = std::abs(static_cast<double>(c.reading.time_ms - open.time_ms)) / 1000.0;
    if (apart_s <= trade::pairWithin_s) return;
    j.verdict = Verdict::NotDecided;
    j.word = inWords("loaded.open-reading-old");
    j.proves.clear();
    j.traps = {{"T3", inWords("loaded.open-loaded-readings-lie")}};
}

}  // namespace

Judgement judgeLoadedSupply(const JudgeContext& c)
{
    const double current = currentDuring(c.map, c.evidence, c.reading);
    const bool moduleIsLoad = c.reading.load.empty();
    if (isBridged(c.map, c.reading, c.terminal)) return judgePoint(c);
    if (moduleIsLoad && current < 1e-3) return nothingFlowed(c);
    // Mated, with the module as load, the battery of the minute stands for the open-circuit reading.
    Reading batteryAsOpen = c.reading;
    if (c.battery_V) batteryAsOpen.value = volts(*c.battery_V);
    const Reading* open = !moduleIsLoad ? openPartner(c) : c.battery_V ? &batteryAsOpen : nullptr;
    if (!open) return partnerMissing(c, current);
    if (c.value_V > std::abs(open->value.value) + trade::impossibleRise_V) return impossibleRise(c, *open);
    Judgement j;
    const auto limit = c.upperLimit(Measure::BelowBattery, true);
    if (!limit) {
        j.verdict = Verdict::NotDecided;
        j.word = inWords("judgement.limit-known");
        j.doesNotProve.push_back(inWords("loaded.map-holds-limit-supply"));
        return j;
    }
    // A dead conductor passes next to nothing: the lamp stays dark.
    const LoopFigures f = figuresOf(c, *open, std::max(current, 1e-4), *limit);
    addArithmetic(f, j);
    j.limits = c.against(Measure::BelowBattery, true, f.dropAtOwn).words + " at " + amps(f.own);
    decide(f, j);
    checkRepairProof(c, j);
    nameSiblings(c, j);
    checkIntermittent(c, j);
    checkAssumedCurrent(c, j);
    checkAge(c, *open, j);
    return j;
}

}  // namespace ilvek
