// Samples that are no figure: marked, named, and nothing is refused for one.
#include "trace/formats/gaps.h"

#include <gmock/gmock.h>
#include <matio.h>

#include <cmath>
#include <fstream>

#include "base/stop.h"
#include "support/maps.h"
#include "trace/formats/csv_reader.h"
#include "trace/formats/npy_file.h"
#include "trace/study/study.h"
#include "trace/subjects/armature.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

std::string put(const test::TemporaryFolder& folder, const std::string& name, const std::string& bytes)
{
    const std::string path = (folder / name).string();
    std::ofstream(path, std::ios::binary) << bytes;
    return path;
}

TEST(Gaps, AreFilledWithTheSampleBeforeAndSaidWhere)
{
    const float inf = INFINITY;
    std::vector<float> x{inf, NAN, 1, 2, NAN, 3, -inf, inf};
    EXPECT_EQ(takeGaps(x), (std::vector<Gap>{{0, 2}, {4, 5}, {6, 8}}));
    EXPECT_EQ(x, (std::vector<float>{1, 1, 1, 2, 2, 3, 3, 3}));
    std::vector<float> none{1, 2, 3};
    EXPECT_TRUE(takeGaps(none).empty());
    std::vector<float> all{NAN, inf};
    EXPECT_EQ(takeGaps(all), (std::vector<Gap>{{0, 2}}));
    EXPECT_EQ(all, (std::vector<float>{0, 0}));
}

TEST(Gaps, AreFoundByPlace)
{
    const std::vector<Gap> gaps{{4, 6}, {10, 11}};
    EXPECT_FALSE(isInGap(gaps, 0, 3));
    EXPECT_TRUE(isInGap(gaps, 0, 4));
    EXPECT_TRUE(isInGap(gaps, 5, 5));
    EXPECT_FALSE(isInGap(gaps, 6, 9));
    EXPECT_TRUE(isInGap(gaps, 7, 20));
    EXPECT_FALSE(isInGap(gaps, 11, 20));
}

TEST(Gaps, ATextWithThemIsReadAndTheFirstIsNamed)
{
    const test::TemporaryFolder folder;
    for (const char* word : {"NaN", "nan", "inf", "-Inf", "1.#INF", "-1.#IND", "1e999"}) {
        const auto r = readRecording(
            put(folder, "a.csv", std::string("time,current\ns,A\n0,0\n1e-5,") + word + "\n2e-5,1\n3e-5,2\n"));
        ASSERT_TRUE(r) << word << ": " << r.error().message();
        EXPECT_EQ(r->channels[0].gaps, (std::vector<Gap>{{1, 2}})) << word;
        ASSERT_FALSE(r->notes.empty());
        EXPECT_THAT(r->notes.back(), HasSubstr("line 4, current")) << word;
        EXPECT_EQ(r->channels[0].samples.at(2), 1);
    }
    const auto times = readRecording(put(folder, "t.csv", "time,current\ns,A\n0,0\nnan,1\n2e-5,2\n3e-5,3\n"));
    ASSERT_TRUE(times) << times.error().message();
    EXPECT_NEAR(times->interval_s, 1e-5, 1e-12) << "a time that is none lies between its neighbours";
    EXPECT_FALSE(readRecording(put(folder, "u.csv", "time,current\ns,A\nnan,0\n1e-5,1\n2e-5,2\n")));
}

TEST(Gaps, OtherFormatsKeepThemToo)
{
    const test::TemporaryFolder folder;
    const auto wav = readRecording(ILVEK_SOURCE_DIR "/fuzz/corpus/wav/float-with-gaps.wav");
    ASSERT_TRUE(wav) << wav.error().message();
    EXPECT_EQ(wav->channels[0].gaps, (std::vector<Gap>{{50, 52}, {200, 201}}));
    EXPECT_THAT(wav->notes.back(), HasSubstr("sample 51"));
    for (const RecordedKind& kind : recordedKinds()) {
        StudyWishes wishes;
        wishes.kind = kind.kind;
        wishes.main = "1";
        (void)study(*wav, wishes);  // no figure that is none gets as far as this
    }
    Recording r;
    r.interval_s = 0.1;
    Channel c;
    c.name = "x";
    c.samples = Samples(std::vector<float>{1, NAN, 3, 4});
    r.channels.push_back(c);
    ASSERT_TRUE(writeNpy((folder / "a.npy").string(), r));
    const auto npy = readRecording((folder / "a.npy").string());
    ASSERT_TRUE(npy) << npy.error().message();
    EXPECT_EQ(npy->channels[0].gaps, (std::vector<Gap>{{1, 2}}));
    EXPECT_THAT(npy->notes.back(), HasSubstr("row 2 of channel 1"));
}

