#include "bench_map/kept_sheet.h"

#include <gmock/gmock.h>

#include "bench_map/map_correction.h"
#include "bench_map/sheet_map.h"
#include "machine/map_reader.h"
#include "machine/paths.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

std::vector<PinRow> rowsOf(const std::string& csv)
{
    const auto sheet = readPinSheet(csv, "sheet.csv");
    EXPECT_TRUE(sheet && sheet->problems.empty());
    return sheet ? sheet->rows : std::vector<PinRow>{};
}

std::string documentOf(const std::string& csv)
{
    const auto made = mapFromSheet(rowsOf(csv), {"nobody's", "bin lift", "BL-3", 24, "second series"});
    EXPECT_TRUE(made) << made.error().front().message();
    return made.value_or("");
}

Map corrected(const std::string& document, const PinRow& row)
{
    const auto changed = withCorrection(document, writePinRow(row));
    EXPECT_TRUE(changed) << (changed ? "" : changed.error().front().message());
    auto map = readMap(changed.value_or(""), "corrected");
    EXPECT_TRUE(map);
    return map ? std::move(*map) : Map{};
}

const Element& element(const Map& map, const char* id)
{
    return map.element(map.elementIndex(id));
}

constexpr const char* binLift =
    "cavity,circuit,role,route,far end,current,source\n"
    "A1,main,\"supply, by relay K1\",F3 20 A > K1,,,\n"
    "A2,key,\"supply, with key\",F2 5 A,,,\n"
    "A4,ground,return,G1,,,\n"
    "A5,lift,\"drive, low side\",,solenoid,,\n"
    "A6,relay,drives coil of K1,,\"coil of K1, other end F2\",,\n"
    "A7,tilt,\"drive, high side\",,lamp,,\n";

TEST(KeptSheet, IsInItsMapAndMakesTheSameMapAgain)
{
    for (const char* file : {"data/sheets/hauler-24v.csv", "data/sheets/washer-12v.csv"}) {
        const auto rows = rowsOf(test::sourceText(file));
        const NewMachine machine{"nobody's", "machine", "BL-3", 24, "second series"};
        const auto document = mapFromSheet(rows, machine);
        ASSERT_TRUE(document);
        const auto kept = sheetOf(*document);
        ASSERT_TRUE(kept && *kept);
        EXPECT_EQ((*kept)->size(), rows.size());
        const NewMachine again = machineNamedIn(*document);
        EXPECT_EQ(again.variant, "second series");
        EXPECT_EQ(mapFromSheet(**kept, again).value_or(""), *document) << file;
    }
    EXPECT_FALSE(sheetOf(test::pt9().document)) << "drawn by hand";
}

TEST(KeptSheet, ARowAddedInTheMiddleOfAJobHasAllColumnsAndServesEarlierRows)
{
    PinRow row;
    ASSERT_TRUE(readCavity("A3", row));
    row.circuit = "second main";
    row.role = "relay-fed supply";
    row.relay = "K1";
    row.route = "S1 > F3";
    row.current = "2.4 A";
    row.source = "by clamp";
    const Map map = corrected(documentOf(binLift), row);
    const Terminal& t = map.terminal(map.terminalIndex("A3"));
    EXPECT_TRUE(map.isCurrentStated(t));
    EXPECT_DOUBLE_EQ(*t.current_A, 2.4);
    EXPECT_THAT(siblingsOf(map, map.terminalIndex("A1")), testing::Contains(map.terminalIndex("A3")));
    EXPECT_FALSE(element(map, "port A3").assumed) << "measured on this machine";
    EXPECT_TRUE(element(map, "port A1").assumed);
}

