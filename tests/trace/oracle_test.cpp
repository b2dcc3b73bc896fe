// Measures of recordings beside what numpy makes of the same samples.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <numeric>

#include "practice/drives.h"
#include "practice/waveforms.h"
#include "support/maps.h"
#include "trace/formats/npy_file.h"
#include "trace/signal/noise.h"
#include "trace/signal/period.h"
#include "trace/signal/switching.h"
#include "trace/subjects/pulse_width.h"
#include "trace/subjects/winding.h"

namespace ilvek {
namespace {

// The first channel of the recording, by numpy.
std::vector<double> byNumpy(const std::string& task, const Recording& r, const std::vector<double>& figures = {})
{
    const test::TemporaryFolder folder;
    const std::string file = (folder / "samples.npy").string();
    EXPECT_TRUE(writeNpy(file, r));
    const std::string command = fmt::format("/usr/bin/python3 {}/tests/trace/oracle.py {} {} {:.17g}", ILVEK_SOURCE_DIR,
                                            task, file, fmt::join(figures, " "));
    std::vector<double> out;
    FILE* python = ::popen(command.c_str(), "r");
    double value = 0;
    while (python && std::fscanf(python, "%lf", &value) == 1)
        out.push_back(value);
    EXPECT_TRUE(python && ::pclose(python) == 0) << command;
    return out;
}

Recording only(const Recording& all, std::size_t channel)
{
    Recording r;
    r.name = all.name, r.interval_s = all.interval_s, r.start_s = all.start_s;
    r.channels.push_back(all.channels[channel]);
    return r;
}

practice::Recorder recorder(double rate_Hz, double noise, double current_A = 4)
{
    practice::Recorder r;
    r.interval_s = 1 / rate_Hz;
    r.noise = noise;
    r.current_A = current_A;
    return r;
}

std::vector<double> samplesOf(const Recording& r)
{
    return r.channels[0].samples.read(0, r.channels[0].samples.size());
}

TEST(Numpy, FindsTheSameLineInASpectrum)
{
    practice::BrushedMotor m;
    const auto made = practice::makeMotor(m, recorder(5e4, 0.002, 20), 0.5);
    const Recording r = only(made.recording, 0);
    const Spectrum ours = spectrumOf(samplesOf(r), r.interval_s);
    const auto theirs = byNumpy("spectrum", r);
    ASSERT_EQ(theirs.size(), 3U);
    const auto most = std::max_element(ours.power.begin(), ours.power.end());
    EXPECT_EQ(most - ours.power.begin(), std::lround(theirs[0]));
    EXPECT_NEAR(*most / std::accumulate(ours.power.begin(), ours.power.end(), 0.0), theirs[1], 0.01 * theirs[1]);
    EXPECT_NEAR(ours.step_Hz, theirs[2], 1e-9 * theirs[2]);
}

TEST(Numpy, FindsTheSamePeriod)
{
    for (const double f : {93.0, 180.0, 377.0}) {
        practice::PulseWidthDrive d;
        d.frequency_Hz = f;
        const Recording r = only(practice::makePulseWidth(d, recorder(5e4, 0.01), 0.3), 0);
        const auto x = samplesOf(r);
        const auto ours = periodOf(x, noiseOf(x, r.channels[0].samples.resolution()));
        ASSERT_TRUE(ours) << f;
        const auto theirs = byNumpy("period", r, {0.97 * *ours, 1.03 * *ours});
        ASSERT_EQ(theirs.size(), 1U);
        EXPECT_NEAR(*ours, theirs[0], 3e-3 * theirs[0]) << f;
        EXPECT_NEAR(*ours, 5e4 / f, 1e-3 * 5e4 / f) << f;
    }
}

TEST(Numpy, SeesTheSameNoise)
{
    for (const double noise : {0.003, 0.01, 0.03}) {
        const auto made = practice::makeWinding({{1e-3, 7e-3, {}, true, false, 1}}, {}, recorder(2e5, noise, 2), 0.02);
        const Recording r = only(made.recording, 0);
        const auto theirs = byNumpy("noise", r);
        ASSERT_EQ(theirs.size(), 1U);
        EXPECT_NEAR(noiseOf(samplesOf(r), r.channels[0].samples.resolution()), theirs[0], 0.12 * theirs[0]) << noise;
    }
}

TEST(Numpy, MeasuresTheSamePulse)
{
    for (const double ohm : {10.0, 14.5}) {
        practice::Fired f;
        f.on_s = 2e-3, f.off_s = 10e-3;
        f.winding.resistance_ohm = ohm;
        const auto made = practice::makeWinding({f}, {}, recorder(2e5, 0.002, 2), 0.015);
        const Recording r = only(made.recording, 0);
        const auto told = measureWinding(r, r.channels[0], {13.2, nullptr});
        ASSERT_TRUE(told);
        ASSERT_EQ(told->pulses.size(), 1U);
        const Pulse& p = told->pulses.front();
        const auto theirs = byNumpy("pulse", r, {p.on_s, p.off_s});
        ASSERT_EQ(theirs.size(), 2U);
        const TraceMeasure* end = p.find("end current");
        ASSERT_TRUE(end && end->value);
        EXPECT_NEAR(*end->value + told->zero_A, theirs[0], 3 * end->sigma) << ohm;
        ASSERT_TRUE(p.value("slope"));
        EXPECT_NEAR(*p.value("slope"), theirs[1], 0.06 * theirs[1]) << ohm;
        EXPECT_NEAR(p.value("resistance").value_or(0), 13.2 / theirs[0], 0.01 * 13.2 / theirs[0]) << ohm;
    }
}

TEST(Numpy, CountsTheSameShareOfAVoltage)
{
    for (const double share : {0.15, 0.5, 0.81}) {
        practice::PulseWidthDrive d;
        d.duty = share;
        const Recording made = practice::makePulseWidth(d, recorder(1e5, 0.002), 0.2);
        Recording r = only(made, 1);  // the voltage at the drive: low while it is on
        const auto told = measureSwitching(r, r.channels[0]);
        ASSERT_TRUE(told);
        const auto theirs = byNumpy("duty", r, {6.0, 1e5 / d.frequency_Hz});
        ASSERT_EQ(theirs.size(), 2U);
        const TraceMeasure* ours = told->find("duty");
        ASSERT_TRUE(ours && ours->value);
        EXPECT_NEAR(*ours->value, theirs[0], 0.3) << share << ": share of the time that it is high";
        EXPECT_NEAR(theirs[1], 1, 1e-3) << "periods of the drive";
    }
}

}  // namespace
}  // namespace ilvek
