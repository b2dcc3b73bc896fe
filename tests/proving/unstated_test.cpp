// Levels and ohms that the trade makes in several ways: nobody stated which, so they neither fail nor prove.
#include "proving/unstated.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "support/maps.h"
#include "support/one_job.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

using test::OneJob;

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

TEST(Unstated, ASensorSupplyMayBeMadeForAnotherLevelThanFiveVolts)
{
    for (const char* volts : {"8.02 V", "9.9 V", "12.1 V", "24.4 V"}) {
        OneJob job(sprayer());
        EXPECT_EQ(job.take("4 > 2; key on", volts).verdict, Verdict::NotDecided) << volts;
        EXPECT_NE(job.proof("4"), ProofState::ProvenLoaded) << volts;
    }
    OneJob job(sprayer());
    EXPECT_EQ(job.take("4 > 2; key on", "5.02 V").verdict, Verdict::Good);
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

TEST(Unstated, TerminationsThatNobodyListed)
{
    OneJob job(sprayer());
    for (const char* ohms : {"119 ohm", "60.3 ohm"})
        EXPECT_EQ(job.take("8 > 9; key off", ohms).verdict, Verdict::Noted) << ohms;
    for (const char* ohms : {"2 ohm", "38 ohm", "300 ohm"})
        EXPECT_EQ(job.take("8 > 9; key off", ohms).verdict, Verdict::Low) << ohms;
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
    Reasoner reasoner(sprayer(), {}, false);
    while (reasoner.buildNext()) {
    }
    reasoner.observe(job.open().assessment, {});
    reasoner.refine();
    EXPECT_EQ(reasoner.reason({}).conclusion.kind, Conclusion::Kind::Open);
    EXPECT_TRUE(reasoner.reason({}).slips.empty());
    const double sound = reasoner.belief().probabilities()[0];
    for (const double p : reasoner.belief().probabilities())
        EXPECT_LE(p, std::max(sound, 0.3));
}

}  // namespace
}  // namespace ilvek
