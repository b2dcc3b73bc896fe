#include "machine/paths.h"

#include <gmock/gmock.h>

#include "machine/connector_face.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::ElementsAre;

std::vector<std::string> ids(const Map& map, const Path& path)
{
    std::vector<std::string> out;
    for (const PathStep& step : path)
        out.push_back(map.element(step.element).id);
    return out;
}

int at(const char* id)
{
    return test::pt9().terminalIndex(id);
}

TEST(Paths, LeadFromBatteryPlusThroughFuseAndConnectorToTheTerminal)
{
    const Map& map = test::smallMap();
    EXPECT_THAT(ids(map, *supplyPath(map, map.terminalIndex("M-1"))), ElementsAre("F1", "KEY", "W1", "X-1", "W2"));
    EXPECT_THAT(ids(map, *returnPath(map, map.terminalIndex("M-2"))), ElementsAre("W3", "G", "W4"));
}

TEST(Paths, AreChains)
{
    for (const int terminal : test::pt9().moduleTerminals()) {
        const Terminal& t = test::pt9().terminal(terminal);
        if (t.a < 0) continue;
        const auto loop = loopOf(test::pt9(), terminal);
        if (!loop || loop->feed.empty()) continue;
        EXPECT_EQ(loop->feed.front().from, test::pt9().batteryPlus()) << t.id;
        EXPECT_EQ(loop->feed.back().to, t.a) << t.id;
        for (std::size_t i = 1; i < loop->feed.size(); ++i)
            EXPECT_EQ(loop->feed[i - 1].to, loop->feed[i].from) << t.id;
    }
}

TEST(Paths, TheDriveSupplyRunsThroughX4SevenAndItsOwnFuse)
{
    EXPECT_TRUE(passesThrough(test::pt9(), at("J2-1"), test::pt9().elementIndex("X4-7")));
    EXPECT_FALSE(passesThrough(test::pt9(), at("J1-1"), test::pt9().elementIndex("X4-7")));
    const auto fuses = fusesOf(test::pt9(), at("J2-1"));
    ASSERT_EQ(fuses.size(), 2U);
    EXPECT_EQ(test::pt9().element(fuses.back()).id, "F15");
}

TEST(Paths, SiblingsShareTheLastFuseOrTheGroundPoint)
{
    EXPECT_THAT(siblingsOf(test::pt9(), at("J2-1")), ElementsAre(at("J2-2")));
    EXPECT_THAT(siblingsOf(test::pt9(), at("J1-7")), ElementsAre(at("J1-8")));
    EXPECT_THAT(siblingsOf(test::pt9(), at("J1-9")), ElementsAre());
    EXPECT_EQ(test::pt9().element(groundPointOf(test::pt9(), at("J2-3"))).id, "G3");
}

TEST(Paths, ThereIsNoneThroughALoadUnlessAsked)
{
    const Map& map = test::pt9();
    const int node = map.terminal(at("J2-11")).a;
    EXPECT_FALSE(conductorPath(map, map.batteryPlus(), node));
    const auto through = circuitPath(map, map.batteryPlus(), node);
    ASSERT_TRUE(through);
    EXPECT_THAT(ids(map, *through), testing::Contains("INJ1"));
}

TEST(Paths, TheCircuitOfATerminalRunsByTheFewestLoads)
{
    const Map& map = test::pt9();
    const auto circuit = [&](const char* id) { return ids(map, shownCircuit(map, at(id)).value_or(Path{})); };
    using testing::Contains, testing::Not, testing::AllOf;
    EXPECT_THAT(circuit("J2-11"), AllOf(Contains("F17"), Contains("INJ1"), Not(Contains("INJ2"))));
    EXPECT_THAT(circuit("J2-25"), AllOf(Contains("ALTF"), Not(Contains("SOL")))) << "driven from its supply side";
    EXPECT_THAT(circuit("J1-12"), Contains("RPS"));
}

