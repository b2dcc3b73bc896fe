#include "practice/simulated_machine.h"

#include <gtest/gtest.h>

#include <cmath>

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

TEST(SimulatedMachine, AnIntermittentFaultIsThereAsOftenAsItsTimingSays)
{
    const Map& map = test::smallMap();
    const std::vector<Fault> open{{Fault::Kind::Open, map.elementIndex("X-1")}};
    const Step step = openStep(map, {}, map.terminalIndex("M-1"), map.stateIndex("key-on"));
    practice::SimulatedMachine often(map, open, {0.3, 0});
    int there = 0;
    for (int n = 0; n < 300; ++n)
        there += often.read(step)->value < 6 ? 1 : 0;
    EXPECT_NEAR(there, 90, 30);
    // One that shows when the machine has become hot.
    practice::SimulatedMachine hot(map, open, {1, 600});
    EXPECT_GT(hot.read(step, 599)->value, 11);
    EXPECT_LT(hot.read(step, 600)->value, 6);
    hot.mend();
    EXPECT_GT(hot.read(step, 700)->value, 11);
}

TEST(SimulatedMachine, AFaultThatGrowsIsSlightMeanwhile)
{
    const Map& map = test::smallMap();
    const int contact = map.elementIndex("X-1");
    const std::vector<Fault> slight{{Fault::Kind::AddedResistance, contact, -1, -1, 3}};
    const Step step = loadStep(map, {}, map.terminalIndex("M-1"), map.stateIndex("key-on"));
    practice::SimulatedMachine machine(map, {{Fault::Kind::Open, contact}}, {1, 300, slight});
    practice::SimulatedMachine sound(map, {});
    const double weak = machine.read(step, 299)->value;
    EXPECT_LT(weak, sound.read(step)->value - 0.5);
    EXPECT_GT(weak, 1);
    EXPECT_LT(machine.read(step, 300)->value, 0.5);
    machine.mend();
    EXPECT_NEAR(machine.read(step, 0)->value, sound.read(step)->value, 0.01);
    EXPECT_NEAR(machine.read(step, 400)->value, sound.read(step)->value, 0.01);
}

TEST(SimulatedMachine, MeterTipsPartsAndBatteryDifferAsMuchAsTheySay)
{
    const Map& map = test::smallMap();
    const Step battery = batteryStep(map, "key-on");
    const Step level = openStep(map, {}, map.terminalIndex("M-1"), map.stateIndex("key-on"));
    practice::SimulatedMachine exact(map, {});
    double sum = 0, squares = 0;
    constexpr int machines = 200;
    for (std::uint32_t seed = 1; seed <= machines; ++seed) {
        practice::Imperfection imperfection;
        imperfection.none = false;
        imperfection.seed = seed;
        practice::SimulatedMachine machine(map, {}, {}, imperfection);
        const double off = machine.read(battery)->value - exact.read(battery)->value;
        sum += off;
        squares += off * off;
        // The battery drains while the key is on, and what hangs on it follows.
        EXPECT_NEAR(machine.read(battery, 6000)->value - machine.read(battery)->value, -0.3, 0.05) << seed;
        EXPECT_NEAR(machine.read(level)->value, machine.read(battery)->value, 0.3) << seed;
        // The same machine twice is the same machine.
        practice::SimulatedMachine again(map, {}, {}, imperfection);
        EXPECT_EQ(again.read(battery)->value - exact.read(battery)->value, off) << seed;
    }
    const practice::Imperfection usual;
    const double sigma = std::hypot(usual.battery_V, 12 * usual.gain, usual.tip_V);
    EXPECT_NEAR(sum / machines, 0, 4 * sigma / std::sqrt(machines));
    EXPECT_NEAR(std::sqrt(squares / machines), sigma, 0.25 * sigma);
}

}  // namespace
}  // namespace ilvek
