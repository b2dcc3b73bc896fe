// What is measured of a winding's current against the model that made it.
#include "trace/subjects/winding.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

#include "practice/waveforms.h"
#include "trace/signal/noise.h"
#include "trace/study/cylinders.h"

namespace ilvek {
namespace {

using practice::Drive, practice::Fired, practice::Recorder, practice::Winding;

// Any winding of the trade; with `stuck` one whose armature does not move.
struct Draws {
    explicit Draws(unsigned seed) : random(seed) {}
    double between(double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); }
    Fired any(bool stuck)
    {
        Fired f;
        f.winding.resistance_ohm = between(8, 18);
        f.winding.inductance_H = f.winding.resistance_ohm * between(0.5e-3, 1.2e-3);
        f.winding.saturation_A = between(1.5, 5);
        f.winding.gain = between(0.2, 0.5);
        f.winding.pull_A = stuck ? 1e3 : 13.2 / f.winding.resistance_ohm * between(0.25, 0.6);
        f.winding.travel_s = between(2e-4, 5e-4);
        f.on_s = 1e-3;
        f.off_s = f.on_s + between(4e-3, 8e-3);
        return f;
    }
    std::mt19937 random;
};

practice::Made madeOf(const Fired& f, double noise, int bits, unsigned seed)
{
    Recorder r;
    r.noise = noise;
    r.bits = bits;
    r.seed = seed;
    r.current_A = 1.3 * 13.2 / f.winding.resistance_ohm;
    return practice::makeWinding({f}, Drive{}, r, f.off_s + 3e-3);
}

Pulse measuredOf(const practice::Made& made)
{
    const auto p = measureWinding(made.recording, made.recording.channels[0], {13.2, &made.recording.channels[1]});
    EXPECT_TRUE(p && p->pulses.size() == 1) << (p ? "pulses" : p.error().message());
    return p ? p->pulses.front() : Pulse{};
}

TEST(Winding, FindsTheLiftAndNoneWhereTheArmatureIsStuck)
{
    // 200 kS/s, 12 bits, 1 % noise; and quiet 8 bits, whose stairs look like lifts.
    for (const auto& [noise, bits] : {std::pair{0.01, 12}, std::pair{0.0001, 8}}) {
        Draws draws(5);
        int lifts = 0, right = 0, stuck = 0, wrong = 0;
        for (unsigned k = 0; k < 120; ++k) {
            const Fired f = draws.any(k % 4 == 0);
            const auto made = madeOf(f, noise, bits, k);
            const Pulse p = measuredOf(made);
            const auto lift = p.value("lift");
            if (made.truth[0].lift_s) {
                ++lifts;
                right += lift && std::abs(p.on_s + *lift - *made.truth[0].lift_s) < 5e-5;
            } else {
                ++stuck;
                wrong += lift.has_value();
            }
        }
        EXPECT_GE(right, 0.99 * lifts) << bits << " bits";
        EXPECT_LE(wrong, 0.034 * stuck) << bits << " bits";  // one of thirty
    }
}

TEST(Winding, GivesResistanceOnAPlateauOnly)
{
    Draws draws(9);
    std::vector<double> off;
    for (unsigned k = 0; k < 60; ++k) {
        Fired f = draws.any(true);
        f.off_s = f.on_s + 9e-3;
        if (const auto R = measuredOf(madeOf(f, 0.01, 12, k)).value("resistance"))
            off.push_back(std::abs(*R / (f.winding.resistance_ohm + 0.15) - 1));
    }
    ASSERT_GT(off.size(), 50U);
    std::sort(off.begin(), off.end());
    EXPECT_LT(off[off.size() / 2], 0.01);
    // Half a time constant long: nothing has come to rest.
    Fired brief = draws.any(true);
    brief.off_s = brief.on_s + 0.6 * brief.winding.inductance_H / brief.winding.resistance_ohm;
    const Pulse p = measuredOf(madeOf(brief, 0.005, 12, 3));
    ASSERT_TRUE(p.find("resistance"));
    EXPECT_FALSE(p.value("resistance"));
    EXPECT_NE(p.find("resistance")->why.find("not come to rest"), std::string::npos);
}

TEST(Winding, KnowsAHeldCurrentAndOffersNoResistanceFromIt)
{
    Drive drive;
    drive.peak_A = 4;
    drive.hold_A = 1.5;
    Fired f;
    f.winding.resistance_ohm = 1.2;
    f.winding.inductance_H = 0.002;
    f.winding.saturation_A = 12;
    f.winding.pull_A = 2;
    f.on_s = 1e-3;
    f.off_s = 8e-3;
    Recorder r;
    r.current_A = 6;
    const auto made = practice::makeWinding({f}, drive, r, 12e-3);
    const auto p = measureWinding(made.recording, made.recording.channels[0], {13.2, nullptr});
    ASSERT_TRUE(p && p->pulses.size() == 1);
    EXPECT_TRUE(p->pulses[0].holds);
    EXPECT_NEAR(*p->pulses[0].value("hold"), 1.5, 0.1);
    EXPECT_NEAR(*p->pulses[0].value("peak"), made.truth[0].peak_A, 0.1);
    EXPECT_FALSE(p->pulses[0].value("resistance"));
}

TEST(Winding, ReadsTheSpikeAndSaysWhenADiodeTakesIt)
{
    Draws draws(2);
    const Fired f = draws.any(false);
    EXPECT_NEAR(*measuredOf(madeOf(f, 0.005, 12, 1)).value("spike"), 60, 3);
    Drive diode;
    diode.clamp_V = 0;
    Recorder r;
    r.current_A = 3;
    const auto made = practice::makeWinding({f}, diode, r, f.off_s + 12e-3);
    const auto p = measureWinding(made.recording, made.recording.channels[0], {13.2, &made.recording.channels[1]});
    ASSERT_TRUE(p);
    EXPECT_FALSE(p->pulses[0].value("spike"));
}

TEST(Winding, SaysThatNoiseAloneIsNoPulse)
{
    Recording r;
    r.interval_s = 1e-5;
    std::mt19937 random(1);
    std::normal_distribution<float> noise(0, 0.05F);
    std::vector<float> values(20000);
    for (float& v : values)
        v = noise(random);
    Channel c;
    c.name = "clamp";
    c.recordedUnit = Unit::Ampere;
    c.samples = Samples(values);
    r.channels.push_back(c);
    const auto p = measureWinding(r, r.channels[0]);
    ASSERT_FALSE(p);
    EXPECT_NE(p.error().message().find("noise"), std::string::npos);
}

TEST(Noise, IsThatOfTheSamplesAndNeverLessThanTheConverters)
{
    std::mt19937 random(8);
    std::normal_distribution<double> noise(0, 0.3);
    std::vector<double> x;
    for (int i = 0; i < 50000; ++i)
        x.push_back(0.001 * i + noise(random));
    EXPECT_NEAR(noiseOf(x, 0.001), 0.3, 0.02);
    EXPECT_NEAR(noiseOf(std::vector<double>(1000, 4.0), 0.1), 0.1 / std::sqrt(12.0), 1e-12);
}

TEST(Kinks, AreTheLeastSquaresSlopesOfBothSides)
{
    std::mt19937 random(6);
    std::normal_distribution<double> noise(0, 1);
    std::vector<double> x;
    for (int i = 0; i < 400; ++i)
        x.push_back(noise(random));
    const Kinks kinks(x);
    const auto slow = [&](std::size_t first, std::size_t n) {
        double mean = 0, top = 0, bottom = 0;
        for (std::size_t i = 0; i < n; ++i)
            mean += x[first + i] / static_cast<double>(n);
        for (std::size_t i = 0; i < n; ++i) {
            const double t = static_cast<double>(i) - 0.5 * static_cast<double>(n - 1);
            top += t * (x[first + i] - mean);
            bottom += t * t;
        }
        return top / bottom;
    };
    for (const std::size_t n : {4U, 17U, 60U})
        EXPECT_NEAR(kinks.at(200, n), slow(200, n) - slow(200 - n, n), 1e-10);
}

struct SetCase {
    const char* name;
    int weak, missing;
};

class Cylinders : public testing::TestWithParam<SetCase> {};

TEST_P(Cylinders, AreToldApartUpToFivePerCentNoise)
{
    int right = 0, all = 0;
    for (unsigned k = 0; k < 20; ++k) {
        Draws draws(k);
        std::vector<Winding> windings(4);
        for (Winding& w : windings) {
            w.resistance_ohm = 14.5 * draws.between(0.98, 1.02);
            w.pull_A = 0.35 * draws.between(0.97, 1.03);
        }
        if (GetParam().weak) windings[static_cast<std::size_t>(GetParam().weak - 1)].resistance_ohm *= 1.25;
        const auto missing = GetParam().missing ? std::vector<int>{GetParam().missing} : std::vector<int>{};
        Recorder r;
        r.noise = k % 2 == 0 ? 0.01 : 0.05;
        r.interval_s = 1e-5;
        r.current_A = 2;
        r.seed = k;
        const auto made = practice::makeWinding(practice::firedInOrder({1, 3, 4, 2}, windings, 0.08, 5e-3, 6, missing),
                                                {}, r, 0.48, 1);
        const auto pulses = measureWinding(made.recording, made.recording.channels[0], {13.2, nullptr});
        const auto edges = activeEdges(made.recording, made.recording.channels[2]);
        ASSERT_TRUE(pulses && edges);
        const auto set = assignCylinders(*pulses, *edges, {});
        ASSERT_TRUE(set) << set.error().message();
        const int named = GetParam().weak ? GetParam().weak : GetParam().missing;
        bool good = named == 0, others = false;
        for (const TraceFinding& f : set->findings) {
            if (f.words.empty()) continue;
            good = good || (f.cylinder == named && f.verdict == (GetParam().weak ? TraceFinding::Verdict::Low
                                                                                 : TraceFinding::Verdict::Missing));
            others = others || f.cylinder != named;
        }
        ++all;
        right += good && !others;
    }
    EXPECT_EQ(right, all);
}

INSTANTIATE_TEST_SUITE_P(Sets, Cylinders,
                         testing::Values(SetCase{"sound", 0, 0}, SetCase{"weak", 3, 0}, SetCase{"missing", 0, 4}),
                         [](const auto& c) { return std::string(c.param.name); });

TEST(CylinderSet, NeedsATurnOfTheEngine)
{
    EXPECT_FALSE(assignCylinders({}, {0.1}, {}));
}

}  // namespace
}  // namespace ilvek
