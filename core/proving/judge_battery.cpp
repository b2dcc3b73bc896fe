// W8 and W7: the battery itself, and the leads by reading it through them.
#include "base/text.h"
#include "proving/judge_context.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

Judgement judgeBattery(const JudgeContext& c)
{
    Judgement j;
    const double v = std::abs(c.reading.value.value);
    const AgainstLimits limits = c.against(Measure::Level, true, v);
    j.limits = limits.words;
    j.arithmetic = volts2(v) + inWords("battery.across-posts") + lowered(c.map.state(c.state).name) + ".";
    j.proves.push_back(inWords("battery.leads-meter-read-every"));
    j.doesNotProve.push_back(inWords("battery.battery-capacity-needs-load"));
    using Outcome = AgainstLimits::Outcome;
    if (limits.outcome == Outcome::Low) {
        j.verdict = Verdict::Low;
        j.word = inWords("battery.battery-low");
        j.proves.insert(j.proves.begin(), inWords("battery.charge-support-battery-first"));
    } else if (limits.outcome == Outcome::High) {
        // Above what is customary, not what a page tells: what a charger leaves or gives is no fault of the machine.
        const bool mayBe = c.map.isOfSheet() && v <= trade::chargerLeaves * c.map.systemVoltage_V;
        j.verdict = mayBe ? Verdict::Noted : Verdict::High;
        j.word = inWords("battery.above-range");
        j.proves.insert(j.proves.begin(), inWords("battery.charger-connected-charging-voltage"));
        j.traps.push_back({"T3", inWords("battery.charger-feeds-read-high")});
    } else {
        j.verdict = Verdict::Noted;
        j.word = inWords("battery.battery-noted");
    }
    if (c.reading.value.value < 0) j.traps.push_back({"T4", inWords("battery.sign-says-red-black")});
    return j;
}

}  // namespace ilvek
