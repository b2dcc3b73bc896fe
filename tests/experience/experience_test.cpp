// The shop's memory: known-good figures of a machine type, and own cases that move the trade's rates.
#include <gmock/gmock.h>

#include <random>

#include "experience/case_file.h"
#include "experience/known_good.h"
#include "practice/field_machine.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::HasSubstr;

const char* const loaded = "A1 > A6; key on; apart A; load 21 W lamp";

OneJob soundJob(const std::string& serial, const std::string& volts_)
{
    OneJob job(test::hauler());
    JobDetails details;
    details.serial = serial;
    job.enter(details);
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    job.take(loaded, volts_);
    return job;
}

std::vector<GoodReading> goodOf(const OneJob& job, const std::string& name = "job")
{
    return goodReadings(job.open().job, job.open().assessment, name);
}

TEST(KnownGood, RangesOverMachinesOfOneType)
{
    KnownGood known;
    EXPECT_GT(known.add(goodOf(soundJob("1", "24.5 V"))), 0U);
    EXPECT_GT(known.add(goodOf(soundJob("2", "24.7 V"))), 0U);
    EXPECT_EQ(known.add(goodOf(soundJob("2", "24.7 V"))), 0U) << "the same again is nothing new";
    const ilvek::SetUp at = test::setUpAt(test::hauler(), loaded);
    const std::string words = known.words(TestKind::LoadedSupply, "A1", at);
    EXPECT_THAT(words, HasSubstr("2 machines"));
    EXPECT_THAT(words, HasSubstr("24.5"));
    EXPECT_THAT(words, HasSubstr("24.7"));
    EXPECT_THAT(words, HasSubstr("battery"));
    EXPECT_EQ(known.words(TestKind::LoadedSupply, "A1", test::setUpAt(test::hauler(), "A1 > A7; key on; apart A")), "")
        << "another set-up is another figure";
}

TEST(KnownGood, WhatFailedOrStoodBeforeARepairIsNotKept)
{
    OneJob job = soundJob("3", "17.2 V");
    for (const GoodReading& g : goodOf(job))
        EXPECT_NE(g.reading.terminal, "A1");
    OneJob mended = soundJob("4", "24.6 V");
    EXPECT_FALSE(goodOf(mended).empty());
    mended.enter(Repair{0, {"F3"}, "cleaned"});
    EXPECT_TRUE(goodOf(mended).empty()) << "read before the repair";
}

TEST(KnownGood, IsKeptInAFileOfItsTypeAndReadAgain)
{
    const test::TemporaryFolder folder;
    const auto file = KnownGood::fileIn(folder.path(), test::hauler());
    EXPECT_NE(file, KnownGood::fileIn(folder.path(), test::pt9()));
    auto known = KnownGood::read(file);
    ASSERT_TRUE(known) << known.error().message();
    known->add(goodOf(soundJob("1", "24.5 V")));
    ASSERT_TRUE(known->write(file));
    const auto again = KnownGood::read(file);
    ASSERT_TRUE(again);
    EXPECT_EQ(again->readings().size(), known->readings().size());
    const ilvek::SetUp at = test::setUpAt(test::hauler(), loaded);
    EXPECT_EQ(again->words(TestKind::LoadedSupply, "A1", at), known->words(TestKind::LoadedSupply, "A1", at));
    ASSERT_TRUE(KnownGood().write(folder / "other.json"));
    EXPECT_FALSE(CaseFile::read(folder / "other.json")) << "another kind of file";
}

// A job that is closed with its proof teaches; one without it does not.
OneJob closedJob(bool proven)
{
    OneJob job = soundJob("5", "17.2 V");
    job.enter(Repair{0, {"F3"}, "cleaned"});
    if (proven) job.take("battery plus > battery minus; key on", "25.1 V");
    if (proven) job.take("A1 > A6; key on; apart A", "24.9 V");
    if (proven) job.take(loaded, "24.6 V");
    job.enter(JobClosed{JobClosed::Verdict::Repaired, "shown directly", "done", "", {}});
    return job;
}

TEST(OwnCases, OnlyAProvenRepairTeaches)
{
    OwnCases own;
    EXPECT_FALSE(countCase(closedJob(false).open().job, closedJob(false).open().assessment, own));
    EXPECT_EQ(own.jobs, 0);
    const OneJob job = closedJob(true);
    ASSERT_TRUE(countCase(job.open().job, job.open().assessment, own));
    EXPECT_EQ(own.jobs, 1);
    double expected = 0;
    int failed = 0;
    for (const OwnCase& c : own.cases) {
        expected += c.expected, failed += c.failed;
        EXPECT_EQ(c.failed, c.kind == "fuse" ? 1 : 0) << c.kind;
    }
    EXPECT_NEAR(expected, 1, 1e-9) << "one fault was to be expected";
    EXPECT_EQ(failed, 1);
}

