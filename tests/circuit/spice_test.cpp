// The same circuits solved by ngspice: within 1 mV or 0.1 %, whichever is larger.
#include <gtest/gtest.h>

#include <cmath>

#include "support/maps.h"
#include "support/spice.h"

namespace ilvek {
namespace {

void agreesWithSpice(const Map& map, const Condition& condition, const std::string& what)
{
    const auto point = operatingPoint(map, condition);
    ASSERT_TRUE(point) << what;
    ASSERT_FALSE(point->chatters()) << what;
    const auto spice = test::spicePotentials(test::spiceNetlist(map, condition, *point));
    ASSERT_EQ(spice.size(), map.nodes.size() - 1) << what << ": ngspice gave no operating point";
    for (const auto& [node, value] : spice) {
        if (point->isFloating(node)) continue;  // only its leak holds it; no meter would call it a reading
        EXPECT_NEAR(point->potential(node), value, std::max(1e-3, 1e-3 * std::abs(value)))
            << what << " at " << map.node(node);
    }
}

TEST(Spice, AgreesOnTheSmallMachine)
{
    for (const char* state : {"key-off", "key-on"}) {
        Condition condition;
        condition.state = test::smallMap().stateIndex(state);
        agreesWithSpice(test::smallMap(), condition, state);
    }
}

TEST(Spice, AgreesOnTheDemonstrationMachineInEveryState)
{
    // ngspice solves one instant: pulsed drivers stand as in the part of the period in which they are on.
    Map map = test::pt9();
    for (Element& e : map.elements)
        e.values.erase("duty");
    map.document += "\n";
    for (std::size_t s = 0; s < map.states.size(); ++s) {
        Condition condition;
        condition.state = static_cast<int>(s);
        agreesWithSpice(map, condition, map.states[s].id);
    }
}

TEST(Spice, AgreesWithFaultsLoadsAndUnpluggedConnectors)
{
    const Map& map = test::pt9();
    const auto loads = loadCatalogue(12);
    Condition base;
    base.state = map.stateIndex("key-on");
    const auto added = [&](const char* element, double r) {
        Condition c = base;
        c.faults = {{Fault::Kind::AddedResistance, map.elementIndex(element), -1, -1, r}};
        return c;
    };
    agreesWithSpice(map, added("X4-7", 4), "four ohms at X4-7");
    agreesWithSpice(map, added("G2", 2), "a loose stud at G2");
    agreesWithSpice(map, added("X9-2", 50), "resistance in a reference");
    Condition dragged = base;
    dragged.faults = {{Fault::Kind::ShortBetween, -1, map.nodeIndex("THS.supply"), map.nodeIndex("G3"), 5.0}};
    agreesWithSpice(map, dragged, "reference 2 chafed to the frame");
    Condition open = base;
    open.faults = {{Fault::Kind::Open, map.elementIndex("F16")}};
    agreesWithSpice(map, open, "F16 blown");
    for (const SubstituteLoad& load : loads) {
        Condition loaded = added("X4-7", 4);
        loaded.unplugged = {map.connectorIndex("J2")};
        loaded.load = AppliedLoad{load, map.nodeIndex("J2-1.a"), map.nodeIndex("J2-3.a")};
        loaded.meter = Meter{map.nodeIndex("J2-1.a"), map.nodeIndex("J2-3.a"), 10e6};
        agreesWithSpice(map, loaded, load.name);
    }
}

}  // namespace
}  // namespace ilvek
