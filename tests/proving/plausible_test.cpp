// Figures that cannot be meant: kept, said, and evidence of nothing.
#include "proving/plausible.h"

#include <gmock/gmock.h>

#include "belief/observations.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

TEST(Plausible, ASlipOfTheDecimalSignIsSaidAndIsNoBattery)
{
    test::Bench bench(test::smallMap());
    const Judgement slip = bench.battery(1241);
    EXPECT_EQ(slip.verdict, Verdict::NoEvidence);
    EXPECT_THAT(slip.arithmetic, HasSubstr("1241"));
    EXPECT_THAT(slip.arithmetic, HasSubstr("decimal sign"));
    // What is read next is not judged against it.
    const Map& map = test::smallMap();
    Reading next = readingOf(batteryStep(map, "key-on"), map, volts(12.4), {}, bench.now());
    EXPECT_FALSE(batteryOfTheMinute(map, bench.evidence(), next));
    bench.battery(12.41);
    EXPECT_EQ(batteryOfTheMinute(map, bench.evidence(), next), 12.41);
    EXPECT_EQ(observationsOf(map, bench.assessed(), {}).size(), 1U) << "of both only the one that can be";
}

TEST(Plausible, BoundsFollowTheMachine)
{
    const Map& map = test::smallMap();
    const auto can = [&](TestKind test, const Quantity& value) {
        Reading r;
        r.test = test, r.value = value;
        return !implausible(map, r);
    };
    EXPECT_TRUE(can(TestKind::Level, volts(14.8)));
    EXPECT_TRUE(can(TestKind::Level, volts(-30))) << "leads exchanged on a spike";
    EXPECT_FALSE(can(TestKind::Level, volts(240)));
    EXPECT_FALSE(can(TestKind::Level, volts(1e300)));
    EXPECT_TRUE(can(TestKind::Resistance, ohms(-0.2))) << "leads zeroed badly";
    EXPECT_TRUE(can(TestKind::Resistance, ohms(-50))) << "the circuit is live after all";
    EXPECT_TRUE(can(TestKind::Resistance, ohms(23.8e6)));
    EXPECT_FALSE(can(TestKind::Resistance, ohms(1e300)));
    EXPECT_TRUE(can(TestKind::Level, {0, Unit::Volt, true, 0})) << "over limit is another matter";
    Reading r;
    r.test = TestKind::LoadedSupply, r.value = volts(12), r.measuredCurrent_A = 15000;
    EXPECT_TRUE(implausible(map, r));
    r.measuredCurrent_A = -1.4;
    EXPECT_FALSE(implausible(map, r)) << "amperes have a direction";
}

}  // namespace
}  // namespace ilvek
