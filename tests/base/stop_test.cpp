#include "base/stop.h"

#include <gtest/gtest.h>

#include <atomic>

#include "base/parallel.h"

namespace ilvek {
namespace {

TEST(Stop, IsAskedByTheInnermostScopeOnly)
{
    EXPECT_NO_THROW(stopPoint()) << "nobody can stop what nobody asked for";
    const StopScope outer([] { return false; });
    EXPECT_THROW(stopPoint(), Stopped);
    {
        const StopScope inner([] { return true; });
        EXPECT_NO_THROW(stopPoint());
    }
    EXPECT_THROW(stopPoint(), Stopped);
}

TEST(Stop, ReachesAllThatShareTheWork)
{
    std::atomic<int> done = 0;
    std::atomic<bool> wanted = true;
    const StopScope scope([&] { return wanted.load(); });
    EXPECT_THROW(onSeveralCores(4,
                                [&] {
                                    for (;;) {
                                        if (++done > 1000) wanted = false;
                                        stopPoint();
                                    }
                                }),
                 Stopped);
    EXPECT_GT(done, 1000);
}

TEST(Parallel, EverythingIsDoneOnce)
{
    std::atomic<std::size_t> next = 0, sum = 0;
    onSeveralCores(8, [&] {
        for (std::size_t i = next++; i < 1000; i = next++)
            sum += i;
    });
    EXPECT_EQ(sum, 499'500U);
}

}  // namespace
}  // namespace ilvek
