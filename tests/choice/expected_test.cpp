// What a test is said to read beforehand.
#include <gmock/gmock.h>

#include <cmath>

#include "circuit/operating_point.h"
#include "support/maps.h"
#include "support/weighed.h"
#include "suspects/severity.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;

// One supply, behind a fuse that is not much larger than what the module may draw.
const Map& pump()
{
    static const Map map = test::mapOfRows(
        "pin,signal,type,route,part\n"
        "J1,12 V in,\"supply, with key\",F3 10 A > K2,\n"
        "J2,GND,ground,X1-2 > G1,\n"
        "J3,relay K2,drives coil of K2,,\"coil of K2, other end F1 5 A\"\n"
        "J4,suction,sensor signal,X4-3,\"pressure sensor, feed J6, ground J7\"\n"
        "J5,discharge,sensor signal,X5-3,\"pressure sensor, feed J6, ground J7\"\n"
        "J6,sensor +,5 V reference,S1,\n"
        "J7,sensor -,sensor ground,S2,\n"
        "J8,clutch,low side,X6-1,\"clutch coil 3.5 Ω, other wire F5 15 A > K2\"\n",
        12);
    return map;
}

void readPump(OneJob& job)
{
    job.take("plus > minus; key on", "12.6 V");
    job.take("J1 > J2; key on", "12.4 V");
    job.take("J6 > J7; key on", "1.9 V");
    job.take("J6 > J7; key on; apart X4", "1.9 V");
    job.take("J6 > J7; key on; apart X5", "5.0 V");
}

TEST(Expected, AReferenceDoesNotHangOnADrawThatWouldBlowTheFuseOfItsModule)
{
    OneJob job(pump());
    readPump(job);
    const auto reasoner = weighed(job);
    for (const Observation& o : reasoner->belief().taken()) {
        if (!o.words.starts_with("J6")) continue;
        const Column* column = reasoner->table().find(o.setup, o.probe);
        ASSERT_NE(column, nullptr);
        EXPECT_LT(column->tolerance, 0.3F) << o.words << ": 1.9 V of 5 V is evidence";
    }
    const Reasoning r = reasoner->reason({});
    ASSERT_FALSE(r.groups.empty());
    EXPECT_THAT(r.groups.front().words, testing::HasSubstr("discharge"));
}

TEST(Expected, WhatTheLikeliestWouldReadIsSolvedAtItsSeverity)
{
    OneJob job(pump());
    readPump(job);
    const auto reasoner = weighed(job);
    const Reasoning r = reasoner->reason({});
    int solved = 0;
    for (const RankedTest& test : r.tests) {
        const Candidate& c = reasoner->candidates()[static_cast<std::size_t>(test.candidate)];
        if (test.look || test.ohms) continue;
        for (const auto& [group, value] : test.outcomes) {
            const int likeliest = r.groups[static_cast<std::size_t>(group)].members.front();
            const Suspect& s = reasoner->suspects()[static_cast<std::size_t>(likeliest)];
            Condition condition = c.setup;
            condition.faults = faultsAt(s, reasoner->belief().severity(likeliest));
            condition.meter = Meter{c.red, c.black};
            const auto display = displayOf(pump(), condition);
            ASSERT_TRUE(display);
            EXPECT_NEAR(value, display->value, 0.02) << s.words;
            ++solved;
        }
    }
    EXPECT_GT(solved, 0);
}

}  // namespace
}  // namespace ilvek
