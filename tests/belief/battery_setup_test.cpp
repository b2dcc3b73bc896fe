// A sound machine whose battery is read with a connector apart: nobody is made a suspect by what then draws nothing.
#include <gtest/gtest.h>

#include <cmath>

#include "circuit/operating_point.h"
#include "support/complete.h"
#include "support/maps.h"

namespace ilvek {
namespace {

double soundFigure(const Map& map, Reading reading)
{
    const auto healthy = healthyReading(map, reading);
    EXPECT_TRUE(healthy);
    return std::round(healthy.value_or(0) * 1000) / 1000;
}

void readBatteryApart(const Map& map, const char* connector, const char* feed)
{
    const auto reasoner = test::complete(map);
    const double before = reasoner->belief().probabilities().front();
    Evidence evidence;
    const auto take = [&](Reading r) {
        r.id = static_cast<std::int64_t>(evidence.readings.size()) + 1;
        r.value = volts(soundFigure(map, r));
        r.value.resolution = 0.001;
        evidence.readings.push_back(r);
    };
    Reading battery = readingOf(batteryStep(map, "key-on"), map, volts(0), {}, 1000);
    battery.unplugged = {connector};
    take(battery);
    WayOfWorking mated;
    mated.mated = true;
    take(readingOf(loadStep(map, mated, map.terminalIndex(feed), map.stateIndex("key-on")), map, volts(0), {}, 2000));
    reasoner->observe(assess(map, evidence), {});
    reasoner->refine();
    const auto p = reasoner->belief().probabilities();
    for (std::size_t i = 1; i < p.size(); ++i)
        EXPECT_LT(p[i], 0.2) << map.title() << ": " << reasoner->suspects()[i].words;
    EXPECT_GT(p.front(), 0.9 * before) << map.title() << ": a sound reading never makes a fault likelier than nothing";
}

TEST(BatterySetup, ASoundFeedIsNotAccusedWhereTheBatteryWasReadWithAConnectorApart)
{
    readBatteryApart(test::pt9(), "J2", "J1-1");
    readBatteryApart(test::hauler(), "A", "A1");
}

TEST(BatterySetup, ARelayThatIsPulledTakesItsCoilAlong)
{
    const Map& map = test::hauler();
    const int control = map.terminal(map.terminalIndex("A5")).a, relay = map.elementIndex("K7");
    ASSERT_GE(relay, 0);
    Condition condition;
    condition.state = map.stateIndex("key-on");
    condition.unplugged = {map.connectorIndex("A")};  // nothing pulls the control wire down
    condition.meter = Meter{control, map.batteryMinus(), 10e6};
    const auto plugged = operatingPoint(map, condition);
    ASSERT_TRUE(plugged);
    EXPECT_GT(plugged->potential(control), 22.0) << "through the coil";
    condition.removed = {relay};
    const auto pulled = operatingPoint(map, condition);
    ASSERT_TRUE(pulled);
    EXPECT_LT(std::abs(pulled->potential(control)), 1.0) << "an empty socket feeds nothing";
}

}  // namespace
}  // namespace ilvek
