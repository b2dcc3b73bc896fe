// A signal read at two places of its wire, and drives that are pulsed: what such figures say, and what not.
#include "proving/wire_ends.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "proving/unstated.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::Contains;
using testing::HasSubstr;

const Map& sorter()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;power;supply, always;F1 10 A;\n"
        "2;ground;return;G1;\n"
        "3;belt speed;Hall input;X1-2;Hall sensor, feed 5, ground 2\n"
        "4;height;analogue input;X2-2;sensor 3 wires, feed 5, ground 2\n"
        "5;sensor supply;sensor supply 5 V;X1-1;\n"
        "6;lift valve;PWM high side;X3-1;valve 12 Ω\n"
        "7;tilt valve;drive, low side;X3-2;proportional valve 12 Ω from F2 10 A\n",
        12);
    return map;
}

double onWire(const Reasoner& r, const std::string& circuit)
{
    double sum = 0;
    const auto p = r.belief().probabilities();
    for (std::size_t i = 0; i < p.size(); ++i)
        sum += r.suspects()[i].id.find(circuit) != std::string::npos ? p[i] : 0;
    return sum;
}

// Read against a ground pin of the module, the sensor's side had been "higher than sound", and the sensor accused.
TEST(WireEnds, ASignalThatStopsOnItsWayNamesTheWireAndNotTheSensor)
{
    OneJob job(sorter());
    job.take("plus > minus; key on", "12.5 V");
    job.take("5 > 2; key on", "5.0 V");
    job.take("3 > 2; key on", "0.0 V");
    const Judgement& j = job.take("X1-2 far side > 2; key on", "5.0 V");
    EXPECT_EQ(j.verdict, Verdict::Noted);
    EXPECT_THAT(j.proves, Contains(HasSubstr("the same wire: something lies between")));
    const auto reasoner = weighedInFull(job.open());
    const auto& suspects = reasoner->suspects();
    const auto p = reasoner->belief().probabilities();
    double between = 0, sensor = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (suspects[i].id.starts_with("X1-2 ") || suspects[i].id.starts_with("wire 3.a")) between += p[i];
        if (suspects[i].id.starts_with("load 3 ")) sensor += p[i];
    }
    // Nobody told what fails, and the signal may have moved between the two.
    EXPECT_GT(between, 0.2);
    EXPECT_LT(sensor, 0.1);
}

TEST(WireEnds, AreComparedOnOneWireInOneSetUpOnly)
{
    OneJob job(sorter());
    const auto read = [&](const char* line, const char* figure) {
        job.take(line, figure);
        return job.last();
    };
    const Reading pin = read("4 > 2; key on", "2.4 V");
    EXPECT_EQ(wireEndsOf(sorter(), read("X2-2 far side > 2; key on", "2.45 V"), pin), WireEnds::Alike);
    EXPECT_EQ(wireEndsOf(sorter(), read("X2-2 far side > 2; key on", "3.6 V"), pin), WireEnds::Differ);
    EXPECT_EQ(wireEndsOf(sorter(), read("X2-2 far side > 2; key on", "3.0 V"), pin), WireEnds::SayNothing);
    EXPECT_EQ(wireEndsOf(sorter(), read("X2-2 far side > 2; running", "3.6 V"), pin), WireEnds::NotCompared);
    EXPECT_EQ(wireEndsOf(sorter(), read("X2-2 far side > 2; key on; apart X1", "3.6 V"), pin), WireEnds::NotCompared);
    EXPECT_EQ(wireEndsOf(sorter(), read("X1-2 far side > 2; key on", "3.6 V"), pin), WireEnds::NotCompared);
    EXPECT_EQ(wireEndsOf(sorter(), read("4 > 2; key on", "3.6 V"), pin), WireEnds::NotCompared) << "one place twice";
    const Reading low = read("4 > 2; key on", "0.1 V");
    EXPECT_EQ(wireEndsOf(sorter(), read("X2-2 far side > 2; key on", "0.1 V"), low), WireEnds::SayNothing)
        << "a pin that hangs free may stand there too";
}

