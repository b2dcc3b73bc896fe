// The decision after a fault was found: what lies behind it, which way to mend it, where the time went.
#include <gmock/gmock.h>

#include "repair/behind.h"
#include "repair/closing.h"
#include "repair/repeated.h"
#include "repair/time_spent.h"
#include "repair/ways.h"
#include "report/report.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::Contains;
using testing::HasSubstr;
using testing::Not;

std::vector<BehindQuestion> asked(const OneJob& job, const std::vector<int>& located = {})
{
    return behindQuestions(job.open().job, job.open().assessment, located);
}

const BehindQuestion& named(const std::vector<BehindQuestion>& all, const std::string& begin)
{
    const auto at = std::find_if(all.begin(), all.end(), [&](const auto& q) { return q.id.rfind(begin, 0) == 0; });
    if (at != all.end()) return *at;
    ADD_FAILURE() << "not asked: " << begin;
    static const BehindQuestion none;
    return none;
}

TEST(Behind, NothingIsAskedWhereNothingWasFound)
{
    EXPECT_TRUE(asked(OneJob(test::hauler())).empty());
}

TEST(Behind, AFuseIsASymptom)
{
    OneJob job(test::hauler());
    job.enter(Repair{0, {"F3"}, "new fuse"});
    EXPECT_TRUE(named(asked(job), "blew F3").isOpen());
    EXPECT_THAT(named(asked(job), "rating F3").question, HasSubstr("25 A"));
    job.enter(CauseAnswered{"blew F3", "chafed at the hinge", false});
    EXPECT_EQ(named(asked(job), "blew F3").answer, "chafed at the hinge");
    job.enter(CauseAnswered{"rating F3", "", true});
    EXPECT_TRUE(named(asked(job), "rating F3").leftOpen);
    EXPECT_TRUE(named(asked(job), "rating F3").isOpen());
    EXPECT_THAT(openBehind(job.open().job, job.open().assessment), Contains(HasSubstr("rating")));
    EXPECT_THAT(openBehind(job.open().job, job.open().assessment), Not(Contains(HasSubstr("What blew"))));
}

// A new module behind a shorted load dies as the old one did: its drives' ohms answer it, and a reading is an answer.
TEST(Behind, AModuleIsNotReplacedBeforeItsLoadsWereMeasured)
{
    const Map& map = test::storyMap("sprayer-heater");
    OneJob job(map);
    int driver = -1;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        if (map.elements[i].id == "driver 7") driver = static_cast<int>(i);
    }
    ASSERT_GE(driver, 0);
    const auto all = asked(job, {driver});
    EXPECT_TRUE(named(all, "ohms 7").isOpen());
    EXPECT_EQ(named(all, "ohms 7").by, BehindQuestion::By::Reading);
    EXPECT_THAT(named(all, "fits").question, HasSubstr("variant"));
    EXPECT_TRUE(named(all, "learns").isOpen());
    for (const BehindQuestion& q : all)
        EXPECT_NE(q.id, "ohms 6") << "that driver moves another load";
    job.take("W5 control side > W5 feed side; key off; pulled load 7", "8.1 ohm");
    EXPECT_THAT(named(asked(job, {driver}), "ohms 7").answer, HasSubstr("8.1"));
    EXPECT_TRUE(named(asked(job, {driver}), "ohms 7").good);
}

TEST(Behind, EveryKindOfPartHasItsQuestions)
{
    for (const Map* map : {&test::hauler(), &test::washer(), &test::pt9()}) {
        OneJob job(*map);
        for (std::size_t i = 0; i < map->elements.size(); ++i) {
            if (static_cast<int>(i) == map->battery) continue;
            const auto all = asked(job, {static_cast<int>(i)});
            if (map->elements[i].kind == ElementKind::Joint) continue;
            EXPECT_FALSE(all.empty()) << map->elements[i].id;
            for (const BehindQuestion& q : all) {
                EXPECT_FALSE(q.question.empty() || q.why.empty());
                EXPECT_TRUE(q.question.find('?') != std::string::npos) << q.question;
            }
        }
    }
}

// E = C + (1 − p) C₂ + p r C, worked by hand.
TEST(Ways, TheLikelyCostIsWorkedFromTheBelief)
{
    const Map& map = test::hauler();
    const int fuse = map.elementIndex("F3");
    RepairChoices choices{{{"clean", {"F3"}, 1, 0, 0, 0.2, ""}, {"new box", {"F3", "A1"}, 2, 300, 10, 0, ""}}, 80, 5};
    const std::vector<PartBelief> belief{{{fuse}, 0.7}, {{map.terminal(map.terminalIndex("A1")).contact}, 0.2}};
    const auto costs = waysOf(map, choices, belief);
    ASSERT_EQ(costs.size(), 2U);
    EXPECT_DOUBLE_EQ(costs[0].sure, 80);
    EXPECT_DOUBLE_EQ(costs[1].sure, 160 + 300 + 50);
    EXPECT_DOUBLE_EQ(costs[0].cures, 0.7);
    EXPECT_NEAR(costs[1].cures, 0.9, 1e-12);
    EXPECT_NEAR(costs[0].expected, 80 + 0.3 * 510 + 0.7 * 0.2 * 80, 1e-9);
    EXPECT_NEAR(costs[1].expected, 510 + 0.1 * 80, 1e-9);
    EXPECT_THAT(costs[0].sums, HasSubstr("= 244"));
    // Where nothing is believed of what it mends, all of the other is paid as well.
    choices.choices[0].mends = {"A2"};
    EXPECT_NEAR(waysOf(map, choices, belief)[0].expected, 80 + 510, 1e-9);
    EXPECT_TRUE(unknownIn(map, choices.choices[0]).empty());
    choices.choices[0].mends = {"F99"};
    EXPECT_EQ(unknownIn(map, choices.choices[0]).size(), 1U);
}

