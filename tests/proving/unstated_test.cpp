// Levels and ohms that the trade makes in several ways: nobody stated which, so they neither fail nor prove.
#include "proving/unstated.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "belief/observations.h"
#include "proving/plan.h"
#include "support/maps.h"
#include "support/weighed.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;

const Map& sprayer()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end;expected\n"
        "1;power;supply, with key;F1 10 A;;\n"
        "2;ground;return;G1;;\n"
        "4;sensors;sensor supply;;;\n"
        "5;rail;8 V sensor supply;;;\n"
        "6;gate;switch input;X1-1;switch, closed at rest, ground G2;\n"
        "7;boom valve;drive, low side;X2-1;solenoid 8-10 Ω, other wire F2 10 A;\n"
        "8;CAN H;bus, high line;;;\n"
        "9;CAN L;bus, low line;;;\n",
        24);
    return map;
}

// The plug of the module.
std::string unitOf(const Map& map)
{
    return map.connectors[static_cast<std::size_t>(map.terminal(map.terminalIndex("7")).connector)].id;
}

TEST(Unstated, ASensorSupplyMayBeMadeForAnotherLevelThanFiveVolts)
{
    for (const char* volts : {"8.02 V", "9.9 V", "12.1 V", "24.4 V"}) {
        OneJob job(sprayer());
        EXPECT_EQ(job.take("4 > 2; key on", volts).verdict, Verdict::NotDecided) << volts;
        EXPECT_NE(job.proof("4"), ProofState::ProvenLoaded) << volts;
    }
    OneJob job(sprayer());
    EXPECT_EQ(job.take("4 > 2; key on", "5.02 V").verdict, Verdict::Good);
    EXPECT_EQ(job.take("5 > 2; key on", "8.0 V").verdict, Verdict::Good);
    EXPECT_FALSE(mayBeOtherReference(sprayer(), sprayer().terminalIndex("5"), 1, 8.0)) << "it is the map's";
    EXPECT_EQ(job.take("4 > 2; key on", "6.4 V").verdict, Verdict::High) << "no sensor is made for that";
    EXPECT_EQ(job.take("4 > 2; key on", "4.1 V").verdict, Verdict::Low);
}

TEST(Unstated, WhereTheSheetNamesTheLevelItIsJudgedByThat)
{
    OneJob job(sprayer());
    EXPECT_EQ(job.take("5 > 2; key on", "8.05 V").verdict, Verdict::Good);
    EXPECT_EQ(job.take("5 > 2; key on", "5.0 V").verdict, Verdict::Low);
    EXPECT_EQ(job.take("5 > 2; key on", "24.4 V").verdict, Verdict::High);
}

TEST(Unstated, ASwitchesLineStandsOpenWhereItsPullUpLeavesIt)
{
    for (const char* volts : {"4.95 V", "9.8 V", "24.6 V"}) {
        OneJob sound(sprayer());
        EXPECT_EQ(sound.take("6 > 2; operated 6", volts).verdict, Verdict::Good) << volts;
        EXPECT_EQ(sound.take("X1-1 module side > minus; operated 6", volts).verdict, Verdict::Noted) << volts;
        EXPECT_EQ(sound.take("6 end > minus; operated 6", volts).verdict, Verdict::Noted) << volts;
        OneJob open(sprayer());
        EXPECT_EQ(open.take("6 > 2; key on", volts).verdict, Verdict::High) << volts << ", and it should be closed";
    }
}

TEST(Unstated, WhatADriveHoldsWithItsPartApartIsTheModulesOwn)
{
    OneJob job(sprayer());
    EXPECT_EQ(job.take("7 > minus; key on; apart X2", "3.6 V").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("7 > minus; key on", "3.6 V").verdict, Verdict::Low) << "its part holds it";
}

