// Where the leads stand, what is connected and what is said, for each kind of step.
#include "proving/step.h"

#include <gmock/gmock.h>

#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "proving/walk.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::Contains;
using testing::HasSubstr;

class StepTest : public testing::Test {
protected:
    const Map& map = test::pt9();
    int on = map.stateIndex("key-on");
    int terminal(const char* id) { return map.terminalIndex(id); }
};

TEST_F(StepTest, TheBatteryIsReadOnItsPosts)
{
    const Step step = batteryStep(map, "cranking");
    EXPECT_EQ(step.red, "B1.+");
    EXPECT_EQ(step.black, "B1.-");
    EXPECT_THAT(step.expectation, HasSubstr("At least 9.60 V (VD-31)"));
    EXPECT_THAT(step.cautions, Contains(HasSubstr("Rotating parts")));
}

TEST_F(StepTest, AnOpenReadingNamesCavityColourAndLimit)
{
    const Step step = openStep(map, {}, terminal("J2-1"), on);
    EXPECT_EQ(step.red, "J2-1.a");
    EXPECT_EQ(step.black, "B1.-");
    EXPECT_TRUE(step.load.empty());
    EXPECT_THAT(step.instructions[1], HasSubstr("violet with white"));
    EXPECT_THAT(step.expectation, HasSubstr("At most 150 mV below battery (VD-31)"));
    EXPECT_THAT(step.expectation, HasSubstr("A sound circuit reads 12."));
}

TEST_F(StepTest, ALoadStandsBetweenTheTerminalAndItsOwnReturn)
{
    const Step step = loadStep(map, {}, terminal("J2-1"), on);
    EXPECT_EQ(step.loadFrom, "J2-1.a");
    EXPECT_EQ(step.loadTo, "J2-3.a");
    EXPECT_EQ(step.black, "J2-3.a");
    EXPECT_EQ(step.load, "lamp-55w") << "amperes for a main feed";
    EXPECT_THAT(step.instructions[0], HasSubstr("55 W lamp from J2-1 to J2-3"));
}

TEST_F(StepTest, AChosenLoadIsTakenWithItsWarningUnlessItIsForbidden)
{
    WayOfWorking working;
    working.load = "lamp-5w";
    const Step small = loadStep(map, working, terminal("J2-1"), on);
    EXPECT_EQ(small.load, "lamp-5w");
    EXPECT_THAT(small.cautions, Contains(HasSubstr("a pass would prove nothing")));
    working.load = "motor";
    EXPECT_EQ(loadStep(map, working, terminal("J2-1"), on).load, "lamp-55w") << "the motor would take the fuse";
}

TEST_F(StepTest, TheSwapMovesOnlyTheBlackLead)
{
    const Step load = loadStep(map, {}, terminal("J2-1"), on), swap = swapStep(map, {}, terminal("J2-1"), on);
    EXPECT_EQ(swap.red, load.red);
    EXPECT_EQ(swap.load, load.load);
    EXPECT_EQ(swap.loadTo, load.loadTo);
    EXPECT_EQ(swap.black, "B1.-");
}

TEST_F(StepTest, AWalkKeepsTheLoadAndMovesTheRedLead)
{
    const Step step = walkStep(map, {}, terminal("J2-1"), on, map.nodeIndex("X4-7.b"));
    EXPECT_EQ(step.red, "X4-7.b");
    EXPECT_EQ(step.load, "lamp-55w");
    EXPECT_THAT(step.instructions[1], HasSubstr("cab bulkhead"));
    const Step relay = walkStep(map, {}, terminal("J2-1"), on, map.nodeIndex("K1.87"));
    EXPECT_THAT(relay.cautions, Contains(HasSubstr("sockets must not be spread")));
}

// Every point of every walk: without current no point of a sound circuit differs from another.
TEST_F(StepTest, AWalkCarriesTheLoadThroughTheConductorItWalks)
{
    int walked = 0;
    for (const int t : map.moduleTerminals()) {
        const auto& role = map.terminal(t).role;
        if (!role || (!isSupply(*role) && groupOf(*role) != Group::Returns)) continue;
        const int state = map.terminal(t).neededIn.empty() ? on : map.terminal(t).neededIn.front();
        for (const WalkPoint& p : walkOf(map, {}, t).points) {
            if (!p.reachable) continue;
            const Step step = walkStep(map, {}, t, state, p.node);
            const auto condition = conditionOf(map, step);
            ASSERT_TRUE(condition) << step.title;
            const auto point = operatingPoint(map, *condition);
            ASSERT_TRUE(point);
            const double rated = findLoad(map.systemVoltage_V, step.load)->ratedCurrent_A;
            EXPECT_GT(std::abs(point->loadCurrent()), 0.8 * rated) << map.terminal(t).id << ", " << step.title;
            ++walked;
        }
    }
    EXPECT_GT(walked, 60);
}

TEST_F(StepTest, AReturnIsLoadedFromBatteryPlusThroughAFusedLead)
{
    const Step step = returnStep(map, {}, terminal("J1-7"), on);
    EXPECT_EQ(step.loadFrom, "B1.+");
    EXPECT_EQ(step.loadTo, "J1-7.a");
    EXPECT_EQ(step.unplugged, std::vector<std::string>{"J1"});
    EXPECT_THAT(step.instructions[0], HasSubstr("fused lead"));
}

