// W12: the loaded feed against the module's own return, then against battery minus: whichever recovers names the side.
#include "proving/judge_context.h"
#include "proving/series_resistance.h"
#include "wording/words.h"

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
        j.word = inWords("swap.partner-missing");
        j.arithmetic = volts2(c.value_V) + inWords("swap.against-battery-minus");
        j.doesNotProve.push_back(inWords("swap.side-without-loaded-reading"));
        return j;
    }
    // U_return = U(feed → minus) − U(feed → own return);  U_feed = U_open − U(feed → minus)
    const double toReturn = std::abs(loaded->value.value);
    const double returnDrop = c.value_V - toReturn;
    const double feedDrop = std::abs(open->value.value) - c.value_V;
    if (returnDrop < -0.1) {
        j.verdict = Verdict::Conflict;
        j.word = inWords("judgement.these-cannot-both");
        j.arithmetic = inWords("swap.battery-minus-less-own", volts2(c.value_V), volts2(toReturn));
        j.doesNotProve.push_back(inWords("swap.anything-return-would-stand"));
        j.traps.push_back({"T8", inWords("swap.kirchhoff-forbids-pair-check")});
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
    j.limits = inWords("swap.most-lost-all", volts2(limit), amps(c.isOwnAssumed() ? current : own));
    j.arithmetic = inWords("swap.battery-minus-own-return", volts2(c.value_V), volts2(toReturn),
                           volts2(std::max(0.0, feedDrop)), volts2(std::max(0.0, returnDrop)));
    if (feedBad || returnBad) j.verdict = Verdict::FailsLoaded;
    if (feedBad && returnBad) {
        j.finding = Finding::BothSidesBad;
        j.word = inWords("swap.both-sides-bad");
        j.proves.push_back(inWords("swap.feed-return-each-lose"));
        j.doesNotProve.push_back(inWords("swap.where-walk-feed-first"));
    } else if (feedBad) {
        j.finding = Finding::FeedBad;
        j.word = inWords("swap.feed-bad");
        j.proves.push_back(isDark ? inWords("swap.reading-does-recover-against")
                                  : inWords("swap.reading-does-recover-against-2"));
        j.doesNotProve.push_back(inWords("swap.where-along-feed-walk"));
        if (isDark) j.doesNotProve.push_back(inWords("swap.return-next-current-flowed"));
    } else if (returnBad) {
        j.finding = Finding::ReturnBad;
        j.word = inWords("swap.return-bad");
        j.proves.push_back(inWords("swap.reading-recovers-against-battery"));
        j.doesNotProve.push_back(inWords("judgement.where-along-return-walk"));
    } else {
        j.verdict = Verdict::Good;
        j.word = inWords("swap.neither-side-bad");
        j.proves.push_back(inWords("swap.feed-return-each-stay"));
        j.doesNotProve.push_back(inWords("swap.why-pair-failed-before"));
    }
    return j;
}

}  // namespace ilvek
