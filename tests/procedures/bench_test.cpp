// A part on the bench: dead is shown, good never.
#include "open_job/procedure_step.h"
#include "support/maps.h"
#include "support/one_job.h"
#include "support/procedure_walker.h"

namespace ilvek {
namespace {

using test::OneJob;

class BenchTest : public ::testing::Test {
protected:
    static Procedure of(const OneJob& job, const std::string& subject)
    {
        const auto p = procedureOf(job.open(), "bench", subject, job.now());
        EXPECT_TRUE(p);
        return p.value_or(Procedure{});
    }
    // Answers what is asked by the stage's name; the last figure stands for the rest.
    static Procedure follow(OneJob& job, const std::string& subject, const std::map<std::string, std::string>& answers)
    {
        for (int i = 0; i < 12; ++i) {
            const Procedure p = of(job, subject);
            if (p.ending || !p.next()) return p;
            const auto answer = answers.find(p.next()->id);
            const std::string figure = answer == answers.end() ? "none" : answer->second;
            const Asked& asked = *p.next()->asked;
            if (asked.kind == Asked::Kind::Statement)
                job.enter(CheckMade{asked.statement, figure});
            else
                job.take(*stepOf(job.map(), asked), figure, 3);
        }
        return of(job, subject);
    }
    static std::string ending(const Procedure& p) { return p.ending ? p.ending->fact.id : "none"; }
    static std::string valve(const Map& map)
    {
        return map.element(test::elementWith(map, ElementKind::Winding, "lift valve")).id;
    }
};

TEST_F(BenchTest, AWindingIsDeadByItsOhmsAndNeverGood)
{
    const Map& map = test::storyMap("scissor-lift");  // 7 to 9 ohms are stated
    const std::pair<const char*, const char*> cases[] = {
        {"OL", "bench.end.dead"}, {"3.1 ohm", "bench.end.dead"}, {"8.1 ohm", "bench.end.whole"}};
    for (const auto& [ohms, end] : cases) {
        OneJob job(map);
        const Procedure p = follow(job, valve(map), {{"temperature", "20 °C"}, {"ohms", ohms}, {"case", "OL"}});
        EXPECT_EQ(ending(p), end) << ohms;
        EXPECT_NE(p.ending->kind, Ending::Kind::Sound);
    }
}

// Ohms, volts and amperes of one winding that cannot be together decide nothing until they are read again.
TEST_F(BenchTest, WhatCannotBeTogetherIsMeasuredAgain)
{
    const Map& map = test::storyMap("scissor-lift");
    const std::tuple<const char*, const char*, const char*> cases[] = {
        {"8.1 ohm", "12.2 V 1.5 A", "bench.end.whole"},
        {"8.1 ohm", "12.2 V 4.1 A", "bench.end.impossible"},
        {"3.1 ohm", "12.2 V, 3.9 A", "bench.end.dead"},
        {"8.1 ohm", "it clicks, 5 V", "bench.end.whole"}};
    for (const auto& [ohms, volts, end] : cases) {
        OneJob job(map);
        const Procedure p =
            follow(job, valve(map), {{"temperature", "20 °C"}, {"ohms", ohms}, {"current", volts}, {"case", "OL"}});
        EXPECT_EQ(ending(p), end) << ohms << " " << volts;
    }
    // Dead by its ohms, and then it draws what it cannot.
    OneJob job(map);
    EXPECT_EQ(ending(follow(job, valve(map), {{"temperature", "20 °C"}, {"ohms", "3.1 ohm"}})), "bench.end.dead");
    job.enter(CheckMade{"bench " + valve(map) + " current", "12.2 V 1.5 A"});
    EXPECT_EQ(ending(of(job, valve(map))), "bench.end.impossible");
}

TEST_F(BenchTest, ItsTemperatureIsCountedAndItsCaseTried)
{
    const Map& map = test::storyMap("scissor-lift");
    // 11.4 ohms would be too many at 20 °C and are right at 120 °C.
    OneJob cold(map), warm(map), leaks(map);
    EXPECT_EQ(ending(follow(cold, valve(map), {{"temperature", "20 °C"}, {"ohms", "11.4 ohm"}})), "bench.end.dead");
    EXPECT_EQ(ending(follow(warm, valve(map), {{"temperature", "120 °C"}, {"ohms", "11.4 ohm"}})), "bench.end.whole");
    OneJob untold(map);
    EXPECT_EQ(ending(follow(untold, valve(map), {{"ohms", "11.4 ohm"}})), "bench.end.whole") << "it may be warm";
    EXPECT_EQ(ending(follow(leaks, valve(map), {{"ohms", "8 ohm"}, {"case", "3 kohm"}})), "bench.end.dead");
}

TEST_F(BenchTest, ColdOhmsOfALampAccuseNothing)
{
    const Map& map = test::storyMap("excavator-fuse");
    const std::string lamp = map.element(test::elementWith(map, ElementKind::Lamp, "work light")).id;
    OneJob job(map), open(map);
    EXPECT_EQ(ending(follow(job, lamp, {{"ohms", "2.4 ohm"}})), "bench.end.whole");
    EXPECT_EQ(ending(follow(open, lamp, {{"ohms", "OL"}})), "bench.end.dead");
}

}  // namespace
}  // namespace ilvek
