// A reading anywhere: which test it is, what it proves, and what must not be done.
#include "proving/anywhere.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "circuit/operating_point.h"
#include "proving/dangers.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using testing::HasSubstr;
using testing::IsEmpty;
using testing::Not;

using test::OneJob;

SetUp at(const Map& map, const std::string& line)
{
    return test::setUpAt(map, line);
}

TEST(Anywhere, WhichTestItIsFollowsFromTheLeadsAndWhatIsDone)
{
    const Map& map = test::hauler();
    const auto testOf = [&](const char* line, FigureKind kind = FigureKind::Volts, bool current = false) {
        const PlacedTest placed = placedTest(map, at(map, line), kind, current);
        return std::string(testId(placed.test)) + " " + placed.terminal;
    };
    EXPECT_EQ(testOf("plus > minus"), "battery ");
    EXPECT_EQ(testOf("minus > plus"), "battery ");
    EXPECT_EQ(testOf("A3 > A6; apart A"), "open-supply A3");
    EXPECT_EQ(testOf("A6 > A3; apart A"), "open-supply A3") << "exchanged leads";
    EXPECT_EQ(testOf("A3 > A6; apart A; load 21 W lamp"), "loaded-supply A3");
    EXPECT_EQ(testOf("A3 > minus; apart A; load 21 W lamp at A3 > A6"), "ground-swap A3");
    EXPECT_EQ(testOf("A1 > A6; key off"), "absent-supply A1");
    EXPECT_EQ(testOf("A3 > A6", FigureKind::Volts, true), "loaded-supply A3") << "mated, with a clamp's figure";
    EXPECT_EQ(testOf("A6 > minus"), "return-drop A6");
    EXPECT_EQ(testOf("F1 out > minus; apart A; load 21 W lamp at A3 > A6"), "segment-walk A3");
    EXPECT_EQ(testOf("F1 out > minus"), "fuse-check A3");
    EXPECT_EQ(testOf("A9 > A10"), "reference A9");
    EXPECT_EQ(testOf("A9 > A10; pulled load A9"), "reference A9");
    EXPECT_EQ(testOf("K7 86 > minus"), "point ");
    EXPECT_EQ(testOf("K7 86 > A6"), "point ") << "the module's ground is only what it is read against";
    EXPECT_EQ(testOf("A3 > A6", FigureKind::Ohms), "part-resistance A3");
    const Map saw = test::storyMap("pole-saw");
    for (const char* line : {"1 > 3; commanded 3", "3 > 1; commanded 3"}) {
        const PlacedTest placed = placedTest(saw, at(saw, line), FigureKind::Volts, false);
        EXPECT_EQ(placed.test, TestKind::Point) << line << ": what the module keeps is no level of its feed";
    }
    EXPECT_EQ(testOf("clamp A3", FigureKind::Amperes), "current A3");
    EXPECT_EQ(testOf("A3 > A6; bridged F1 in > F1 out 5 A; apart A"), "point A3") << "a bridge past the fuse";
}

TEST(Anywhere, ABridgePastAPartEarnsTheTerminalNothing)
{
    OneJob job(test::hauler());
    job.take("plus > minus", "25.1 V");
    job.take("A3 > A6; key on; apart A; bridged plus > A3 5 A", "25.08 V");
    job.take("A3 > A6; key on; apart A; bridged plus > A3 5 A; load 21 W lamp", "24.9 V");
    EXPECT_EQ(job.proof("A3"), ProofState::Untouched);
    // The same said by an older file, as the supply's own test.
    Reading old = job.last();
    old.test = TestKind::LoadedSupply;
    Evidence evidence = job.open().assessment.evidence;
    evidence.readings.back() = old;
    EXPECT_NE(judge(job.open().job.map, evidence, old).verdict, Verdict::Good);
}

