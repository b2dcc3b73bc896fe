#include "bench_map/map_correction.h"

#include <gmock/gmock.h>

#include "bench_map/pin_sheet.h"
#include "machine/map_reader.h"
#include "machine/paths.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

TEST(Correction, MarksAsFoundAndKeepsTheDrawing)
{
    PinRow row;
    row.connector = "J2";
    row.cavity = 27;
    row.asFound = "empty";
    row.colour = "white/red";
    row.source = "looked at it";
    const auto changed = withCorrection(test::pt9().document, writePinRow(row));
    ASSERT_TRUE(changed);
    const auto map = readMap(*changed, "x");
    ASSERT_TRUE(map);
    const Terminal& t = map->terminal(map->terminalIndex("J2-27"));
    EXPECT_EQ(t.asFound, AsFound::Empty);
    EXPECT_EQ(t.circuit, "intake heater relay") << "as drawn stays";
    EXPECT_EQ(t.colour, (Colour{"white", "red"}));
    EXPECT_THAT(correctionWords(writePinRow(row)), HasSubstr("J2-27: found empty"));
}

TEST(Correction, AddsATerminalWithItsCircuit)
{
    PinRow row;
    row.connector = "J1";
    row.cavity = 26;
    row.circuit = "second memory feed";
    row.role = "permanent feed";
    row.fuse = "F4";
    const auto changed = withCorrection(test::pt9().document, writePinRow(row));
    ASSERT_TRUE(changed) << changed.error().front().message();
    const auto map = readMap(*changed, "x");
    ASSERT_TRUE(map) << map.error().front().message();
    const int terminal = map->terminalIndex("J1-26");
    ASSERT_TRUE(supplyPath(*map, terminal));
    EXPECT_EQ(map->element(fusesOf(*map, terminal).back()).id, "F4");
}

TEST(Correction, SaysWhichSourceHoldsWhereTheyDisagree)
{
    const Map& before = test::pt9();
    ASSERT_EQ(before.terminal(before.terminalIndex("J2-26")).expected.size(), 2U);
    PinRow row;
    row.connector = "J2";
    row.cavity = 26;
    row.holds = "PT9-M";
    const auto changed = withCorrection(before.document, writePinRow(row));
    ASSERT_TRUE(changed);
    const auto map = readMap(*changed, "x");
    ASSERT_TRUE(map);
    const Terminal& t = map->terminal(map->terminalIndex("J2-26"));
    ASSERT_EQ(t.expected.size(), 1U);
    EXPECT_EQ(map->sourceId(t.expected.front().source), "PT9-M");
    EXPECT_EQ(map->terminal(map->terminalIndex("J2-1")).expected.size(),
              before.terminal(before.terminalIndex("J2-1")).expected.size());
    EXPECT_THAT(correctionWords(writePinRow(row)), HasSubstr("what PT9-M expects holds"));

    row.holds = "VD-34";
    const auto refused = withCorrection(before.document, writePinRow(row));
    ASSERT_FALSE(refused);
    EXPECT_THAT(refused.error().front().message(), HasSubstr("no expected value of it from VD-34"));
}

TEST(Correction, RowsAreKeptAsText)
{
    PinRow row;
    row.connector = "A";
    row.cavity = 3;
    row.circuit = "x \"y\" ü";
    const auto read = readPinRow(writePinRow(row));
    ASSERT_TRUE(read);
    EXPECT_EQ(read->circuit, row.circuit);
    EXPECT_FALSE(readPinRow("{\"connector\":\"A\"}"));
    EXPECT_FALSE(readPinRow("nonsense"));
}

}  // namespace
}  // namespace ilvek
