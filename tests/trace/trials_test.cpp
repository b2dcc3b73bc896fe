// Every algorithm against hundreds of random recordings whose truth is known; the tables in docs/trace-accuracy.md are
// printed from the same trials.
#include "practice/plain_trials.h"

#include <gtest/gtest.h>

namespace ilvek::practice {
namespace {

double share(int part, const Trial& t)
{
    return static_cast<double>(part) / t.of;
}

TEST(Trials, DutyIsReadFromACurrentUntilTheNoiseIsHalfTheRipple)
{
    const Trial quiet = trialPulseWidth(100, 1e5, 0);
    EXPECT_EQ(quiet.right, quiet.of);
    EXPECT_LT(quiet.offAt(0.5), 0.1);
    const Trial noisy = trialPulseWidth(100, 1e5, 0.5);
    EXPECT_GE(share(noisy.right, noisy), 0.93);
}

TEST(Trials, BarRateIsRightOrNotGiven)
{
    for (const double noise : {0.0, 0.002, 0.005}) {
        const Trial t = trialBarRate(80, noise);
        EXPECT_EQ(t.wrong, 0) << noise;
        EXPECT_GE(share(t.right, t), noise > 0.002 ? 0.7 : 0.9) << noise;
    }
}

TEST(Trials, ABadBarIsNamedAndASoundMotorIsNot)
{
    EXPECT_GE(share(trialBadBar(80, 0.002, true).right, trialBadBar(80, 0.002, true)), 0.97);
    EXPECT_EQ(trialBadBar(80, 0.005, false).wrong, 0);
    const Trial stall = trialStall(60, 0.005);
    EXPECT_EQ(stall.right, stall.of);
}

TEST(Trials, ChargesOfACoilAreToldApart)
{
    EXPECT_GE(trialCoil(100, 0.01).right, 98);
    EXPECT_GE(trialCoil(100, 0.03).right, 95);
}

// Those that the measuring was not tuned on.
TEST(Trials, SoundCoilsOfOtherFamiliesAreLeftAlone)
{
    for (const double noise : {0.0, 0.01, 0.03}) {
        const Trial t = trialPlainCoil(80, noise);
        EXPECT_EQ(t.wrong, 0) << noise;
        EXPECT_GE(t.right, 76) << noise;
    }
    for (const double noise : {0.0, 0.01}) {
        const Trial t = trialShortedCoil(60, noise);
        EXPECT_EQ(t.wrong, 0) << noise;
        EXPECT_GE(t.right, 50) << noise;
    }
}

TEST(Trials, WindingsWithoutAnArmatureHaveNoLiftAndTheirResistanceCounts)
{
    for (const double ratio : {1.0, 1.2, 0.8}) {
        for (const double noise : {0.002, 0.01}) {
            const Trial t = trialPlainWinding(60, noise, ratio);
            EXPECT_EQ(t.wrong, 0) << noise << " " << ratio;
            EXPECT_GE(t.right, 55) << noise << " " << ratio;
        }
    }
}

TEST(Trials, ASpikeSetsNoThresholdAndARippleIsNoSwitching)
{
    for (const double noise : {0.0, 0.01}) {
        const Trial duty = trialSpikedDuty(60, noise);
        EXPECT_EQ(duty.right, duty.of) << noise;
        const Trial ripple = trialRipple(60, noise);
        EXPECT_EQ(ripple.right, ripple.of) << noise;
    }
}

TEST(Trials, WheelsAreCountedThroughBothKindsOfPickUp)
{
    for (const bool reluctance : {false, true}) {
        for (const double noise : {0.0, 0.02, 0.05}) {
            const Trial t = trialPickUp(100, noise, reluctance);
            EXPECT_GE(share(t.right, t), reluctance ? 0.97 : 0.99) << reluctance << " " << noise;
        }
        const Trial broken = trialBrokenTooth(50, 0.02, reluctance);
        EXPECT_EQ(broken.right, broken.of);
    }
}

class BusPairs : public testing::TestWithParam<PairFault> {};
TEST_P(BusPairs, AreOfTheRightClass)
{
    for (const double noise : {0.0, 0.02, 0.05}) {
        const Trial t = trialBusPair(40, noise, GetParam());
        EXPECT_EQ(t.wrong, 0) << noise;
        EXPECT_GE(share(t.right, t), 0.97) << noise;
        EXPECT_LT(t.offAt(0.95), 0.01);
    }
}
INSTANTIATE_TEST_SUITE_P(All, BusPairs,
                         testing::Values(PairFault::None, PairFault::Silent, PairFault::Together,
                                         PairFault::HighToGround, PairFault::HighToSupply, PairFault::LowToGround,
                                         PairFault::LowToSupply, PairFault::HighOpen, PairFault::LowOpen,
                                         PairFault::OneTermination, PairFault::HeldDominant),
                         [](const auto& kind) { return "fault" + std::to_string(static_cast<int>(kind.param)); });

TEST(Trials, AChargingFieldIsToldToAnswerOrNot)
{
    for (const FieldFault fault :
         {FieldFault::None, FieldFault::DoesNotAnswer, FieldFault::FullField, FieldFault::NoDrive}) {
        const Trial t = trialField(30, 0.02, fault);
        EXPECT_EQ(t.right, t.of) << static_cast<int>(fault);
    }
}

TEST(Trials, AWindingTwentyPerCentHighIsFlaggedAtAnySupplyAndASoundOneIsNot)
{
    for (const double noise : {0.002, 0.01, 0.02}) {
        EXPECT_GE(trialWinding(200, noise, 1.2).right, 198) << noise;
        EXPECT_LE(trialWinding(200, noise, 1).wrong, 4) << noise;
        EXPECT_EQ(trialWinding(100, noise, 0.75, true).wrong, 0) << noise;
    }
    EXPECT_GE(trialWinding(100, 0.002, 0.75, true).right, 98);
}

TEST(Trials, ClosingIsRightOrNotGiven)
{
    for (const bool freewheels : {false, true}) {
        const Trial t = trialClosing(120, 0.005, freewheels);
        EXPECT_EQ(t.wrong, 0);
        EXPECT_GT(t.right, 0);
    }
}

TEST(Trials, EveryDipIsFoundAndNothingElse)
{
    EXPECT_EQ(trialDips(60, 0.002).right, 60);
    EXPECT_EQ(trialDips(60, 0.02).right, 60);
}

}  // namespace
}  // namespace ilvek::practice
