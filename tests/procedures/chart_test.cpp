// A maker's chart: its order is followed, and what each reading proved stands beside it.
#include "open_job/chart_text.h"
#include "open_job/procedure_step.h"
#include "support/maps.h"
#include "support/one_job.h"

#include <gmock/gmock.h>

namespace ilvek {
namespace {

using test::OneJob;
using testing::HasSubstr;

constexpr const char* text =
    "# bulletin 4\n"
    "1 | A1 > A6; key on | below 23 V | 2 | 3\n"
    "2 | F3 out > battery minus; key on | below 23 V | Feed before the fuse box | Wire to the module\n"
    "3 | A9 > A10; key on | above 5.2 V | Replace the sensor | Replace the module\n";

class ChartTest : public ::testing::Test {
protected:
    static Procedure of(const OneJob& job)
    {
        const auto p = procedureOf(job.open(), "chart", "", job.now());
        EXPECT_TRUE(p);
        return p.value_or(Procedure{});
    }
    static std::string refused(const std::string& chart)
    {
        const auto read = parseChart(test::hauler(), chart, "key-on");
        return read ? "taken" : read.error().message();
    }
};

TEST_F(ChartTest, LeadsFromStepToStepAndEndsInItsOwnWords)
{
    OneJob job(test::hauler());
    EXPECT_EQ(of(job).ending->fact.id, "chart.end.none");
    const auto steps = parseChart(job.map(), text, "key-on");
    ASSERT_TRUE(steps) << steps.error().message();
    ASSERT_EQ(steps->size(), 3U);
    job.enter(ChartEntered{"bulletin 4", *steps});
    EXPECT_EQ(of(job).next()->id, "1");
    job.take(*stepOf(job.map(), *of(job).next()->asked), "24.8 V");
    EXPECT_EQ(of(job).next()->id, "3") << "not below: the other way";
    job.take(*stepOf(job.map(), *of(job).next()->asked), "5.0 V");
    const Procedure p = of(job);
    ASSERT_TRUE(p.ending);
    EXPECT_EQ(p.ending->fact.of.front().second, "Replace the module");
    EXPECT_EQ(p.ending->kind, Ending::Kind::Open) << "the maker's word is no finding of ours";
    EXPECT_EQ(job.open().gate(job.now(), nullptr).outcome, Outcome::NotProven);
    // What the readings proved stands beside them.
    for (const Stage& s : p.stages)
        EXPECT_GE(s.says.size(), 2U) << s.id;
    job.enter(ChartEntered{});
    EXPECT_EQ(of(job).ending->fact.id, "chart.end.none");
}

TEST_F(ChartTest, AChartThatLeadsRoundIsSaid)
{
    OneJob job(test::hauler());
    const auto steps = parseChart(
        job.map(), "1 | A1 > A6; key on | below 23 V | 1 | 2\n2 | A1 > A6; key on | above 20 V | 1 | end\n", "key-on");
    ASSERT_TRUE(steps);
    job.enter(ChartEntered{"round", *steps});
    job.take("A1 > A6; key on", "24.8 V");
    EXPECT_EQ(of(job).ending->fact.id, "chart.end.round");
}

TEST_F(ChartTest, WhatCannotBeMeantIsNamedByItsLine)
{
    EXPECT_THAT(refused("1 | A1 > A6 | below 23 V | 2"), HasSubstr("line 1"));
    EXPECT_THAT(refused("\n1 | Z9 > A6 | below 23 V | a | b"), HasSubstr("line 2"));
    EXPECT_THAT(refused("1 | A1 > A6 | about 23 V | a | b"), HasSubstr("below 11.5 V"));
    EXPECT_THAT(refused("1 | A1 > A6 | below soon | a | b"), HasSubstr("soon"));
    EXPECT_THAT(refused("1 | A1 > A6 | below 23 V | 7 | b"), HasSubstr("step 7"));
    EXPECT_THAT(refused("1 | A1 > A6 | below 23 V | a | b\n1 | A1 > A6 | below 2 V | a | b"), HasSubstr("already"));
    EXPECT_THAT(refused("# nothing\n"), HasSubstr("no step"));
    EXPECT_EQ(refused("1 | A1 > A6; key off | above 2 ohm | a | b"), "taken");
}

}  // namespace
}  // namespace ilvek
