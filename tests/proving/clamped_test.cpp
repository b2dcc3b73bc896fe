// A clamp's figure without a minus is an amount: of a part that the module feeds it flows out of it.
#include "proving/clamped.h"

#include <gmock/gmock.h>

#include "support/maps.h"
#include "support/weighed.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;
using testing::HasSubstr;
using testing::Not;

const Map& dryer()
{
    static const Map map = test::mapOfRows(
        "pin;what;role;through;load\n"
        "1;battery feed;supply, always;F1 60A;\n"
        "2;ground;ground;G4;\n"
        "4;glow 1;high side;X2-1;heater 0.9 Ω, ground G4\n"
        "5;glow 2;high side;X2-2;heater 0.9 Ω, ground G4\n"
        "6;fuel valve;low side;X3-1;valve 12 Ω, other wire F2 5 A\n",
        12);
    return map;
}

TEST(Clamped, AnAmountOutOfADriveIsNoSlipOnASoundMachine)
{
    OneJob job(dryer());
    job.take("plus > minus; key on", "12.5 V");
    const Judgement& out = job.take("clamp 4; commanded 4", "12.6 A");
    EXPECT_THAT(out.arithmetic, HasSubstr("from 4, inside the module to 4, wire side"));
    EXPECT_THAT(out.arithmetic, Not(HasSubstr("−")));
    job.take("clamp 5; commanded 5", "12.4 A");
    job.take("clamp 6; commanded 6", "1.0 A");
    const Reasoning r = weighed(job)->reason({});
    EXPECT_TRUE(r.doubtful.empty());
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open);
}

TEST(Clamped, AMinusThatIsTypedIsKept)
{
    Reading r;
    static_cast<ilvek::SetUp&>(r) = test::setUpAt(dryer(), "clamp 4; commanded 4");
    r.test = TestKind::Current;
    r.value = amperes(12.6);
    EXPECT_LT(clampedCurrent_A(dryer(), r), 0) << "out of the module";
    r.value = amperes(-12.6);
    EXPECT_EQ(clampedCurrent_A(dryer(), r), -12.6);
    static_cast<ilvek::SetUp&>(r) = test::setUpAt(dryer(), "clamp 6; commanded 6");
    r.value = amperes(1);
    EXPECT_EQ(clampedCurrent_A(dryer(), r), 1) << "into it";
}

// Half of the amount is half of it, whichever way it flows.
TEST(Clamped, TooLittleIsEvidenceOfTheSameSize)
{
    OneJob job(dryer());
    job.take("plus > minus; key on", "12.5 V");
    job.take("4 > 2; commanded 4", "12.0 V");
    job.take("clamp 4; commanded 4", "0.0 A");
    job.take("clamp 5; commanded 5", "12.5 A");
    const Reasoning r = weighed(job)->reason({});
    ASSERT_FALSE(r.groups.empty());
    EXPECT_TRUE(r.doubtful.empty());
    EXPECT_THAT(r.groups.front().words, testing::AnyOf(HasSubstr("glow 1"), HasSubstr("X2-1")));
}

}  // namespace
}  // namespace ilvek
