// What a mended part had moved is no longer so: beside the walk over the map stands the circuit itself.
#include <gmock/gmock.h>

#include "circuit/operating_point.h"
#include "proving/judge.h"
#include "support/maps.h"

namespace ilvek {
namespace {

std::optional<double> voltsWith(const Map& map, Condition condition, int red, std::optional<Fault> fault)
{
    if (fault) condition.faults = {*fault};
    const auto point = operatingPoint(map, condition);
    if (!point || point->isFloating(red)) return std::nullopt;
    return point->voltage(red, map.batteryMinus());
}

bool isMendable(const Element& e)
{
    return e.kind == ElementKind::Wire || e.kind == ElementKind::Fuse || e.kind == ElementKind::Contact ||
           e.kind == ElementKind::Joint;
}

// Every place of the machine against battery minus, in every state: where a conductor that is open takes the level
// away, mending it makes that reading one to take again.
TEST(Stale, WhatTheMendedConductorHadTakenAwayIsReadAgain)
{
    for (const char* name : {"sweeper-lamps", "milking-arm", "peat-charging", "sprayer-heater", "crane-receiver"}) {
        const Map& map = test::storyMap(name);
        std::size_t moved = 0, missed = 0;
        std::string first;
        for (std::size_t e = 0; e < map.elements.size(); ++e) {
            if (!isMendable(map.elements[e])) continue;
            const Fault open{Fault::Kind::Open, static_cast<int>(e)};
            for (std::size_t state = 0; state < map.states.size(); ++state) {
                Condition condition;
                condition.state = static_cast<int>(state);
                for (std::size_t node = 0; node < map.nodes.size(); ++node) {
                    const int red = static_cast<int>(node);
                    const auto sound = voltsWith(map, condition, red, std::nullopt);
                    const auto broken = voltsWith(map, condition, red, open);
                    if (!sound || !broken || std::abs(*sound - *broken) < 0.3 * map.systemVoltage_V) continue;
                    Evidence evidence;
                    Reading r;
                    r.id = 1, r.test = TestKind::Point, r.state = map.states[state].id;
                    r.red = map.node(red), r.black = map.node(map.batteryMinus());
                    r.value = volts(*broken);
                    evidence.readings = {r};
                    evidence.repairs = {Repair{2, {map.elements[e].id}, "mended"}};
                    ++moved;
                    if (isStale(map, evidence, r)) continue;
                    ++missed;
                    if (first.empty()) first = map.elements[e].id + " at " + map.node(red) + ", " + r.state;
                }
            }
        }
        EXPECT_GT(moved, 50U) << name;
        EXPECT_EQ(missed, 0U) << name << ": of " << moved << ", first " << first;
    }
}

}  // namespace
}  // namespace ilvek