TEST(Anywhere, AnyFigureIsTakenAndWhatCannotBeForetoldIsKept)
{
    OneJob job(test::hauler());
    EXPECT_EQ(job.take("A11 > A10", "~ 0.8 V").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("B1 > minus", "35 %").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("A14 > minus", "120 Hz").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("B1 > minus", "2.1 ms").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("A14 > minus", "moves").word, "It moves");
    const auto seen = [&] { return observationsOf(job.open().job.map, job.open().assessment, {}).size(); };
    EXPECT_EQ(seen(), 0U) << "none of these can be foretold";
    EXPECT_EQ(job.take("A11 > A10", "module 2.4 V").verdict, Verdict::Noted);
    EXPECT_EQ(seen(), 1U) << "it stands between its rails";
    for (const Judgement& j : job.open().assessment.judgements)
        EXPECT_THAT(j.doesNotProve, Not(IsEmpty())) << j.arithmetic;
}

TEST(Anywhere, WhatIsMissingIsAskedFor)
{
    OneJob job(test::hauler());
    const auto refusal = [&](const char* line, const char* figure) {
        const auto r = readingAnywhere(job.open(), at(job.open().job.map, line), figure, 0);
        return r ? std::string("taken") : r.error().message();
    };
    EXPECT_THAT(refusal("key on", "12.4 V"), HasSubstr("where the leads stand"));
    EXPECT_THAT(refusal("A3 > A6", "2.4 A"), HasSubstr("which one the clamp sits on"));
    EXPECT_EQ(refusal("key on", "bright"), "taken") << "an eye needs no leads";
}

TEST(Anywhere, StuckTurnsItsMeaningAgainstBatteryPlus)
{
    OneJob job(test::hauler());
    EXPECT_EQ(job.take("A14 > minus", "stuck low").word, "Stuck low");
    const Judgement& j = job.take("A14 > plus", "stuck low");
    EXPECT_EQ(j.word, "Stuck high") << "nothing against plus stands at battery";
    EXPECT_TRUE(test::hasTrap(j, "T4"));
}

TEST(Anywhere, ALampIsJudgedByTheVoltsThatASoundCircuitPutsAcrossIt)
{
    OneJob job(test::hauler());
    EXPECT_EQ(job.take("A3 > A6; key on; apart A; load 21 W lamp", "bright").verdict, Verdict::OpenOnly);
    EXPECT_EQ(job.take("A3 > A6; key on; apart A; load 21 W lamp", "dark").verdict, Verdict::FailsLoaded);
    EXPECT_EQ(job.proof("A3"), ProofState::FailedLoaded);
    EXPECT_EQ(job.take("A4 > A6; key off; apart A; load 21 W lamp", "dark").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("A4 > A6; key off; apart A; load 21 W lamp", "bright").verdict, Verdict::High);
}

TEST(Anywhere, ALampIsEvidenceAsFarAsAnEyeTells)
{
    OneJob job(test::hauler());
    job.take("A3 > A6; key on; apart A; load 21 W lamp", "dim");
    const auto seen = observationsOf(job.open().job.map, job.open().assessment, {});
    ASSERT_EQ(seen.size(), 1U);
    ASSERT_EQ(seen[0].needs.size(), 1U);
    EXPECT_GT(seen[0].needs[0].low, 4.0);
    EXPECT_LT(seen[0].needs[0].high, 24.0);
}

TEST(Anywhere, ABreakerTellsWhetherMoreFlowsThanItCarries)
{
    OneJob job(test::hauler());
    const char* line = "key on; apart A; pulled F3; bridged F3 in > F3 out 20 A";
    EXPECT_EQ(job.take(line, "holds").verdict, Verdict::Noted);
    EXPECT_EQ(job.take(line, "tripped").verdict, Verdict::High);
}

TEST(Anywhere, OfSeveralBreakersNoneIsPickedOut)
{
    OneJob job(test::hauler());
    const char* line = "key on; apart A; pulled F3; pulled F1; bridged F3 in > F3 out 20 A; bridged F1 in > F1 out 5 A";
    const Judgement& j = job.take(line, "tripped");
    EXPECT_THAT(j.arithmetic, HasSubstr("20 A or 5 A")) << j.word << ": " << testing::PrintToString(j.doesNotProve);
}

