// Fuses of which no row says whether the key feeds them, and starters that no row lists.
#include "proving/assumed_feed.h"

#include <gmock/gmock.h>

#include "proving/judge.h"
#include "support/maps.h"
#include "support/weighed.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;

const Map& winch()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;feed;supply, by relay K1;F5 20 A > K1;\n"
        "2;key;key supply;F6 5 A;\n"
        "3;ground;ground;G2;\n"
        "4;main relay;drives coil of K1;;coil of K1, other end F7 10 A\n"
        "7;brake release;low side;X2-1;solenoid 6 Ω, other wire F5\n",
        12);
    return map;
}

Reading pointAt(const Map& map, const std::string& line)
{
    Reading r;
    static_cast<SetUp&>(r) = test::setUpAt(map, line);
    r.test = TestKind::Point;
    return r;
}

// The coil may be fed always: its drive stands at the battery with the key off then.
TEST(AssumedFeed, ACoilOnAFuseThatNobodyToldMayBeLiveWithTheKeyOff)
{
    OneJob job(winch());
    job.take("plus > minus; key off", "12.7 V");
    EXPECT_EQ(job.take("4 > 3; key off", "12.7 V").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("F7 out > minus; key off", "12.7 V").verdict, Verdict::Noted);
    const Reasoning r = weighed(job)->reason({});
    EXPECT_TRUE(r.doubtful.empty());
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open);
}

TEST(AssumedFeed, OneThatTheSheetPutsOnTheKeyMayNot)
{
    OneJob job(winch());
    job.take("plus > minus; key off", "12.7 V");
    EXPECT_TRUE(isFailure(job.take("2 > 3; key off", "12.7 V").verdict));
    Reading r = pointAt(winch(), "F6 out > minus; key off");
    r.value = volts(12.6);
    EXPECT_FALSE(mayBeFedAlways(winch(), r));
}

// Half of the battery is no feed that is always there.
TEST(AssumedFeed, OnlyTheLevelOfAFeedIsExplainedByOne)
{
    Reading r = pointAt(winch(), "F7 out > minus; key off");
    r.value = volts(12.6);
    EXPECT_TRUE(mayBeFedAlways(winch(), r));
    r.value = volts(6.5);
    EXPECT_FALSE(mayBeFedAlways(winch(), r));
    r = pointAt(winch(), "F7 out > minus; key on");
    r.value = volts(12.6);
    EXPECT_FALSE(mayBeFedAlways(winch(), r)) << "with the key on it is fed anyway";
}

// A starter that no row lists pulls the battery down while it cranks, nobody knows how far.
TEST(AssumedFeed, AFeedMaySagWhileCrankingThoughTheBatteryWasReadWithTheKeyOnOnly)
{
    for (const char* sagged : {"11.4 V", "10.9 V", "10.1 V", "9.7 V"}) {
        OneJob job(winch());
        job.take("plus > minus; key on", "12.5 V");
        job.take("2 > 3; key on", "12.4 V");
        job.take("2 > 3; cranking", sagged);
        const Reasoning r = weighed(job)->reason({});
        EXPECT_TRUE(r.doubtful.empty()) << sagged;
        EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open) << sagged;
    }
}

TEST(AssumedFeed, AStarterThatARowListsDrawsWhileCrankingOnly)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;feed;supply, always;F5 20 A;\n"
        "3;ground;ground;G2;\n"
        ";starter;consumer;;motor, ground G9\n",
        24);
    const auto motors = std::count_if(map.elements.begin(), map.elements.end(),
                                      [](const Element& e) { return e.kind == ElementKind::Motor; });
    EXPECT_EQ(motors, 1);
    const double on = *healthyReading(map, pointAt(map, "plus > minus; key on"));
    const double cranking = *healthyReading(map, pointAt(map, "plus > minus; cranking"));
    EXPECT_GT(on, 24.5);
    EXPECT_LT(cranking, 0.93 * on);
    EXPECT_GT(cranking, 0.75 * on);
}

}  // namespace
}  // namespace ilvek
