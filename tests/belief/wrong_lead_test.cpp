// Jobs in which the red lead stood in the wrong cavity once: what the cavity beside shows is no fault.
#include <gmock/gmock.h>

#include "belief/doubt.h"
#include "belief/observations.h"
#include "job/hand_over.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::HasSubstr;

OpenJob keptJob(const std::string& name)
{
    const auto content = readHandOver(test::sourceText("tests/belief/jobs/" + name + ".json"), name);
    EXPECT_TRUE(content) << name;
    return *OpenJob::of(*content);
}

double chanceOf(const Reasoner& reasoner, const std::string& suspect)
{
    const auto p = reasoner.belief().probabilities();
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (reasoner.suspects()[i].id == suspect) return p[i];
    }
    ADD_FAILURE() << "no suspect " << suspect;
    return 0;
}

// A sound door. The line stood at 4.9 V twice where nothing should pull it down, and at nothing once, a cavity further:
// the two had counted for nothing, and a short to ground was certain.
TEST(WrongLead, ALevelThatStandsFreeSpeaksAgainstWhatWouldHoldIt)
{
    const OpenJob open = keptJob("wrong-lead-behind-a-plug");
    const auto reasoner = weighedInFull(open);
    const Reasoning r = reasoner->reason(open.standing());
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open) << r.conclusion.words;
    EXPECT_LT(chanceOf(*reasoner, "8.a to ground"), 0.5);
}

// A sound machine. A reading far out of reach pulled the unknowns of the sound machine away from where all the others
// had them, and a contact was left that fitted.
TEST(WrongLead, TheFurthestReadingIsTriedAsTheSlip)
{
    const OpenJob open = keptJob("wrong-lead-on-a-bus-line");
    const auto reasoner = weighedInFull(open);
    EXPECT_LT(chanceOf(*reasoner, "A4 added resistance"), 0.5);
    EXPECT_EQ(reasoner->reason(open.standing()).conclusion.kind, Conclusion::Kind::Open);
}

// A wire of 50 Ω, found; a reading of the cavity beside it, taken again: it keeps no verdict back, and is not asked for
// a third time.
TEST(WrongLead, AReadingThatWasTakenAgainIsSettled)
{
    const OpenJob open = keptJob("read-again");
    const auto reasoner = weighedInFull(open);
    const Reasoning r = reasoner->reason(open.standing());
    EXPECT_TRUE(r.doubtful.empty());
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Outside);
    EXPECT_THAT(r.conclusion.words, HasSubstr("the wire from B2 to hoist valve"));
}

// A sound machine. A feed read 5 sigmas off in the wrong cavity, and right the next time: the first one's error was
// expected of the second too while it lay below a bound, and four contacts shared 97 %.
TEST(WrongLead, HandsItsErrorOnOnlyAsFarAsItIsNoSlip)
{
    const OpenJob open = keptJob("wrong-lead-taken-again");
    const auto reasoner = weighedInFull(open);
    const Reasoning r = reasoner->reason(open.standing());
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open) << r.conclusion.words;
    EXPECT_GT(chanceOf(*reasoner, "nothing"), chanceOf(*reasoner, "A4 added resistance"));
}

double slipDensityAt(const char* figure)
{
    OneJob job(test::washer());
    job.take("plus > minus; key on", "12.5 V");
    job.take("B3 > minus; key on", "12.4 V");
    job.take("B4 > minus; key on", figure);
    return observationsOf(job.map(), job.open().assessment, {}).back().slipDensity;
}

TEST(WrongLead, MostlyShowsNothingTheBatteryOrWhatWasReadBeside)
{
    const double anything = slipDensityAt("7.0 V");
    EXPECT_GT(slipDensityAt("0.02 V"), 3 * anything);
    EXPECT_GT(slipDensityAt("12.42 V"), 2 * slipDensityAt("12.0 V")) << "B3 was read so";
}

}  // namespace
}  // namespace ilvek