TEST(Unstated, AnLedLampLetsItsWireFloatWhileItIsOff)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;far end\n"
        "1;power;supply, always;\n"
        "2;ground;return;\n"
        "3;red lamp;drive, high side;\"LED lamp 5 W, ground G1\"\n"
        "4;white lamp;drive, high side;\"lamp 21 W, ground G1\"\n",
        24);
    OneJob job(map);
    EXPECT_EQ(job.take("3 > 2; key on", "6.8 V").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("3 > 2; key on", "24.8 V").verdict, Verdict::High) << "it is driven";
    EXPECT_EQ(job.take("3 > 2; commanded 3", "6.8 V").verdict, Verdict::Low) << "and here it should be";
    EXPECT_EQ(job.take("4 > 2; key on", "6.8 V").verdict, Verdict::High) << "a filament holds it down";
}

TEST(Unstated, TerminationsThatNobodyListed)
{
    OneJob job(sprayer());
    for (const char* ohms : {"119 ohm", "60.3 ohm"})
        EXPECT_EQ(job.take("8 > 9; key off", ohms).verdict, Verdict::Noted) << ohms;
    for (const char* ohms : {"2 ohm", "38 ohm", "300 ohm"})
        EXPECT_EQ(job.take("8 > 9; key off", ohms).verdict, Verdict::Low) << ohms;
}

TEST(Unstated, WhereOnePlaceIsHeldNoOtherIsAskedForInTheSameWay)
{
    OneJob job(sprayer());
    job.take("plus > minus; key off", "25.1 V");
    Reasoner reasoner(sprayer(), {}, false);
    while (reasoner.buildNext()) {
    }
    const auto asksForVolts = [&] {
        reasoner.observe(job.open().assessment, {});
        reasoner.refine();
        Standing standing;
        standing.state = sprayer().stateIndex("key-off");
        const auto steps = reasoner.reason(standing).steps;
        return std::count_if(steps.begin(), steps.end(), [](const Step& step) {
            return step.state == "key-off" && step.load.empty() && unitAsked(step.test) == Unit::Volt;
        });
    };
    job.take("1 > minus; key off", "2.4 V");
    EXPECT_EQ(asksForVolts(), 0);
}

// None of it is a slip, and none accuses.
TEST(Unstated, ASoundMachineThatIsMadeOtherwiseIsNotAccused)
{
    OneJob job(sprayer());
    job.take("plus > minus; key on", "25.1 V");
    job.take("1 > 2; key on", "25.0 V");
    for (const auto& [at, read] :
         {std::pair{"4 > 2; key on", "10.0 V"}, std::pair{"6 > 2; operated 6", "24.6 V"},
          std::pair{"X1-1 module side > minus; operated 6", "24.6 V"},
          std::pair{"7 > minus; key on; apart X2", "3.6 V"}, std::pair{"8 > 9; key off", "119 ohm"}})
        job.take(at, read);
    const auto reasoner = weighed(job, false);
    EXPECT_EQ(reasoner->reason({}).conclusion.kind, Conclusion::Kind::Open);
    EXPECT_TRUE(reasoner->reason({}).slips.empty());
    const double sound = reasoner->belief().probabilities()[0];
    for (const double p : reasoner->belief().probabilities())
        EXPECT_LE(p, std::max(sound, 0.3));
}

const Map& handler()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end;expected\n"
        "1;power;supply, with key;F1 10 A;;\n"
        "2;ground;return;G1;;\n"
        "3;sensor feed;5 V reference;X4-1;;\n"
        "4;sensor ground;sensor ground;X4-2;;\n"
        "5;lift;sensor signal;X4-3;\"sensor 3 wires, feed 3, ground 4\";0.5..4.5 V\n"
        "6;angle;sensor signal;X5-3;\"sensor 3 wires, feed 3, ground 4\";2.4..2.6 V\n",
        12);
    return map;
}

