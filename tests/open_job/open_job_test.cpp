// One job, computed in one place.
#include "open_job/open_job.h"

#include <gmock/gmock.h>

#include "job/hand_over.h"
#include "support/maps.h"

namespace ilvek {
namespace {

JobContent demonstration()
{
    auto content = readHandOver(test::sourceText("data/demo/reduced-power.json"), "demo");
    EXPECT_TRUE(content);
    return std::move(*content);
}

TEST(OpenJob, WhatIsComputedOfAnOlderStandLags)
{
    JobContent content{test::smallMapText(), {{4, 1, Note{"a"}}}};
    const auto open = OpenJob::of(content);
    ASSERT_TRUE(open);
    EXPECT_EQ(open->revision, 4);
    const auto reasoner = weighedInFull(*open);
    const Reasoning reasoning = reasoner->reason(open->standing());
    EXPECT_EQ(reasoning.revision, 4);
    content.events.push_back({5, 2, StateChange{"key-on"}});
    const auto later = OpenJob::of(content, &*open);
    ASSERT_TRUE(later);
    EXPECT_EQ(later->revision, 5) << "the reasoning of 4 is not merged with it as if it were of now";
    reasoner->observe(later->assessment, later->reports(), later->revision);
    EXPECT_EQ(reasoner->reason(later->standing()).revision, 5) << "nothing new to weigh";
}

TEST(OpenJob, AReadingThatIsNotWeighedInFullYetIsSaidSo)
{
    const Map& map = test::smallMap();
    JobContent content{test::smallMapText(), {}};
    content.events.push_back({1, 1, readingOf(batteryStep(map, "key-on"), map, volts(12.4), {}, 0)});
    const auto open = OpenJob::of(content);
    ASSERT_TRUE(open);
    Reasoner reasoner(map, WayOfWorking{}, false);
    while (reasoner.buildNext()) {
    }
    reasoner.observe(open->assessment, open->reports(), open->revision);
    EXPECT_EQ(reasoner.reason(open->standing()).revision, -1) << "coarse so far";
    ASSERT_TRUE(reasoner.refine());
    EXPECT_EQ(reasoner.reason(open->standing()).revision, 1);
}

TEST(OpenJob, TheComplaintReachesTheSuspectsWheneverItIsTold)
{
    JobContent content = demonstration();
    const auto open = OpenJob::of(content);
    ASSERT_TRUE(open);
    EXPECT_TRUE(open->hasComplaint());
    EXPECT_FALSE(open->reports().dead.empty());
    EXPECT_FALSE(open->reports().codes.empty());
    std::erase_if(content.events, [](const Event& e) { return std::holds_alternative<Complaint>(e.body); });
    const auto before = OpenJob::of(content);
    ASSERT_TRUE(before);
    EXPECT_FALSE(before->hasComplaint());
    content.events.push_back({900, 2, Complaint{"tiller will not lift", "", {}, {}, {"the tiller lifts"}}});
    const auto after = OpenJob::of(content, &*before);
    ASSERT_TRUE(after);
    EXPECT_TRUE(after->hasComplaint());
    EXPECT_FALSE(after->reports().dead.empty());
}

}  // namespace
}  // namespace ilvek