TEST(WireEnds, AlikeInTheMiddleTheyAreSaidToBeOneWire)
{
    OneJob job(sorter());
    job.take("plus > minus; key on", "12.5 V");
    job.take("4 > 2; key on", "2.4 V");
    EXPECT_THAT(job.take("X2-2 far side > 2; key on", "2.4 V").proves,
                Contains(HasSubstr("the wire between brings the signal")));
}

// Half of the supply at a pulsed drive had been "too low", and a contact accused for it.
TEST(PulsedDrives, AnyMeanIsRightWhereNobodyToldTheShare)
{
    for (const char* cavity : {"6", "7"}) {
        for (const char* mean : {"1.4 V", "7.3 V", "11 V"}) {
            OneJob job(sorter());
            job.take("plus > minus; key on", "12.5 V");
            const std::string pin(cavity);
            EXPECT_FALSE(isFailure(job.take(pin + " > 2; commanded " + pin, mean).verdict)) << pin << ", " << mean;
            EXPECT_FALSE(isFailure(
                job.take("X3-" + std::string(pin == "6" ? "1" : "2") + " far side > 2; commanded " + pin, mean)
                    .verdict))
                << pin << ", " << mean;
            EXPECT_LT(onWire(*weighedInFull(job.open()), "driver " + pin), 0.1) << pin << ", " << mean;
        }
    }
}

TEST(PulsedDrives, OneThatStaysOffIsStillSeen)
{
    OneJob job(sorter());
    job.take("plus > minus; key on", "12.5 V");
    job.take("1 > 2; commanded 6", "12.4 V");
    job.take("6 > 2; commanded 6", "0.0 V");
    job.take("6 > 2; commanded 6", "0.0 V");
    const auto reasoner = weighedInFull(job.open());
    EXPECT_GT(onWire(*reasoner, "driver 6") + onWire(*reasoner, "6 added"), 0.15);
    EXPECT_LT(reasoner->belief().probabilities().front(), 0.02);
}

TEST(PulsedDrives, AShareThatIsToldFixesTheMean)
{
    OneJob job(sorter());
    const Reading told = (job.take("6 > 2; commanded 6 50 %", "6 V"), job.last());
    EXPECT_FALSE(isPulsedByUnknownShare(sorter(), sorter().terminalIndex("6"), told));
    const Reading untold = (job.take("6 > 2; commanded 6", "6 V"), job.last());
    EXPECT_TRUE(isPulsedByUnknownShare(sorter(), sorter().terminalIndex("6"), untold));
    for (const Trap& trap : job.open().assessment.judgements.back().traps)
        EXPECT_EQ(trap.id, "T18") << "the mean of what is pulsed";
    EXPECT_FALSE(job.open().assessment.judgements.back().traps.empty());
    const Reading off = (job.take("6 > 2; key on", "0 V"), job.last());
    EXPECT_FALSE(isPulsedByUnknownShare(sorter(), sorter().terminalIndex("6"), off));
}

// What a module drives while the engine turns no sheet tells: half of the supply had been called a slip.
TEST(PulsedDrives, WhileTheEngineTurnsADriveMayStandAnywhere)
{
    for (const char* volts : {"0.2 V", "9.1 V", "13.4 V"}) {
        OneJob job(sorter());
        job.take("plus > minus; running", "13.8 V");
        EXPECT_FALSE(isFailure(job.take("7 > 2; running", volts).verdict)) << volts;
        const auto reasoner = weighedInFull(job.open());
        EXPECT_TRUE(reasoner->reason({}).slips.empty()) << volts;
        EXPECT_GT(reasoner->belief().probabilities().front(), 0.2) << volts;
    }
}

}  // namespace
}  // namespace ilvek
