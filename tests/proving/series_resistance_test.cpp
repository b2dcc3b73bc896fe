#include "proving/series_resistance.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "circuit/substitute_load.h"
#include "support/maps.h"

namespace ilvek {
namespace {

Reading reading(TestKind test, double volts_V, double digit_V = 0.01)
{
    Reading r;
    r.test = test;
    r.terminal = "A3";
    r.state = "key-off";
    r.value = {volts_V, Unit::Volt, false, digit_V};
    if (test == TestKind::LoadedSupply) r.load = "lamp-21w";
    return r;
}

SeriesResistance of(double open_V, double loaded_V, std::optional<double> battery_V = std::nullopt,
                    double digit_V = 0.01)
{
    const Map& map = test::hauler();
    return seriesResistance(map, reading(TestKind::OpenSupply, open_V, digit_V),
                            reading(TestKind::LoadedSupply, loaded_V, digit_V),
                            findLoad(map.systemVoltage_V, "lamp-21w")->current_A(loaded_V), battery_V);
}

// The volts that the lamp gets behind a resistance, by halving: R I(U) + U = E.
double loadedBehind(double emf_V, double ohm)
{
    const SubstituteLoad lamp = *findLoad(test::hauler().systemVoltage_V, "lamp-21w");
    double low = 0, high = emf_V;
    for (int n = 0; n < 60; ++n) {
        const double mid = (low + high) / 2;
        (ohm * lamp.current_A(mid) + mid > emf_V ? high : low) = mid;
    }
    return low;
}

// A few tenths lost by a meter of tenths: how much of it is wire is not known well, but the lamp burns.
TEST(SeriesResistance, ALampThatBurnsIsNotDarkHoweverRoughTheMeter)
{
    const SeriesResistance r = of(25.9, 25.6, 26.2, 0.1);
    EXPECT_FALSE(r.isDark);
    EXPECT_GT(r.likely_ohm, 0.1);
    ASSERT_TRUE(r.most_ohm);
    EXPECT_LT(*r.most_ohm, 1.0);
    EXPECT_TRUE(of(25.9, 0.1, 26.2, 0.1).isDark);
}

TEST(SeriesResistance, IsTheLossOverTheLampsCurrent)
{
    for (const double ohm : {1.0, 3.0, 10.0, 30.0}) {
        const SeriesResistance r = of(25.0, std::round(loadedBehind(25.0, ohm) * 100) / 100);
        EXPECT_FALSE(r.isDark) << ohm;
        EXPECT_NEAR(r.likely_ohm, ohm, 0.05 * ohm);
        ASSERT_TRUE(r.most_ohm);
        EXPECT_LE(r.least_ohm, ohm);
        EXPECT_GE(*r.most_ohm, ohm);
    }
}

TEST(SeriesResistance, ADarkLampTellsOnlyMoreThan)
{
    const SeriesResistance r = of(25.0, 0.0);
    EXPECT_TRUE(r.isDark);
    EXPECT_FALSE(r.most_ohm);
    EXPECT_GT(r.least_ohm, 1000);
    EXPECT_THAT(r.words(), testing::StartsWith("more than"));
}

TEST(SeriesResistance, TheShortfallBehindTheMeterTellsTheFigureOfADarkOne)
{
    // 450 kΩ before a 10 MΩ meter: 25.1 V · 10 / 10.45.
    const SeriesResistance r = of(24.02, 0.02, 25.1);
    EXPECT_TRUE(r.isDark);
    EXPECT_NEAR(r.likely_ohm, 450e3, 20e3);
    EXPECT_EQ(r.words(), "about 450 kΩ");
    ASSERT_TRUE(r.most_ohm);
    EXPECT_LT(r.least_ohm, r.likely_ohm);
    EXPECT_GT(*r.most_ohm, r.likely_ohm);
}

TEST(SeriesResistance, AShortfallWithinTheDigitsTellsNothing)
{
    const SeriesResistance r = of(25.06, 0.0, 25.1);
    EXPECT_TRUE(r.isDark);
    EXPECT_THAT(r.words(), testing::StartsWith("more than"));
}

TEST(SeriesResistance, NothingLostIsNoDarkLamp)
{
    const SeriesResistance r = of(25.0, 25.0);
    EXPECT_FALSE(r.isDark);
    EXPECT_NEAR(r.likely_ohm, 0, 1e-9);
}

TEST(SeriesResistance, ItsRangeHoldsTheTruthWhereverTheDigitsFall)
{
    for (double ohm = 0.5; ohm < 1e5; ohm *= 1.7) {
        for (const double digit : {0.001, 0.01, 0.1}) {
            const double loaded = std::round(loadedBehind(25.0, ohm) / digit) * digit;
            const SeriesResistance r = of(25.0, loaded, std::nullopt, digit);
            EXPECT_LE(r.least_ohm, ohm * 1.001 + 1e-6) << ohm << " Ω at " << digit;
            if (r.most_ohm) {
                EXPECT_GE(*r.most_ohm, ohm * 0.999) << ohm << " Ω at " << digit;
            }
        }
    }
}

}  // namespace
}  // namespace ilvek