// It was moved between two readings, and the second was called a slip.
TEST(Unstated, ASensorThatMovesMayStandAnywhereInItsRange)
{
    OneJob job(handler());
    job.take("plus > minus; key on", "12.5 V");
    job.take("5 > 4; key on", "2.38 V");
    job.take("5 > 4; key on", "3.9 V");
    job.take("5 > 4; key on; apart X4", "4.98 V");
    const auto readings = [](const OneJob& j) {
        const auto seen = observationsOf(j.map(), j.open().assessment, {});
        return std::count_if(seen.begin(), seen.end(),
                             [](const Observation& o) { return o.kind == Observation::Kind::Reading; });
    };
    EXPECT_EQ(readings(job), 1) << "the battery";
    job.take("5 > 4; key on", "0.02 V");
    EXPECT_EQ(readings(job), 2) << "out of its range it tells";
    job.take("6 > 4; key on", "2.5 V");
    EXPECT_EQ(readings(job), 3) << "and so does what has hardly a range";
}

Map twoUnitsOnABus()
{
    return test::mapOfRows(
        "cavity;circuit;role;far end\n"
        "A1;supply;supply, always;\n"
        "A2;ground;return;\n"
        "A3;CAN H;CAN high;\n"
        "A4;CAN L;CAN low;\n"
        ";engine unit;bus node;termination\n"
        ";lever unit;bus node;termination\n",
        24);
}

// A line that is shorted to ground is not live, whatever the map says of the unit that lifts it; the ohms were no
// evidence, and the supply of the module was named instead.
TEST(Unstated, AFewOhmsOfALineThatShouldBeLiveSayThatItIsShortedAndByWhichUnit)
{
    const Map map = twoUnitsOnABus();
    OneJob job(map);
    job.take("plus > minus; key on", "25.2 V");
    job.take("A1 > A2; key on", "25.1 V");
    job.take("A3 > A2; key on", "0.35 V");
    job.take("A4 > A2; key on", "0.02 V");
    EXPECT_EQ(job.take("A4 > minus; key off", "0.4 Ω").verdict, Verdict::Low);
    EXPECT_EQ(job.take("A4 > minus; key off; apart lever unit", "0.4 Ω").verdict, Verdict::Low);
    EXPECT_EQ(job.take("A4 > minus; key off; apart engine unit", "9.8 kΩ").verdict, Verdict::Noted);
    EXPECT_EQ(job.take("A4 > minus; key off", "60 Ω").verdict, Verdict::NoEvidence) << "a meter shows anything there";
    EXPECT_EQ(job.take("A4 > minus; key off", "OL").verdict, Verdict::NoEvidence);
    const auto reasoner = weighed(job);
    const auto r = reasoner->reason({});
    ASSERT_FALSE(r.groups.empty());
    EXPECT_THAT(r.groups.front().words, testing::HasSubstr("engine unit"));
    EXPECT_GT(r.groups.front().probability, 0.8);
}

// What transceivers have between a line and ground no sheet tells; that the short has gone with a unit they tell.
TEST(Unstated, KilohmsFromALineToGroundSayOnlyThatItIsNotShorted)
{
    const Map map = twoUnitsOnABus();
    OneJob job(map);
    job.take("plus > minus; key on", "25.2 V");
    for (const char* ohms : {"1.9 kΩ", "14.2 kΩ", "240 kΩ"})
        EXPECT_EQ(job.take("A3 > minus; key off", ohms).verdict, Verdict::Noted) << ohms;
    EXPECT_LT(weighed(job)->reason({}).groups.front().probability, 0.9) << "nobody is accused";
    EXPECT_EQ(job.take("A3 > A4; key off", "90 Ω").verdict, Verdict::High) << "across the lines they are figures";
}

