// What a part of a sheet is called.
#include <gmock/gmock.h>

#include "support/maps.h"
#include "suspects/suspects.h"

namespace ilvek {
namespace {

// The names of the parts on the map.
std::vector<std::string> partNames(const Map& map)
{
    std::vector<std::string> out;
    for (std::size_t i = 0; i < map.elements.size(); ++i)
        if (map.elements[i].id.starts_with("load ")) out.push_back(partWords(map, static_cast<int>(i)));
    return out;
}

TEST(PartNames, TwoSensorsOfOneKindAtTwoPlugsGoByTheirCircuits)
{
    const Map map = test::mapOfRows(
        "pin,signal,type,route,part\n"
        "J4,suction,sensor signal,X4-3,\"pressure sensor 3 wires, feed J6, ground J7\"\n"
        "J5,discharge,sensor signal,X5-3,\"pressure sensor 3 wires, feed J6, ground J7\"\n"
        "J6,sensor +,5 V reference,S1,\nJ7,sensor -,sensor ground,S2,\nJ2,GND,ground,G1,\n",
        12);
    EXPECT_THAT(partNames(map), testing::IsSupersetOf({"suction", "discharge"}));
}

TEST(PartNames, HowManyWiresItHasAndHowItRestsAreNoName)
{
    const Map map = test::mapOfRows(
        "pin,signal,type,route,part\n"
        "J4,suction,sensor signal,X4-3,\"pressure sensor 3 wires, feed J6, ground J7\"\n"
        "J5,chain,switch input,X5-3,\"foot plate switch, ground G2, normally closed\"\n"
        "J6,sensor +,5 V reference,S1,\nJ7,sensor -,sensor ground,S2,\nJ2,GND,ground,G1,\n",
        12);
    EXPECT_THAT(partNames(map), testing::IsSupersetOf({"pressure sensor", "foot plate switch"}));
}

}  // namespace
}  // namespace ilvek
