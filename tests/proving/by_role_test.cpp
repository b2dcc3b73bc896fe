// What may be proven by role where nobody stated a figure: only what can fail earns anything.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "proving/plan.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::HasSubstr;

TEST(ByRole, ABusLineAtTheBatteryEarnsNothing)
{
    OneJob job(test::washer());
    EXPECT_EQ(job.take("C1 > minus; key on", "12.4 V").verdict, Verdict::High);
    EXPECT_EQ(job.proof("C1"), ProofState::OutOfLimits);
    EXPECT_EQ(job.take("C2 > minus; key on", "0.01 V").verdict, Verdict::Low);
    EXPECT_EQ(job.take("C1 > minus; key on", "2.6 V").verdict, Verdict::Good);
    EXPECT_EQ(job.proof("C1"), ProofState::ProvenLoaded);
}

TEST(ByRole, WhileItIsChargedAFeedMayStandALittleAboveThePosts)
{
    OneJob job(test::storyMap("peat-charging"));
    job.take("plus > minus; running", "13.35 V");
    EXPECT_EQ(job.take("1 > minus; running", "13.46 V").verdict, Verdict::OpenOnly);
    EXPECT_THAT(job.open().assessment.judgements.back().arithmetic, HasSubstr("The battery is being charged"));
    EXPECT_EQ(job.take("1 > minus; running", "14.3 V").verdict, Verdict::High) << "no cable loses that";
    job.take("plus > minus; key on", "12.4 V");
    EXPECT_EQ(job.take("1 > minus; key on", "12.6 V").verdict, Verdict::High) << "nothing charges it";
}

const Map& winch()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;power;supply, always;F1 15 A;\n"
        "2;ground;return;G1;\n"
        "3;in;drives coil of K1;;\"coil of K1, other end G1\"\n"
        "4;sensors;5 V reference;;\n"
        ";motor;consumer;K1 > F9 200 A;\"motor 150 A, ground G1\"\n",
        12);
    return map;
}

// Seven volts on a return were “right, current assumed”, for no limit was told of that state.
TEST(ByRole, AReturnFailsInAnyStateByWhatNoSoundLoomLoses)
{
    OneJob job(winch());
    job.take("plus > minus; commanded 3", "11.9 V");
    EXPECT_EQ(job.take("2 > minus; commanded 3", "7.2 V").verdict, Verdict::FailsLoaded);
    EXPECT_THAT(job.open().assessment.judgements.back().limits, HasSubstr("at most 600 mV"));
    EXPECT_EQ(job.take("2 > minus; commanded 3", "0.35 V").verdict, Verdict::OpenOnly)
        << "the winch pulls on its ground";
    EXPECT_NE(job.proof("2"), ProofState::ProvenLoaded);
}

TEST(ByRole, AReferenceHasItsLevelInEveryStateInWhichItStands)
{
    OneJob job(winch());
    EXPECT_EQ(job.take("4 > 2; running", "5.02 V").verdict, Verdict::Good);
    EXPECT_EQ(job.take("4 > 2; running", "4.1 V").verdict, Verdict::Low);
    EXPECT_NE(job.take("4 > 2; cranking", "4.98 V").verdict, Verdict::Low);
}

TEST(ByRole, ALowSideDriveIsProvenByBothItsLevels)
{
    OneJob job(test::washer());
    EXPECT_EQ(job.take("B3 > A7; key on", "12.2 V").verdict, Verdict::Good);
    EXPECT_NE(job.proof("B3"), ProofState::ProvenLoaded) << "a drive that never pulls reads so too";
    EXPECT_EQ(job.take("B3 > A7; key on; commanded B3", "0.4 V").verdict, Verdict::Good);
    EXPECT_EQ(job.proof("B3"), ProofState::ProvenLoaded);
}

