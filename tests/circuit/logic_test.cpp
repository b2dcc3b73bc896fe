// Relays, drivers and the module's needs on top of the network: what is on follows from what was solved.
#include <gtest/gtest.h>

#include <cmath>

#include "circuit/operating_point.h"
#include "support/maps.h"

namespace ilvek {
namespace {

class Logic : public testing::Test {
protected:
    const Map& map = test::pt9();

    Condition in(const char* state)
    {
        Condition condition;
        condition.state = map.stateIndex(state);
        return condition;
    }
    OperatingPoint solve(const Condition& condition)
    {
        auto point = operatingPoint(map, condition);
        EXPECT_TRUE(point);
        return *point;
    }
    bool closed(const OperatingPoint& point, const char* element) { return point.isClosed(map.elementIndex(element)); }
    double at(const OperatingPoint& point, const char* node) { return point.potential(map.nodeIndex(node)); }
    Fault added(const char* element, double r)
    {
        return {Fault::Kind::AddedResistance, map.elementIndex(element), -1, -1, r};
    }
};

TEST_F(Logic, TheMainRelayPullsInWithTheKeyAndLetsGoWithoutIt)
{
    EXPECT_FALSE(closed(solve(in("key-off")), "K1"));
    const auto on = solve(in("key-on"));
    EXPECT_TRUE(closed(on, "K1"));
    EXPECT_GT(at(on, "J1-1.a"), 12.0);
}

TEST_F(Logic, WithoutItsMemoryFeedTheModuleHoldsNoRelay)
{
    Condition condition = in("key-on");
    condition.removed = {map.elementIndex("F4")};
    const auto point = solve(condition);
    EXPECT_FALSE(closed(point, "K1"));
    EXPECT_LT(at(point, "J2-1.a"), 0.5) << "and the drive supply is dead with it";
}

TEST_F(Logic, WithoutItsKeyFeedItHoldsNoneEither)
{
    Condition condition = in("key-on");
    condition.removed = {map.elementIndex("F9")};
    EXPECT_FALSE(closed(solve(condition), "K1"));
}

TEST_F(Logic, AHighResistanceInTheControlWireKeepsTheRelayFromPullingIn)
{
    const int wire = [&] {
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            const Element& e = map.elements[i];
            if (e.kind == ElementKind::Wire && map.node(e.nodes[0]) == "K1.85") return static_cast<int>(i);
        }
        return -1;
    }();
    ASSERT_GE(wire, 0);
    Condition condition = in("key-on");
    condition.faults = {{Fault::Kind::AddedResistance, wire, -1, -1, 10.0}};
    EXPECT_TRUE(closed(solve(condition), "K1")) << "86 Ω coil and 10 Ω leave it 11 V";
    condition.faults.front().resistance_ohm = 200;
    EXPECT_FALSE(closed(solve(condition), "K1")) << "200 Ω leave it less than its pick-up voltage";
}

TEST_F(Logic, UnpluggingJ1TakesTheRelaysControlAway)
{
    Condition condition = in("key-on");
    condition.unplugged = {map.connectorIndex("J1")};
    const auto point = solve(condition);
    EXPECT_FALSE(closed(point, "K1"));
    EXPECT_LT(at(point, "J2-1.a"), 0.5);
}

TEST_F(Logic, ADriverNeedsItsSupply)
{
    const auto working = solve(in("tiller-commanded"));
    EXPECT_TRUE(closed(working, "D-J2-19"));
    EXPECT_GT(working.currentThrough(map.elementIndex("TDV")), 1.5);
    Condition starved = in("tiller-commanded");
    starved.faults = {added("X4-7", 4)};
    const auto point = solve(starved);
    EXPECT_LT(std::abs(point.currentThrough(map.elementIndex("TDV"))), 0.2)
        << "commanded, and no current: the stored code";
}

TEST_F(Logic, TheLiftPumpRunsThroughItsRelayWhileCranking)
{
    EXPECT_FALSE(closed(solve(in("key-on")), "K2"));
    const auto cranking = solve(in("cranking"));
    EXPECT_TRUE(closed(cranking, "K2"));
    EXPECT_NEAR(cranking.currentThrough(map.elementIndex("M2")), 2.3, 0.3);
}

TEST_F(Logic, CrankingPullsTheBatteryDownAndTheAlternatorLiftsIt)
{
    const double rest = at(solve(in("key-on")), "B1.+");
    EXPECT_LT(at(solve(in("cranking")), "B1.+"), rest - 1);
    EXPECT_GT(at(solve(in("idle-warm")), "B1.+"), rest + 0.8);
}

TEST_F(Logic, AChafedReferenceDragsItsSiblingOnTheSameRegulator)
{
    Condition condition = in("key-on");
    condition.faults = {{Fault::Kind::ShortBetween, -1, map.nodeIndex("THS.supply"), map.nodeIndex("G3"), 2.0}};
    const auto point = solve(condition);
    EXPECT_LT(at(point, "J2-5.a"), 1.5);
    EXPECT_LT(at(point, "J1-10.a"), 1.5);
    condition.unplugged = {map.connectorIndex("X9")};
    EXPECT_NEAR(at(solve(condition), "J1-10.a"), 5.0, 0.05) << "released at X9 both come back";
}

TEST_F(Logic, ALooseStudLooksLikeALowFeedFromTheModulesOwnReturn)
{
    Condition condition = in("key-on");
    condition.faults = {added("G3", 1.5)};
    condition.unplugged = {map.connectorIndex("J2")};
    condition.load = AppliedLoad{*findLoad(12, "lamp-55w"), map.nodeIndex("J2-1.a"), map.nodeIndex("J2-3.a")};
    const auto point = solve(condition);
    EXPECT_LT(point.voltage(map.nodeIndex("J2-1.a"), map.nodeIndex("J2-3.a")), 9.0);
    EXPECT_GT(at(point, "J2-1.a"), 12.0) << "against battery minus the feed is sound";
}

TEST_F(Logic, TwoTrackSensorsKeepTheirRatio)
{
    const auto point = solve(in("key-on"));
    const double one = point.voltage(map.nodeIndex("J1-14.a"), map.nodeIndex("J1-11.a"));
    const double two = point.voltage(map.nodeIndex("J2-7.a"), map.nodeIndex("J2-6.a"));
    EXPECT_NEAR(two / one, 0.5, 0.01);
}

// A short of so many ohms behind the fuse of the small machine.
std::vector<int> blownBehindFuse(const Map& map, double short_ohm)
{
    Condition condition;
    condition.state = map.stateIndex("key-on");
    condition.faults = {{Fault::Kind::ShortBetween, -1, map.nodeIndex("F1.out"), map.batteryMinus(), short_ohm}};
    const auto point = operatingPoint(map, condition);
    EXPECT_TRUE(point);
    // Blown, nothing comes through it any more; whole, the short pulls its current.
    const double current = std::abs(point->currentThrough(map.elementIndex("F1")));
    if (point->blownFuses().empty())
        EXPECT_NEAR(current, 12 / short_ohm, 0.15 * 12 / short_ohm);
    else
        EXPECT_LT(current, 1e-3);
    return point->blownFuses();
}

TEST_F(Logic, ADriveThatIsOverloadedShutsItselfDownAndWaitsForTheKey)
{
    const int drive = map.elementIndex("D-J2-19"), valve = map.elementIndex("TDV");
    Condition condition = in("tiller-commanded");
    condition.faults = {{Fault::Kind::OutOfValue, valve, -1, -1, 0, 0.2}};  // turns shorted: more than its 4 A
    const auto overloaded = solve(condition);
    EXPECT_EQ(overloaded.shutDown(), std::vector<int>{drive});
    EXPECT_FALSE(overloaded.isClosed(drive));
    EXPECT_NEAR(overloaded.currentThrough(valve), 0, 0.01) << "as if nothing commanded it";
    EXPECT_TRUE(overloaded.blownFuses().empty()) << "the drive was faster";
    EXPECT_TRUE(closed(overloaded, "K1")) << "and nothing else went with it";
    // The winding is mended and the key not yet cycled.
    condition.faults.clear();
    condition.latchedOff = {drive};
    const auto waiting = solve(condition);
    EXPECT_FALSE(waiting.isClosed(drive));
    EXPECT_NEAR(waiting.currentThrough(valve), 0, 0.01);
    condition.latchedOff.clear();
    EXPECT_GT(solve(condition).currentThrough(valve), 1.5) << "the key was off and on again";
}

TEST_F(Logic, AWindingBelowTheLimitOfItsDriveRunsHotAndIsNotShutDown)
{
    Condition condition = in("tiller-commanded");
    condition.faults = {{Fault::Kind::OutOfValue, map.elementIndex("TDV"), -1, -1, 0, 0.7}};
    const auto point = solve(condition);
    EXPECT_TRUE(point.shutDown().empty());
    EXPECT_GT(point.currentThrough(map.elementIndex("TDV")),
              1.2 * solve(in("tiller-commanded")).currentThrough(map.elementIndex("TDV")));
}

TEST_F(Logic, AFeedThatItsOwnLoadsPullDownChattersAndIsReported)
{
    // The module wakes on this feed, switches its loads on, and they pull the feed down again.
    bool found = false;
    for (double r = 0.5; r < 40 && !found; r *= 1.2) {
        Condition condition = in("idle-warm");
        condition.faults = {added("X4-7", r)};
        const auto point = solve(condition);
        if (!point.chatters()) continue;
        found = true;
        const int node = map.nodeIndex("J2-1.a");
        EXPECT_GT(point.potential(node), 0.5) << "the mean of both";
        EXPECT_LT(point.potential(node), 13.5);
    }
    EXPECT_TRUE(found);
}

TEST(Fuses, OpenAtTheirMultipleOfTheRatingAndNotBefore)
{
    const Map& map = test::smallMap();
    const std::vector<int> f1{map.elementIndex("F1")};
    EXPECT_TRUE(blownBehindFuse(map, 1.0).empty()) << "12 A are above the rating of 10 A, but not for minutes";
    EXPECT_EQ(blownBehindFuse(map, 0.75), f1);
    EXPECT_EQ(blownBehindFuse(map, 0.05), f1);
}

TEST(Fuses, TheMapMaySayAtWhatTheyOpen)
{
    const auto slow = test::smallMapWithFuse(R"("opens_at":"200 %")");
    ASSERT_TRUE(slow) << slow.error().front().message();
    EXPECT_TRUE(blownBehindFuse(*slow, 0.75).empty());
    EXPECT_EQ(blownBehindFuse(*slow, 0.4).size(), 1U);
    const auto wrong = test::smallMapWithFuse(R"("opens_at":"20 %")");
    ASSERT_FALSE(wrong) << "a fuse that opens below its rating";
    EXPECT_NE(wrong.error().front().message().find("opens_at"), std::string::npos);
}

TEST_F(Logic, PowerIsBalanced)
{
    // What the batteries give is what all other branches take: the sum of U·I over two-terminal elements and the load,
    // with the module's own ports; regulators and sensors pass a few hundredths of an ampere more.
    for (const char* state : {"key-on", "cranking"}) {
        const auto point = solve(in(state));
        double sum = 0, given = 0;
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            const Element& e = map.elements[i];
            const double p =
                (point.potential(e.nodes[0]) - point.potential(e.nodes[1])) * point.currentThrough(static_cast<int>(i));
            const bool source = e.kind == ElementKind::Battery || e.kind == ElementKind::Alternator;
            if (source)
                given -= p;
            else
                sum += p;
        }
        EXPECT_NEAR(sum, given, 0.03 * given + 4.0) << state;
    }
}

}  // namespace
}  // namespace ilvek
