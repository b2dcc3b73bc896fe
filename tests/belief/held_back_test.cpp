// A module drives nothing that it has reasons not to: a drive that does not come may be held back for a fault
// elsewhere, and is then neither a second fault nor the module's own.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "support/maps.h"
#include "support/weighed.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;

const Map& truck()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "A1;logic;supply, with key;F1 5 A;\n"
        "A2;minus;ground;G1;\n"
        "B1;contactor;low side;X1-1;coil of K1, other end F2 10 A\n"
        "B2;horn;low side;X1-2;horn 1.5 A, other wire F2\n"
        "B3;seat;switch input;X2-1;switch to ground, closed when seated\n"
        ";pump motor;consumer;F9 200 A > K1;motor 120 A\n",
        48);
    return map;
}

// The contactor does not come. `seen`: what the module sees of the seat's switch when it is closed, and its plug.
void readContactor(OneJob& job, const char* seen)
{
    job.take("plus > minus; key on", "50.4 V");
    job.take("A1 > A2; key on", "50.1 V");
    job.take("B1 > minus; key on", "50.2 V");
    job.take("B1 > minus; commanded B1", "50.2 V");
    job.take("B3 > minus; key on", "4.9 V");
    job.take("B3 > minus; B3 operated", seen);
    job.take("X2-1 part side > minus; B3 operated", "0.0 V");
}

double sumOf(const Reasoner& reasoner, auto&& is)
{
    const auto p = reasoner.belief().probabilities();
    double sum = 0;
    for (std::size_t i = 0; i < p.size(); ++i)
        sum += is(reasoner.suspects()[i]) ? p[i] : 0;
    return sum;
}

TEST(HeldBack, ADriveThatDoesNotComeGoesWithTheSwitchThatTheModuleDoesNotSee)
{
    OneJob job(truck());
    readContactor(job, "4.9 V");
    const auto reasoner = weighed(job);
    const Reasoning r = reasoner->reason({});
    ASSERT_FALSE(r.groups.empty());
    EXPECT_THAT(r.groups.front().words, testing::HasSubstr("X2-1"));
    EXPECT_THAT(r.groups.front().words, testing::Not(testing::HasSubstr("B1"))) << "it is X2-1 that is mended";
    ASSERT_FALSE(r.suspects.empty());
    EXPECT_THAT(r.suspects.front().words, testing::HasSubstr("And therefore the driver behind B1 stays off"));
    EXPECT_FALSE(r.groups.front().insideModule);
    EXPECT_TRUE(r.doubtful.empty()) << "all that was read is explained";
    EXPECT_LT(sumOf(*reasoner, [](const Suspect& s) { return s.insideModule; }), 0.05);
    // It is one fault, and its words say nothing of how open the drive would be.
    EXPECT_THAT(r.suspects.front().words, testing::Not(testing::HasSubstr("stays off, open")));
}

TEST(HeldBack, WhereTheSwitchIsSeenTheDriveIsAFaultOfItsOwn)
{
    OneJob job(truck());
    readContactor(job, "0.05 V");
    const auto reasoner = weighed(job);
    const Reasoning r = reasoner->reason({});
    ASSERT_FALSE(r.groups.empty());
    EXPECT_THAT(r.groups.front().words, testing::HasSubstr("B1"));
    EXPECT_LT(sumOf(*reasoner,
                    [](const Suspect& s) {
                        return !s.sentences.empty() && s.sentences.back().find("stays off") != std::string::npos;
                    }),
              0.02);
}

// A line that stands open where its switch should hold it down, in a state in which it also stood open, was no
// evidence.
TEST(HeldBack, ALineThatDoesNotFollowItsSwitchIsEvidenceThoughItStoodSoBefore)
{
    OneJob job(truck());
    job.take("plus > minus; key on", "50.4 V");
    job.take("B3 > minus; key on", "4.9 V");
    EXPECT_EQ(job.take("B3 > minus; B3 operated", "4.9 V").verdict, Verdict::High);
    const auto onItsWay = [&](const Suspect& s) {
        return s.words.find("X2-1") != std::string::npos || s.words.find("B3") != std::string::npos ||
               s.words.find("seated") != std::string::npos;
    };
    EXPECT_GT(sumOf(*weighed(job), onItsWay), 0.5);
}

// The fuse holder before a splice of which a valve and a motor live. Behind it the motor draws as much as ever at less
// than half of its volts, which no resistor would.
Map sprayer()
{
    return test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;plus;supply, with key;F1 5 A;\n"
        "2;ground;ground;G1;\n"
        "5;valve;drive, low side;X3-1;\"solenoid 8-10 Ω, other wire S2 > F6 20 A\"\n"
        "7;agitator;drive, low side;X3-3;\"motor 4 A, other wire S2\"\n"
        ";stirrer lamp;consumer;S2;lamp 10 W\n");
}

TEST(HeldBack, AMotorBelowItsVoltsDrawsAsItsLoadWants)
{
    OneJob job(sprayer());
    job.take("plus > minus; key on", "12.6 V");
    job.take("1 > 2; key on", "12.4 V");
    job.take("S2 > minus; commanded 5", "9.1 V");
    job.take("S2 > minus; commanded 7", "4.9 V");
    job.take("S2 > minus; key on", "10.7 V");
    const Reasoning r = weighed(job)->reason({});
    EXPECT_TRUE(r.doubtful.empty());
    ASSERT_FALSE(r.groups.empty());
    EXPECT_THAT(r.groups.front().words, testing::HasSubstr("F6"));
}

// The same across the holder: what is missing behind it drops there.
TEST(HeldBack, WhatAMotorLacksDropsAcrossTheBadPlace)
{
    OneJob job(sprayer());
    job.take("plus > minus; key on", "12.6 V");
    job.take("1 > 2; key on", "12.4 V");
    job.take("F6 in > F6 out; commanded 5", "3.3 V");
    job.take("F6 in > F6 out; commanded 7", "7.5 V");
    job.take("F6 in > F6 out; key on", "1.7 V");
    const Reasoning r = weighed(job)->reason({});
    EXPECT_TRUE(r.doubtful.empty());
    ASSERT_FALSE(r.groups.empty());
    EXPECT_THAT(r.groups.front().words, testing::HasSubstr("F6"));
}

}  // namespace
}  // namespace ilvek