TEST(ByRole, ADeadDriveFailsCommandedAndADeadWireAtRest)
{
    OneJob job(test::washer());
    EXPECT_EQ(job.take("B3 > A7; b3-commanded", "12.1 V").verdict, Verdict::High);
    EXPECT_EQ(job.take("B4 > A7; b4-commanded", "0.02 V").verdict, Verdict::Low);
    EXPECT_EQ(job.proof("B3"), ProofState::OutOfLimits);
    OneJob dead(test::washer());
    EXPECT_EQ(dead.take("B3 > A7; key on", "0.01 V").verdict, Verdict::Low);
}

TEST(ByRole, ADeadWireOfARelaysCoilLooksPulledDownAndIsFoundWithTheModuleApart)
{
    OneJob job(test::washer());
    EXPECT_EQ(job.take("B1 > A7; key on", "0.01 V").verdict, Verdict::Good) << "as if it pulled the coil down";
    EXPECT_NE(job.proof("B1"), ProofState::ProvenLoaded);
    EXPECT_EQ(job.take("B1 > minus; key on; apart B", "0.01 V").verdict, Verdict::Low);
    OneJob sound(test::washer());
    sound.take("B1 > A7; key on", "0.2 V");
    EXPECT_EQ(sound.take("B1 > minus; key on; apart B", "12.3 V").verdict, Verdict::Good);
    EXPECT_EQ(sound.proof("B1"), ProofState::ProvenLoaded);
}

TEST(ByRole, ASwitchInputIsProvenByTwoLevelsThatDiffer)
{
    OneJob job(test::washer());
    EXPECT_EQ(job.take("B8 > A7; key on", "4.9 V").verdict, Verdict::NotDecided);
    EXPECT_EQ(job.proof("B8"), ProofState::ReadOnly);
    EXPECT_THAT(job.open().assessment.judgements.back().doesNotProve.front(), HasSubstr("brush down operated"));
    const Judgement& moved = job.take("B8 > A7; b8-operated", "0.1 V");
    EXPECT_EQ(moved.verdict, Verdict::Good);
    EXPECT_TRUE(moved.moved);
    EXPECT_EQ(job.proof("B8"), ProofState::ProvenLoaded);

    OneJob stuck(test::washer());
    stuck.take("B8 > A7; key on", "4.9 V");
    EXPECT_EQ(stuck.take("B8 > A7; b8-operated", "4.88 V").verdict, Verdict::High);
    EXPECT_EQ(stuck.proof("B8"), ProofState::OutOfLimits);
}

TEST(ByRole, AnAnalogueInputIsProvenByMovingNeverByStanding)
{
    for (const char* moving : {"1.2..3.6 V", "moves"}) {
        OneJob job(test::washer());
        EXPECT_EQ(job.take("B7 > A8; key on", "2.31 V").verdict, Verdict::NotDecided);
        EXPECT_EQ(job.proof("B7"), ProofState::ReadOnly);
        EXPECT_EQ(job.take("B7 > A8; key on", moving).verdict, Verdict::Good) << moving;
        EXPECT_EQ(job.proof("B7"), ProofState::ProvenLoaded) << moving;
    }
    OneJob twice(test::washer());
    twice.take("B7 > A8; key on", "2.31 V");
    EXPECT_EQ(twice.take("B7 > A8; key on", "2.35 V").verdict, Verdict::NotDecided) << "the same is no movement";
}

TEST(ByRole, AThermistorStandsBetweenItsOhmsAtTheEndsOfItsRange)
{
    OneJob job(test::washer());
    EXPECT_EQ(job.take("B6 > A8; key on", "2.9 V").verdict, Verdict::Good);
    EXPECT_EQ(job.take("B6 > A8; key on", "5.0 V").verdict, Verdict::High) << "open";
    EXPECT_EQ(job.take("B6 > A8; key on", "0.02 V").verdict, Verdict::Low) << "to ground";
}

TEST(ByRole, MatedASupplyIsUnderItsOwnLoadWhateverIsStated)
{
    // A2's 6 A are stated: 3 % less than the battery is what a sound loom may lose at them.
    OneJob job(test::washer());
    job.take("plus > minus; key on", "12.5 V");
    EXPECT_FALSE(isFailure(job.take("A2 > minus; key on", "12.12 V").verdict));
    EXPECT_TRUE(isFailure(job.take("A2 > minus; key on", "11.5 V").verdict));
}

