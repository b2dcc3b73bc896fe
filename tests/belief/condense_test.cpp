// Of very many readings those that say most stay.
#include "belief/condense.h"

#include <algorithm>

#include <gtest/gtest.h>

#include "job/job.h"
#include "practice/long_job.h"
#include "support/maps.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

Observation reading(std::int64_t id, int place, double value)
{
    Observation o;
    o.id = id;
    o.probe = {place, 0, 10e6, -1};
    o.batteryProbe = {1, 0, 10e6, -1};
    o.value = value;
    o.sigma = 0.01;
    return o;
}

std::set<std::int64_t> idsOf(const std::vector<Observation>& all)
{
    std::set<std::int64_t> ids;
    for (const Observation& o : all)
        ids.insert(o.id);
    return ids;
}

TEST(Condense, AFewAreLeftAsTheyAre)
{
    std::vector<Observation> all;
    for (int i = 1; i < static_cast<int>(mostWeighed); ++i)
        all.push_back(reading(i, i, 12));
    EXPECT_EQ(condensed(all, {}).size(), all.size());
}

TEST(Condense, FailuresExtremesAndTheLastOfEachPlaceStay)
{
    std::vector<Observation> all;
    for (int i = 1; i <= 1000; ++i)
        all.push_back(reading(i, 10 + i % 20, i == 333 ? 2.0 : 12.0));
    const auto kept = idsOf(condensed(all, {5}));
    EXPECT_LT(kept.size(), mostWeighed);
    EXPECT_TRUE(kept.contains(5)) << "out of limits";
    EXPECT_TRUE(kept.contains(333)) << "a place that read otherwise once";
    for (int i = 981; i <= 1000; ++i)
        EXPECT_TRUE(kept.contains(i)) << "the last of its place";
}

TEST(Condense, ReportsAndTheBatteryAlwaysStay)
{
    std::vector<Observation> all;
    Observation told;
    told.kind = Observation::Kind::FunctionDead;
    all.push_back(told);
    all.push_back(reading(1, 1, 12.5));  // the battery
    for (int i = 2; i <= 800; ++i)
        all.push_back(reading(i, i, 12));
    const auto kept = condensed(all, {});
    EXPECT_EQ(kept.front().kind, Observation::Kind::FunctionDead);
    EXPECT_TRUE(idsOf(kept).contains(1));
}

TEST(Condense, TheChoiceDoesNotHangOnHowTheyCameIn)
{
    std::vector<Observation> all;
    for (int i = 1; i <= 700; ++i)
        all.push_back(reading(i, i % 90, 12 + 0.001 * (i % 7)));
    // One after the other, each time from all that there are, as a window does it.
    std::vector<Observation> soFar;
    for (const Observation& o : all) {
        soFar.push_back(o);
        (void)condensed(soFar, {});
    }
    EXPECT_EQ(idsOf(condensed(soFar, {})), idsOf(condensed(all, {})));
}

void expectNobodyAccused(const Map& map)
{
    const JobContent content = practice::longJob(map, 400);
    const auto job = foldJob(content);
    ASSERT_TRUE(job);
    Reasoner reasoner(job->map, job->evidence.working, false);
    while (reasoner.buildNext()) {
    }
    reasoner.observe(assess(job->map, job->evidence), {});
    reasoner.refine();
    const Reasoning r = reasoner.reason({});
    EXPECT_GE(r.leftOut, mostWeighed - leftAfterCut) << "a cut was made";
    EXPECT_EQ(r.readings, 400U) << "all are counted";
    EXPECT_NE(r.conclusion.kind, Conclusion::Kind::Outside) << r.conclusion.words;
    EXPECT_NE(r.conclusion.kind, Conclusion::Kind::Inside) << r.conclusion.words;
    const auto p = reasoner.belief().probabilities();
    for (std::size_t i = 1; i < p.size(); ++i)
        EXPECT_LT(p[i], 0.3 * p.front()) << map.title() << ": " << reasoner.suspects()[i].words;
    // The battery's own stay whatever their number; the level of a signal that nobody stated counts for nothing.
    const auto& taken = reasoner.belief().taken();
    const auto cuttable = std::count_if(taken.begin(), taken.end(), [](const Observation& o) {
        return o.kind == Observation::Kind::Reading && o.probe != o.batteryProbe;
    });
    EXPECT_LT(static_cast<std::size_t>(cuttable), mostWeighed);
}

TEST(Condense, ALongSoundJobAccusesNobody)
{
    expectNobodyAccused(test::smallMap());
    expectNobodyAccused(test::hauler());
}

}  // namespace
}  // namespace ilvek