// Ohms that were read weigh as a reading, not as a lamp's light: where they stand alone, an open supply had most of the
// belief.
TEST(Unstated, AFewOhmsAloneNameTheShortAndNotAnOpenSupply)
{
    const Map map = twoUnitsOnABus();
    OneJob job(map);
    job.take("plus > minus; key on", "25.2 V");
    EXPECT_EQ(job.take("A4 > minus; key off", "0.4 Ω").verdict, Verdict::Low);
    const auto reasoner = weighed(job);
    const auto p = reasoner->belief().probabilities();
    for (std::size_t i = 0; i < p.size(); ++i) {
        const Suspect& s = reasoner->suspects()[i];
        if (s.kind == SuspectKind::Resistance) {
            EXPECT_LT(p[i], 0.02) << s.words;
        }
    }
}

// What a pump sends over the same splice had been taken for the return's own: a tenth of a volt failed.
TEST(Unstated, WhatOthersSendOverTheSameGroundAccusesNoReturn)
{
    const Map map = test::mapOfRows(
        "pin;name;type;runs over;to;current\n"
        "1;feed;supply, with key;F1 20 A;;0.5 A\n"
        "3;minus;ground;X1-3 > S1 > G1;;4 A\n"
        "4;minus;ground;X1-4 > S1 > G1;;4 A\n"
        ";pump;consumer;F9 10 A;motor 6 A, other wire S1;\n",
        12);
    OneJob job(map);
    job.take("plus > minus; key on", "12.6 V");
    const Judgement right = job.take("3 > minus; key on", "0.1 V");
    EXPECT_EQ(right.verdict, Verdict::OpenOnly) << right.word << ", " << right.arithmetic;
    EXPECT_THAT(right.arithmetic, testing::HasSubstr("where others share its way"));
    EXPECT_FALSE(right.loopResistance_ohm) << "where of the two it lies, and so how much it is, is not known";
    EXPECT_EQ(job.take("3 > minus; key on", "0.6 V").verdict, Verdict::FailsLoaded);
}

// A sensor supply of 10 V that a page calls a reference and no more had been a regulator that is too high.
TEST(Unstated, AnotherLevelOfAReferenceIsTheMapsFigureAndNotTheModules)
{
    const Map map = test::mapOfRows(
        "cavity;circuit;role;far end\n"
        "A1;ground;return;\n"
        "A2;feed;supply, with key;\n"
        "B1;sensor ground;sensor return;\n"
        "B2;sensor supply;reference;sensors\n"
        "B3;height;analogue input;position sensor\n",
        24);
    OneJob job(map);
    job.take("plus > minus; key on", "24.9 V");
    job.take("A2 > A1; key on", "24.8 V");
    job.take("B2 > B1; key on", "9.99 V");
    job.take("B2 > minus; key on", "10.04 V");
    job.take("B1 > minus; key on; apart B", "9.99 V");
    const auto reasoner = weighed(job);
    const auto r = reasoner->reason({});
    EXPECT_NE(r.conclusion.kind, Conclusion::Kind::Inside) << r.conclusion.words;
    double tooHigh = 0;
    const auto p = reasoner->belief().probabilities();
    for (std::size_t i = 0; i < p.size(); ++i)
        tooHigh += reasoner->suspects()[i].kind == SuspectKind::ModulePart ? p[i] : 0;
    EXPECT_LT(tooHigh, 0.1);
}

// A sound machine was accused of a short at its fuse for 120 kilohms through a switch's pull-up.
TEST(Unstated, KilohmsAtAFeedOfAPluggedInModuleAreOfItsElectronics)
{
    const Map map = test::mapOfRows(
        "cavity;circuit;role;route;far end\n"
        "A1;ground;return;G1;\n"
        "A4;memory;supply, always;F1 10 A;\n"
        "A10;seat;switch input;;switch, ground G2\n",
        12);
    OneJob job(map);
    const auto seen = [&] { return observationsOf(map, job.open().assessment, {}).size(); };
    job.take("plus > minus; key off", "12.5 V");
    EXPECT_FALSE(isFailure(job.take("A4 > minus; key off; pulled F1", "120 kΩ").verdict));
    EXPECT_EQ(seen(), 1U) << "of the battery alone";
    job.take("A4 > minus; key off; pulled F1", "3 Ω");
    EXPECT_EQ(seen(), 2U) << "a few ohms are of no electronics";
}

