// One feed with a resistance in it, of every size: the loaded figure swept from hardly lost to nearly nothing. The pair
// is explained by it at every size, never called a slip, and suspects and judge speak of one resistance.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/complete.h"
#include "support/feeds.h"
#include "support/one_job.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

using test::Feed;
using test::OneJob;

class LoadedSweep : public testing::TestWithParam<Feed> {};

TEST_P(LoadedSweep, EverySizeOfOneResistanceIsExplainedByIt)
{
    const Feed& f = GetParam();
    const Map& map = f.map();
    const auto reasoner = test::complete(map);
    const Terminal& t = map.terminal(map.terminalIndex(f.terminal));
    const std::string own = map.terminal(t.ownReturn).id;
    for (double loaded = 0.97 * f.battery_V; loaded > 0.16 * f.battery_V; loaded -= 0.04 * f.battery_V) {
        OneJob job(map);
        job.take(fmt::format("plus > minus; {}", f.state), fmt::format("{:.2f} V", f.battery_V));
        job.take(fmt::format("{} > minus; {}; apart {}", f.terminal, f.state, f.apart),
                 fmt::format("{:.2f} V", f.battery_V - 0.01));
        const Judgement j =
            job.take(fmt::format("{} > {}; {}; apart {}; load {}", f.terminal, own, f.state, f.apart, f.load),
                     fmt::format("{:.2f} V", loaded));
        reasoner->forget(true);
        reasoner->observe(job.open().assessment, {});
        reasoner->refine();
        while (reasoner->buildNext()) {
        }
        const Reasoning r = reasoner->reason(job.open().standing());
        EXPECT_TRUE(r.doubtful.empty()) << loaded << " V is called a slip";
        double nothing = 0;
        for (const SuspectGroup& g : r.groups) {
            if (g.members.empty()) continue;  // all the rest
            const Suspect& s = reasoner->suspects()[static_cast<std::size_t>(g.members.front())];
            if (s.kind == SuspectKind::Nothing) nothing = g.probability;
        }
        // What custom lets a sound loom lose is no fault yet.
        if (loaded < 0.93 * f.battery_V) {
            EXPECT_LT(nothing, 0.02) << loaded << " V";
        }
        ASSERT_TRUE(j.loopResistance_ohm) << loaded << " V: " << j.word;
    }
}

INSTANTIATE_TEST_SUITE_P(Feeds, LoadedSweep, testing::ValuesIn(test::someFeeds),
                         [](const auto& feed) { return std::string(feed.param.name); });

}  // namespace
}  // namespace ilvek