TEST(KeptSheet, AFigureThatIsStatedLaterHoldsAndTheRestStays)
{
    const std::string document = documentOf(binLift);
    PinRow row;
    ASSERT_TRUE(readCavity("A5", row));
    row.current = "1.6 A";
    row.source = "by clamp";
    const Map map = corrected(document, row);
    EXPECT_FALSE(element(map, "load A5").assumed);
    EXPECT_NEAR(element(map, "load A5").value("resistance"), 24 / 1.6, 0.3);
    EXPECT_EQ(map.terminal(map.terminalIndex("A5")).circuit, "lift");
    EXPECT_TRUE(element(map, "load A7").assumed);
    EXPECT_TRUE(onlyStatesFigures(writePinRow(row))) << "readings stay what they are";
    row.route = "X2-3";
    EXPECT_FALSE(onlyStatesFigures(writePinRow(row)));
}

TEST(KeptSheet, ACorrectionThatCannotBeUnderstoodNamesItsRow)
{
    PinRow row;
    ASSERT_TRUE(readCavity("A5", row));
    row.current = "plenty";
    const auto changed = withCorrection(documentOf(binLift), writePinRow(row));
    ASSERT_FALSE(changed);
    EXPECT_THAT(changed.error().front().message(), HasSubstr("row 5, current"));
}

TEST(KeptSheet, TwoSheetsDifferByTheirChangedCells)
{
    const auto before = rowsOf(binLift);
    auto after = before;
    after[0].current = "6 A";   // stated
    after[3].otherEnd.clear();  // taken out
    after.erase(after.begin() + 5);
    after.push_back(before[1]);
    ASSERT_TRUE(readCavity("B1", after.back()));
    const auto corrections = correctionsBetween(before, after);
    ASSERT_EQ(corrections.size(), 4U);
    EXPECT_FALSE(corrections[0].whole);
    EXPECT_TRUE(corrections[0].role.empty()) << "only what changed";
    EXPECT_TRUE(corrections[1].whole) << "an empty cell is one that is not known";
    auto rows = before;
    for (const PinRow& row : corrections)
        rows = withRow(rows, row);
    EXPECT_TRUE(correctionsBetween(rows, withRow(after, corrections.back())).empty());
}

TEST(SheetFunctions, AreTriedWithEveryDriveThatTheyNeed)
{
    const std::string csv =
        std::string(binLift) + ",lifts and tilts,function,,\"A5, A7\",,page 3\n" + ",relay holds,function,,A1,,\n";
    const auto map = readMap(documentOf(csv), "sheet");
    ASSERT_TRUE(map);
    const auto named = [&](const char* name) {
        return *std::find_if(map->functions.begin(), map->functions.end(),
                             [&](const Function& f) { return f.name == name; });
    };
    const Function both = named("lifts and tilts");
    EXPECT_EQ(both.currents.size(), 2U);
    for (const char* driver : {"driver A5", "driver A7"})
        EXPECT_TRUE(element(*map, driver).isIn(both.state)) << driver;
    EXPECT_EQ(named("relay holds").ports, std::vector<int>{map->elementIndex("port A1")});
}

TEST(SheetCodes, AreSetByALevelAtATerminal)
{
    const std::string csv = std::string(binLift) +
                            "B1,oil warm,thermistor input,,thermistor,,\n"
                            ",C118,code,,B1 high,,oil temperature too cold\n"
                            ",C562,code,,A2 low,,\n"
                            ",C300,code,,B1 no activity,,\n";
    const auto map = readMap(documentOf(csv), "sheet");
    ASSERT_TRUE(map);
    ASSERT_EQ(map->codes.size(), 2U) << "what no level sets is no evidence";
    EXPECT_EQ(map->codes[0].code, "C118");
    EXPECT_GT(map->codes[0].above_V.value_or(0), 4.5);
    EXPECT_LT(map->codes[1].below_V.value_or(99), 0.8 * 24);
    const auto refused = mapFromSheet(rowsOf(std::string(binLift) + ",C1,code,,Z9 low,,\n"), {"m", "m", "m", 12, ""});
    ASSERT_FALSE(refused);
    EXPECT_THAT(refused.error().front().message(), HasSubstr("write as “B6 low”"));
}

}  // namespace
}  // namespace ilvek