// Two drives that keep seven tenths of a volt had been a resistance in the return that they share.
TEST(Unstated, WhatAnOutputStageKeepsAccusesNoReturn)
{
    const Map map = test::mapOfRows(
        "pin;name;type;runs over;to\n"
        "1;feed;supply, with key;X2-1 > F1 10 A;\n"
        "2;minus;ground;X2-2 > G1;\n"
        "3;left arm;low side drive;X3-1;solenoid 6 Ω from F2 15 A\n"
        "4;right arm;low side drive;X3-2;solenoid 6 Ω from F2 15 A\n",
        12);
    OneJob job(map);
    job.take("plus > minus; key on", "12.6 V");
    job.take("1 > 2; key on", "12.3 V");
    job.take("1 > minus; key on", "12.45 V");
    job.take("2 > minus; key on", "0.12 V");
    job.take("3 > 2; key on", "12.4 V");
    job.take("3 > 2; commanded 3", "0.7 V");
    job.take("4 > 2; key on", "12.4 V");
    job.take("4 > 2; commanded 4", "0.65 V");
    const auto reasoner = weighed(job);
    const auto r = reasoner->reason({});
    for (const RankedSuspect& s : r.suspects) {
        const SuspectKind kind = reasoner->suspects()[static_cast<std::size_t>(s.suspect)].kind;
        if (kind != SuspectKind::Nothing && kind != SuspectKind::NotOnMap) {
            EXPECT_LT(s.probability, 0.5) << s.words;
        }
    }
}

// Units are taken off a line that is down, one by one.
TEST(Unstated, ASingleWireLineThatComesUpWithAUnitApartNamesTheUnit)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;far end\n"
        "1;power;supply, always;\n"
        "2;ground;return;\n"
        "3;fan bus;single-wire bus;\n"
        ";fan 1;bus node;\n"
        ";fan 2;bus node;plug X2\n"
        ";fan 3;bus node;\n",
        12);
    OneJob job(map);
    job.take("plus > minus; key on", "12.8 V");
    job.take("3 > 2; key on", "0.6 V");
    job.take("3 > 2; key on; apart fan 1", "0.6 V");
    job.take("3 > 2; key on; apart X2", "12.1 V");
    const auto reasoner = weighed(job);
    const auto r = reasoner->reason({});
    ASSERT_FALSE(r.groups.empty());
    EXPECT_THAT(r.groups.front().words, testing::HasSubstr("fan 2"));
    EXPECT_GT(r.groups.front().probability, 0.9);
}

// A relay's coil of which nobody stated the ohms, through its wire; a winding that is warm; and what is beyond both.
TEST(Unstated, OhmsThatHangOnWarmthOrOnWhatNobodyStatedFailNowhere)
{
    const auto verdict = [](const char* line, const char* ohms) { return OneJob(sprayer()).take(line, ohms).verdict; };
    const std::string apart = "; key off; apart X2, " + unitOf(sprayer());
    const std::string valve = "X2-1 part side > F2 far side" + apart;
    EXPECT_EQ(verdict(valve.c_str(), "8.9 Ω"), Verdict::Noted);
    OneJob warm(sprayer());
    const Judgement& j = warm.take(valve, "11.2 Ω");
    EXPECT_EQ(j.verdict, Verdict::Noted);
    ASSERT_FALSE(j.doesNotProve.empty());
    EXPECT_THAT(j.doesNotProve.back(), testing::HasSubstr("how warm"));
    EXPECT_EQ(verdict(valve.c_str(), "16 Ω"), Verdict::High);
    EXPECT_EQ(verdict(valve.c_str(), "6.6 Ω"), Verdict::Low) << "no cold takes so much";
    EXPECT_EQ(verdict((valve + "; warmed load 7 to 20 °C").c_str(), "11.2 Ω"), Verdict::High) << "it is not warm";
    EXPECT_EQ(verdict(valve.c_str(), "OL"), Verdict::High);
    const Map relay = test::mapOfRows(
        "pin;circuit;role;far end\n"
        "1;power;supply, always;\n"
        "2;ground;return;\n"
        "3;belt;drive, high side;\"coil of K9, other end G2\"\n",
        24);
    const auto coil = [&](const char* ohms) { return OneJob(relay).take("3 > 2; key off; apart C1", ohms).verdict; };
    EXPECT_EQ(coil("290 Ω"), Verdict::Noted);
    EXPECT_EQ(coil("0.6 Ω"), Verdict::Low);
    EXPECT_EQ(coil("2 kΩ"), Verdict::High);
}

