// A machine three times the PT-9, whose table would fill the memory: a part of it suggests, and a fault is found.
#include <gtest/gtest.h>

#include "machine/map_reader.h"
#include "practice/bench.h"
#include "practice/larger_map.h"
#include "support/maps.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

TEST(Larger, SuggestsFromAPartOfItsTableAndFindsAFaultOfOneCopy)
{
    const auto map = readMap(practice::timesOver(test::pt9().document, 3), "larger");
    ASSERT_TRUE(map) << map.error().front().message();
    Reasoner reasoner(*map, {}, true);
    const auto cases = static_cast<std::size_t>(firstCases(reasoner.suspects()).back());
    EXPECT_LT(cases, 3U * 8300U) << "severities are left out";
    ASSERT_TRUE(reasoner.buildNext());
    EXPECT_EQ(reasoner.built(), 0U) << "a part of the first set-up";
    EXPECT_LT(reasoner.table().bytes(), 40'000'000U);
    EXPECT_FALSE(reasoner.reason({}).steps.empty());

    Fault fault;
    fault.kind = Fault::Kind::AddedResistance;
    fault.element = map->elementIndex("3:F16");
    ASSERT_GE(fault.element, 0);
    fault.resistance_ohm = 0.9;
    practice::SimulatedMachine machine(*map, {fault});
    const auto run = practice::follow(reasoner, machine, {{}, true}, {}, 25);
    std::string places;
    for (const std::string& place : practice::placesOf(reasoner, run))
        places += place + " ";
    EXPECT_NE(places.find("3:F16 "), std::string::npos) << places << run.tests;
}

}  // namespace
}  // namespace ilvek
