// W8 and W7: the battery itself, and the leads by reading it through them.
#include "base/text.h"
#include "proving/judge_context.h"

namespace ilvek {

Judgement judgeBattery(const JudgeContext& c)
{
    Judgement j;
    const double v = std::abs(c.reading.value.value);
    const AgainstLimits limits = c.against(Measure::Level, true, v);
    j.limits = limits.words;
    j.arithmetic = volts2(v) + " across the posts, " + lowered(c.map.state(c.state).name) + ".";
    j.proves.push_back("The leads and the meter read: every feed of this minute is compared with this figure.");
    j.doesNotProve.push_back("Not the battery's capacity: that needs a load test of its own.");
    using Outcome = AgainstLimits::Outcome;
    if (limits.outcome == Outcome::Low) {
        j.verdict = Verdict::Low;
        j.word = "Battery low";
        j.proves.insert(j.proves.begin(),
                        "Charge or support the battery first: every reading after this suffers from it.");
    } else if (limits.outcome == Outcome::High) {
        j.verdict = Verdict::High;
        j.word = "Above its range";
        j.proves.insert(j.proves.begin(), "A charger is connected, or the charging voltage is too high.");
        j.traps.push_back({"T3", "With a charger on, feeds read high; take it off or note it."});
    } else {
        j.verdict = Verdict::Noted;
        j.word = "Battery noted";
    }
    if (c.reading.value.value < 0)
        j.traps.push_back({"T4", "The sign says that red and black are exchanged at the posts."});
    return j;
}

}  // namespace ilvek