// A module that holds the wire of its valve through some ten kilohms lifts what hangs on it. A lamp tells.
TEST(Unstated, ALittleWithTheKeyOffIsNoFeedUntilALampBurnsOnIt)
{
    OneJob job(sprayer());
    EXPECT_EQ(job.take("1 > minus; key off", "2.4 V").verdict, Verdict::NotDecided);
    const int state = job.map().stateIndex("key-off");
    const Step again = absentStep(job.map(), {}, job.map().terminalIndex("1"), state, true);
    EXPECT_FALSE(again.load.empty());
    job.take("plus > minus; key on", "25.1 V");
    job.take("1 > 2; key on; apart " + unitOf(job.map()), "25.0 V");
    job.take(loadStep(job.map(), {}, again.terminal, job.map().stateIndex("key-on")), "24.9 V");
    const auto asked = nextStepFor(job.map(), job.open().assessment, again.terminal, {});
    ASSERT_TRUE(asked);
    EXPECT_EQ(asked->test, TestKind::AbsentSupply);
    EXPECT_EQ(asked->load, again.load);
    EXPECT_EQ(job.take(again, "0.02 V").verdict, Verdict::Good);
    EXPECT_EQ(job.take(again, "23.9 V").verdict, Verdict::High);
    EXPECT_EQ(job.take("1 > minus; key off; load 5 W lamp", "0.02 V").verdict, Verdict::Good) << "as it is typed";
    EXPECT_EQ(job.last().test, TestKind::AbsentSupply);
}

// A resistor across a contactor charges what is behind it: that is no contact that sticks, which would feed it whole.
TEST(Unstated, WhatStandsBehindAContactorIsNoFeedBeforeALampSaysSo)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;B plus;supply, by relay K1;K1 > F1 200 A;\n"
        "2;B minus;return;G1;\n"
        "3;key;supply, with key;F2 10 A;\n"
        "4;line contactor;drives coil of K1;;coil of K1, other end F2\n",
        48);
    OneJob job(map);
    EXPECT_EQ(job.take("1 > 2; key off", "41 V").verdict, Verdict::NotDecided);
    EXPECT_EQ(job.take("1 > 2; key off", "49.7 V").verdict, Verdict::High) << "whole";
    EXPECT_EQ(job.take("3 > 2; key off", "41 V").verdict, Verdict::High) << "no relay before it";
}

// A signal or a drive of the module is never loaded: there the plug tells.
TEST(Unstated, NoLampIsNamedWhereASignalIsRead)
{
    OneJob job(sprayer());
    const Judgement& j = job.take("7 end > minus; key off", "2.4 V");
    ASSERT_EQ(j.doesNotProve.size(), 1U);
    EXPECT_THAT(j.doesNotProve[0], testing::HasSubstr("module apart"));
    EXPECT_THAT(j.doesNotProve[0], testing::Not(testing::HasSubstr("lamp")));
}

