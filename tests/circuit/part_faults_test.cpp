// What a fault of a part does to the circuit: in the sense of its words, and never a figure that is none.
#include <gtest/gtest.h>

#include <cmath>

#include "circuit/operating_point.h"
#include "support/maps.h"
#include "suspects/suspects.h"

namespace ilvek {
namespace {

TEST(PartFaults, ALampOfTwiceTheResistancePassesHalfTheCurrent)
{
    const Map& map = test::pt9();
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind != ElementKind::Lamp) continue;
        for (std::size_t state = 0; state < map.states.size(); ++state) {
            Condition sound, faulty;
            sound.state = faulty.state = static_cast<int>(state);
            faulty.faults = {{Fault::Kind::OutOfValue, static_cast<int>(i), -1, -1, 0, 2}};
            const auto a = operatingPoint(map, sound), b = operatingPoint(map, faulty);
            ASSERT_TRUE(a && b);
            const double before = std::abs(a->currentThrough(static_cast<int>(i)));
            if (before < 0.05) continue;
            EXPECT_NEAR(std::abs(b->currentThrough(static_cast<int>(i))), before / 2, 0.06 * before) << e.id;
        }
    }
}

TEST(PartFaults, AHallSensorThatIsStuckHoldsItsOutputLow)
{
    const Map& map = test::pt9();
    int found = 0;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind != ElementKind::Hall) continue;
        for (std::size_t state = 0; state < map.states.size(); ++state) {
            Condition sound, stuck;
            sound.state = stuck.state = static_cast<int>(state);
            stuck.faults = {{Fault::Kind::StuckClosed, static_cast<int>(i)}};
            const auto a = operatingPoint(map, sound), b = operatingPoint(map, stuck);
            ASSERT_TRUE(a && b);
            const double high = a->voltage(e.nodes[1], e.nodes[2]);
            if (high < 2) continue;
            ++found;
            EXPECT_LT(b->voltage(e.nodes[1], e.nodes[2]), 0.5) << e.id;
            EXPECT_NEAR(b->voltage(e.nodes[0], e.nodes[2]), a->voltage(e.nodes[0], e.nodes[2]), 0.2)
                << "its supply stands";
        }
    }
    EXPECT_GT(found, 0);
}

TEST(PartFaults, NoFactorHoweverSmallGivesWhatIsNoFigure)
{
    const Map& map = test::pt9();
    for (const double factor : {0.0, 1e-300, -1.0, 1e-6, 1e12}) {
        for (std::size_t i = 0; i < map.elements.size(); i += 7) {
            Condition c;
            c.state = map.stateIndex("key-on");
            c.faults = {{Fault::Kind::OutOfValue, static_cast<int>(i), -1, -1, 0, factor}};
            const auto point = operatingPoint(map, c);
            if (!point) continue;  // said, not shown
            for (std::size_t node = 0; node < map.nodes.size(); ++node)
                ASSERT_TRUE(std::isfinite(point->potential(static_cast<int>(node))))
                    << map.elements[i].id << " " << factor;
        }
    }
}

TEST(PartFaults, EverySuspectsFaultsGiveFigures)
{
    for (const Map* map : {&test::hauler(), &test::smallMap()}) {
        for (const Suspect& s : suspectsOf(*map, true)) {
            for (const auto& faults : s.severities) {
                Condition c;
                c.state = std::max(0, map->stateIndex("key-on"));
                c.faults = faults;
                const auto point = operatingPoint(*map, c);
                ASSERT_TRUE(point) << s.words;
                for (std::size_t node = 0; node < map->nodes.size(); ++node)
                    ASSERT_TRUE(std::isfinite(point->potential(static_cast<int>(node)))) << s.words;
            }
        }
    }
}

TEST(PartFaults, APartIsWarmedWithoutChangingAnother)
{
    const Map& map = test::pt9();
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        if (map.elements[i].kind != ElementKind::Thermistor) continue;
        Condition cold, warm;
        cold.state = warm.state = map.stateIndex("key-on");
        cold.celsius[static_cast<int>(i)] = 0;
        warm.celsius[static_cast<int>(i)] = 80;
        const auto a = operatingPoint(map, cold), b = operatingPoint(map, warm);
        ASSERT_TRUE(a && b);
        const auto& n = map.elements[i].nodes;
        EXPECT_GT(a->voltage(n[0], n[1]), b->voltage(n[0], n[1]) + 0.3) << "a warm thermistor pulls its level down";
        EXPECT_NEAR(a->potential(map.batteryPlus()), b->potential(map.batteryPlus()), 1e-3);
    }
}

}  // namespace
}  // namespace ilvek