TEST(Ways, TheModuleStandsForAllThatIsInsideIt)
{
    const Map& map = test::storyMap("sprayer-heater");
    std::vector<PartBelief> belief;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        if (map.elements[i].id == "driver 7") belief.push_back({{static_cast<int>(i)}, 0.6});
    }
    const RepairChoices choices{{{"exchange", {map.module}, 1, 900, 0, 0, ""}}, 80, 0};
    EXPECT_DOUBLE_EQ(waysOf(map, choices, belief).front().cures, 0.6);
}

Event at(std::int64_t id, double minute, EventBody body)
{
    return {id, static_cast<std::int64_t>(minute * 60'000), std::move(body)};
}

Reading reading(const std::string& state)
{
    Reading r;
    r.state = state;
    return r;
}

TEST(TimeSpent, GoesToWhatItWasSpentOn)
{
    const std::vector<Event> events{at(1, 0, JobDetails{}),       at(2, 5, Complaint{}),
                                    at(3, 8, reading("key-on")),  at(4, 10, reading("key-on")),
                                    at(5, 14, reading("idling")), at(6, 44, Repair{0, {"F3"}, "cleaned"}),
                                    at(7, 47, reading("idling")), at(8, 47 + 600, Note{"the next day"})};
    const TimeSpent time = timeSpent(events);
    const auto of = [&](Phase phase) {
        for (const auto& [p, s] : time.phases) {
            if (p == phase) return s / 60;
        }
        return 0.0;
    };
    EXPECT_DOUBLE_EQ(of(Phase::Papers), 5);
    EXPECT_DOUBLE_EQ(of(Phase::Tests), 5);
    EXPECT_DOUBLE_EQ(of(Phase::SetUp), 4);
    EXPECT_DOUBLE_EQ(of(Phase::Repair), 15) << "half an hour between two entries is a quarter of work and waiting";
    EXPECT_DOUBLE_EQ(time.waiting_s / 60, 15);
    EXPECT_DOUBLE_EQ(of(Phase::Proof), 3 + 15);
    EXPECT_DOUBLE_EQ(time.away_s / 60, 600 - 15);
    EXPECT_EQ(durationWords(85 * 60), "1 h 25 min");
    EXPECT_EQ(durationWords(20), "less than a minute");
}

TEST(TimeSpent, AClockThatWasSetBackTakesNothing)
{
    const TimeSpent time = timeSpent({at(1, 10, Note{"a"}), at(2, 3, Note{"b"})});
    EXPECT_DOUBLE_EQ(time.total_s(), 0);
}

// A closed job with everything on its report: the decision, what lies behind, the work test, the time, a photo.
TEST(ReportOfTheEnd, HoldsWhatWasDecidedTriedAndLeftOpen)
{
    OneJob job(test::hauler());
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    job.take("A1 > A6; key on; apart A; load 21 W lamp", "17.2 V");
    job.enter(Decided{"clean it", "cheapest by far", "clean it: 244\nnew box: 518"});
    job.enter(Repair{0, {"F3"}, "contact cleaned"});
    job.enter(CauseAnswered{"blew F3", "", true});
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    job.take("A1 > A6; key on; apart A; load 21 W lamp", "24.6 V", 120);
    job.enter(WorkTried{"an hour uphill", "27.9 V", true});
    job.enter(Photo{"plug.jpg", "the plug <green>", "QUJD\"><script>", 1});
    const std::vector<Event> events = job.content().events;
    const Gate gate = job.open().gate(0, nullptr);
    const ReportInput in{job.open().job, job.open().assessment, gate, 0, &events};
    const std::string html = reportHtml(in);
    for (const char* held : {"clean it: 244<br>new box: 518", "cheapest by far", "What blew", "an hour uphill",
                             "data:image/jpeg;base64,QUJDscript", "the plug &lt;green&gt;", "loaded, before the repair",
                             "stroke-dasharray", "Time:"})
        EXPECT_THAT(html, HasSubstr(held));
    EXPECT_THAT(html, Not(HasSubstr("<script>")));
    const std::string page = customerHtml(in);
    EXPECT_THAT(page, HasSubstr("Tried: an hour uphill"));
    EXPECT_THAT(page, HasSubstr("Not looked at: What blew"));
}

TEST(Mended, PartsGoByTheirNamesAndTheModuleByItsOwn)
{
    const Map& map = test::hauler();
    EXPECT_EQ(mendedName(map, " f3 "), "F3");
    EXPECT_EQ(mendedName(map, "a1"), "A1");
    EXPECT_EQ(mendedName(map, "the seat"), "");
    EXPECT_EQ(mendedName(map, ""), "");
    const std::string module = mendedName(map, map.module);
    EXPECT_EQ(module, mendedName(map, "module"));
    EXPECT_EQ(mendedWords(map, module), "the module " + map.module);
    EXPECT_EQ(mendedWords(map, "F3"), "fuse F3");
    OneJob job(map);
    job.enter(Repair{0, {module}, "exchanged"});
    EXPECT_TRUE(named(asked(job), "learns " + map.module).isOpen());
}

// Another battery leaves what a feed loses as it was; what a terminal reads against nothing else is read again.
TEST(Mended, AnotherBatteryLeavesTheProofsOfFeeds)
{
    const Map& map = test::hauler();
    OneJob job(map);
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    job.take("A1 > A6; key on; apart A; load 21 W lamp", "24.6 V");
    job.enter(Repair{0, {map.element(map.battery).id}, "new battery"});
    EXPECT_FALSE(job.open().assessment.stale.back());
    job.enter(Repair{0, {"F3"}, "new fuse"});
    EXPECT_TRUE(job.open().assessment.stale.back());
}

// What shared the way of what was mended was proven before it, on another machine: it is read again too.
TEST(Closing, WhatSharesTheMendedWayIsReadAgain)
{
    OneJob job(test::hauler());
    const auto read = [&] {
        job.take("battery plus > battery minus; key on", "25.1 V");
        job.take("A2 > A6; key on; apart A", "24.9 V");
        job.take("A2 > A6; key on; apart A; load 21 W lamp", "24.6 V");
    };
    read();
    job.enter(Repair{0, {"F3"}, "fuse changed, A1 and A2 hang on it"});
    const auto open = [&] { return openBeforeClosing(job.open().job, job.open().assessment); };
    EXPECT_THAT(open(), Contains(HasSubstr("not read again: A2")));
    read();
    EXPECT_THAT(open(), Not(Contains(HasSubstr("not read again"))));
}

// One part mended and all right again shows by itself what it was; several at once leave it open.
TEST(Closing, TheGradeIsWhatTheMendingShowed)
{
    for (const bool several : {false, true}) {
        OneJob job(test::hauler());
        const char* const loaded = "A1 > A6; key on; apart A; load 21 W lamp";
        job.take("battery plus > battery minus; key on", "25.1 V");
        job.take("A1 > A6; key on; apart A", "24.9 V");
        job.take(loaded, "17.2 V");
        job.enter(Repair{0, {"F3"}, "contact cleaned"});
        if (several) job.enter(Repair{0, {"A1"}, "terminal crimped"});
        EXPECT_EQ(gradeOfRepair(job.open().assessment), "") << "not proven yet";
        job.take("battery plus > battery minus; key on", "25.1 V");
        job.take("A1 > A6; key on; apart A", "24.9 V");
        job.take(loaded, "24.6 V");
        EXPECT_EQ(gradeOfRepair(job.open().assessment), several ? "on likelihood" : "shown directly");
        const auto end =
            closing(job.open().job, job.open().assessment, job.gate(), JobClosed::Verdict::Repaired, "done");
        ASSERT_TRUE(end);
        EXPECT_EQ(end->grade, several ? "on likelihood" : "shown directly");
        const Gate gate = job.gate();
        const std::string page = customerHtml({job.open().job, job.open().assessment, gate, 0});
        EXPECT_THAT(page, HasSubstr(several ? "one of these, mended together: fuse F3; A1" : "At fault was fuse F3."));
    }
}

TEST(Closing, AWorkTestThatFailedAndACodeThatCameBackAreOpen)
{
    OneJob job(test::hauler());
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.enter(CodesRead{{{"C1", "", ""}}});
    job.enter(Repair{0, {"F3"}, "contact cleaned"});
    const auto open = [&] { return openBeforeClosing(job.open().job, job.open().assessment); };
    EXPECT_THAT(open(), Contains(HasSubstr("not cleared")));
    job.enter(CodesRead{{{"C1", "", ""}}});
    EXPECT_THAT(open(), Contains(HasSubstr("C1 came back")));
    job.enter(CodesRead{{}});
    EXPECT_TRUE(open().empty());
    job.enter(WorkTried{"ten minutes", "stalls", false});
    EXPECT_THAT(open(), Contains(HasSubstr("Work test, ten minutes")));
    job.enter(WorkTried{"an hour", "", true});
    EXPECT_TRUE(open().empty());
}

}  // namespace
}  // namespace ilvek
