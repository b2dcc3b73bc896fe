// After the repair: what failed is read again as it was read, debts are made good, and a job ends with its reasons.
#include <gmock/gmock.h>

#include "repair/closing.h"
#include "repair/repeated.h"
#include "report/report.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::Contains;
using testing::HasSubstr;

const char* const loaded = "A1 > A6; key on; apart A; load 21 W lamp";

// A supply that dies under a lamp, and is mended.
OneJob mended()
{
    OneJob job(test::hauler());
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    EXPECT_TRUE(isFailure(job.take(loaded, "17.2 V").verdict));
    job.enter(Repair{0, {"F3"}, "contact of the fuse cleaned"});
    return job;
}

std::vector<Repeated> repeated(const OneJob& job)
{
    return repeatedAfterRepair(job.open().assessment);
}

std::vector<std::string> open(const OneJob& job)
{
    return openBeforeClosing(job.open().job, job.open().assessment);
}

TEST(Repeated, NothingIsProvenUntilTheSameTestWasTaken)
{
    OneJob job = mended();
    ASSERT_EQ(repeated(job).size(), 1U);
    EXPECT_EQ(repeated(job)[0].state, Repeated::State::NotYet);
    EXPECT_THAT(open(job), Contains(HasSubstr("not read again")));
    // Open-circuit says nothing of what failed under load.
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    EXPECT_EQ(repeated(job)[0].state, Repeated::State::NotYet);
    job.take(loaded, "24.6 V");
    ASSERT_EQ(repeated(job)[0].state, Repeated::State::Right);
    EXPECT_NEAR(*repeated(job)[0].change, 7.4, 1e-9);
    EXPECT_EQ(repeatedWords(job.open().assessment, repeated(job)[0]), "24.6 V, 17.2 V before: +7.40 V");
    EXPECT_TRUE(open(job).empty());
}

TEST(Repeated, WhatFailsStillIsNotCalledMended)
{
    OneJob job = mended();
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    job.take(loaded, "18.0 V");
    EXPECT_EQ(repeated(job)[0].state, Repeated::State::StillFails);
    EXPECT_THAT(open(job), Contains(HasSubstr("fails still")));
    // A later repair asks for it anew.
    job.enter(Repair{0, {"A1"}, "terminal crimped"});
    EXPECT_EQ(repeated(job)[0].state, Repeated::State::NotYet);
}

// Through a supply's load flows what its return carries: mending the return makes the loaded reading one to repeat.
TEST(Repeated, AMendedReturnIsProvenByTheSupplyThatFailedOverIt)
{
    const Map& map = test::storyMap("milking-arm");
    OneJob job(map);
    const char* const overIt = "1 > 7; key on; apart C1; load 55 W lamp";
    job.take("battery plus > battery minus; key on", "25.0 V");
    job.take("1 > 7; key on; apart C1", "24.98 V");
    job.take(overIt, "5.1 V");
    job.enter(Repair{0, {"wire 7.a to G2.ring"}, "strand crimped anew"});
    job.take("battery plus > battery minus; key on", "25.0 V");
    job.take("1 > 7; key on; apart C1", "24.95 V");
    EXPECT_EQ(job.take(overIt, "24.3 V").verdict, Verdict::Good);
    ASSERT_EQ(repeated(job).size(), 1U);
    EXPECT_EQ(repeated(job)[0].state, Repeated::State::Right);
}

TEST(Repeated, WithoutARepairThereIsNothingToProve)
{
    OneJob job(test::hauler());
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take(loaded, "17.2 V");
    EXPECT_TRUE(repeated(job).empty());
    EXPECT_TRUE(open(job).empty());
}

TEST(Debts, StandUntilTheyAreMadeGood)
{
    OneJob job = mended();
    job.enter(Debt{"wire cut", "A9, 10 cm before the plug"});
    const std::int64_t entry = job.open().job.debts.at(0).id;
    EXPECT_EQ(open(job).front(), "Owed to the machine: wire cut, A9, 10 cm before the plug.");
    job.enter(DebtCleared{entry, "soldered and sleeved"});
    ASSERT_TRUE(job.open().job.debts[0].cleared);
    EXPECT_THAT(open(job), testing::Not(Contains(HasSubstr("wire cut"))));
    const Gate gate = job.gate();
    const std::string html = reportHtml({job.open().job, job.open().assessment, gate, job.now()});
    EXPECT_THAT(html, HasSubstr("soldered and sleeved"));
    EXPECT_THAT(html, HasSubstr("After the repair"));
}

