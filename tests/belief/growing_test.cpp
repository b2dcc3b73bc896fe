// One fault that is weak at one reading and all the way there at another, as a contact that opens when it is warm: one
// place, and neither reading a slip. On three machines, one of them with every figure known.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "belief/weighing.h"
#include "support/complete.h"
#include "support/feeds.h"
#include "support/one_job.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

using test::Feed;
using test::OneJob;

class GrowingFault : public testing::TestWithParam<Feed> {};

// The feed under the lamp reads these shares of the battery, one after the other.
Reasoning after(const Feed& f, Reasoner& reasoner, const std::vector<double>& loaded)
{
    const Map& map = f.map();
    const std::string own = map.terminal(map.terminal(map.terminalIndex(f.terminal)).ownReturn).id;
    OneJob job(map);
    job.take(fmt::format("plus > minus; {}", f.state), fmt::format("{:.2f} V", f.battery_V));
    for (const double share : loaded)
        job.take(fmt::format("{} > {}; {}; apart {}; load {}", f.terminal, own, f.state, f.apart, f.load),
                 fmt::format("{:.2f} V", share * f.battery_V));
    reasoner.forget(true);
    reasoner.observe(job.open().assessment, {});
    reasoner.refine();
    return reasoner.reason(job.open().standing());
}

TEST_P(GrowingFault, IsOneFaultAndNeitherASlipNorTwo)
{
    const auto reasoner = test::complete(GetParam().map());
    const auto likeliest = [&](const std::vector<double>& loaded) {
        const Reasoning r = after(GetParam(), *reasoner, loaded);
        EXPECT_FALSE(r.suspects.empty());
        return r.suspects.empty() ? RankedSuspect{} : r.suspects.front();
    };

    const Reasoning opened = after(GetParam(), *reasoner, {0.8, 0.79, 0.0, 0.0});
    EXPECT_TRUE(opened.slips.empty()) << "reading " << opened.slips.front();
    EXPECT_LT(reasoner->belief().probabilities().front(), 0.02);
    ASSERT_FALSE(opened.suspects.empty());
    EXPECT_GT(opened.suspects.front().growing, 0.5) << opened.suspects.front().words;
    EXPECT_LT(opened.suspects.front().intermittent, 0.5);

    // And back again when it is cold. Open once alone, it may as well have been the lead.
    EXPECT_GT(likeliest({0.8, 0.0, 0.0, 0.8}).growing, 0.5);
    EXPECT_LT(likeliest({0.8, 0.79, 0.8}).growing, 0.2) << "it stays as weak as it is";
    const RankedSuspect soundAtTimes = likeliest({0.99, 0.0, 0.99, 0.0});
    EXPECT_GT(soundAtTimes.intermittent, soundAtTimes.growing) << "it comes and goes";
}

// Every way in which it may have turned, one after the other.
double everyWay(const std::vector<std::pair<double, double>>& told)
{
    double sum = 0;
    for (unsigned way = 0; way < 1U << told.size(); ++way) {
        double p = 0.5;
        bool turned = false;
        for (std::size_t o = 0; o < told.size(); ++o) {
            const bool worst = (way >> o & 1U) != 0, before = o > 0 && (way >> (o - 1) & 1U) != 0;
            if (o > 0) p *= worst == before ? 0.85 : 0.15;
            turned = turned || (o > 0 && worst != before);
            p *= std::exp(worst ? told[o].second : told[o].first);
        }
        if (turned) sum += p;
    }
    return std::log(sum);
}

TEST(Growth, AgreesWithEveryWayInWhichItMayHaveTurned)
{
    std::mt19937 random(7);
    std::normal_distribution<double> gain(0, 3);
    for (int n = 2; n <= 9; ++n) {
        Growth growth;
        std::vector<std::pair<double, double>> told;
        for (int o = 0; o < n; ++o) {
            told.emplace_back(gain(random), gain(random));
            growth.tell(told.back().first, told.back().second);
        }
        growth.tellOfBoth(1.5);
        EXPECT_NEAR(growth.logLikelihood(), 1.5 + everyWay(told), 1e-6) << n << " observations";
    }
}

TEST(Growth, IsNothingBeforeItCouldHaveTurned)
{
    Growth growth;
    EXPECT_LT(growth.logLikelihood(), -1e6);
    growth.tell(2, 1);
    EXPECT_LT(growth.logLikelihood(), -1e6);
    growth.tell(2, 1);
    EXPECT_GT(growth.logLikelihood(), -10);
}

INSTANTIATE_TEST_SUITE_P(Feeds, GrowingFault, testing::ValuesIn(test::someFeeds),
                         [](const auto& feed) { return std::string(feed.param.name); });

}  // namespace
}  // namespace ilvek