TEST(Paths, TheCircuitOfAPickUpABusAndAPairOfDrivesEndsAtTheOtherTerminal)
{
    const Map& map = test::pt9();
    const auto ends = [&](const char* id) {
        const Path path = shownCircuit(map, at(id)).value_or(Path{});
        return path.empty() ? std::pair{-1, -1} : std::pair{path.front().from, path.back().to};
    };
    const auto between = [&](const char* a, const char* b) {
        return std::pair{map.terminal(at(a)).a, map.terminal(at(b)).a};
    };
    EXPECT_EQ(ends("J1-18"), between("J1-18", "J1-19"));
    EXPECT_EQ(ends("J1-21"), between("J1-21", "J1-22"));
    EXPECT_EQ(ends("J2-17"), between("J2-17", "J2-18"));
    EXPECT_EQ(ends("J2-18"), between("J2-17", "J2-18")) << "towards the drive return";
    // Across the far termination, not through the module's own.
    EXPECT_THAT(ids(map, *shownCircuit(map, at("J1-21"))), testing::Contains("CD-2.term"));
    EXPECT_EQ(ends("J1-23").first, map.batteryPlus()) << "a line that is only pulled up";
    EXPECT_EQ(ends("J1-26").first, -1) << "an empty cavity";
}

TEST(Paths, AGroundPointGoesByItsOwnName)
{
    const Map& map = test::pt9();
    EXPECT_EQ(map.nodeWords(map.nodeIndex("G1")), "engine block stud G1");
}

TEST(ConnectorFace, MirrorsBetweenWireSideAndMatingSide)
{
    const Connector& j1 = test::pt9().connectors[0];
    EXPECT_EQ(placeOf(j1, 1, Seen::WireSide).column, 0);
    EXPECT_EQ(placeOf(j1, 1, Seen::MatingSide).column, 12);
    EXPECT_EQ(placeOf(j1, 14, Seen::WireSide).row, 1);
    for (const Connector& connector : test::pt9().connectors) {
        for (int number = 1; number <= connector.rows * connector.columns; ++number) {
            for (const Seen seen : {Seen::WireSide, Seen::MatingSide}) {
                EXPECT_EQ(numberAt(connector, placeOf(connector, number, seen), seen), number);
            }
        }
    }
}

TEST(ConnectorFace, FindsACavityByItsNeighbours)
{
    EXPECT_EQ(
        findingWords(test::pt9(), at("J2-1"), Seen::WireSide),
        "violet with white, left end of the upper row, next to violet with white (2), above green with black (8)");
    EXPECT_EQ(
        findingWords(test::pt9(), at("J2-1"), Seen::MatingSide),
        "violet with white, right end of the upper row, next to violet with white (2), above green with black (8)");
    EXPECT_NE(findingWords(test::pt9(), at("J1-25"), Seen::WireSide).find("an empty cavity (26)"), std::string::npos);
}

TEST(Vocabulary, UnderstandsHowPeopleWriteRolesAndColours)
{
    EXPECT_EQ(roleFromText("GND"), Role::Return);
    EXPECT_EQ(roleFromText(" B+ "), Role::PermanentFeed);
    EXPECT_EQ(roleFromText("5V ref"), Role::Reference);
    EXPECT_FALSE(roleFromText("thingummy"));
    for (const std::string& name : roleNames())
        EXPECT_EQ(roleName(*roleFromText(name)), name);
    EXPECT_EQ(*parseColour("VIO/WHT"), (Colour{"violet", "white"}));
    EXPECT_EQ(*parseColour("pale green-red"), (Colour{"pale green", "red"}));
    EXPECT_EQ(*parseColour(""), Colour{});
    EXPECT_FALSE(parseColour("octarine"));
    for (const std::string& name : colourNames())
        EXPECT_TRUE(colourRgb(name));
}

}  // namespace
}  // namespace ilvek
