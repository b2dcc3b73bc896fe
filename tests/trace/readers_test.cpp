// Recordings in and out: dialects of text, NumPy, sound and MATLAB files, and every way in which they are wrong.
#include <gtest/gtest.h>
#include <matio.h>
#include <sndfile.h>

#include <fast_float/fast_float.h>
#include <cmath>
#include <cstring>
#include <fstream>
#include <random>

#include "support/maps.h"
#include "trace/formats/csv_figure.h"
#include "trace/formats/csv_reader.h"
#include "trace/formats/npy_file.h"

namespace ilvek {
namespace {

std::string put(const test::TemporaryFolder& folder, const std::string& name, const std::string& bytes)
{
    const std::string path = (folder / name).string();
    std::ofstream(path, std::ios::binary) << bytes;
    return path;
}

std::string reasonOf(const Result<Recording>& r)
{
    return r ? "" : r.error().message();
}

struct Dialect {
    const char* name;
    std::string text;
};

// The same four samples of a current in ten ways: 0, 0.5, 1, 1.5 A every 10 µs.
std::vector<Dialect> dialects()
{
    return {
        {"plain", "time,current\ns,A\n0,0\n1e-5,0.5\n2e-5,1\n3e-5,1.5\n"},
        {"units in names", "Time (us),Clamp (mA)\n0,0\n10,500\n20,1000\n30,1500\n"},
        {"decimal commas", "Zeit [ms];Strom [A]\r\n0,00;0,0\r\n0,01;0,5\r\n0,02;1,0\r\n0,03;1,5\r\n"},
        {"tabs and remarks",
         "# made by hand\n# two channels\ntime\tI\n(s)\t(A)\n0\t0\n1.0e-05\t0.5\n2.0e-05\t1\n3.0e-05\t1.5\n"},
        {"interval in the head", "Sample interval: 10 us\n\ncurrent (A)\n0\n0.5\n1\n1.5\n"},
        {"rate in the head", "Sample rate,100000\nsample,current [A]\n0,0\n1,0.5\n2,1\n3,1.5\n"},
        {"trailing separators", "time,current,\ns,A,\n0,0,\n1e-5,.5,\n2e-5,1,\n3e-5,1.5,\n"},
        {"quoted names", "\"time, s\",\"current, clamp (A)\"\n0,0\n0.00001,0.5\n0.00002,1\n0.00003,1.5\n"},
        {"blank lines", "time,current\ns,A\n\n0,0\n\n1e-5,0.5\n2e-5,1\n3e-5,1.5\n\n\n"},
        {"a byte order mark", "\xEF\xBB\xBFtime;current\ns;A\n0;0\n1e-5;0.5\n2e-5;1\n3e-5;1.5"},
    };
}

TEST(CsvReader, KnowsTheDialectsThatRecordersWrite)
{
    const test::TemporaryFolder folder;
    for (const Dialect& d : dialects()) {
        const auto r = readRecording(put(folder, "a.csv", d.text));
        ASSERT_TRUE(r) << d.name << ": " << reasonOf(r);
        ASSERT_EQ(r->channels.size(), 1U) << d.name;
        ASSERT_EQ(r->size(), 4U) << d.name;
        EXPECT_NEAR(r->interval_s, 1e-5, 1e-9) << d.name;
        EXPECT_NEAR(r->channels[0].samples.at(3), 1.5, 1e-6) << d.name;
        EXPECT_EQ(r->channels[0].unit(), Unit::Ampere) << d.name;
    }
}

TEST(CsvReader, ReadsSixteenBitText)
{
    const test::TemporaryFolder folder;
    const std::string plain = "time;I [A]\n0;0\n1e-5;0.5\n2e-5;1\n3e-5;1.5\n";
    std::string little = "\xFF\xFE", big = "\xFE\xFF";
    for (const char c : plain) {
        little += c, little += '\0';
        big += '\0', big += c;
    }
    for (const std::string& text : {little, big}) {
        const auto r = readRecording(put(folder, "w.csv", text));
        ASSERT_TRUE(r) << reasonOf(r);
        EXPECT_NEAR(r->channels[0].samples.at(2), 1, 1e-6);
    }
}

TEST(CsvReader, NamesTheLineAndTheReason)
{
    const test::TemporaryFolder folder;
    const std::string head = "time,a,b\ns,V,V\n0,1,2\n1e-3,1,2\n2e-3,1,2\n";
    const auto said = [&](const std::string& more) {
        return reasonOf(readRecording(put(folder, "x.csv", head + more + "4e-3,1,2\n")));
    };
    EXPECT_NE(said("3e-3,abc,2\n").find("x.csv"), std::string::npos);
    // What stands in the first 64 kB decides what is the table; further down the line is named.
    std::string longHead = head;
    for (int i = 3; i < 9000; ++i)
        longHead += std::to_string(i) + "e-3,1,2\n";
    const auto far = [&](const std::string& last) {
        return reasonOf(readRecording(put(folder, "y.csv", longHead + last)));
    };
    EXPECT_NE(far("9.000,abc,2\n").find("line 9003"), std::string::npos) << far("9.000,abc,2\n");
    EXPECT_NE(far("9.000,abc,2\n").find("“abc” is no figure"), std::string::npos);
    EXPECT_NE(far("9.000,1\n").find("2 columns instead of 3"), std::string::npos);
    EXPECT_NE(far("9.000,1,2,3\n").find("more than 3 columns"), std::string::npos);
    EXPECT_NE(far("5e-3,1,2\n").find("the time runs backwards"), std::string::npos);
    EXPECT_NE(far("9.000,1").find("line 9003"), std::string::npos);
}

TEST(CsvReader, RefusesWhatIsNoTable)
{
    const test::TemporaryFolder folder;
    EXPECT_NE(reasonOf(readRecording((folder / "none.csv").string())).find("no such file"), std::string::npos);
    EXPECT_NE(reasonOf(readRecording("/dev/zero")).find("not an ordinary file"), std::string::npos);
    EXPECT_NE(reasonOf(readRecording(put(folder, "e.csv", ""))).find("empty"), std::string::npos);
    EXPECT_NE(reasonOf(readRecording(put(folder, "b.csv", std::string("\x01\x00\x02\x03", 4)))).find("no text"),
              std::string::npos);
    EXPECT_NE(reasonOf(readRecording(put(folder, "t.csv", "a letter\nto somebody\n"))).find("no table"),
              std::string::npos);
    EXPECT_NE(reasonOf(readRecording(put(folder, "l.csv", std::string(3U << 20U, '1')))).find("megabyte"),
              std::string::npos);
    EXPECT_NE(reasonOf(readRecording(put(folder, "i.csv", "1\n2\n3\n"))).find("sample interval"), std::string::npos);
}

TEST(CsvReader, CanBeStoppedAndSaysHowFarItIs)
{
    const test::TemporaryFolder folder;
    std::string text = "time,a\n";
    for (int i = 0; i < 800000; ++i)
        text += std::to_string(i) + "e-6,1.25\n";
    const std::string path = put(folder, "long.csv", text);
    double last = 0;
    const auto r = readRecording(path, [&](double share) {
        EXPECT_GE(share, last);
        last = share;
        return true;
    });
    ASSERT_TRUE(r) << reasonOf(r);
    EXPECT_EQ(r->size(), 800000U);
    EXPECT_NEAR(last, 1, 1e-9);
    EXPECT_NE(reasonOf(readRecording(path, [](double) { return false; })).find("stopped"), std::string::npos);
}

TEST(CsvReader, PutsUnevenRowsOnAnEvenBaseAndSaysSo)
{
    const test::TemporaryFolder folder;
    const auto r = readRecording(put(folder, "u.csv", "time (s),U (V)\n0,0\n1,1\n2,2\n3,3\n7,7\n8,8\n"));
    ASSERT_TRUE(r) << reasonOf(r);
    ASSERT_EQ(r->notes.size(), 1U);
    for (std::size_t i = 0; i < r->size(); ++i)
        EXPECT_NEAR(r->channels[0].samples.at(i), 1.6 * static_cast<double>(i), 1e-5);
}

TEST(CsvFigure, IsTheLibrarysToTheLastBit)
{
    std::mt19937_64 random(4);
    std::uniform_int_distribution<int> length(1, 20), power(-30, 30), kind(0, 3), digit(0, 9);
    for (int n = 0; n < 200000; ++n) {
        std::string text = kind(random) == 0 ? "-" : "";
        const int digits = length(random), point = std::uniform_int_distribution<int>(0, digits)(random);
        for (int i = 0; i < digits; ++i) {
            if (i == point) text += '.';
            text += static_cast<char>('0' + digit(random));
        }
        if (kind(random) == 1) text += "e" + std::to_string(power(random));
        double ours = 0, theirs = 0;
        const char* end = text.data() + text.size();
        ASSERT_EQ(scanFigure(text.data(), end, '.', ours), end) << text;
        ASSERT_EQ(fast_float::from_chars(text.data(), end, theirs).ptr, end) << text;
        ASSERT_EQ(std::memcmp(&ours, &theirs, sizeof ours), 0) << text;
    }
    double value = 0;
    for (const std::string bad : {"", "-", ".", "e5", "+-1", "x"})
        EXPECT_NE(scanFigure(bad.data(), bad.data() + bad.size(), '.', value),
                  bad.data() + std::max<std::size_t>(1, bad.size()))
            << bad;
}

TEST(CsvFigure, TheQuickWayIsTheSameOrNone)
{
    std::mt19937_64 random(5);
    std::uniform_int_distribution<int> length(1, 16), kind(0, 3), digit(0, 9);
    int taken = 0;
    for (int n = 0; n < 200000; ++n) {
        std::string text = kind(random) == 0 ? "-" : "";
        const int digits = length(random), point = std::uniform_int_distribution<int>(0, digits + 1)(random);
        for (int i = 0; i < digits; ++i) {
            if (i == point) text += ',';
            text += static_cast<char>('0' + digit(random));
        }
        if (point == digits) text += ',';
        const std::size_t written = text.size();
        // Something else right behind it, and digits in the next field.
        text += ";e.,-x \n"[static_cast<std::size_t>(n) % 8];
        text += "8765432109876543210987654321098765";
        double quick = 0, slow = 0;
        const char* after = quickFigure(text.data(), ',', quick);
        if (!after) continue;
        ++taken;
        const char* end = text.data() + (text[written] == ',' && point > digits ? text.size() : written);
        ASSERT_EQ(scanFigure(text.data(), end, ',', slow), after) << text;
        ASSERT_EQ(std::memcmp(&quick, &slow, sizeof quick), 0) << text;
    }
    EXPECT_GT(taken, 80000) << "the usual ones go the quick way";
    double value = 0;
    for (const char* other : {"e5", ".5", "x", "+1", " 1", "-", "12345678", "1e5", "1.5E5", "1.12345678901234567890"})
        EXPECT_EQ(quickFigure((std::string(other) + std::string(40, ' ')).data(), '.', value), nullptr) << other;
}

Recording ramp()
{
    Recording r;
    r.name = "ramp";
    r.start_s = 0.5;
    r.interval_s = 2e-4;
    std::vector<float> a, b;
    for (int i = 0; i < 500; ++i)
        a.push_back(0.25F * static_cast<float>(i)), b.push_back(12.5F);
    for (auto* values : {&a, &b}) {
        Channel c;
        c.name = values == &a ? "a" : "b";
        c.samples = Samples(*values);
        r.channels.push_back(std::move(c));
    }
    return r;
}

TEST(Recordings, ComeBackAsTheyWereWritten)
{
    const test::TemporaryFolder folder;
    const Recording r = ramp();
    ASSERT_TRUE(writeCsv((folder / "r.csv").string(), r));
    ASSERT_TRUE(writeNpy((folder / "r.npy").string(), r));
    for (const char* name : {"r.csv", "r.npy"}) {
        const auto back = readRecording((folder / name).string());
        ASSERT_TRUE(back) << reasonOf(back);
        ASSERT_EQ(back->channels.size(), 2U) << name;
        EXPECT_NEAR(back->interval_s, r.interval_s, 1e-9) << name;
        EXPECT_NEAR(back->start_s, r.start_s, 1e-9) << name;
        for (std::size_t i = 0; i < r.size(); ++i)
            ASSERT_NEAR(back->channels[0].samples.at(i), r.channels[0].samples.at(i), 1e-5) << name;
    }
}

TEST(NpyFile, IsReadByTheLibraryItIsFrom)
{
    const test::TemporaryFolder folder;
    const std::string ours = (folder / "ours.npy").string(), theirs = (folder / "theirs.npy").string();
    ASSERT_TRUE(writeNpy(ours, ramp()));
    const std::string script = "import numpy as n; a=n.load('" + ours +
                               "'); assert a.shape==(500,3) and abs(a[10,1]-2.5)<1e-9; "
                               "n.save('" +
                               theirs + "', n.asfortranarray(a.astype('>f4')))";
    ASSERT_EQ(std::system(("/usr/bin/python3 -c \"" + script + "\"").c_str()), 0);
    const auto back = readRecording(theirs);
    ASSERT_TRUE(back) << reasonOf(back);
    EXPECT_NEAR(back->channels[0].samples.at(10), 2.5, 1e-6);
}

TEST(NpyFile, RefusesAShortOrForeignOne)
{
    const test::TemporaryFolder folder;
    const std::string whole = (folder / "w.npy").string();
    ASSERT_TRUE(writeNpy(whole, ramp()));
    std::ifstream in(whole, std::ios::binary);
    const std::string bytes((std::istreambuf_iterator<char>(in)), {});
    EXPECT_NE(reasonOf(readRecording(put(folder, "s.npy", bytes.substr(0, bytes.size() - 9)))).find("shorter"),
              std::string::npos);
    EXPECT_NE(reasonOf(readRecording(put(folder, "h.npy", bytes.substr(0, 20)))).find("head"), std::string::npos);
    std::string odd = bytes;
    odd.replace(odd.find("<f8"), 3, "<c8");
    EXPECT_NE(reasonOf(readRecording(put(folder, "c.npy", odd))).find("kind"), std::string::npos);
}

TEST(WavFile, KeepsSixteenBitsAsTheyAre)
{
    const test::TemporaryFolder folder;
    const std::string path = (folder / "s.wav").string();
    SF_INFO info{};
    info.samplerate = 50000;
    info.channels = 2;
    info.format = SF_FORMAT_WAV | SF_FORMAT_PCM_16;
    SNDFILE* file = sf_open(path.c_str(), SFM_WRITE, &info);
    ASSERT_TRUE(file);
    std::vector<short> frames;
    for (int i = 0; i < 1000; ++i)
        frames.push_back(static_cast<short>(i * 8)), frames.push_back(-100);
    sf_writef_short(file, frames.data(), 1000);
    sf_close(file);
    const auto r = readRecording(path);
    ASSERT_TRUE(r) << reasonOf(r);
    EXPECT_TRUE(r->channels[0].samples.isSteps());
    EXPECT_EQ(r->channels[0].samples.steps()[999], 7992);
    EXPECT_NEAR(r->rate_Hz(), 50000, 1e-6);
    std::ifstream in(path, std::ios::binary);
    const std::string bytes((std::istreambuf_iterator<char>(in)), {});
    EXPECT_FALSE(readRecording(put(folder, "cut.wav", bytes.substr(0, 30))));
}

void writeMat(const std::string& path, matio_compression compression)
{
    mat_t* file = Mat_CreateVer(path.c_str(), nullptr, MAT_FT_MAT5);
    ASSERT_TRUE(file);
    double interval = 1e-4;
    std::vector<double> a(200), b(200);
    for (std::size_t i = 0; i < a.size(); ++i)
        a[i] = std::sin(0.1 * static_cast<double>(i)), b[i] = 13.2;
    std::size_t one[2] = {1, 1}, many[2] = {200, 1};
    for (auto [name, data, dims] : {std::tuple<const char*, double*, std::size_t*>{"dt", &interval, one},
                                    {"clamp", a.data(), many},
                                    {"battery", b.data(), many}}) {
        matvar_t* v = Mat_VarCreate(name, MAT_C_DOUBLE, MAT_T_DOUBLE, 2, dims, data, 0);
        Mat_VarWrite(file, v, compression);
        Mat_VarFree(v);
    }
    Mat_Close(file);
}

TEST(MatFile, TakesVectorsAndTheirInterval)
{
    const test::TemporaryFolder folder;
    const std::string path = (folder / "m.mat").string();
    for (const matio_compression compression : {MAT_COMPRESSION_NONE, MAT_COMPRESSION_ZLIB}) {
        writeMat(path, compression);
        const auto r = readRecording(path);
        ASSERT_TRUE(r) << reasonOf(r);
        EXPECT_NEAR(r->interval_s, 1e-4, 1e-12);
        ASSERT_EQ(r->channels.size(), 2U);
        EXPECT_EQ(r->channels[0].name, "clamp");
        EXPECT_NEAR(r->channels[0].samples.at(10), std::sin(1.0), 1e-6);
    }
}

TEST(MatFile, ThatIsCutShortIsRefusedWholeAndNotHalfLoaded)
{
    const test::TemporaryFolder folder;
    const std::string path = (folder / "m.mat").string();
    writeMat(path, MAT_COMPRESSION_NONE);
    std::ifstream in(path, std::ios::binary);
    const std::string bytes((std::istreambuf_iterator<char>(in)), {});
    // Anywhere within the last variable, whose siblings are whole.
    for (const std::size_t cut : {8UL, 100UL, 800UL, 1600UL}) {
        const auto r = readRecording(put(folder, "cut.mat", bytes.substr(0, bytes.size() - cut)));
        ASSERT_FALSE(r) << cut;
        EXPECT_NE(r.error().message().find("ends within the variable at byte"), std::string::npos)
            << r.error().message();
    }
    EXPECT_FALSE(readRecording(put(folder, "head.mat", bytes.substr(0, 60))));
}

TEST(ChannelScale, TurnsAClampsMillivoltsIntoAmperes)
{
    Channel c;
    c.unitScale = 1e-3;  // recorded in millivolts
    c.samples = Samples(std::vector<float>{20, 120, 220});
    c.scale = {100.0, 1, true, 20};
    applyScale(c);
    EXPECT_EQ(c.unit(), Unit::Ampere);
    EXPECT_NEAR(c.samples.at(0), 0, 1e-9);
    EXPECT_NEAR(c.samples.at(1), -1, 1e-9);
    EXPECT_NEAR(c.samples.at(2), -2, 1e-9);
}

// 3.2 A that stand still looked like a clamp's zero once.
TEST(ChannelScale, TakesTheClampsZeroFromTheStretchThatIsToldAndFromNoOther)
{
    std::mt19937 random(3);
    std::normal_distribution<float> noise(0, 0.2F);
    std::vector<float> values;
    for (int i = 0; i < 20000; ++i)
        values.push_back((i < 5000 ? 7 : 327) + noise(random));
    Channel c;
    c.samples = Samples(values);
    const auto zero = levelBetween(c, 1e-5, 0, 0.049);
    ASSERT_TRUE(zero);
    EXPECT_NEAR(*zero, 7, 0.05);
    EXPECT_NEAR(*levelBetween(c, 1e-5, 0.1, 9), 327, 0.05);
    EXPECT_FALSE(levelBetween(c, 1e-5, 0.5, 0.6));
}

}  // namespace
}  // namespace ilvek