TEST_F(StepTest, AFuseIsProbedOnEachSide)
{
    const int fuse = map.elementIndex("F15");
    EXPECT_EQ(fuseStep(map, terminal("J2-1"), fuse, false, on).red, "F15.in");
    EXPECT_EQ(fuseStep(map, terminal("J2-1"), fuse, true, on).red, "F15.out");
    EXPECT_THAT(fuseStep(map, terminal("J2-1"), fuse, true, on).cautions, Contains(HasSubstr("Never a larger fuse")));
}

TEST_F(StepTest, OhmsAreAskedOnADeadCircuitWithTheConnectorApart)
{
    const Step step = tableStep(map, terminal("J2-19"), {TestKind::Resistance, map.stateIndex("key-off"), ""});
    EXPECT_EQ(step.state, "key-off");
    EXPECT_EQ(step.unplugged, std::vector<std::string>{"J2"});
    EXPECT_THAT(step.cautions, Contains(HasSubstr("dead circuit only")));
    EXPECT_THAT(step.expectation, HasSubstr("6.4 Ω to 7.3 Ω (VD-33)"));
}

// The leads stand where the figure of the table is found: in the solved circuit, too.
TEST_F(StepTest, OhmsAreReadAcrossThePartThatTheTableMeans)
{
    int read = 0;
    for (const int index : map.moduleTerminals()) {
        for (const Requirement& need : requirementsOf(map, index)) {
            if (need.test != TestKind::Resistance) continue;
            const Step step = tableStep(map, index, need);
            const std::string& id = map.terminal(index).id;
            EXPECT_EQ(step.black, map.node(farEndOf(map, index))) << id;
            EXPECT_THAT(step.instructions[2], HasSubstr("Black lead on")) << id;
            EXPECT_THAT(step.expectation, HasSubstr("A sound circuit reads ")) << id << ": beside the table's figure";
            auto condition = conditionOf(map, step);
            ASSERT_TRUE(condition) << id;
            condition->meter = Meter{map.nodeIndex(step.red), map.nodeIndex(step.black), 10e6, Meter::Mode::Ohms};
            const auto display = displayOf(map, *condition);
            ASSERT_TRUE(display) << id;
            EXPECT_FALSE(display->live || display->overLimit) << id << ": " << step.black;
            for (const Expected& e : map.terminal(index).expected) {
                if (e.measure != Measure::Resistance) continue;
                EXPECT_TRUE(display->value >= e.low.value_or(0) && display->value <= e.high.value_or(1e9))
                    << id << " to " << step.black << " reads " << display->value << " Ω in the sound circuit";
                ++read;
            }
        }
    }
    EXPECT_GT(read, 10);
}

TEST_F(StepTest, BothSourcesAreShownWhereTheyDisagree)
{
    const Step step = tableStep(map, terminal("J2-26"), {TestKind::Level, on, ""});
    EXPECT_THAT(step.expectation, HasSubstr("VD-33"));
    EXPECT_THAT(step.expectation, HasSubstr("PT9-M"));
}

// "Read G1" and "Read ground point G1" were two tests beside each other.
TEST_F(StepTest, TheTwoSidesOfAGroundPointHaveTwoTitles)
{
    for (const Element& e : map.elements) {
        if (e.kind != ElementKind::Joint || e.place == "inside the module") continue;
        const auto titleAt = [&](int node) { return pointStep(map, node, map.batteryMinus(), on, {}, -1).title; };
        EXPECT_EQ(titleAt(e.nodes[0]), "Read " + map.nodeWords(e.nodes[0])) << e.id;
        EXPECT_NE(titleAt(e.nodes[0]), titleAt(e.nodes[1])) << e.id;
    }
    EXPECT_EQ(pointStep(map, map.terminal(map.terminalIndex("J2-1")).a, map.batteryMinus(), on, {}, -1).title,
              "Read J2-1");
}

TEST_F(StepTest, EveryStepOfTheScheduleIsComplete)
{
    for (const int index : map.moduleTerminals()) {
        for (const Requirement& need : requirementsOf(map, index)) {
            const Step step = need.test == TestKind::LoadedSupply   ? loadStep(map, {}, index, need.state)
                              : need.test == TestKind::AbsentSupply ? absentStep(map, {}, index, need.state)
                              : need.test == TestKind::ReturnDrop   ? returnStep(map, {}, index, need.state)
                                                                    : tableStep(map, index, need);
            const std::string& id = map.terminal(index).id;
            EXPECT_GE(map.nodeIndex(step.red), 0) << id;
            EXPECT_GE(map.nodeIndex(step.black), 0) << id;
            EXPECT_GE(map.stateIndex(step.state), 0) << id;
            ASSERT_EQ(step.instructions.size(), 3U) << id;
            EXPECT_FALSE(step.title.empty() || step.why.empty() || step.expectation.empty()) << id;
            EXPECT_GT(step.effort_s, 0) << id;
        }
    }
}

}  // namespace
}  // namespace ilvek
