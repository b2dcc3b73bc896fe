// Does it move, and if not, why: figures as they are typed.
#include "open_job/procedure_step.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;

class PulsesTest : public ::testing::Test {
protected:
    static Procedure of(const OneJob& job, const std::string& subject)
    {
        const auto p = procedureOf(job.open(), "pulses", subject, job.now());
        EXPECT_TRUE(p);
        return p.value_or(Procedure{});
    }
    // Takes the figure for what is next, which must be that stage.
    static void next(OneJob& job, const std::string& subject, const std::string& stage, const std::string& figure)
    {
        const Procedure p = of(job, subject);
        ASSERT_TRUE(p.next()) << stage;
        EXPECT_EQ(p.next()->id, stage);
        const Asked& asked = *p.next()->asked;
        if (asked.kind == Asked::Kind::Statement) return job.enter(CheckMade{asked.statement, figure});
        job.take(*stepOf(job.map(), asked), figure, 3);
    }
    static std::string hall(const Map& map)
    {
        for (const std::string& id : test::subjectsOf("pulses", map)) {
            if (map.terminal(map.terminalIndex(id)).role == Role::HallInput) return id;
        }
        return "";
    }
    static std::string ending(const OneJob& job, const std::string& subject)
    {
        const Procedure p = of(job, subject);
        return p.ending ? p.ending->fact.id : "none";
    }
};

TEST_F(PulsesTest, WhatMovesIsSoundHoweverThatWasRead)
{
    for (const char* figure : {"moves", "0.3..4.8 V"}) {
        OneJob job(test::pt9());
        const std::string id = hall(job.map());
        ASSERT_FALSE(id.empty());
        next(job, id, "moves", figure);
        EXPECT_EQ(ending(job, id), "pulses.end.moves") << figure;
    }
}

TEST_F(PulsesTest, AHallThatStaysHighIsBridgedAtItsPlug)
{
    OneJob job(test::pt9());
    const std::string id = hall(job.map());
    next(job, id, "moves", "stuck high");
    next(job, id, "turns", "turns, gap right");
    next(job, id, "supply", "11.9 V");
    next(job, id, "level", "4.97 V");
    next(job, id, "bridged", "0.02 V");
    EXPECT_EQ(ending(job, id), "switch.end.never-closes");
}

TEST_F(PulsesTest, AHallThatIsNotFedIsNotBlamed)
{
    OneJob job(test::pt9());
    const std::string id = hall(job.map());
    next(job, id, "moves", "stuck low");
    next(job, id, "turns", "turns");
    next(job, id, "supply", "0.1 V");
    EXPECT_EQ(ending(job, id), "pulses.end.supply");
    EXPECT_EQ(of(job, id).ending->kind, Ending::Kind::Elsewhere);
}

TEST_F(PulsesTest, APickUpIsToldByVoltsThenByOhms)
{
    const Map& map = test::storyMap("marine-engine");
    const std::string id = test::subjectsOf("pulses", map).front();
    OneJob sound(map);
    next(sound, id, "moves", "~ 0.9 V");
    EXPECT_EQ(ending(sound, id), "pulses.end.moves");
    OneJob open(map);
    next(open, id, "moves", "~ 0.01 V");
    next(open, id, "turns", "turns, gap 0.8 mm");
    next(open, id, "ohms", "OL");
    EXPECT_EQ(ending(open, id), "pulses.end.open");
    OneJob whole(map);
    next(whole, id, "moves", "~ 0.01 V");
    next(whole, id, "turns", "turns");
    next(whole, id, "ohms", "215 ohm");
    next(whole, id, "wires", "216 ohm");
    EXPECT_EQ(of(whole, id).ending->kind, Ending::Kind::Open) << "whole, and yet nothing: no part is found";
}

}  // namespace
}  // namespace ilvek
