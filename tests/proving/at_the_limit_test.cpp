// A reading at its limit.
#include <gmock/gmock.h>

#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::HasSubstr;

TEST(AtTheLimit, WhatIsBeyondItByLessThanTheMeterTellsDoesNotFail)
{
    OneJob job(
        test::mapOfRows("pin,signal,type,route,part,expected\n"
                        "J4,suction,sensor signal,X4-3,\"pressure sensor, feed J6, ground J7\",0.5..4.5 V\n"
                        "J6,sensor +,5 V reference,S1,,\nJ7,sensor -,sensor "
                        "ground,S2,,\nJ2,GND,ground,G1,,\nJ1,in,\"supply, with key\",F1,,\n",
                        12));
    job.take("plus > minus; key on", "12.6 V");
    const Judgement& at = job.take("J4 > J7; key on", "0.49 V");
    EXPECT_EQ(at.word, "Within limits");
    EXPECT_THAT(at.doesNotProve, testing::Contains(HasSubstr("beyond the limit")));
    EXPECT_EQ(job.take("J4 > J7; key on", "0.45 V").word, "Too low");
}

}  // namespace
}  // namespace ilvek