TEST(Debts, FunctionsAndCodesAreOpenUntilTheyWereTriedAgain)
{
    OneJob job(test::hauler());
    const Function& f = test::hauler().functions.front();
    Complaint complaint;
    complaint.text = "dead", complaint.fails = {f.id};
    job.enter(complaint);
    job.enter(CodesRead{{{"C1", "", ""}}});
    EXPECT_TRUE(open(job).empty()) << "nothing was mended yet";
    job.enter(Repair{0, {"F3"}, "new fuse"});
    EXPECT_EQ(open(job).size(), 2U);
    FunctionsSeen seen;
    seen.state = "key-on", seen.works = {f.id};
    job.enter(seen);
    job.enter(CodesRead{});
    EXPECT_TRUE(open(job).empty());
}

TEST(Closing, NothingIsRepairedThatNobodyMended)
{
    OneJob job(test::hauler());
    job.take("battery plus > battery minus; key on", "25.1 V");
    const auto closed =
        closing(job.open().job, job.open().assessment, job.gate(), JobClosed::Verdict::Repaired, "done");
    ASSERT_FALSE(closed);
    EXPECT_THAT(closed.error().message(), HasSubstr("nothing was mended"));
}

TEST(Closing, NeedsAWordForWhatIsLeft)
{
    OneJob job = mended();
    const auto close = [&](JobClosed::Verdict v, const std::string& reasons) {
        return closing(job.open().job, job.open().assessment, job.gate(), v, reasons);
    };
    using V = JobClosed::Verdict;
    EXPECT_FALSE(close(V::Repaired, "")) << "the failed test was not taken again";
    const auto closed = close(V::Repaired, "the customer could not wait");
    ASSERT_TRUE(closed);
    EXPECT_EQ(closed->left.size(), 3U) << "and what blew the fuse, and its rating";
    EXPECT_FALSE(closed->gate.empty()) << "frozen with the entry";
    EXPECT_FALSE(close(V::NotFound, "")) << "why it ends is always said";
    EXPECT_FALSE(close(V::ModuleBad, "it must be")) << "the gate did not say so";
    EXPECT_FALSE(close(V::ModuleGood, "it must be"));
    job.enter(*closed);
    ASSERT_TRUE(job.open().job.closed);
    job.enter(Note{"called the customer"});
    EXPECT_TRUE(job.open().job.closed) << "a note opens nothing";
    job.take("battery plus > battery minus; key on", "25.1 V");
    EXPECT_FALSE(job.open().job.closed) << "a reading opens it again";
}

TEST(Closing, EntriesAreReadBackAsTheyWereWritten)
{
    JobClosed closed{JobClosed::Verdict::AskedForHelp, "", "no time", "Not proven.", {"a", "b"}};
    const auto back = readBody("closed", writeBody(closed), "entry 1");
    ASSERT_TRUE(back);
    const auto& is = std::get<JobClosed>(*back);
    EXPECT_EQ(is.verdict, closed.verdict);
    EXPECT_EQ(is.reasons, "no time");
    EXPECT_EQ(is.left, closed.left);
    EXPECT_FALSE(readBody("closed", R"({"verdict":"perhaps"})", "entry 1"));
    EXPECT_EQ(std::get<Debt>(*readBody("debt", writeBody(Debt{"panel off", "left"}), "entry 2")).place, "left");
    EXPECT_FALSE(readBody("debt-cleared", R"({"debt":0})", "entry 3"));
    for (const char* id : {"repaired", "module-bad", "module-good", "not-found", "help"})
        EXPECT_EQ(verdictId(*closingFromId(id)), id);
}

}  // namespace
}  // namespace ilvek
