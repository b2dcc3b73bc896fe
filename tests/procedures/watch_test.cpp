// What comes and goes: the place that explains it, and how far chance does.
#include <random>

#include "open_job/procedure_step.h"
#include "procedures/coincidence.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;

// By counting every way in which the events can fall on the tries.
double byCounting(int here, int touches, int events, int tries)
{
    int all = 0, as = 0;
    for (unsigned set = 0; set < (1U << static_cast<unsigned>(tries)); ++set) {
        if (__builtin_popcount(set) != events) continue;
        ++all;
        const unsigned first = (1U << static_cast<unsigned>(touches)) - 1;
        if (__builtin_popcount(set & first) >= here) ++as;
    }
    return static_cast<double>(as) / all;
}

TEST(Coincidence, IsTheShareOfWaysThatFallSo)
{
    for (int tries = 1; tries <= 9; ++tries) {
        for (int events = 0; events <= tries; ++events) {
            for (int touches = 1; touches <= tries; ++touches) {
                for (int here = 0; here <= std::min(events, touches); ++here)
                    EXPECT_NEAR(chanceOfCoincidence(here, touches, events, tries),
                                byCounting(here, touches, events, tries), 1e-9)
                        << here << touches << events << tries;
            }
        }
    }
}

class WatchTest : public ::testing::Test {
protected:
    static Procedure of(const OneJob& job, const std::string& subject)
    {
        const auto p = procedureOf(job.open(), "watch", subject, job.now());
        EXPECT_TRUE(p);
        return p.value_or(Procedure{});
    }
    // Does what is next; the fault shows at the place as often as told.
    static Procedure follow(OneJob& job, const std::string& subject, const std::string& at, double chance,
                            const std::string& steady, const std::string& moves)
    {
        std::mt19937 random(5);
        for (int i = 0; i < 60; ++i) {
            const Procedure p = of(job, subject);
            const Stage* next = p.next();
            if (p.ending || !next) return p;
            const auto step = stepOf(job.map(), *next->asked);
            EXPECT_TRUE(step);
            const bool shows =
                next->asked->step.touched == at && std::uniform_real_distribution<>(0, 1)(random) < chance;
            job.take(*step, shows ? moves : steady, 3);
        }
        return of(job, subject);
    }
    static std::string lastPlace(const Procedure& p)
    {
        std::string out;
        for (const Stage& s : p.stages) {
            if (s.id.rfind("touch ", 0) == 0) out = s.id.substr(6);
        }
        return out;
    }
};

TEST_F(WatchTest, FindsThePlaceAtWhichItHappensAgainAndAgain)
{
    OneJob job(test::hauler());
    const std::string supply = test::subjectsOf("substitution", job.map()).front();
    const std::string place = lastPlace(of(job, supply));
    ASSERT_FALSE(place.empty());
    const Procedure p = follow(job, supply, place, 1, "25.0 V", "18.2..25.0 V");
    ASSERT_TRUE(p.ending);
    EXPECT_EQ(p.ending->fact.id, "watch.end.place");
    EXPECT_EQ(p.ending->grade, Grade::OnLikelihood);
    EXPECT_FALSE(p.ending->places.empty());
}

TEST_F(WatchTest, ThatNothingShowsProvesNothing)
{
    OneJob job(test::hauler());
    const Procedure p = follow(job, "A1", "", 0, "25.0 V", "");
    ASSERT_TRUE(p.ending);
    EXPECT_EQ(p.ending->kind, Ending::Kind::Open);
    EXPECT_EQ(p.ending->fact.id, "watch.end.absent");
}

TEST_F(WatchTest, OnceIsNoProofWhereItNeverHappensAgain)
{
    OneJob job(test::hauler());
    job.take("A1 > A2; key on", "25.0 V");
    job.take("A1 > A2; key on; touched nothing", "25.0 V");
    job.take("A1 > A2; key on; touched seat frame", "19.0..25.0 V");
    const Procedure p = follow(job, "A1", "", 0, "25.0 V", "");
    ASSERT_TRUE(p.ending);
    EXPECT_NE(p.ending->fact.id, "watch.end.place");
}

TEST_F(WatchTest, ABreakerThatTripsIsAnEvent)
{
    OneJob job(test::washer());
    const std::string fuse = test::subjectsOf("short", job.map()).front();
    const std::string place = lastPlace(of(job, fuse));
    ASSERT_FALSE(place.empty());
    const Procedure p = follow(job, fuse, place, 1, "holds", "tripped");
    ASSERT_TRUE(p.ending);
    EXPECT_EQ(p.ending->fact.id, "watch.end.place");
}

// A button that marks what is touched while the level is recorded counts as touches that were typed.
TEST_F(WatchTest, ARecordingWithAMarkCountsItsTouches)
{
    TraceSeen t;
    t.recording = "loom.csv", t.verdict = "It leaves its level.", t.terminal = "A1";
    t.touched = {{"hinge of the cab", 3, 3}, {"plug behind the seat", 3, 0}, {"", 7, 0}};
    OneJob job(test::hauler());
    job.take("A1 > A2; key on", "25.0 V");
    job.enter(t);
    Procedure p = of(job, "A1");
    ASSERT_TRUE(p.ending);
    EXPECT_EQ(p.ending->fact.id, "watch.end.place");
    // Of another terminal it says nothing of this one.
    OneJob other(test::hauler());
    t.terminal = "A2";
    other.enter(t);
    EXPECT_FALSE(of(other, "A1").ending);
}

TEST_F(WatchTest, WhatMovesTogetherIsNamed)
{
    OneJob job(test::hauler());
    job.take("A1 > A2; key on", "25.0 V");
    job.take("A1 > A2; key on; touched hinge", "19.0..25.0 V");
    const auto says = [&](const char* fact) {
        for (const Stage& s : of(job, "A1").stages) {
            for (const Fact& f : s.says) {
                if (f.id == fact) return true;
            }
        }
        return false;
    };
    job.take("A4 > A6; key on; touched hinge", "19.2..25.0 V");
    EXPECT_TRUE(says("watch.beside.moved"));
    job.take("A3 > A6; key on; touched hinge", "24.9..25.0 V");
    EXPECT_TRUE(says("watch.beside.both"));
}

}  // namespace
}  // namespace ilvek