TEST(Unstated, ALittleIsNothingForTheSuspectsButMuchIs)
{
    const auto seen = [](const std::string& line, const char* figure) {
        OneJob job(sprayer());
        job.take("plus > minus; key off", "25.1 V");
        job.take(line, figure);
        return observationsOf(job.map(), job.open().assessment, {}).size();
    };
    const std::size_t battery = seen("plus > minus; key off", "25.1 V");
    EXPECT_EQ(seen("1 > minus; key off", "2.4 V"), battery);
    EXPECT_GT(seen("1 > minus; key off", "0.02 V"), battery) << "dead as it should be";
    EXPECT_GT(seen("1 > minus; key off", "24.8 V"), battery) << "fed";
    EXPECT_GT(seen("1 > minus; key off; apart " + unitOf(sprayer()), "2.4 V"), battery) << "no module holds it";
}

TEST(Unstated, AnLedBehindADriveKeepsWhatItLightsWith)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;route;goes to\n"
        "1;supply;supply, with key;F1 10 A;\n"
        "2;ground;ground;G1;\n"
        "5;LED bar;low side;X1-2;LED bar 24 W, other wire F2 10 A\n"
        "6;lamp;low side;X1-3;lamp 21 W, other wire F2\n",
        12);
    OneJob job(map);
    job.take("battery plus > battery minus; key on", "12.6 V");
    job.take("5 > 2; key on", "9.8 V");
    const auto sound = weighed(job)->belief().probabilities()[0];
    OneJob other(map);
    other.take("battery plus > battery minus; key on", "12.6 V");
    other.take("6 > 2; key on", "9.8 V");
    EXPECT_GT(sound, 3 * weighed(other)->belief().probabilities()[0]) << "a filament lets through all of it";
    OneJob dead(map);
    dead.take("5 > 2; key on", "0 V");
    EXPECT_LT(weighed(dead)->belief().probabilities()[0], 0.3) << "no feed at all is no LED's";
}

Map withSecondBattery()
{
    return test::mapOfRows(
        "pin;circuit;role;route\n"
        "1;main;supply, with key;X2-4 > S1 > F3 20 A\n"
        "2;ground;ground;G1\n"
        "3;memory;supply, always;F1 5 A\n"
        ";second battery;source;F99 80 A > S1\n",
        12);
}

// The second battery is fuller than the first, and hangs on this feed.
TEST(Unstated, AFeedThatAnotherBatteryLiftsIsRight)
{
    OneJob job(withSecondBattery());
    job.take("battery plus > battery minus; key on", "12.1 V");
    EXPECT_EQ(job.take("1 > 2; key on", "12.9 V").verdict, Verdict::OpenOnly);
    EXPECT_EQ(job.take("3 > 2; key on", "12.9 V").verdict, Verdict::High) << "on this one it does not hang";
    EXPECT_EQ(job.take("1 > 2; key on", "13.9 V").verdict, Verdict::High) << "no battery is so much fuller";
}

// Over the way of this feed the engine charges a second battery.
TEST(Unstated, WhatAChargeLosesOnAFeedsWayIsNoFailure)
{
    const Map map = withSecondBattery();
    OneJob job(map);
    job.take("battery plus > battery minus; running", "13.5 V");
    EXPECT_EQ(job.take("1 > 2; running", "12.8 V").verdict, Verdict::NotDecided);
    EXPECT_EQ(job.take("1 > 2; running", "10.9 V").verdict, Verdict::Low) << "no charge loses as much";
    job.take("battery plus > battery minus; key on", "12.6 V");
    EXPECT_EQ(job.take("1 > 2; key on", "11.9 V").verdict, Verdict::Low) << "nor does any flow with the engine off";
    OneJob alone(sprayer());
    alone.take("battery plus > battery minus; running", "27.5 V");
    EXPECT_EQ(alone.take("1 > 2; running", "26.1 V").verdict, Verdict::Low) << "there is no other battery";
}

}  // namespace
}  // namespace ilvek