TEST(Anywhere, AClampsFigureIsComparedWithTheCircuitWithItsSign)
{
    const Map& map = test::smallMap();
    OneJob job(map);
    const auto point = operatingPoint(map, *conditionOf(map, at(map, "key on")));
    const double sound = point->currentThrough(map.elementIndex("F1"));
    EXPECT_EQ(job.take("key on; clamp F1", formatQuantity(amperes(sound))).verdict, Verdict::Noted);
    EXPECT_EQ(job.take("key on; clamp F1", formatQuantity(amperes(0.2 * sound))).verdict, Verdict::Low);
    EXPECT_EQ(job.take("key on; clamp F1", formatQuantity(amperes(2 * sound))).verdict, Verdict::High);
    EXPECT_EQ(observationsOf(map, job.open().assessment, {}).size(), 3U);
}

TEST(Anywhere, WhatTheModuleReportsOfItsSupplyProvesFeedAndReturnTogether)
{
    OneJob job(test::hauler());
    job.take("plus > minus; key off", "25.2 V");
    EXPECT_EQ(job.take("red A3; key off", "module 24.9 V").verdict, Verdict::Good);
    EXPECT_EQ(job.take("red A3; key off", "module 19.9 V").verdict, Verdict::FailsLoaded);
    OneJob unread(test::hauler());
    EXPECT_EQ(unread.take("red A3; key off", "module 24.9 V").verdict, Verdict::Noted) << "no battery of the minute";
}

TEST(Anywhere, AFigureThatMovesIsAsGoodAsItsWorseEnd)
{
    OneJob job(test::hauler());
    job.take("plus > minus; key off", "25.2 V");
    job.take("A3 > A6; key off; apart A", "25.18 V");
    const Judgement& j =
        job.take("A3 > A6; key off; apart A; load 21 W lamp; touched loom at the tailgate", "4.1..24.9 V");
    EXPECT_EQ(j.verdict, Verdict::FailsLoaded);
    EXPECT_THAT(j.arithmetic, HasSubstr("4.1 V to 24.9 V"));
    const auto seen = observationsOf(job.open().job.map, job.open().assessment, {});
    EXPECT_EQ(seen.size(), 2U) << "what moves is no state of a circuit";
}

TEST(Anywhere, TheTestLeadsOwnOhmsAreTakenOff)
{
    OneJob job(test::hauler());
    EXPECT_EQ(job.take("B1 > B1.end; key off; apart B; pulled load B1; leads 0.4 ohm", "0.5 ohm").verdict,
              Verdict::Noted);
    EXPECT_EQ(job.take("B1 > B1.end; key off; apart B; pulled load B1", "2.5 ohm").verdict, Verdict::High);
    EXPECT_EQ(job.take("A3 > A6; key off", "3 ohm").verdict, Verdict::NoEvidence) << "live: no figure of anything";
}

TEST(Anywhere, OhmsAcrossAPartThatIsUnpluggedAreOfThatPartAlone)
{
    OneJob job(test::washer());
    EXPECT_EQ(job.take("W1 control side > W1 feed side; key off; pulled wash valve", "12.4 ohm").verdict,
              Verdict::Noted);
    EXPECT_EQ(job.take("W1 control side > W1 feed side; key off; pulled wash valve", "OL").verdict, Verdict::High);
    EXPECT_EQ(job.take("W1 control side > minus; key off; apart B; pulled wash valve", "OL").verdict, Verdict::Noted)
        << "with one lead elsewhere it is the loom";
}