TEST(ByRole, WhatTheSheetStatesHoldsInsteadOfWhatIsCustomary)
{
    const Map& map = test::washer();
    const Terminal& valve = map.terminal(map.terminalIndex("B3"));
    EXPECT_NEAR(*valve.current_A, 1.05, 1e-9);
    EXPECT_EQ(map.sourceId(valve.currentSource), "page 9");
    EXPECT_NEAR(*map.terminal(map.terminalIndex("A2")).current_A, 6, 1e-9);
}

// The plan asks for what the roles must show, and a sound machine is proven by doing it.
TEST(ByRole, ThePlanAsksForEachStateAndEnds)
{
    OneJob job(test::washer());
    const Map& map = job.map();
    for (int n = 0; n < 120; ++n) {
        const auto step = nextStep(map, job.open().assessment, {job.now(), job.open().job.state});
        if (!step) break;
        const int terminal = step->terminal;
        const bool mustMove = terminal >= 0 && !map.terminal(terminal).moves.empty() && step->test == TestKind::Level;
        const auto volts = healthyVolts(map, *step);
        std::string figure = mustMove && map.terminal(terminal).moves.size() == 1 ? "1.2..3.4 V"
                             : volts                                              ? fmt::format("{:.3f} V", *volts)
                                                                                  : "0 V";
        const auto reading = readingAtStep(job.open(), *step, figure, job.now());
        ASSERT_TRUE(reading) << step->title << ": " << figure;
        for (EventBody& body : entriesOf(job.open(), *reading))
            job.enter(std::move(body));
    }
    for (const int terminal : map.moduleTerminals()) {
        const Terminal& t = map.terminal(terminal);
        if (t.role == Role::Empty) continue;
        EXPECT_EQ(job.proof(t.id.c_str()), ProofState::ProvenLoaded)
            << t.id << ": " << proofWords(job.proof(t.id.c_str()));
    }
}

TEST(ByRole, LevelsThatNobodyStatedAccuseNobody)
{
    OneJob job(test::washer());
    for (const auto& [place, figure] : {std::pair("B7", "3.9 V"), {"B8", "0.2 V"}, {"B6", "1.1 V"}, {"C1", "1.6 V"}})
        job.take(std::string(place) + " > A7; key on", figure);
    const Reasoning r = weighedInFull(job.open())->reason(job.open().standing());
    EXPECT_TRUE(r.doubtful.empty());
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open) << r.conclusion.words;
    const Gate gate = job.open().gate(job.now(), &r);
    EXPECT_EQ(gate.outcome, Outcome::NotProven) << gate.sentence;
}

// The posts read twice as far away in time, once before and once with a winch drawing: the feed is held against those
// of its own draw. Against the others it had stood 1.2 V above its battery, and the supply failed on a sound machine.
TEST(ByRole, AFeedIsHeldAgainstTheBatteryWithTheSameDrivesOn)
{
    const Map map = test::mapOfRows(
        "pin;name;type;route;load\n1;batt;supply;F1 10 A;\n2;gnd;ground;G1;\n"
        "3;up;low side;;coil of R1, other end F1\n;winch motor;consumer;R1 > F5 80 A;motor 50 A, ground G9\n");
    OneJob job(map);
    job.take("plus > minus; key on", "12.8 V", 20);
    EXPECT_EQ(job.take("1 > 2; key on", "12.7 V", 20).verdict, Verdict::OpenOnly);
    job.take("plus > minus; commanded 3", "11.4 V", 20);
    EXPECT_EQ(job.open().assessment.judgements[1].verdict, Verdict::OpenOnly);
    job.take("1 > 2; commanded 3", "11.3 V", 5);
    EXPECT_EQ(job.open().assessment.judgements.back().verdict, Verdict::OpenOnly) << "11.4 V is its own";
}

}  // namespace
}  // namespace ilvek