TEST(OwnCases, AreCountedOnceAndMayBeReset)
{
    const test::TemporaryFolder folder;
    CaseFile file;
    const OneJob job = closedJob(true);
    EXPECT_TRUE(file.count("a", job.open().job, job.open().assessment));
    EXPECT_TRUE(file.count("a", job.open().job, job.open().assessment));
    EXPECT_EQ(file.all().jobs, 1);
    ASSERT_TRUE(file.write(folder / "own.json"));
    const auto again = CaseFile::read(folder / "own.json");
    ASSERT_TRUE(again) << again.error().message();
    EXPECT_EQ(again->all().jobs, 1);
    std::filesystem::remove(folder / "own.json");
    EXPECT_EQ(CaseFile::read(folder / "own.json")->all().jobs, 0);
}

TEST(OwnCases, MoveThePriorsByTheirCountsAndNoFurther)
{
    EXPECT_DOUBLE_EQ(ownMultiplier({"fuse", 0, 0}), 1);
    EXPECT_DOUBLE_EQ(ownMultiplier({"fuse", 10, 2.5}), 2);
    EXPECT_DOUBLE_EQ(ownMultiplier({"fuse", 500, 1}), mostFactor);
    OneJob job(test::hauler());
    const auto share = [&](const Map& map, const std::string& kind) {
        double sum = 0, of = 0;
        for (const Suspect& s : suspectsOf(map, true)) {
            if (!isFault(s)) continue;
            sum += s.prior;
            if (caseKindOf(map, s) == kind) of += s.prior;
        }
        return of / sum;
    };
    const double before = share(job.open().job.map, "fuse");
    const std::string document = job.open().job.map.document;
    job.enter(OwnCases{{{"fuse", 10, 2.5}, {"module", 0, 5}}, 30});
    const double odds = share(job.open().job.map, "fuse") / before;
    EXPECT_GT(odds, 1.5);
    EXPECT_LT(odds, 2.6);
    EXPECT_EQ(job.open().job.map.document, document);
    // A withdrawn entry weighs no more.
    job.enter(Undo{1});
    EXPECT_NEAR(share(job.open().job.map, "fuse"), before, 1e-12);
}

// Held-out machines: a shop in which contacts fail three times as often, and one in which all is as the trade says.
struct HeldOut {
    double gain = 0;  // mean log probability of the hidden kind with own cases, less without
};

HeldOut heldOut(const std::map<std::string, double>& truth, unsigned seed)
{
    std::mt19937 random(seed);
    const auto hiddenKind = [&](const Map& map) {
        std::vector<double> weights;
        std::vector<std::string> kinds;
        for (const Suspect& s : suspectsOf(map, true)) {
            if (!isFault(s)) continue;
            kinds.push_back(caseKindOf(map, s));
            const auto at = truth.find(kinds.back());
            weights.push_back(s.prior * (at == truth.end() ? 1 : at->second));
        }
        std::discrete_distribution<std::size_t> draw(weights.begin(), weights.end());
        return kinds[draw(random)];
    };
    const auto chanceOf = [](const Map& map, const std::string& kind) {
        double of = 0, sum = 0;
        for (const Suspect& s : suspectsOf(map, true)) {
            if (!isFault(s)) continue;
            sum += s.prior;
            if (caseKindOf(map, s) == kind) of += s.prior;
        }
        return of / sum;
    };
    const std::vector<const Map*> machines{&test::hauler(), &test::washer(), &test::storyMap("sweeper-lamps"),
                                           &test::storyMap("milking-arm"), &test::storyMap("sprayer-heater")};
    std::map<std::string, OwnCase> cases;
    constexpr int learnt = 120, asked = 120;
    for (int i = 0; i < learnt; ++i) {
        const Map& map = *machines[static_cast<std::size_t>(i) % machines.size()];
        double sum = 0;
        std::map<std::string, double> shares;
        for (const Suspect& s : suspectsOf(map, true)) {
            if (isFault(s)) shares[caseKindOf(map, s)] += s.prior, sum += s.prior;
        }
        for (const auto& [kind, prior] : shares)
            cases[kind].kind = kind, cases[kind].expected += prior / sum;
        ++cases[hiddenKind(map)].failed;
    }
    OwnCases own;
    for (const auto& [kind, c] : cases)
        own.cases.push_back(c);
    HeldOut out;
    for (int i = 0; i < asked; ++i) {
        const Map& map = *machines[static_cast<std::size_t>(i * 3 + 1) % machines.size()];
        Map moved = map;
        weighOwnCases(moved, own);
        const std::string kind = hiddenKind(map);
        out.gain += (std::log(chanceOf(moved, kind)) - std::log(chanceOf(map, kind))) / asked;
    }
    return out;
}

TEST(OwnCases, HelpWhereAShopDiffersAndDoNotHurtWhereItDoesNot)
{
    double helps = 0, hurts = 0;
    constexpr unsigned seeds = 6;
    for (unsigned seed = 1; seed <= seeds; ++seed) {
        helps += heldOut({{"contact", 3}, {"module", 0.3}, {"fuse", 0.4}}, seed).gain / seeds;
        hurts += heldOut({}, seed).gain / seeds;
    }
    // In nats per case. A gain of 0.05 halves no search; what matters is that nothing is lost by more than noise.
    EXPECT_GT(helps, 0.03);
    EXPECT_GT(hurts, -0.03);
}

}  // namespace
}  // namespace ilvek
