#include "trace/signal/switching.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace ilvek {
namespace {

Recording of(const std::vector<double>& values, double interval_s)
{
    Recording r;
    r.interval_s = interval_s;
    Channel c;
    c.name = "signal";
    c.samples = Samples(std::vector<float>(values.begin(), values.end()));
    r.channels.push_back(std::move(c));
    return r;
}

// Edges take two samples; noise as given.
std::vector<double> pulses(double frequency_Hz, double duty, double interval_s, std::size_t n, double noise,
                           unsigned seed)
{
    std::mt19937 random(seed);
    std::normal_distribution<double> spread(0, noise);
    std::vector<double> x(n);
    const double start = std::uniform_real_distribution<double>(0, 1)(random);
    for (std::size_t i = 0; i < n; ++i) {
        // The mean over the sample's own time.
        double high = 0;
        for (int k = 0; k < 16; ++k) {
            const double phase = start + frequency_Hz * interval_s * (static_cast<double>(i) + k / 16.0);
            high += (phase - std::floor(phase) < duty ? 1.0 : 0.0) / 16;
        }
        x[i] = 0.2 + 13 * high + spread(random);
    }
    return x;
}

TEST(Switching, DutyIsRightToATenthOfAPoint)
{
    std::mt19937 random(2);
    for (unsigned k = 0; k < 200; ++k) {
        const double f = std::uniform_real_distribution<double>(90, 1000)(random),
                     duty = std::uniform_real_distribution<double>(0.06, 0.94)(random);
        const Recording r = of(pulses(f, duty, 1e-5, 20000, 0.1, k), 1e-5);
        const auto s = measureSwitching(r, r.channels[0]);
        ASSERT_TRUE(s);
        EXPECT_NEAR(*s->find("duty")->value, 100 * duty, 0.1) << f << " Hz " << duty;
        EXPECT_NEAR(*s->find("frequency")->value / f, 1, 1e-3);
        EXPECT_NEAR(*s->find("average")->value, 0.2 + 13 * duty, 0.06);
    }
}

TEST(Switching, SaysThatALineIsStuck)
{
    std::mt19937 random(2);
    std::normal_distribution<double> noise(4.9, 0.02);
    std::vector<double> x(5000);
    for (double& v : x)
        v = noise(random);
    const Recording r = of(x, 1e-4);
    const auto s = measureSwitching(r, r.channels[0]);
    ASSERT_TRUE(s);
    EXPECT_NEAR(*s->find("level")->value, 4.9, 0.01);
    EXPECT_NE(s->find("frequency")->why.find("stuck"), std::string::npos);
}

std::vector<double> wheel(int teeth, int missing, int turns, double turn_s, double eccentric, int odd, double by)
{
    std::vector<double> edges;
    for (int t = 0; t < turns; ++t) {
        for (int k = 0; k < teeth; ++k) {
            const double angle = 2 * M_PI * (k + (k == odd ? by : 0)) / (teeth + missing);
            edges.push_back(t * turn_s + turn_s * (angle + eccentric * std::sin(angle)) / (2 * M_PI));
        }
    }
    return edges;
}

TEST(Wheel, CountsTeethAndTheGap)
{
    for (const auto& [teeth, missing] : {std::pair{35, 1}, {58, 2}, {11, 1}}) {
        const auto w = measureWheel(wheel(teeth, missing, 6, 0.05, 0, -1, 0));
        ASSERT_TRUE(w);
        EXPECT_EQ(w->teeth, teeth);
        EXPECT_EQ(w->missing, missing);
        EXPECT_NEAR(*w->measures[0].value, 1200, 2);
        EXPECT_EQ(w->verdict.find("swings"), std::string::npos) << w->verdict;
    }
}

TEST(Wheel, TellsAWheelOutOfTrueFromABentTooth)
{
    const auto swings = measureWheel(wheel(35, 1, 6, 0.05, 0.06, -1, 0));
    ASSERT_TRUE(swings);
    EXPECT_NE(swings->verdict.find("swings by"), std::string::npos) << swings->verdict;
    EXPECT_NEAR(*swings->measures[1].value, 6, 0.6);  // the gap's own tooth is not seen
    EXPECT_EQ(swings->verdict.find("off its place"), std::string::npos) << swings->verdict;
    const auto bent = measureWheel(wheel(35, 1, 6, 0.05, 0, 12, 0.2));
    ASSERT_TRUE(bent);
    EXPECT_NE(bent->verdict.find("off its place"), std::string::npos) << bent->verdict;
    EXPECT_FALSE(measureWheel({0, 1, 2, 3, 4, 5}));
}

}  // namespace
}  // namespace ilvek
