// W12: the loaded feed against the module's own return, then against battery minus: whichever recovers names the side.
#include "proving/judge_context.h"
#include "proving/series_resistance.h"

namespace ilvek {

namespace {

const Reading* loadedPartner(const JudgeContext& c)
{
    return c.latest([&](const Reading& r) {
        return r.terminal == c.reading.terminal && r.test == TestKind::LoadedSupply && r.state == c.reading.state &&
               r.load == c.reading.load && r.loadTo == c.reading.loadTo && r.black != c.reading.black && c.isSameWay(r);
    });
}

const Reading* openPartner(const JudgeContext& c)
{
    return c.latest([&](const Reading& r) {
        return r.terminal == c.reading.terminal && r.test == TestKind::OpenSupply && r.state == c.reading.state &&
               c.isSameWay(r);
    });
}

}  // namespace

Judgement judgeGroundSwap(const JudgeContext& c)
{
    Judgement j;
    const Reading* loaded = loadedPartner(c);
    const Reading* open = openPartner(c);
    j.verdict = Verdict::NotDecided;
    if (!loaded || !open) {
        j.word = "Partner missing";
        j.arithmetic = volts2(c.value_V) + " against battery minus.";
        j.doesNotProve.push_back("The side, without the loaded reading against the own return under the same load.");
        return j;
    }
    // U_return = U(feed → minus) − U(feed → own return);  U_feed = U_open − U(feed → minus)
    const double toReturn = std::abs(loaded->value.value);
    const double returnDrop = c.value_V - toReturn;
    const double feedDrop = std::abs(open->value.value) - c.value_V;
    if (returnDrop < -0.1) {
        j.verdict = Verdict::Conflict;
        j.word = "These cannot both be";
        j.arithmetic =
            fmt::format("{} to battery minus is less than {} to the own return.", volts2(c.value_V), volts2(toReturn));
        j.doesNotProve.push_back("Anything: the return would stand below battery minus.");
        j.traps.push_back({"T8", "Kirchhoff forbids this pair: check that the load is still on and read both again."});
        return j;
    }
    const double current = currentDuring(c.map, c.evidence, c.reading);
    const double own = c.ownCurrent_A() > 0 ? c.ownCurrent_A() : current;
    const double limit = c.upperLimit(Measure::BelowBattery, true).value_or(0.05 * std::abs(open->value.value));
    // An own current that nobody stated does not make a side bad.
    const double scale = current > 0 && !c.isOwnAssumed() ? own / current : 1.0;
    const auto series = seriesResistance(c.map, *open, *loaded, current, std::nullopt);
    const bool isDark = series.isDark;
    const bool feedBad = feedDrop * scale > limit;
    const bool returnBad = returnDrop * scale > limit;
    j.current_A = current;
    j.limits = fmt::format("at most {} lost in all at {}", volts2(limit), amps(c.isOwnAssumed() ? current : own));
    j.arithmetic = fmt::format("{} to battery minus, {} to the own return: {} lost in the feed, {} in the return.",
                               volts2(c.value_V), volts2(toReturn), volts2(std::max(0.0, feedDrop)),
                               volts2(std::max(0.0, returnDrop)));
    if (feedBad || returnBad) j.verdict = Verdict::FailsLoaded;
    if (feedBad && returnBad) {
        j.finding = Finding::BothSidesBad;
        j.word = "Both sides are bad";
        j.proves.push_back("Feed and return each lose too much.");
        j.doesNotProve.push_back("Where. Walk the feed first, then the return.");
    } else if (feedBad) {
        j.finding = Finding::FeedBad;
        j.word = "The feed is bad";
        j.proves.push_back(isDark ? "The reading does not recover against battery minus: the feed loses the voltage."
                                  : "The reading does not recover against battery minus: the return is sound, the feed "
                                    "loses the voltage.");
        j.doesNotProve.push_back("Where along the feed. Walk it under the same load.");
        if (isDark) j.doesNotProve.push_back("The return: next to no current flowed through it.");
    } else if (returnBad) {
        j.finding = Finding::ReturnBad;
        j.word = "The return is bad";
        j.proves.push_back(
            "The reading recovers against battery minus: the feed is sound, the return loses the voltage.");
        j.doesNotProve.push_back("Where along the return. Walk it under the same load.");
    } else {
        j.verdict = Verdict::Good;
        j.word = "Neither side is bad";
        j.proves.push_back("Feed and return each stay within the limit at this current.");
        j.doesNotProve.push_back(
            "Why the pair failed before, if it did: suspect a contact that changed when the leads moved.");
    }
    return j;
}

}  // namespace ilvek
