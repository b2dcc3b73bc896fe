#include "practice/simulated_machine.h"

#include <gtest/gtest.h>

#include "practice/demo_job.h"
#include "support/maps.h"

namespace ilvek {
namespace {

TEST(SimulatedMachine, ShowsTheDigitsOfItsDisplay)
{
    EXPECT_EQ(formatQuantity(practice::asDisplayed(12.4567)), "12.46 V");
    EXPECT_EQ(formatQuantity(practice::asDisplayed(3.33649)), "3.336 V");
    EXPECT_EQ(formatQuantity(practice::asDisplayed(0.02834)), "28.3 mV");
    EXPECT_EQ(formatQuantity(practice::asDisplayed(-0.5)), "−500.0 mV");
}

TEST(SimulatedMachine, AHealthyOneReadsWhatTheStepSaysASoundCircuitReads)
{
    const Map& map = test::pt9();
    practice::SimulatedMachine machine(map, {});
    for (const char* id : {"J1-1", "J1-3", "J1-4", "J2-1"}) {
        const Step step = openStep(map, {}, map.terminalIndex(id), map.stateIndex("key-on"));
        const auto healthy = healthyReading(map, readingOf(step, map, volts(0), {}, 0));
        const auto read = machine.read(step);
        ASSERT_TRUE(read && healthy) << id;
        EXPECT_NEAR(read->value, *healthy, 0.006) << id;
    }
}

TEST(SimulatedMachine, TheDemonstrationFaultIsHiddenUntilItIsLoaded)
{
    const Map& map = test::pt9();
    practice::SimulatedMachine machine(map, practice::demoFaults(map));
    const int terminal = map.terminalIndex("J2-1"), on = map.stateIndex("key-on");
    EXPECT_GT(machine.read(openStep(map, {}, terminal, on))->value, 12.4);
    EXPECT_LT(machine.read(loadStep(map, {}, terminal, on))->value, 5);
}

TEST(SimulatedMachine, SaysWhatItCannotRead)
{
    const Map& map = test::pt9();
    practice::SimulatedMachine machine(map, {});
    Step step = batteryStep(map, "key-on");
    step.red = "nowhere";
    EXPECT_FALSE(machine.read(step));
}

}  // namespace
}  // namespace ilvek
