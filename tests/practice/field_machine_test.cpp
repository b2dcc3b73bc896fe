// The machines of the field table: the same for a seed, sound by custom, known only as far as their sheet says.
#include "practice/field_machine.h"

#include <gtest/gtest.h>

#include "circuit/operating_point.h"

namespace ilvek {
namespace {

TEST(FieldMachine, IsTheSameForTheSameSeedAndAnotherForAnother)
{
    const auto a = practice::fieldMachine(5, {}), b = practice::fieldMachine(5, {}), c = practice::fieldMachine(6, {});
    EXPECT_EQ(a.sheet, b.sheet);
    EXPECT_EQ(a.truth, b.truth);
    EXPECT_NE(a.sheet, c.sheet);
}

TEST(FieldMachine, IsSoundAndNotAsItsSheetSays)
{
    for (std::uint32_t seed = 1; seed <= 30; ++seed) {
        const practice::FieldMachine machine = practice::fieldMachine(seed, {});
        EXPECT_GE(machine.map.moduleTerminals().size(), 2U);
        EXPECT_FALSE(machine.truth.empty());
        Condition on;
        on.state = machine.map.stateIndex("key-on");
        on.faults = machine.truth;
        const auto point = operatingPoint(machine.map, on);
        ASSERT_TRUE(point) << machine.sheet;
        EXPECT_TRUE(point->blownFuses().empty()) << machine.sheet;
        const double battery = point->voltage(machine.map.batteryPlus(), machine.map.batteryMinus());
        for (const int t : machine.map.moduleTerminals()) {
            const Terminal& terminal = machine.map.terminal(t);
            if (terminal.role != Role::SwitchedFeed) continue;
            EXPECT_GT(point->potential(terminal.a), 0.95 * battery) << seed << ", " << terminal.id;
        }
    }
}

// Forty terminals have forty names: one of the second writer's had been listed twice, which ended the whole run.
TEST(FieldMachine, TheLargestOfBothWritersCanBeRead)
{
    practice::FieldSpread spread;
    spread.mostTerminals = 40;
    for (const bool workshop : {false, true}) {
        spread.workshop = workshop;
        std::size_t most = 0;
        for (std::uint32_t seed = 1; seed <= 40; ++seed)
            most = std::max(most, practice::fieldMachine(seed, spread).map.moduleTerminals().size());
        EXPECT_GE(most, 36U);
    }
}

TEST(FieldMachine, DrawsOtherwiseInEachState)
{
    const practice::FieldMachine machine = practice::fieldMachine(3, {});
    std::size_t ports = 0;
    for (const Element& e : machine.made.elements) {
        if (e.kind != ElementKind::SupplyPort) continue;
        ++ports;
        EXPECT_EQ(e.currentIn_A.size(), machine.made.states.size()) << e.id;
    }
    EXPECT_GT(ports, 0U);
}

// Of what the trade makes in several ways each is met with, and the map knows of none.
TEST(FieldMachine, IsMadeOtherwiseThanItsMapNowAndThen)
{
    int raised = 0, higher = 0;
    for (std::uint32_t seed = 1; seed <= 60; ++seed) {
        const practice::FieldMachine machine = practice::fieldMachine(seed, {});
        ASSERT_EQ(machine.made.elements.size(), machine.map.elements.size());
        bool isRaised = false;
        for (std::size_t i = 0; i < machine.map.elements.size(); ++i) {
            EXPECT_EQ(machine.made.elements[i].id, machine.map.elements[i].id);
            isRaised = isRaised || machine.made.elements[i].nodes != machine.map.elements[i].nodes;
            higher += machine.made.elements[i].values != machine.map.elements[i].values ? 1 : 0;
        }
        raised += isRaised ? 1 : 0;
    }
    EXPECT_GT(raised, 5);
    EXPECT_GT(higher, 0);
}

// Figures that nobody stated, and those of full work together, had blown a fuse of the map on a sound machine.
TEST(FieldMachine, NoFuseBlowsOnASoundMap)
{
    for (std::uint32_t n = 1; n <= 60; ++n) {
        const auto machine = practice::fieldMachine(977 * n, {});
        for (std::size_t state = 0; state < machine.map.states.size(); ++state) {
            Condition in;
            in.state = static_cast<int>(state);
            const auto point = operatingPoint(machine.map, in);
            ASSERT_TRUE(point);
            EXPECT_TRUE(point->blownFuses().empty())
                << 977 * n << ", " << machine.map.states[state].id << machine.sheet;
        }
    }
}

}  // namespace
}  // namespace ilvek
