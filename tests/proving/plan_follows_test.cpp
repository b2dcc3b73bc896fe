// What the plan asks for after a blown fuse, after a repair, and where everything stays mated: on a machine of a sheet.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "circuit/operating_point.h"
#include "proving/plan.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::HasSubstr;

std::optional<Step> next(const OneJob& job)
{
    return nextStep(job.map(), job.open().assessment, {job.now(), job.open().job.state});
}

TEST(PlanFollows, ABlownFuseIsASymptomAndTheHuntForWhatBlewItGoesOn)
{
    OneJob job(test::hauler());
    job.take("plus > minus; key off", "25.1 V");
    job.take("A3 > minus; key off; apart A", "0.01 V");
    job.take("F1 in > minus; key off", "25.1 V");
    EXPECT_EQ(job.take("F1 out > minus; key off", "0.02 V").finding, Finding::FuseBlown);
    auto step = next(job);
    ASSERT_TRUE(step);
    EXPECT_THAT(step->title, HasSubstr("21 W lamp in place of F1"));
    EXPECT_TRUE(step->unplugged.empty());
    job.take(*step, "0.4 V");  // bright: the short is fed
    step = next(job);
    ASSERT_TRUE(step);
    EXPECT_EQ(step->unplugged, std::vector<std::string>{"A"});
    job.take(*step, "24.9 V");  // out: what was parted holds the short
    step = next(job);
    EXPECT_TRUE(!step || step->title.find("in place of F1") == std::string::npos);
}

// Two fuses went in two states: the hunt for what blew one is made in the state in which that one was found.
TEST(PlanFollows, WhatBlewAFuseIsHuntedInTheStateInWhichItWasFoundBlown)
{
    for (const bool memoryFirst : {true, false}) {
        OneJob job(test::hauler());
        const auto memory = [&] {
            job.take("plus > minus; key off", "25.1 V");
            job.take("A3 > minus; key off; apart A", "0.01 V");
            job.take("F1 in > minus; key off", "25.1 V");
            EXPECT_EQ(job.take("F1 out > minus; key off", "0.02 V").finding, Finding::FuseBlown);
        };
        const auto main = [&] {
            job.take("plus > minus; key on", "25.1 V");
            job.take("A1 > minus; key on; apart A", "0.01 V");
            job.take("F3 in > minus; key on", "25.0 V");
            EXPECT_EQ(job.take("F3 out > minus; key on", "0.02 V").finding, Finding::FuseBlown);
        };
        if (memoryFirst) memory();
        main();
        if (!memoryFirst) memory();
        const auto step = next(job);
        ASSERT_TRUE(step);
        const bool ofMemory = step->title.find("in place of F1") != std::string::npos;
        EXPECT_TRUE(ofMemory || step->title.find("in place of F3") != std::string::npos) << step->title;
        EXPECT_EQ(step->state, ofMemory ? "key-off" : "key-on") << step->title;
    }
}

TEST(PlanFollows, AFuseOnASharedBusIsJudgedByItsOwnTwoSidesInEitherOrder)
{
    OneJob job(test::hauler());
    job.take("plus > minus; key on", "25.1 V");
    job.take("F2 out > minus; key on", "25.0 V");
    const Judgement& j = job.take("F2 in > minus; key on", "25.05 V");
    EXPECT_EQ(j.verdict, Verdict::Good) << j.arithmetic;
    EXPECT_THAT(j.arithmetic, HasSubstr("behind F2")) << "not of another fuse on the same bus";
}

TEST(PlanFollows, AfterARepairTheFailedTestComesFirstWithTheSameLoad)
{
    OneJob job(test::hauler());
    job.take("plus > minus; key off", "25.1 V");
    job.take("A3 > minus; key off; apart A", "25.0 V");
    ASSERT_EQ(job.take("A3 > A6; key off; apart A; load 55 W lamp", "3.1 V").verdict, Verdict::FailsLoaded);
    job.enter(Repair{0, {"F1"}, "fuse holder cleaned"});
    job.take("plus > minus; key off", "25.1 V", 300);
    auto step = next(job);
    ASSERT_TRUE(step);
    // The open reading of the pair is stale too and comes before.
    EXPECT_EQ(step->test, TestKind::OpenSupply);
    EXPECT_THAT(step->why, HasSubstr("After the repair"));
    job.take(*step, "25.0 V");
    step = next(job);
    ASSERT_TRUE(step);
    EXPECT_THAT(step->title, HasSubstr("After the repair: Load A3"));
    EXPECT_EQ(step->load, "lamp-55w") << "less proves nothing";
    EXPECT_THAT(step->why, HasSubstr("3.1 V before"));
    EXPECT_FALSE(isFailure(job.take(*step, "24.6 V").verdict));
    step = next(job);
    EXPECT_TRUE(!step || step->title.find("After the repair") == std::string::npos);
}

// Both ways of working prove every supply and every return.
TEST(PlanFollows, EverythingMatedIsProvenByTheClamp)
{
    OneJob job(test::hauler());
    const Map& map = job.map();
    job.enter(WayOfWorkingChange{WayOfWorking{true, false, ""}});
    for (int n = 0; n < 80; ++n) {
        const auto step = next(job);
        if (!step) break;
        EXPECT_TRUE(step->load.empty()) << step->title << ": no lamp on a mated module";
        const auto point = operatingPoint(map, *conditionOf(map, *step));
        ASSERT_TRUE(point);
        const double volts = point->voltage(map.nodeIndex(step->red), map.nodeIndex(step->black));
        std::string figure = fmt::format("{:.3f}", volts);
        const bool clamps = step->test == TestKind::LoadedSupply || step->test == TestKind::ReturnDrop;
        if (clamps)
            figure += fmt::format(" @ {:.2f} A", std::abs(point->currentThrough(map.terminal(step->terminal).contact)));
        const auto reading = readingAtStep(job.open(), *step, figure, job.now());
        ASSERT_TRUE(reading) << figure << ": " << reading.error().message();
        for (EventBody& body : entriesOf(job.open(), *reading))
            job.enter(std::move(body));
    }
    for (const char* terminal : {"A1", "A2", "A3", "A4", "A6", "A7", "A8"})
        EXPECT_EQ(job.proof(terminal), ProofState::ProvenLoaded) << terminal;
}

TEST(PlanFollows, WhatTheModuleReportsProvesItsSupplyUnderItsOwnLoad)
{
    OneJob job(test::hauler());
    job.take("plus > minus; key off", "25.2 V");
    job.take("red A3; key off", "module 24.9 V");
    EXPECT_EQ(job.proof("A3"), ProofState::ProvenLoaded);
}

}  // namespace
}  // namespace ilvek
