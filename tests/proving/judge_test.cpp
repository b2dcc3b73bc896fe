// Each test of W7–W14 and W18, and for each trap the naive conclusion beside the right one.
#include "proving/judge.h"
#include "circuit/operating_point.h"

#include <gmock/gmock.h>

#include <cmath>

#include "proving/proof.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using test::Bench;
using test::hasTrap;
using testing::HasSubstr;

class Judging : public testing::Test {
protected:
    const Map& map = test::smallMap();
    Bench bench{map};
    WayOfWorking working;
    int supply = map.terminalIndex("M-1");
    int ret = map.terminalIndex("M-2");
    int reference = map.terminalIndex("M-3");
    int on = map.stateIndex("key-on");
    int off = map.stateIndex("key-off");

    Step open() { return openStep(map, working, supply, on); }
    Step load(const std::string& id = "")
    {
        WayOfWorking s = working;
        s.load = id;
        Step step = loadStep(map, s, supply, on);
        if (!id.empty()) step.load = id;
        return step;
    }
    static std::string joined(const Judgement& j)
    {
        std::string out = j.arithmetic;
        for (const auto& s : j.proves)
            out += " | " + s;
        for (const auto& s : j.doesNotProve)
            out += " | " + s;
        for (const auto& t : j.traps)
            out += " | " + t.id + " " + t.line;
        return out;
    }
};

TEST_F(Judging, ABatteryReadingIsNotedAndJudgedByItsState)
{
    EXPECT_EQ(bench.battery(12.4).verdict, Verdict::Noted);
    EXPECT_EQ(bench.battery(11.2).verdict, Verdict::Low);
    EXPECT_EQ(bench.battery(14.2).verdict, Verdict::High) << "a charger is on";
    EXPECT_TRUE(hasTrap(bench.battery(-12.4), "T4"));
}

TEST_F(Judging, AnOpenCircuitReadingThatIsRightProvesLittle)
{
    bench.battery(12.40);
    const Judgement j = bench.take(open(), 12.38);
    EXPECT_EQ(j.verdict, Verdict::OpenOnly);
    EXPECT_THAT(joined(j), HasSubstr("one strand left reads the same"));
    EXPECT_THAT(j.limits, HasSubstr("(S)")) << "every limit names its source";
}

// T2: five per cent low through ten megohms looks nearly good and is half a megohm.
TEST_F(Judging, T2ShowsTheResistanceBehindAnOpenCircuitShortfall)
{
    bench.battery(12.00);
    const Judgement j = bench.take(open(), 11.43);
    EXPECT_EQ(j.verdict, Verdict::Low);
    ASSERT_TRUE(hasTrap(j, "T2"));
    ASSERT_TRUE(j.loopResistance_ohm);
    EXPECT_NEAR(*j.loopResistance_ohm, 10e6 * 0.57 / 11.43, 1);
    EXPECT_THAT(j.arithmetic, HasSubstr("499 kΩ"));
}

TEST_F(Judging, AMatedShortfallIsDividedByTheStandingCurrent)
{
    bench.battery(12.40);
    working.mated = true;
    const Judgement j = bench.take(open(), 11.80);
    EXPECT_EQ(j.verdict, Verdict::Low);
    EXPECT_FALSE(hasTrap(j, "T2"));
    ASSERT_TRUE(j.loopResistance_ohm);
    EXPECT_NEAR(*j.loopResistance_ohm, 0.6 / 1.205, 0.01) << "the module draws 1.2 A here";
}

// T3: against yesterday's battery any feed can be made to look right or wrong.
TEST_F(Judging, T3GivesNoVerdictAgainstAStaleBattery)
{
    bench.battery(12.40);
    bench.wait(61);
    const Judgement j = bench.take(open(), 12.38);
    EXPECT_EQ(j.verdict, Verdict::NotDecided);
    EXPECT_TRUE(hasTrap(j, "T3"));
}

TEST_F(Judging, T3DoesNotTakeTheBatteryOfAnotherState)
{
    bench.battery(12.40, "key-off");
    EXPECT_EQ(bench.take(open(), 12.38).verdict, Verdict::NotDecided);
}

