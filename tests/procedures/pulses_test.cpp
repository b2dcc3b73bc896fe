// Does it move, and if not, why: figures as they are typed.
#include "support/maps.h"
#include "support/typed_procedure.h"

namespace ilvek {
namespace {

using test::TypedProcedure;

std::string hall(const Map& map)
{
    for (const std::string& id : test::subjectsOf("pulses", map)) {
        if (map.terminal(map.terminalIndex(id)).role == Role::HallInput) return id;
    }
    return "";
}

TEST(Pulses, WhatMovesIsSoundHoweverThatWasRead)
{
    for (const char* figure : {"moves", "0.3..4.8 V"}) {
        TypedProcedure job(test::pt9(), "pulses", hall(test::pt9()));
        job.next("moves", figure);
        EXPECT_EQ(job.ending(), "pulses.end.moves") << figure;
    }
}

TEST(Pulses, AHallThatStaysHighIsBridgedAtItsPlug)
{
    TypedProcedure job(test::pt9(), "pulses", hall(test::pt9()));
    job.next("moves", "stuck high");
    job.next("turns", "turns, gap right");
    job.next("supply", "11.9 V");
    job.next("level", "4.97 V");
    job.next("bridged", "0.02 V");
    EXPECT_EQ(job.ending(), "hall.end.never-closes");
}

TEST(Pulses, AHallThatIsNotFedIsNotBlamed)
{
    TypedProcedure job(test::pt9(), "pulses", hall(test::pt9()));
    job.next("moves", "stuck low");
    job.next("turns", "turns");
    job.next("supply", "0.1 V");
    EXPECT_EQ(job.ending(), "pulses.end.supply");
    EXPECT_EQ(job.now().ending->kind, Ending::Kind::Elsewhere);
}

TEST(Pulses, APickUpIsToldByVoltsThenByOhms)
{
    const Map& map = test::storyMap("marine-engine");
    const std::string id = test::subjectsOf("pulses", map).front();
    TypedProcedure sound(map, "pulses", id);
    sound.next("moves", "~ 0.9 V");
    sound.next("faster", "~ 2.4 V");
    EXPECT_EQ(sound.ending(), "pulses.end.moves");
    TypedProcedure hum(map, "pulses", id);
    hum.next("moves", "~ 0.4 V");
    hum.next("faster", "~ 0.41 V");
    EXPECT_EQ(hum.ending(), "pulses.end.hum");
    EXPECT_EQ(hum.now().ending->kind, Ending::Kind::Open) << "no part is blamed";
    TypedProcedure open(map, "pulses", id);
    open.next("moves", "~ 0.01 V");
    open.next("turns", "turns, gap 0.8 mm");
    open.next("ohms", "OL");
    EXPECT_EQ(open.ending(), "pulses.end.open");
    TypedProcedure whole(map, "pulses", id);
    whole.next("moves", "~ 0.01 V");
    whole.next("turns", "turns");
    whole.next("ohms", "215 ohm");
    whole.next("wires", "216 ohm");
    EXPECT_EQ(whole.now().ending->kind, Ending::Kind::Open) << "whole, and yet nothing: no part is found";
}

// The same verdicts from a recording as from figures that were typed.
TEST(Pulses, ARecordingAtTheTerminalCountsAsWell)
{
    const auto recorded = [](const char* verdict, double least, double most) {
        TraceSeen t;
        t.recording = "wheel.csv", t.verdict = verdict, t.terminal = hall(test::pt9()), t.unit = "V";
        t.to_s = 1, t.least = {least, least}, t.most = {most, most};
        return t;
    };
    TypedProcedure moves(test::pt9(), "pulses", hall(test::pt9()));
    moves.job.enter(recorded("A wheel of 35 teeth and a gap of one.", 0.3, 4.8));
    EXPECT_EQ(moves.ending(), "pulses.end.moves");
    TypedProcedure still(test::pt9(), "pulses", hall(test::pt9()));
    still.job.enter(recorded("It does not switch.", 4.9, 5.0));
    EXPECT_TRUE(still.says("pulses.stuck.high"));
    still.next("turns", "turns");
    EXPECT_EQ(still.now().next()->id, "supply");
    // Typed later it counts instead.
    const Map& map = still.job.map();
    const Terminal& terminal = map.terminal(map.terminalIndex(hall(map)));
    still.job.take(test::setUpAt(map, map.node(terminal.a) + " > battery minus; cranking"), "moves");
    EXPECT_EQ(still.ending(), "pulses.end.moves");
}

}  // namespace
}  // namespace ilvek