TEST(Gaps, APulseWithOneHasNoMeasures)
{
    const auto good = readRecording(ILVEK_SOURCE_DIR "/data/traces/injectors-sound.csv");
    ASSERT_TRUE(good);
    const auto before = study(*good, {});
    ASSERT_TRUE(before) << before.error().message();
    ASSERT_GE(before->pulses.pulses.size(), 3U);
    Recording holed = *good;
    const Pulse& hit = before->pulses.pulses[1];
    holed.channels[static_cast<std::size_t>(before->main)].gaps = {
        {(hit.first + hit.last) / 2, (hit.first + hit.last) / 2 + 3}};
    const auto after = study(holed, {});
    ASSERT_TRUE(after);
    for (const TraceMeasure& m : after->pulses.pulses[1].measures) {
        EXPECT_FALSE(m.value) << m.id;
        EXPECT_FALSE(m.why.empty());
    }
    EXPECT_EQ(after->pulses.pulses[0].value("peak"), before->pulses.pulses[0].value("peak"));
}

TEST(Bounded, AMatlabFileThatShrankTooWellIsRefused)
{
    const test::TemporaryFolder folder;
    const std::string path = (folder / "big.mat").string();
    {
        mat_t* file = Mat_CreateVer(path.c_str(), nullptr, MAT_FT_MAT5);
        std::vector<double> zeros(4'000'000);
        std::size_t dims[2] = {zeros.size(), 1};
        matvar_t* v = Mat_VarCreate("x", MAT_C_DOUBLE, MAT_T_DOUBLE, 2, dims, zeros.data(), 0);
        Mat_VarWrite(file, v, MAT_COMPRESSION_ZLIB);
        Mat_VarFree(v);
        Mat_Close(file);
    }
    const auto r = readRecording(path);
    ASSERT_FALSE(r);
    EXPECT_THAT(r.error().message(), HasSubstr("more than a file of this size holds"));
}

TEST(Bounded, AHeadMayClaimWhatItLikes)
{
    const auto r = readRecording(ILVEK_SOURCE_DIR "/fuzz/corpus/wav/claims-more.wav");
    if (r) {
        EXPECT_LE(r->size(), 1000U);
    } else {
        EXPECT_FALSE(r.error().reason.empty());
    }
}

// Points too far apart to see an armature on its way: not followed at all, whatever the interval.
TEST(Bounded, TheArmatureIsNotSoughtWhereItCannotBeSeen)
{
    std::vector<double> y(4000);
    for (std::size_t i = 0; i < y.size(); ++i)
        y[i] = 2 * (1 - std::exp(-static_cast<double>(i) / 300));
    EXPECT_FALSE(fitArmature(y, 1.0, 0.01, 0, 2000, 300));
    EXPECT_FALSE(fitArmature(y, 1e9, 0.01, 0, 2000, 300));
    EXPECT_TRUE(fitArmature(y, 1e-6, 0.01, 0, 2000, 300));
}

TEST(Stop, MeasuringIsLeftWhereNobodyWantsIt)
{
    const auto r = readRecording(ILVEK_SOURCE_DIR "/data/traces/injectors-sound.csv");
    ASSERT_TRUE(r);
    int asked = 0;
    const StopScope scope([&] { return ++asked < 3; });
    const auto stopped = study(*r, {});
    ASSERT_FALSE(stopped);
    EXPECT_THAT(stopped.error().message(), HasSubstr("stopped"));
    EXPECT_GE(asked, 3);
}

}  // namespace
}  // namespace ilvek
