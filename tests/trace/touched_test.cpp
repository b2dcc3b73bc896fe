// What channels of a recording mark as touched, against stretches that were made so.
#include "trace/study/touched.h"

#include <gmock/gmock.h>

#include <random>

#include "practice/waveforms.h"
#include "trace/study/study.h"

namespace ilvek {
namespace {

using practice::Track;

constexpr double interval_s = 1e-3;
constexpr int samples = 60000;

struct Hands {
    std::vector<std::pair<double, double>> hinge, plug;  // touched from, to
    std::vector<double> drops;                           // at which the level falls for 20 ms
};

std::vector<double> marked(const std::vector<std::pair<double, double>>& touches, double low, double high)
{
    std::vector<double> out(samples, low);
    for (const auto& [from, to] : touches)
        std::fill(out.begin() + static_cast<int>(from / interval_s), out.begin() + static_cast<int>(to / interval_s),
                  high);
    return out;
}

Study studied(const Hands& h, bool pressedIsLow = false)
{
    std::vector<double> level(samples, 12.4);
    for (const double at : h.drops)
        std::fill_n(level.begin() + static_cast<int>(at / interval_s), 20, 8.0);
    practice::Recorder recorder;
    recorder.interval_s = interval_s;
    const Recording r = practice::recorded(
        {Track{"A1", Unit::Volt, level, 20, 0.003},
         Track{"hinge", Unit::Volt, marked(h.hinge, pressedIsLow ? 5 : 0, pressedIsLow ? 0 : 5), 10, 0.003},
         Track{"plug", Unit::Volt, marked(h.plug, 0, 5), 10, 0.003}},
        recorder);
    StudyWishes w;
    w.kind = Recorded::Level, w.main = "A1";
    const auto s = study(r, w);
    EXPECT_TRUE(s);
    return s.value_or(Study{});
}

std::vector<TraceSeen::Touched> touchedBy(const Hands& h, bool pressedIsLow = false)
{
    return studied(h, pressedIsLow).touched;
}

std::string verdictOf(const Hands& h)
{
    return studied(h).verdict;
}

TraceSeen::Touched at(const std::vector<TraceSeen::Touched>& all, const std::string& place)
{
    for (const auto& t : all) {
        if (t.place == place) return t;
    }
    return {"none", -1, -1};
}

const Hands atTheHinge{{{5, 7}, {20, 22}, {40, 43}}, {{12, 14}, {30, 32}}, {5.8, 21.1, 41.5}};

TEST(Touched, CountsTouchesAndThoseWithAnEvent)
{
    const auto all = touchedBy(atTheHinge);
    EXPECT_EQ(at(all, "hinge"), (TraceSeen::Touched{"hinge", 3, 3}));
    EXPECT_EQ(at(all, "plug"), (TraceSeen::Touched{"plug", 2, 0}));
    EXPECT_EQ(at(all, "").events, 0) << "nothing happened while nothing was touched";
    EXPECT_EQ(at(all, "").touches, 6) << "before, between and after";
}

TEST(Touched, TheVerdictSaysWhereItHappened)
{
    EXPECT_THAT(verdictOf(atTheHinge), testing::HasSubstr("at 3 of 3 touches of hinge"));
    EXPECT_THAT(verdictOf(atTheHinge), testing::HasSubstr("at 0 of 6 times with nothing touched"));
}

TEST(Touched, AButtonMayPullDownWhenItIsPressed)
{
    EXPECT_EQ(touchedBy(atTheHinge, true), touchedBy(atTheHinge));
}

TEST(Touched, AnEventShortlyAfterATouchIsOfIt)
{
    EXPECT_EQ(at(touchedBy({{{5, 7}}, {}, {7.3}}), "hinge").events, 1);
    const auto late = touchedBy({{{5, 7}}, {}, {9.0}});
    EXPECT_EQ(at(late, "hinge").events, 0);
    EXPECT_EQ(at(late, "").events, 1);
}

TEST(Touched, ASignalMarksNothing)
{
    Hands h = atTheHinge;
    h.plug.clear();
    for (double t = 1; t < 15; t += 0.2)
        h.plug.emplace_back(t, t + 0.1);  // a pump that is switched, not a hand
    EXPECT_EQ(at(touchedBy(h), "plug").touches, -1);
    EXPECT_TRUE(touchedBy({{}, {}, {5.0}}).empty()) << "no channel marks anything";
}

}  // namespace
}  // namespace ilvek