TEST_F(Judging, ABatteryReadWithinTheMinuteAfterwardsCountsToo)
{
    bench.take(open(), 12.38);
    bench.battery(12.40);
    EXPECT_EQ(judge(map, bench.evidence(), bench.evidence().readings.front()).verdict, Verdict::OpenOnly);
}

TEST_F(Judging, AFeedAboveItsBatteryIsNoEvidence)
{
    bench.battery(12.40);
    const Judgement j = bench.take(open(), 12.60);
    EXPECT_EQ(j.verdict, Verdict::High);
    EXPECT_TRUE(hasTrap(j, "T3"));
}

TEST_F(Judging, AnAbsentSupplyIsNamedAsSuch)
{
    bench.battery(12.40);
    const Judgement j = bench.take(open(), 0.05);
    EXPECT_EQ(j.finding, Finding::SupplyAbsent);
    EXPECT_TRUE(isFailure(j.verdict));
}

TEST_F(Judging, ASupplyMustBeAbsentWhenItMustBe)
{
    EXPECT_EQ(bench.take(absentStep(map, working, supply, off), 0.02).verdict, Verdict::Good);
    const Judgement j = bench.take(absentStep(map, working, supply, off), 11.9);
    EXPECT_EQ(j.verdict, Verdict::High);
    EXPECT_TRUE(hasTrap(j, "T17"));
}

TEST_F(Judging, TheLoadTestComputesTheLoop)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    // 21 W lamp at 7.90 V: 1.75 A (7.90/12)^0.55 = 1.391 A; (12.38 − 7.90)/1.391 = 3.22 Ω; I²R = 6.23 W.
    const Judgement j = bench.take(load("lamp-21w"), 7.90);
    EXPECT_EQ(j.verdict, Verdict::FailsLoaded);
    const double current = 1.75 * std::pow(7.90 / 12, 0.55);
    EXPECT_NEAR(j.current_A, current, 1e-9);
    EXPECT_NEAR(*j.loopResistance_ohm, (12.38 - 7.90) / current, 1e-9);
    EXPECT_THAT(j.arithmetic, HasSubstr("3.22 Ω"));
    EXPECT_THAT(j.arithmetic, HasSubstr("6.23 W of heat"));
    EXPECT_THAT(j.arithmetic, HasSubstr("would see 5.94 V")) << "12.38 − 2 A × 3.22 Ω";
    EXPECT_THAT(joined(j), HasSubstr("Swap the ground"));
}

TEST_F(Judging, ASoundLoopPassesAndSaysAtWhichCurrent)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    const Judgement j = bench.take(load("lamp-21w"), 12.28);
    EXPECT_EQ(j.verdict, Verdict::Good);
    EXPECT_TRUE(hasTrap(j, "T21"));
}

// T6: a small lamp passes a conductor that the real current would not.
TEST_F(Judging, T6DoesNotTakeASmallLoadForAProof)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    const Judgement j = bench.take(load("resistor-100"), 12.37);
    EXPECT_NE(j.verdict, Verdict::Good);
    EXPECT_TRUE(hasTrap(j, "T6")) << joined(j);
}

TEST_F(Judging, ASmallLoadStillConvictsALoopThatIsBadBeyondDoubt)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    EXPECT_EQ(bench.take(load("resistor-100"), 10.0).verdict, Verdict::FailsLoaded);
}

TEST_F(Judging, ADropThatTheLastDigitDecidesIsTooCloseToCall)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    // At the limit: 0.5 V at 2 A is 0.25 Ω; the 21 W lamp passes about 1.75 A.
    const Judgement j = bench.take(load("lamp-21w"), 11.945);
    EXPECT_EQ(j.verdict, Verdict::NotDecided) << joined(j);
}

TEST_F(Judging, ALoadedReadingNeedsItsOpenPartner)
{
    bench.battery(12.40);
    EXPECT_EQ(bench.take(load("lamp-21w"), 12.28).verdict, Verdict::NotDecided);
}

