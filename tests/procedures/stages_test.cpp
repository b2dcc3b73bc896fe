// Stages and what they say, one procedure after the other, with figures as they are typed.
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"
#include "open_job/procedure_step.h"
#include "support/maps.h"
#include "support/one_job.h"
#include "support/procedure_walker.h"

namespace ilvek {
namespace {

using test::OneJob;

class Stages : public ::testing::Test {
protected:
    Procedure of(const OneJob& job, const std::string& id, const std::string& subject = "") const
    {
        const auto p = procedureOf(job.open(), id, subject, job.now());
        EXPECT_TRUE(p);
        return p.value_or(Procedure{});
    }
    static const Stage* stage(const Procedure& p, const std::string& id)
    {
        const auto at = std::find_if(p.stages.begin(), p.stages.end(), [&](const Stage& s) { return s.id == id; });
        return at == p.stages.end() ? nullptr : &*at;
    }
    static bool says(const Procedure& p, const std::string& fact)
    {
        for (const Stage& s : p.stages) {
            for (const Fact& f : s.says) {
                if (f.id == fact) return true;
            }
        }
        return p.ending && p.ending->fact.id == fact;
    }
};

TEST_F(Stages, InstrumentsAreProvenUntilAnotherIsTaken)
{
    OneJob job(test::hauler());
    EXPECT_EQ(of(job, "instruments").next()->id, "leads");
    job.take("battery plus > battery minus; key on", "25.1 V");
    EXPECT_EQ(of(job, "instruments").next()->id, "lamp");
    job.take("battery plus > battery minus; key on; load 21 W lamp", "bright");
    job.enter(CheckMade{"instruments clip", "engine block, bright"});
    EXPECT_EQ(of(job, "instruments").next()->id, "lead-ohms");
    job.enter(CheckMade{"instruments lead-ohms", "0.3"});
    for (const char* stage : {"clamp", "arrow", "attenuator"})
        job.enter(CheckMade{std::string("instruments ") + stage, "not used"});
    EXPECT_EQ(of(job, "instruments").ending->fact.id, "instruments.end");
    // The leads' own ohms are in what follows.
    job.take("A1 > A2; key off", "0.9 ohm");
    EXPECT_DOUBLE_EQ(job.last().testLeads_ohm.value_or(0), 0.3);
    Instrument other;
    other.name = "another meter";
    job.enter(InstrumentChange{other});
    EXPECT_FALSE(of(job, "instruments").ending);
    EXPECT_EQ(of(job, "instruments").next()->id, "leads");
    job.take("A1 > A2; key off", "0.9 ohm");
    EXPECT_FALSE(job.last().testLeads_ohm);
}

TEST_F(Stages, ALampThatWasNotSeenToBurnProvesNothingDark)
{
    const auto warns = [](const Judgement& j) {
        return std::any_of(j.doesNotProve.begin(), j.doesNotProve.end(),
                           [](const std::string& s) { return s.find("seen to burn") != std::string::npos; });
    };
    OneJob job(test::hauler());
    const std::string supply = job.map().terminal(job.map().moduleTerminals().front()).id;
    const std::string place = "battery plus > battery minus; key on; load 21 W lamp";
    EXPECT_TRUE(warns(job.take(place, "dark")));
    EXPECT_EQ(of(job, "instruments").stages[1].state, Stage::State::Failed);
    job.take(place, "bright");
    EXPECT_FALSE(warns(job.take(place, "dark")));
}

TEST_F(Stages, AWeakBatteryIsNamedAndACharger)
{
    OneJob job(test::hauler());  // 24 V
    job.enter(CheckMade{"battery others", "none"});
    job.take("battery plus > battery minus; key off", "23.6 V");
    EXPECT_TRUE(says(of(job, "battery"), "battery.end.weak"));
    OneJob charged(test::hauler());
    charged.enter(CheckMade{"battery others", "charger in the workshop"});
    charged.take("battery plus > battery minus; key off", "27.4 V");
    EXPECT_TRUE(says(of(charged, "battery"), "battery.others.lift"));
    EXPECT_TRUE(says(of(charged, "battery"), "battery.rest.high"));
    // Half charged is enough by custom, and not where a full one is asked for.
    OneJob half(test::hauler());
    half.enter(CheckMade{"battery others", "none"});
    half.take("battery plus > battery minus; key off", "24.8 V");
    EXPECT_TRUE(says(of(half, "battery"), "battery.rest.right"));
    WayOfWorking strict;
    strict.strictBattery = true;
    half.enter(WayOfWorkingChange{strict});
    EXPECT_TRUE(says(of(half, "battery"), "battery.rest.not-full"));
}

// Custom would let 12.30 V pass; the machine's own data ask for 12.35 V.
TEST_F(Stages, TheMachinesOwnFiguresForItsBatteryComeFirst)
{
    OneJob job(test::pt9());
    job.enter(CheckMade{"battery others", "none"});
    job.take("battery plus > battery minus; key off", "12.30 V");
    EXPECT_TRUE(says(of(job, "battery"), "battery.end.weak"));
    job.take("battery plus > battery minus; key off", "12.40 V");
    EXPECT_TRUE(says(of(job, "battery"), "battery.rest.right"));
}

TEST_F(Stages, KeyOnTimeIsCounted)
{
    OneJob job(test::hauler());
    job.enter(StateChange{"key-on"});
    job.take("battery plus > battery minus; key on", "25.0 V", 20 * 60);
    EXPECT_TRUE(says(of(job, "battery"), "battery.key-on"));
    job.enter(StateChange{"running"});
    EXPECT_FALSE(says(of(job, "battery"), "battery.key-on"));
}

TEST_F(Stages, WhatIsReadAfterTheWindowIsNoEvidence)
{
    OneJob job(test::hauler());
    const std::string drive = test::subjectsOf("shut-down", job.map()).front();
    Procedure p = of(job, "shut-down", drive);
    ASSERT_TRUE(p.next());
    ASSERT_EQ(p.next()->asked->kind, Asked::Kind::States);
    const auto states = p.next()->asked->states;
    const auto cycle = [&] {
        for (const std::string& s : states)
            job.enter(StateChange{s});
    };
    cycle();
    p = of(job, "shut-down", drive);
    ASSERT_EQ(p.next()->id, "window");
    const Step step = *stepOf(job.map(), *p.next()->asked);
    job.take(step, "24.8 V", 40);
    p = of(job, "shut-down", drive);
    EXPECT_FALSE(p.ending);
    EXPECT_EQ(p.next()->id, "cycle") << "too late: the key again";
    cycle();
    job.take(step, "0.2 V", 4);
    EXPECT_EQ(of(job, "shut-down", drive).ending->fact.id, "shut-down.end.protects");
    // That it drives right after the key is no shut-down by itself.
    OneJob sound(test::hauler());
    for (const std::string& state : states)
        sound.enter(StateChange{state});
    sound.take(step, "0.2 V", 4);
    p = of(sound, "shut-down", drive);
    ASSERT_FALSE(p.ending);
    EXPECT_EQ(p.next()->id, "after");
    sound.take(step, "0.2 V", 60);
    EXPECT_EQ(of(sound, "shut-down", drive).ending->fact.id, "shut-down.end.drives");
}

TEST_F(Stages, AShortThatComesAndGoesIsNotExcludedByDarkness)
{
    OneJob job(test::washer());
    const auto fuses = test::subjectsOf("short", job.map());
    ASSERT_FALSE(fuses.empty());
    const Element& fuse = job.map().element(job.map().elementIndex(fuses.front()));
    const std::string at =
        fmt::format("{0} out > battery minus; key on; pulled {0}; bridged {0} in > {0} out 5 A", fuse.id);
    job.take(at, "holds");
    Procedure p = of(job, "short", fuse.id);
    EXPECT_TRUE(says(p, "short.breaker.holds"));
    EXPECT_FALSE(p.ending && p.ending->kind == Ending::Kind::Found);
    job.take(at + "; touched loom at the frame", "tripped");
    p = of(job, "short", fuse.id);
    EXPECT_TRUE(says(p, "short.touched"));
}

TEST_F(Stages, MoreThanTheLampPassesIsAnotherSource)
{
    OneJob job(test::washer());
    const Element& fuse = job.map().element(job.map().elementIndex(test::subjectsOf("short", job.map()).front()));
    const auto& j = job.take(
        fmt::format("{0} out > battery minus; key on; pulled {0}; load 21 W lamp at {0} in > {0} out", fuse.id),
        "0.5 V @ 4.5 A");
    EXPECT_TRUE(test::hasTrap(j, "T17"));
}

// One conductor at a time: what flows in it flows to the short (T20 stands beside it).
TEST_F(Stages, TheLampsCurrentIsFollowedWithAClamp)
{
    OneJob job(test::storyMap("excavator-fuse"));
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.enter(CheckMade{"short F14 sources", "none"});
    const std::string lamp =
        "key on; apart A; pulled F14, work light, horn, load A5; load 21 W lamp at F14 in > F14 out";
    job.take("F14 in > F14 out; " + lamp, "24.6 V");
    ASSERT_TRUE(says(of(job, "short", "F14"), "short.light.stays"));
    const auto wireTo = [&](const char* node) {
        const Map& map = job.map();
        for (const Element& e : map.elements) {
            if (e.kind == ElementKind::Wire && (map.node(e.nodes[1]) == node || map.node(e.nodes[0]) == node))
                return e.id;
        }
        return std::string("none");
    };
    OneJob none = job;
    none.take(lamp + "; clamp " + wireTo("A2.a"), "0.01 A");
    const Procedure away = of(none, "short", "F14");
    EXPECT_TRUE(says(away, "short.clamp.none"));
    OneJob all = job;
    all.take(lamp + "; clamp " + wireTo("A2.a"), "0.88 A");
    const Procedure there = of(all, "short", "F14");
    EXPECT_TRUE(says(there, "short.clamp.through"));
    OneJob half = job;
    half.take(lamp + "; clamp " + wireTo("A2.a"), "0.3 A");
    EXPECT_TRUE(says(of(half, "short", "F14"), "short.clamp.unclear"));
}

// What is known to fail and easy to reach is left for last (T19).
TEST_F(Stages, AKnownWeakPartThatIsLeftForLastIsNamed)
{
    const std::string sheet = test::sourceText("data/stories/excavator-fuse.csv") + ";horn;known weak;;;;workshop\n";
    const auto read = readPinSheet(sheet, "sheet.csv");
    ASSERT_TRUE(read);
    NewMachine machine;
    machine.systemVoltage_V = 24, machine.module = "ECB";
    const auto document = mapFromSheet(read->rows, machine);
    ASSERT_TRUE(document);
    const auto map = readMap(*document, "sheet");
    ASSERT_TRUE(map);
    const int horn = test::elementWith(*map, ElementKind::Motor, "horn");
    ASSERT_GE(horn, 0);
    EXPECT_EQ(map->element(horn).weakness, 10);
    OneJob job(*map);
    const std::string lamp = "F14 out > battery minus; key on; pulled F14; load 55 W lamp at F14 in > F14 out";
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("F14 in > battery minus; key on", "25.0 V");
    job.enter(CheckMade{"short F14 sources", "none"});
    job.take(lamp + "; pulled load A5", "0.4 V");
    EXPECT_TRUE(says(of(job, "short", "F14"), "short.known-weak"));
    // Among those that are left no more: nothing to name.
    job.take(lamp + "; pulled load A5, horn", "0.4 V");
    job.take(lamp + "; pulled load A5, horn, work light", "0.4 V");
    const Procedure p = of(job, "short", "F14");
    EXPECT_FALSE(says(p, "short.known-weak"));
}

TEST_F(Stages, ItCanBeLeftAndTakenUp)
{
    OneJob job(test::hauler());
    job.enter(ProcedureFollowed{"battery", ""});
    ASSERT_TRUE(followed(job.open(), job.now()));
    job.enter(CheckMade{"battery others", "none"});
    job.enter(ProcedureFollowed{});
    EXPECT_FALSE(followed(job.open(), job.now()));
    job.enter(ProcedureFollowed{"battery", ""});
    EXPECT_EQ(followed(job.open(), job.now())->next()->id, "temperature");
    EXPECT_FALSE(procedureOf(job.open(), "battery", "K9", job.now()));
    EXPECT_FALSE(procedureOf(job.open(), "no such", "", job.now()));
}

}  // namespace
}  // namespace ilvek
