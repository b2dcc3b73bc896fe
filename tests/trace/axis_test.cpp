#include "trace/signal/axis.h"

#include <gtest/gtest.h>

#include <cmath>

namespace ilvek {
namespace {

TEST(Axis, StepsAreRoundAndFew)
{
    EXPECT_EQ(niceStep(10, 5), 2);
    EXPECT_EQ(niceStep(7, 4), 2);
    EXPECT_DOUBLE_EQ(niceStep(0.03, 4), 0.01);
    const auto marks = ticks(-1.5, 4.2, 1);
    EXPECT_EQ(marks, (std::vector<double>{-1, 0, 1, 2, 3, 4}));
}

// A stretch far from nothing, where a step is less than the last digit of its figures: no axis, and no end of it
// either.
TEST(Axis, EndsWhateverTheFiguresAre)
{
    EXPECT_TRUE(ticks(1e18, 1e18 + 1000, 1).empty());
    EXPECT_TRUE(ticks(0, 1e300, 1).empty());
    EXPECT_TRUE(ticks(0, HUGE_VAL, 1).empty());
    EXPECT_TRUE(ticks(0, 1, 0).empty());
    EXPECT_TRUE(ticks(NAN, NAN, NAN).empty());
}

}  // namespace
}  // namespace ilvek