TEST_F(Judging, TwoDifferentLoadsGiveTheResistanceWithoutTheSource)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    bench.take(load("lamp-5w"), 11.20, 0.40);
    const Judgement j = bench.take(load("lamp-21w"), 8.20, 1.40);
    // R = (11.20 − 8.20) / (1.40 − 0.40)
    EXPECT_NEAR(*j.loopResistance_ohm, 3.0, 1e-9);
    EXPECT_THAT(j.arithmetic, HasSubstr("from two loads"));
}

TEST_F(Judging, AMeasuredCurrentComesBeforeTheLampsLaw)
{
    bench.battery(12.40);
    bench.take(open(), 12.00);
    EXPECT_NEAR(*bench.take(load("lamp-21w"), 11.00, 2.0).loopResistance_ohm, 0.5, 1e-9);
}

// T1: no load, no proof, however right the figure.
TEST_F(Judging, T1AReadingWithoutAnyCurrentIsNoEvidence)
{
    bench.battery(12.40);
    Step step = load();
    step.load.clear();
    const Judgement j = bench.take(step, 12.38);
    EXPECT_EQ(j.verdict, Verdict::NoEvidence);
    EXPECT_TRUE(hasTrap(j, "T1"));
    Step dry = returnStep(map, working, ret, on);
    dry.load.clear();
    const Judgement r = bench.take(dry, 0.000);
    EXPECT_EQ(r.verdict, Verdict::NoEvidence) << "zero volts at zero amperes is not a good ground";
    EXPECT_TRUE(hasTrap(r, "T1"));
}

// T1: a module that draws nothing reads right; only a measured current makes the mated reading a proof.
TEST_F(Judging, T1MatedTheModuleIsTheLoadAndItsCurrentMustBeMeasured)
{
    working.mated = true;
    bench.battery(12.40);
    Step step = loadStep(map, working, supply, on);
    step.load.clear();
    const Judgement assumed = bench.take(step, 12.34);
    EXPECT_EQ(assumed.verdict, Verdict::OpenOnly) << joined(assumed);
    EXPECT_TRUE(hasTrap(assumed, "T1"));
    EXPECT_EQ(bench.take(step, 12.34, 1.2).verdict, Verdict::Good);
    EXPECT_EQ(bench.take(step, 10.0).verdict, Verdict::FailsLoaded);
}

// W24: it failed, nothing was mended, it passes: that is an intermittent and no proof.
TEST_F(Judging, APassAfterAFailureWithNothingMendedIsAConflict)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    bench.take(load("lamp-21w"), 7.90);
    const Judgement j = bench.take(load("lamp-21w"), 12.28);
    EXPECT_EQ(j.verdict, Verdict::Conflict) << j.word;
    EXPECT_EQ(proofOf(map, bench.assessed(), supply).state, ProofState::FailedLoaded) << "the failure stands";
}

TEST_F(Judging, AnOpenReadingOfAnHourAgoIsNoPartner)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    bench.wait(3600);
    const Judgement j = bench.take(load("lamp-21w"), 12.0);
    EXPECT_EQ(j.verdict, Verdict::NotDecided);
    EXPECT_TRUE(hasTrap(j, "T3"));
}

// A loose stud at G2 reads well while the module's other returns carry for it.
TEST_F(Judging, T12AMatedReturnIsNotProvenWhileOthersCarryForIt)
{
    const Map& machine = test::pt9();
    Bench mated(machine);
    Step step = returnStep(machine, {}, machine.terminalIndex("J1-9"), machine.stateIndex("key-on"));
    step.unplugged.clear();
    mated.battery(12.5);
    const Judgement j = mated.take(step, 0.010);
    EXPECT_EQ(j.verdict, Verdict::OpenOnly);
    EXPECT_TRUE(hasTrap(j, "T12"));
    EXPECT_EQ(mated.take(step, 0.010, 1.7).verdict, Verdict::Good) << "with a clamp on this very conductor";
    WayOfWorking school_mated;
    school_mated.mated = true;
    const Step asked = returnStep(machine, school_mated, machine.terminalIndex("J1-9"), machine.stateIndex("key-on"));
    EXPECT_TRUE(asked.unplugged.empty());
    EXPECT_TRUE(asked.load.empty()) << "the module is the load";
    EXPECT_NE(asked.instructions.front().find("clamp on the conductor of J1-9"), std::string::npos);
}