TEST(Anywhere, AWarmWindingHasMoreOhms)
{
    Condition cold, warm;
    const Map& map = test::pt9();
    int winding = -1;
    for (std::size_t i = 0; i < map.elements.size() && winding < 0; ++i)
        winding = map.elements[i].kind == ElementKind::Winding ? static_cast<int>(i) : -1;
    ASSERT_GE(winding, 0);
    warm.celsius[winding] = 80;
    const auto& nodes = map.element(winding).nodes;
    for (Condition* c : {&cold, &warm}) {
        c->removed.clear();
        for (std::size_t k = 0; k < map.connectors.size(); ++k)
            c->unplugged.insert(static_cast<int>(k));
        c->meter = Meter{nodes[0], nodes[1], 10e6, Meter::Mode::Ohms};
    }
    const auto a = displayOf(map, cold), b = displayOf(map, warm);
    ASSERT_TRUE(a && b);
    // R = R20 (1 + 0.0039 (T − 20 °C))
    EXPECT_NEAR(b->value / a->value, 1 + 0.0039 * 60, 0.01);
}

TEST(Dangers, AreSaidBeforeTheFigureAndTheReadingIsNoEvidence)
{
    const Map& map = test::hauler();
    const auto dangers = [&](const char* line) { return dangersOf(map, at(map, line)); };
    EXPECT_THAT(dangers("F1 out > minus; pulled F1; bridged F1 in > F1 out 5 A"), IsEmpty());
    EXPECT_THAT(dangers("F1 out > minus; pulled F1; bridged F1 in > F1 out 10 A").front(),
                HasSubstr("never a larger one"));
    EXPECT_THAT(dangers("A9 > minus; bridged plus > A9 1 A").front(), HasSubstr("can kill it"));
    EXPECT_THAT(dangers("A9 > minus; apart A; bridged plus > A9 1 A").front(), HasSubstr("hangs on this conductor"));
    EXPECT_THAT(dangers("A3 > A6; bridged plus > A3 5 A"), IsEmpty()) << "a supply stood in for, at its own rating";
    EXPECT_THAT(dangers("A1 > A6; key on; apart A; bridged A5 > minus 5 A"), IsEmpty()) << "a coil pulled to ground";
    EXPECT_THAT(dangers("B1 > B1.end; apart B; pulled load B1; bridged plus > B1 5 A"), IsEmpty());

    OneJob job(map);
    const Judgement& j = job.take("A9 > minus; bridged plus > A9 1 A", "25 V");
    EXPECT_EQ(j.verdict, Verdict::NoEvidence);
    EXPECT_THAT(observationsOf(map, job.open().assessment, {}), IsEmpty());
}

TEST(Dangers, ProtectiveShutDownIsNoEvidenceAndSaysSo)
{
    OneJob job(test::hauler());
    job.take("plus > minus", "25.1 V");
    const Judgement& j = job.take("A3 > A6; apart A", "25.05 tripped");
    EXPECT_EQ(j.verdict, Verdict::NoEvidence);
    EXPECT_TRUE(test::hasTrap(j, "T13"));
    EXPECT_EQ(job.proof("A3"), ProofState::Stale);
}

TEST(Limits, AFeedHasThemInEveryStateInWhichItMustBePresent)
{
    // The sheet's permanent feed is listed with the key off; with the key on it is held against the same.
    OneJob job(test::hauler());
    job.take("plus > minus; key on", "25.1 V");
    EXPECT_EQ(job.take("A3 > A6; key on; apart A", "23.9 V").verdict, Verdict::Low);
    EXPECT_EQ(job.take("A3 > A6; key on; apart A", "25.05 V").verdict, Verdict::OpenOnly);
}

TEST(Limits, AnOwnCurrentThatNobodyStatedFailsNoCircuit)
{
    OneJob job(test::hauler());
    job.take("plus > minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A; bridged A5 > minus 5 A", "25.05 V");
    // 0.2 Ω in the loop: nothing at the lamp's current, a volt at what the sheet's fuse might let through.
    const Judgement& j = job.take("A1 > A6; key on; apart A; bridged A5 > minus 5 A; load 21 W lamp", "24.85 V");
    EXPECT_FALSE(isFailure(j.verdict)) << j.arithmetic;
    EXPECT_NE(j.verdict, Verdict::Good) << "nor is it proven";
}

}  // namespace
}  // namespace ilvek
