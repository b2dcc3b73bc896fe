// From what is typed to the entry: at a step of the plan and anywhere.
#include "open_job/taking.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::HasSubstr;

TEST(Taking, AStepTakesItsOwnUnitAndRefusesAnother)
{
    const OneJob job(test::hauler());
    const Map& map = job.map();
    const Step open = openStep(map, {}, map.terminalIndex("A3"), map.stateIndex("key-off"));
    const auto take = [&](const Step& step, const char* text) { return readingAtStep(job.open(), step, text, 5); };
    ASSERT_TRUE(take(open, "25.1"));
    EXPECT_EQ(take(open, "25.1")->test, TestKind::OpenSupply);
    EXPECT_EQ(take(open, "25.1")->time_ms, 5);
    EXPECT_EQ(take(open, "24.9..25.1")->most, 25.1);
    EXPECT_THAT(take(open, "0.4 ohm").error().message(), HasSubstr("this is in ohms, but volts are asked for"));
    EXPECT_FALSE(take(open, "bright")) << "no lamp is in this step";
    const Step loaded = loadStep(map, {}, map.terminalIndex("A3"), map.stateIndex("key-off"));
    ASSERT_TRUE(take(loaded, "dark"));
    EXPECT_EQ(take(loaded, "dark")->test, TestKind::Shown);
    EXPECT_EQ(take(loaded, "dark")->load, loaded.load);
    EXPECT_TRUE(take(loaded, "0.02 tripped")->inShutDown);
    const Step look = lookStep(map, map.terminalIndex("A3"), 0);
    EXPECT_EQ(take(look, "2")->found, Found::Damaged);
    EXPECT_THAT(take(look, "12.4").error().message(), HasSubstr("1 as drawn"));
}

TEST(Taking, TheBatteryOfNowStandsWithTheReading)
{
    OneJob job(test::hauler());
    job.take("plus > minus; key off", "25.1 V");
    job.take("A3 > minus; key off; apart A", "25.0 V", 12);
    EXPECT_EQ(job.last().battery_V, 25.1);
    EXPECT_NEAR(job.last().batteryAge_s.value_or(-1), 12, 0.1);
    job.take("A4 > minus; key on; apart A", "25.0 V");
    EXPECT_FALSE(job.last().battery_V) << "read in another state";
    EXPECT_EQ(job.open().job.state, "key-on") << "the reading says in which state the machine now stands";
}

TEST(Taking, AStepAnywhereSaysWhereTheLeadsGoAndWhatASoundCircuitReads)
{
    const Map& map = test::hauler();
    const Step step =
        stepAnywhere(map, test::setUpAt(map, "F1 out > minus; key off; apart A; load 21 W lamp at A3 > A6"));
    EXPECT_EQ(step.test, TestKind::SegmentWalk);
    EXPECT_THAT(step.title, HasSubstr("F1 far side to battery minus"));
    EXPECT_THAT(step.instructions.front(), HasSubstr("load 21 W lamp at A3 > A6"));
    EXPECT_THAT(step.expectation, HasSubstr("A sound circuit reads 25"));
    EXPECT_TRUE(step.cautions.empty());
    const Step danger = stepAnywhere(map, test::setUpAt(map, "A9 > minus; bridged plus > A9 1 A"));
    EXPECT_THAT(danger.cautions.front(), HasSubstr("can kill it"));
    const Step clamp = stepAnywhere(map, test::setUpAt(map, "key on; clamp A2"));
    EXPECT_EQ(clamp.title, "Clamp on A2");
    EXPECT_EQ(clamp.test, TestKind::Current);
}

TEST(Taking, AStateThatTheReadingTellsIsEnteredWithIt)
{
    OneJob job(test::hauler());
    const auto reading = readingAnywhere(job.open(), test::setUpAt(job.map(), "A4 > minus; key on"), "25 V", 1);
    ASSERT_TRUE(reading);
    const auto entries = entriesOf(job.open(), *reading);
    ASSERT_EQ(entries.size(), 2U);
    EXPECT_EQ(std::get<StateChange>(entries[0]).state, "key-on");
    const auto same = readingAnywhere(job.open(), test::setUpAt(job.map(), "A3 > minus; key off"), "25 V", 1);
    EXPECT_EQ(entriesOf(job.open(), *same).size(), 1U);
}

TEST(Taking, WhatIsOnNoMapIsRefused)
{
    const OneJob job(test::hauler());
    ilvek::SetUp setUp = test::setUpAt(job.map(), "A3 > minus");
    setUp.removed = {"F99"};
    const auto reading = readingAnywhere(job.open(), setUp, "25 V", 1);
    ASSERT_FALSE(reading);
    EXPECT_THAT(reading.error().message(), HasSubstr("the part “F99”"));
}

TEST(OpenJobAfterARepair, ComplaintAndCodesAreOfBefore)
{
    OneJob job(test::pt9());
    const Function& function = job.map().functions.front();
    Complaint complaint;
    complaint.text = "it fails";
    complaint.fails = {function.id};
    job.enter(complaint);
    ASSERT_FALSE(job.map().codes.empty());
    job.enter(CodesRead{{{job.map().codes.front().code, "", ""}}});
    EXPECT_TRUE(job.open().hasComplaint());
    EXPECT_EQ(job.open().reports().dead.size(), 1U);
    EXPECT_EQ(job.open().reports().codes.size(), 1U);
    job.enter(Repair{0, {}, "terminal mended"});
    EXPECT_FALSE(job.open().hasComplaint());
    EXPECT_TRUE(job.open().reports().dead.empty());
    EXPECT_TRUE(job.open().reports().codes.empty());
    job.enter(complaint);  // told anew
    EXPECT_TRUE(job.open().hasComplaint());
    EXPECT_EQ(job.open().reports().dead.size(), 1U);
}

}  // namespace
}  // namespace ilvek