// T22: the lamp that failed is the lamp that must pass.
TEST_F(Judging, T22APassUnderASmallerLoadProvesNoRepair)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    bench.take(load("lamps-2x55w"), 7.90);
    bench.repaired("X-1");
    bench.take(open(), 12.38);
    const Judgement smaller = bench.take(load("lamp-21w"), 12.28);
    EXPECT_NE(smaller.verdict, Verdict::Good);
    EXPECT_TRUE(hasTrap(smaller, "T22"));
    EXPECT_EQ(bench.take(load("lamps-2x55w"), 11.99).verdict, Verdict::Good);
}

TEST_F(Judging, AReturnIsProvenByItsDropAtACurrent)
{
    bench.battery(12.40);
    const Judgement j = bench.take(returnStep(map, working, ret, on), 0.020);
    EXPECT_EQ(j.verdict, Verdict::Good) << joined(j);
    const Judgement bad = bench.take(returnStep(map, working, ret, on), 0.6);
    EXPECT_EQ(bad.verdict, Verdict::FailsLoaded);
}

TEST_F(Judging, T8AReturnThatReadsTheSupplyIsOpenOrTheLeadIsWrong)
{
    bench.battery(12.40);
    const Judgement j = bench.take(returnStep(map, working, ret, on), 12.3);
    EXPECT_EQ(j.word, "Return is open");
    EXPECT_TRUE(hasTrap(j, "T8"));
}

TEST_F(Judging, T8ALoadCannotRaiseASupply)
{
    bench.battery(12.40);
    bench.take(open(), 11.00);
    const Judgement j = bench.take(load("lamp-21w"), 11.40);
    EXPECT_EQ(j.verdict, Verdict::Conflict);
    EXPECT_TRUE(hasTrap(j, "T8"));
}

TEST(JudgingAPoint, IsAgainstTheBatteryOfItsOwnState)
{
    // A battery that is loaded or charged is not the one at rest: a sound machine reads as sound in every state.
    const Map& machine = test::pt9();
    for (std::size_t s = 0; s < machine.states.size(); ++s) {
        const std::string& state = machine.states[s].id;
        Condition resting;
        resting.state = static_cast<int>(s);
        const auto point = operatingPoint(machine, resting);
        ASSERT_TRUE(point);
        for (const char* place : {"K2.86", "K1.87", "F17.out", "J1-10.a"}) {
            const int node = machine.nodeIndex(place);
            if (point->isFloating(node)) continue;
            for (const double battery : {1.0, 0.97}) {
                test::Bench bench(machine);
                bench.battery(battery * point->potential(machine.batteryPlus()), state);
                const bool hangs = point->potential(node) > 0.8 * point->potential(machine.batteryPlus());
                const Step step = pointStep(machine, node, machine.batteryMinus(), static_cast<int>(s), {}, -1);
                const double sound = point->potential(node) * (hangs ? battery : 1);
                EXPECT_EQ(bench.take(step, sound).word, "As a sound circuit") << place << ", " << state;
                EXPECT_NE(bench.take(step, sound + 0.5).word, "As a sound circuit") << place << ", " << state;
            }
        }
    }
}

TEST_F(Judging, T12SiblingsOnOneGroundPointAreNotProvenAlong)
{
    Bench pt9(test::pt9());
    pt9.battery(12.5);
    const Judgement j = pt9.take(
        returnStep(test::pt9(), {}, test::pt9().terminalIndex("J1-7"), test::pt9().stateIndex("key-on")), 0.028);
    EXPECT_EQ(j.verdict, Verdict::Good);
    ASSERT_TRUE(hasTrap(j, "T12"));
    EXPECT_THAT(joined(j), HasSubstr("J1-8"));
}

// T4: the same figure means the opposite with the leads exchanged; the place decides, not the number.
TEST_F(Judging, T4ReversedLeadsAreSeenByTheSign)
{
    bench.battery(12.40);
    const Judgement j = bench.take(open(), -12.38);
    EXPECT_EQ(j.verdict, Verdict::OpenOnly);
    EXPECT_TRUE(hasTrap(j, "T4"));
}

