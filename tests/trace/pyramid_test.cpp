#include "trace/signal/pyramid.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

namespace ilvek {
namespace {

Samples noiseOfLength(std::size_t n, bool steps)
{
    std::mt19937 random(static_cast<unsigned>(n));
    std::normal_distribution<float> noise(0, 1000);
    std::vector<float> floats;
    std::vector<std::int16_t> shorts;
    for (std::size_t i = 0; i < n; ++i) {
        const float v = noise(random);
        floats.push_back(v);
        shorts.push_back(static_cast<std::int16_t>(v));
    }
    return steps ? Samples(shorts, -0.5, 3) : Samples(floats);
}

TEST(Pyramid, GivesWhatLookingAtEverySampleGives)
{
    std::mt19937 random(11);
    for (const std::size_t n : {1U, 63U, 64U, 65U, 5000U, 40000U}) {
        for (const bool steps : {false, true}) {
            const Samples samples = noiseOfLength(n, steps);
            const Pyramid pyramid(samples);
            for (int k = 0; k < 200; ++k) {
                std::size_t a = std::uniform_int_distribution<std::size_t>(0, n - 1)(random);
                std::size_t b = std::uniform_int_distribution<std::size_t>(0, n - 1)(random);
                if (a > b) std::swap(a, b);
                const auto slow = samples.read(a, b + 1 - a);
                const auto [low, high] = std::minmax_element(slow.begin(), slow.end());
                const Extent fast = pyramid.extent(a, b + 1);
                ASSERT_EQ(fast.low, *low);
                ASSERT_EQ(fast.high, *high);
            }
        }
    }
}

TEST(Pyramid, TakesLessThanFourPerCentOfTheSamples)
{
    const Samples samples = noiseOfLength(1 << 20, false);
    EXPECT_LT(Pyramid(samples).bytes(), 0.04 * static_cast<double>(samples.size() * sizeof(float)));
}

TEST(Pyramid, ColumnsMissNoSample)
{
    const Samples samples = noiseOfLength(10007, true);
    const auto columns = Pyramid(samples).columns(0, 10007, 333);
    double low = 1e9, high = -1e9;
    for (const Extent& e : columns)
        low = std::min(low, e.low), high = std::max(high, e.high);
    const auto all = samples.read(0, samples.size());
    EXPECT_EQ(low, *std::min_element(all.begin(), all.end()));
    EXPECT_EQ(high, *std::max_element(all.begin(), all.end()));
}

}  // namespace
}  // namespace ilvek