TEST_F(Judging, T4RedOnTheGroundSideIsReadWithTheOtherSign)
{
    bench.battery(12.40);
    Step step = open();
    std::swap(step.red, step.black);
    EXPECT_EQ(bench.take(step, -12.38).verdict, Verdict::OpenOnly);
}

TEST_F(Judging, T4AgainstBatteryPlusTheFigureIsWhatIsMissing)
{
    bench.battery(12.40);
    Step step = open();
    step.black = "B.+";
    EXPECT_EQ(bench.take(step, -0.02).verdict, Verdict::OpenOnly);
    EXPECT_EQ(bench.take(step, -2.00).verdict, Verdict::Low)
        << "two volts against plus are two volts lost, not two volts of supply";
}

TEST_F(Judging, TheGroundSwapNamesTheSide)
{
    bench.battery(12.40);
    bench.take(open(), 12.38);
    bench.take(load("lamp-21w"), 7.90);
    Step swap = swapStep(map, working, supply, on);
    swap.load = "lamp-21w";
    EXPECT_EQ(bench.take(swap, 7.93).finding, Finding::FeedBad);
    EXPECT_EQ(bench.take(swap, 12.30).finding, Finding::ReturnBad);
    EXPECT_EQ(bench.take(swap, 10.10).finding, Finding::BothSidesBad);
    const Judgement impossible = bench.take(swap, 7.00);
    EXPECT_EQ(impossible.verdict, Verdict::Conflict);
    EXPECT_TRUE(hasTrap(impossible, "T8"));
}

TEST_F(Judging, AFuseIsProvenOnBothSides)
{
    const int fuse = map.elementIndex("F1");
    bench.battery(12.4);
    EXPECT_EQ(bench.take(fuseStep(map, supply, fuse, false, on), 12.39).verdict, Verdict::Noted);
    EXPECT_EQ(bench.take(fuseStep(map, supply, fuse, true, on), 12.38).verdict, Verdict::Good);
    const Judgement blown = bench.take(fuseStep(map, supply, fuse, true, on), 0.0);
    EXPECT_EQ(blown.finding, Finding::FuseBlown);
    EXPECT_THAT(joined(blown), HasSubstr("never a larger fuse"));
}

TEST_F(Judging, AFuseWithNothingBeforeItIsNotBlown)
{
    const int fuse = map.elementIndex("F1");
    bench.battery(12.4);
    bench.take(fuseStep(map, supply, fuse, false, on), 0.01);
    const Judgement j = bench.take(fuseStep(map, supply, fuse, true, on), 0.0);
    EXPECT_NE(j.finding, Finding::FuseBlown);
    EXPECT_EQ(j.word, "Nothing before the fuse");
}

TEST_F(Judging, AReferenceIsReadWithItsConsumers)
{
    const Step step = tableStep(map, reference, {TestKind::Reference, on, ""});
    EXPECT_EQ(bench.take(step, 5.00).verdict, Verdict::Good);
    const Judgement low = bench.take(step, 1.2);
    EXPECT_EQ(low.verdict, Verdict::Low);
    EXPECT_THAT(joined(low), HasSubstr("release the consumers one at a time"));
}

// T5: read against the body the reference looks right while its return is gone.
TEST_F(Judging, T5SaysWhenTheBlackLeadLeavesTheCircuitsOwnReturn)
{
    Step step = tableStep(map, reference, {TestKind::Reference, on, ""});
    EXPECT_FALSE(hasTrap(bench.take(step, 5.00), "T5"));
    step.black = "B.-";
    const Judgement j = bench.take(step, 5.00);
    EXPECT_TRUE(hasTrap(j, "T5")) << joined(j);
}

TEST_F(Judging, ASourceConflictIsShownInsteadOfAVerdict)
{
    const int input = map.terminalIndex("M-5");
    const Step step = tableStep(map, input, {TestKind::Level, on, ""});
    EXPECT_EQ(bench.take(step, 2.2).verdict, Verdict::Good) << "inside both";
    const Judgement j = bench.take(step, 2.8);
    EXPECT_EQ(j.word, "Sources disagree");
    EXPECT_THAT(j.limits, HasSubstr("(S)"));
    EXPECT_THAT(j.limits, HasSubstr("(H)"));
    EXPECT_EQ(bench.take(step, 4.0).verdict, Verdict::High) << "outside both";
}

TEST(JudgingTheBattery, TooFarBelowItIsTooLow)
{
    const Map& pt9 = test::pt9();
    Bench bench(pt9);
    const Step step = tableStep(pt9, pt9.terminalIndex("J1-6"), {TestKind::Level, pt9.stateIndex("key-on"), ""});
    bench.battery(12.5);
    EXPECT_EQ(bench.take(step, 12.45).verdict, Verdict::Good);
    const Judgement dead = bench.take(step, 0.0), fed = bench.take(step, 14.0);
    EXPECT_EQ(dead.verdict, Verdict::Low);
    EXPECT_EQ(dead.word, "Too low");
    EXPECT_EQ(fed.word, "Too high");
}

TEST_F(Judging, OverLimitIsNeitherZeroNorAVerdict)
{
    bench.battery(12.4);
    Reading r = readingOf(open(), map, {0, Unit::Volt, true}, {}, bench.now());
    EXPECT_EQ(judge(map, bench.evidence(), r).word, "Over limit");
}

TEST_F(Judging, UnknownPlacesGiveNoVerdict)
{
    Reading r = readingOf(open(), map, volts(12), {}, bench.now());
    r.terminal = "Z-1";
    EXPECT_EQ(judge(map, bench.evidence(), r).verdict, Verdict::NotDecided);
    r.terminal = "M-1";
    r.state = "asleep";
    EXPECT_EQ(judge(map, bench.evidence(), r).verdict, Verdict::NotDecided);
}

TEST_F(Judging, EveryVerdictShowsItsArithmeticAndWhatItLeavesOpen)
{
    bench.battery(12.40);
    std::vector<Judgement> all{bench.take(open(), 12.38), bench.take(load("lamp-21w"), 12.28),
                               bench.take(returnStep(map, working, ret, on), 0.02),
                               bench.take(absentStep(map, working, supply, off), 0.02),
                               bench.take(tableStep(map, reference, {TestKind::Reference, on, ""}), 4.0)};
    for (const Judgement& j : all) {
        EXPECT_FALSE(j.word.empty());
        EXPECT_FALSE(j.arithmetic.empty()) << j.word;
        EXPECT_FALSE(j.proves.empty() && j.doesNotProve.empty()) << j.word;
    }
}

TEST(Loads, FollowTheKindOfTheTerminal)
{
    const Map& map = test::pt9();
    const auto loads = loadCatalogue(12);
    const auto recommended = [&](const char* id) { return recommendedLoad(map, loads, map.terminalIndex(id)); };
    ASSERT_TRUE(recommended("J2-1"));
    EXPECT_GE(recommended("J2-1")->ratedCurrent_A, 0.25 * 6) << "a main feed takes amperes";
    EXPECT_LE(recommended("J1-4")->ratedCurrent_A, 0.4) << "a key feed takes tenths";
    for (const char* never : {"J1-10", "J1-12", "J1-17", "J2-11", "J1-21", "J2-24"}) {
        EXPECT_EQ(recommended(never), nullptr) << never;
        EXPECT_FALSE(loadWarnings(map, loads[0], map.terminalIndex(never)).empty()) << never;
    }
}

TEST(Loads, WarnBeyondTheFuseAndBelowTheCircuit)
{
    const Map& map = test::pt9();
    const auto warnings = [&](const char* load, const char* terminal) {
        std::string all;
        for (const auto& w : loadWarnings(map, *findLoad(12, load), map.terminalIndex(terminal)))
            all += w.words;
        return all;
    };
    EXPECT_THAT(warnings("motor", "J2-1"), HasSubstr("too much for the 15 A fuse"));
    EXPECT_THAT(warnings("lamp-5w", "J2-1"), HasSubstr("a pass would prove nothing"));
    EXPECT_THAT(warnings("lamp-55w", "J1-4"), HasSubstr("too much for the 5 A fuse"));
    EXPECT_TRUE(warnings("lamp-55w", "J2-1").empty());
}

}  // namespace
}  // namespace ilvek
