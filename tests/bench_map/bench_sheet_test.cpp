// Sheets as technicians have them: routes, parts in words, other consumers and sources, in any order, half of it
// missing.
#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "belief/likelihood.h"
#include "belief/observations.h"
#include "bench_map/sheet_map.h"
#include "circuit/operating_point.h"
#include "machine/map_reader.h"
#include "machine/paths.h"
#include "prediction/predictions.h"
#include "proving/setup.h"
#include "proving/walk.h"
#include "support/maps.h"
#include "suspects/suspects.h"

namespace ilvek {
namespace {

using testing::Contains;
using testing::HasSubstr;
using testing::Not;

const std::string head = "cavity;circuit;role;colour;route;far end;current;expected;source\n";

Result<std::string, Problems> documentOf(const std::string& rows)
{
    const auto sheet = readPinSheet(head + rows, "sheet");
    EXPECT_TRUE(sheet) << (sheet ? "" : sheet.error().message());
    EXPECT_TRUE(sheet->problems.empty()) << sheet->problems.front().message();
    return mapFromSheet(sheet->rows, {});
}

Map mapOf(const std::string& rows)
{
    const auto document = documentOf(rows);
    EXPECT_TRUE(document) << (document ? "" : document.error().front().message());
    auto map = document ? readMap(*document, "sheet") : Result<Map, Problems>(tl::unexpected(Problems{}));
    EXPECT_TRUE(map) << rows;
    return map ? std::move(*map) : Map{};
}

// The parts on the way of a terminal, from the battery on.
std::vector<std::string> wayOf(const Map& map, const char* terminal)
{
    std::vector<std::string> out;
    const auto loop = loopOf(map, map.terminalIndex(terminal));
    EXPECT_TRUE(loop) << terminal;
    if (!loop) return out;
    for (const Path* path : {&loop->feed, &loop->back}) {
        for (const PathStep& step : *path) {
            const Element& e = map.element(step.element);
            if (e.kind != ElementKind::Wire) out.push_back(e.id);
        }
    }
    return out;
}

double volts(const Map& map, const char* node, const char* state)
{
    Condition condition;
    condition.state = map.stateIndex(state);
    EXPECT_GE(condition.state, 0) << state;
    const auto point = operatingPoint(map, condition);
    EXPECT_TRUE(point);
    return point ? point->potential(map.nodeIndex(node)) : 0;
}

TEST(BenchSheet, ARouteIsWiredFromThePinToItsSource)
{
    const Map& map = test::washer();
    const auto main = wayOf(map, "A2");
    EXPECT_THAT(main, testing::IsSupersetOf({"K2", "F5", "X2-3"}));
    EXPECT_LT(std::find(main.begin(), main.end(), "K2"), std::find(main.begin(), main.end(), "F5"));
    EXPECT_THAT(wayOf(map, "A7"), testing::IsSupersetOf({"X2-4", "G1"}));
    EXPECT_THAT(wayOf(map, "A1"), Contains("F3"));
    EXPECT_EQ(map.element(map.elementIndex("F5")).value("rating"), 30);
    EXPECT_FALSE(map.connectors[static_cast<std::size_t>(map.connectorIndex("X2"))].ofModule);
}

TEST(BenchSheet, EachStateBringsAboutWhatItsNameSays)
{
    const Map& map = test::washer();
    EXPECT_GT(volts(map, "A2.a", "key-on"), 11.5) << "the module holds its relay";
    EXPECT_LT(volts(map, "A2.a", "key-off"), 0.5);
    EXPECT_GT(volts(map, "B3.a", "key-on"), 11.5) << "the valve brings the feed to the pin";
    EXPECT_LT(volts(map, "B3.a", "b3-commanded"), 1.0);
    EXPECT_GT(volts(map, "B4.a", "b4-commanded"), 11.0);
    EXPECT_GT(std::abs(volts(map, "B8.a", "key-on") - volts(map, "B8.a", "b8-operated")), 3.0);
    EXPECT_GT(volts(map, "battery.+", "running"), volts(map, "battery.+", "key-on") + 0.5);
    EXPECT_NEAR(volts(map, "C1.a", "key-on"), 2.5, 0.5);
}

TEST(BenchSheet, AnyOrderOfRowsIsTheSameMachine)
{
    const std::string text = test::sourceText("data/sheets/washer-12v.csv");
    std::vector<std::string> rows;
    for (std::size_t at = text.find('\n') + 1; at < text.size();) {
        const std::size_t end = text.find('\n', at);
        rows.push_back(text.substr(at, end - at + 1));
        at = end + 1;
    }
    std::mt19937 random(3);
    const Map& drawn = test::washer();
    for (int n = 0; n < 12; ++n) {
        std::shuffle(rows.begin(), rows.end(), random);
        std::string all;
        for (const std::string& row : rows)
            all += row;
        const Map map = mapOf(all);
        EXPECT_EQ(map.elements.size(), drawn.elements.size());
        EXPECT_EQ(map.moduleTerminals().size(), drawn.moduleTerminals().size());
        for (const char* node : {"A1.a", "A2.a", "B3.a", "B6.a", "S1"})
            EXPECT_NEAR(volts(map, node, "key-on"), volts(drawn, node, "key-on"), 0.15) << node << "\n" << all;
    }
}

TEST(BenchSheet, APlaceOfTwoRowsIsOneAndWhatOneRowLeavesOutAnotherTells)
{
    const Map map = mapOf(
        "1;main;supply, by relay K1;;S1 > F5 20 A > K1;;;;\n2;second;supply, by relay K1;;S1;;;;\n"
        "3;gnd;return;;G1;;;;\n;pump;consumer;;S1;motor, ground G1;;;\n");
    EXPECT_THAT(wayOf(map, "2"), testing::IsSupersetOf({"K1", "F5"}));
    const int pump = map.elementIndex("pump");
    ASSERT_GE(pump, 0);
    EXPECT_EQ(map.element(pump).kind, ElementKind::Motor);
    EXPECT_THAT(siblingsOf(map, map.terminalIndex("1")), Contains(map.terminalIndex("2")));
}

TEST(BenchSheet, WhatCannotBeIsNamedByItsRow)
{
    const auto problems = [](const std::string& rows) {
        const auto document = documentOf(rows);
        std::string all;
        if (!document) {
            for (const Error& e : document.error())
                all += e.message() + "\n";
        }
        return all;
    };
    EXPECT_THAT(problems("1;a;supply, always;;F1 10 A;;;;\n2;b;supply, always;;F1 15 A;;;;\n3;g;gnd;;;;;;\n"),
                HasSubstr("row 3, route: F1 has 15 A here and 10 A in another row"));
    EXPECT_THAT(problems("1;a;supply, always;;F1 > K1;;;;\n2;b;supply, always;;F1 > K2;;;;\n3;g;gnd;;;;;;\n"),
                HasSubstr("F1 comes from K2 here and from K1 in row 2"));
    EXPECT_THAT(problems("1;a;supply, always;;F1;;lots;;\n2;g;gnd;;;;;;\n"), HasSubstr("row 2, current"));
    EXPECT_THAT(problems("1;a;supply, always;;F1;;;;\n2;g;gnd;;;;;;\n3;v;drive, low side;;;valve;;sometimes 3 V;\n"),
                HasSubstr("row 4, expected: “sometimes” is no state"));
    EXPECT_EQ(problems("1;a;supply, always;;F1;;;;\n2;g;gnd;;;;;;\n"), "");
}

TEST(BenchSheet, WhatIsStatedIsNotAssumedAndWhatIsMissingIs)
{
    const Map& map = test::washer();
    EXPECT_TRUE(map.isCurrentStated(map.terminal(map.terminalIndex("A2"))));
    EXPECT_FALSE(map.isCurrentStated(map.terminal(map.terminalIndex("A1"))));
    const Element& valve = map.element(map.elementIndex("load B3"));
    EXPECT_FALSE(valve.assumed);
    EXPECT_NEAR(valve.value("resistance"), 12.5, 1e-9);
    EXPECT_GT(valve.value("tolerance"), 2) << "of the range that was given";
    EXPECT_TRUE(map.element(map.elementIndex("wash pump")).assumed);
    for (const Terminal& t : map.terminals) {
        for (const Expected& e : t.expected)
            EXPECT_NE(map.sourceId(e.source), "assumed") << t.id << ": no limit is one that nobody stands for";
    }
}

TEST(BenchSheet, TwelveVoltsOnATwelveVoltMachineAreTheBatteryWhateverItHas)
{
    const Map map =
        mapOf("1;a;supply, always;;F1;;;;\n2;g;gnd;;;;;;\n3;v;drive, low side;;;valve;;off 12 V / commanded 1 V;\n");
    const auto& expected = map.terminal(map.terminalIndex("3")).expected;
    ASSERT_EQ(expected.size(), 2U);
    for (const Expected& e : expected) {
        const bool off = map.state(e.state).id == "key-on";
        EXPECT_NEAR(*e.low, off ? 10.2 : 0.9, 0.01);
        EXPECT_EQ(e.high.has_value(), !off) << "a battery that is well charged is no fault";
    }
}

TEST(BenchSheet, ASignalIsReadAgainstWhatItsPartReturnsTo)
{
    const Map& map = test::washer();
    const auto own = [&](const char* id) { return map.terminal(map.terminal(map.terminalIndex(id)).ownReturn).id; };
    EXPECT_EQ(own("B6"), "A8") << "as the sheet says";
    EXPECT_EQ(own("B7"), "A8") << "the sensors' common return";
    EXPECT_EQ(own("B8"), "A7") << "its switch is grounded on the frame";
}

TEST(BenchSheet, FunctionsOfTheMachineComeWithItsDrives)
{
    const Map& map = test::washer();
    std::vector<std::string> names;
    for (const Function& f : map.functions)
        names.push_back(f.name);
    EXPECT_THAT(names, testing::IsSupersetOf({"WCU-1 wakes", "wash valve works", "brush lamp works"}));
    EXPECT_THAT(names, Not(Contains("relay control works"))) << "that is a matter of the feeds";
}

TEST(BenchSheet, AFeedThatASecondSourceKeepsLiveNeedNotBeAbsent)
{
    const std::string rest = "2;g;gnd;;G1;;;;\n;second battery;source;;F9 80 A > S1;;;;\n";
    const Map fed = mapOf("1;main;supply, by relay K1;;S1 > F5 20 A > K1;;;;\n" + rest);
    EXPECT_TRUE(fed.terminal(fed.terminalIndex("1")).absentIn.empty());
    const Map apart = mapOf("1;main;supply, by relay K1;;S2 > F5 20 A > K1;;;;\n" + rest);
    EXPECT_FALSE(apart.terminal(apart.terminalIndex("1")).absentIn.empty());
    EXPECT_GT(volts(fed, "1.a", "key-off"), 11.0);
}

TEST(BenchSheet, APlaceThatLeadsToItselfEnds)
{
    const auto document = documentOf("1;a;supply, always;;S1 > S2 > S1;;;;\n2;g;gnd;;G1;;;;\n");
    ASSERT_TRUE(document) << document.error().front().message();
    const auto map = readMap(*document, "ring");
    ASSERT_FALSE(map);
    EXPECT_THAT(map.error().front().message(), HasSubstr("there is no path from battery plus to this supply"));
}

const Element& partOf(const Map& map, const char* id)
{
    const int index = map.elementIndex(id);
    EXPECT_GE(index, 0) << id;
    return map.element(std::max(0, index));
}

TEST(BenchSheet, OnePartNamedOnSeveralRowsIsOnePart)
{
    const Map map = mapOf(
        "1;supply;supply, always;;F1 10 A;;;;\n"
        "2;ground;return;;G1;;;;\n"
        "3;supply of sensors;reference;;;load sensor;;;\n"
        "4;ground of sensors;sensor return;;;load sensor;;;\n"
        "5;load;analogue input;;;load sensor;;;\n"
        "6;second supply;reference;;;drum sensor;;;\n"
        "7;drum;analogue input;;;drum sensor;;;\n");
    EXPECT_EQ(map.elementIndex("load 3"), -1);
    EXPECT_EQ(map.elementIndex("between 4"), -1);
    EXPECT_EQ(map.node(partOf(map, "load 5").nodes[0]), "3.end");
    EXPECT_EQ(map.node(partOf(map, "load 7").nodes[0]), "6.end") << "each from the supply that names it";
    EXPECT_EQ(map.node(partOf(map, "load 7").nodes[2]), "7.far");
    EXPECT_EQ(map.node(partOf(map, "wire 4.end to 7.far").nodes[0]), "4.end") << "both return to the one that is there";
    EXPECT_EQ(map.nodeWords(map.nodeIndex("4.end")), "4, far end");
    EXPECT_FALSE(pointAt(map, map.nodeIndex("4.end"), false).reachable) << "it is inside the loom";
}

TEST(BenchSheet, APartWithoutANameOfItsOwnGoesByItsCircuit)
{
    const Map map = mapOf(
        "1;supply;supply, always;;F1 10 A;;;;\n"
        "2;ground;return;;G1;;;;\n"
        "5;fuel valve;drive, low side;;;solenoid 7–9 Ω at plug W1, other wire F3 10 A;;;\n"
        "6;lamp;drive, high side;;;beacon at the mast, ground G1;;;\n"
        "7;tilt;switch input;;;switch, closed at rest, ground G1;;;\n");
    EXPECT_EQ(partOf(map, "load 5").name, "fuel valve");
    EXPECT_EQ(partOf(map, "load 6").name, "beacon at the mast");
    EXPECT_EQ(partOf(map, "load 7").name, "tilt");
    EXPECT_EQ(map.nodeWords(map.nodeIndex("5.end")), "fuel valve, control side");
    EXPECT_EQ(map.nodeWords(map.nodeIndex("6.end")), "beacon at the mast, feed side");
    EXPECT_EQ(map.nodeWords(map.nodeIndex("7.end")), "tilt, signal side");
    EXPECT_TRUE(partOf(map, "load 5").reach_s && partOf(map, "F3").reach_s) << "can be unplugged, can be pulled";
}

TEST(BenchSheet, WhichOfSeveralSuppliesIsBehindADriveIsSaidOrNotKnown)
{
    const std::string rows =
        "1;feed A;supply, always;;F1 10 A;;;;\n"
        "2;feed B;supply, always;;F2 10 A;;;;\n"
        "3;ground;return;;G1;;;;\n"
        "5;left lamp;drive, high side;;;lamp 21 W, ground G1;;;\n"
        "6;right lamp;drive, high side, fed by 2;;;lamp 21 W, ground G1;;;\n";
    const Map map = mapOf(rows + ";left;function;;;5;;;\n;right;function;;;6;;;\n");
    EXPECT_TRUE(partOf(map, "driver 5").feedAssumed);
    EXPECT_FALSE(partOf(map, "driver 6").feedAssumed);
    EXPECT_EQ(map.node(partOf(map, "driver 6").nodes[0]), "2.b");
    Reports reports;
    reports.works = {"function-left", "function-right"};
    const auto seen = observationsOf(map, {}, reports);
    ASSERT_EQ(seen.size(), 2U);
    // By what flows through the lamp, and the volts that its assumed feed and the other one have.
    const auto chanceOfLamp = [](const Observation& o, double lamp_A, double feed_V) {
        return chanceBy(o, [&](std::size_t n) {
            const bool isLamp = o.needs[n].probe.element >= 0;
            return isLamp ? lamp_A : o.needs[n].feed >= 0 || n == 1 ? feed_V : 12.0;
        });
    };
    ASSERT_EQ(seen[0].needs.size(), 3U);
    EXPECT_EQ(seen[0].needs[0].feed, 1) << "whether feed B has it nobody said";
    EXPECT_EQ(seen[1].needs[0].feed, -1);
    EXPECT_GT(chanceOfLamp(seen[0], 1.7, 12), 0.95) << "at how much of its current it counts as lit nobody stated";
    EXPECT_LT(chanceOfLamp(seen[0], 0, 12), 0.02) << "its feed lives: the lamp or its wire is what is dark";
    EXPECT_NEAR(chanceOfLamp(seen[0], 0, 0), 0.25, 0.01) << "it may hang on the other feed";
    EXPECT_LT(chanceOfLamp(seen[1], 0, 0), 0.02) << "it is told to hang on that one";
}

// A sound loom and battery are made for what hangs on them; the module's own returns do not carry it.
TEST(BenchSheet, CablesAndBatteryAreMadeForTheCurrentsThatAreTold)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;logic;supply, with key;F1 5 A;\n"
        "2;minus;ground;G1;\n"
        "3;contactor;low side;;coil of K1, other end F2 10 A\n"
        ";pump motor;consumer;F9 200 A > K1;motor 120 A\n",
        48);
    Condition pumping;
    pumping.state = map.stateIndex("3-commanded");
    pumping.commands[map.elementIndex("driver 3")] = 1;
    const auto point = operatingPoint(map, pumping);
    ASSERT_TRUE(point);
    const Element& motor = map.element(map.elementIndex("pump motor"));
    EXPECT_GT(point->currentThrough(map.elementIndex("pump motor")), 110);
    EXPECT_GT(point->voltage(motor.nodes[0], motor.nodes[1]), 0.94 * 48);
    EXPECT_GT(point->voltage(map.batteryPlus(), map.batteryMinus()), 0.98 * 48);
    EXPECT_LT(point->voltage(map.terminal(map.terminalIndex("2")).a, map.batteryMinus()), 0.1);
    EXPECT_LT(map.terminal(map.terminalIndex("2")).current_A.value_or(0), 10) << "the pump returns elsewhere";
}

TEST(BenchSheet, AColumnOfRolesIsKnownByWhatStandsInIt)
{
    const auto sheet = readPinSheet(
        "terminal;name;what it is;runs via;what hangs there\n"
        "X1.1;24 V;supply, always;F1 6 A;\n"
        "X1.2;0 V;ground;G1;\n"
        "X1.3;open;high side output;X3-1;motor 3 A, other wire X1.4\n"
        "X1.4;close;high side output;X3-2;\n"
        "X1.5;limit open;switch input;X4-1;switch to ground, closed at rest\n"
        "X1.6;rain;whatever;X5-1;\n",
        "sheet");
    ASSERT_TRUE(sheet) << sheet.error().message();
    ASSERT_EQ(sheet->problems.size(), 1U) << "the last is no role";
    EXPECT_THAT(sheet->problems.front().message(), HasSubstr("“whatever”"));
    ASSERT_EQ(sheet->rows.size(), 5U);
    EXPECT_EQ(sheet->rows[2].circuit, "open");
    EXPECT_EQ(sheet->rows[2].role, "high-side drive");
    EXPECT_EQ(sheet->rows[2].route, "X3-1");
    EXPECT_EQ(sheet->rows[4].otherEnd, "switch to ground, closed at rest");
    for (const auto& remark : sheet->remarks)
        EXPECT_THAT(remark.message(), Not(HasSubstr("what it is")));
}

TEST(BenchSheet, APulsedDriveThatFeedsItsPartDoesSoOnTheMap)
{
    const Map map = mapOf(
        "1;feed;supply, always;;F1 10 A;;;;\n"
        "2;ground;return;;G1;;;;\n"
        "3;lift;PWM high side;;;valve 12 Ω;;;\n"
        "4;tilt;PWM low side;;;valve 12 Ω;;;\n"
        "5;swing;drive, high side;;;proportional valve 12 Ω;;;\n");
    for (const auto& [cavity, kind] : {std::pair{"3", ElementKind::HighSideDriver},
                                       {"4", ElementKind::LowSideDriver},
                                       {"5", ElementKind::HighSideDriver}}) {
        EXPECT_EQ(map.terminal(map.terminalIndex(cavity)).role, Role::DutyDrive) << cavity;
        EXPECT_EQ(partOf(map, (std::string("driver ") + cavity).c_str()).kind, kind) << cavity;
    }
}

// On the map of a sound machine a fuse had blown, since three figures of full work came together behind it.
TEST(BenchSheet, AFuseHoldsWhatTheSheetHangsOnIt)
{
    const Map map = mapOf(
        "1;memory;supply, always;;F2;0.4 A;;;\n"
        "2;feed A;supply, by relay K1;;X1-1 > S1 > F3 10 A > K1;3.7 A;;;\n"
        "3;feed B;supply, by relay K1;;X1-2 > S1 > F3 10 A > K1;4.2 A;;;\n"
        "4;feed C;supply, by relay K1;;S1 > F3 10 A > K1;;;;\n"
        "5;ground;return;;G1;;;;\n"
        "6;relay;drives coil of K1;;X1-3;coil of K1, other end F90 5 A;;;\n"
        "7;valve;drive, low side;;;valve 8 A, other wire S1;;;\n"
        ";pump;consumer;;S1;motor, ground G2;9 A;;\n");
    for (std::size_t state = 0; state < map.states.size(); ++state) {
        Condition in;
        in.state = static_cast<int>(state);
        const auto point = operatingPoint(map, in);
        ASSERT_TRUE(point);
        EXPECT_TRUE(point->blownFuses().empty()) << map.states[state].name;
    }
    Condition shorted;
    shorted.state = map.stateIndex("key-on");
    shorted.faults = {Fault{Fault::Kind::ShortBetween, -1, map.nodeIndex("S1"), map.batteryMinus(), 0.05}};
    EXPECT_FALSE(operatingPoint(map, shorted)->blownFuses().empty());
}

// A motor between two outputs had never had a current: both only fed, and the second had a part of its own.
TEST(BenchSheet, TwoDrivesTurnThePartBetweenThem)
{
    const Map map = mapOf(
        "1;power;supply, always;;F1 10 A;;;;\n"
        "2;ground;return;;G1;;;;\n"
        "4;lock;drive, high side;;X1-3;motor 3 A, other wire 5;;;\n"
        "5;unlock;drive, high side;;X1-4;;;;\n");
    EXPECT_EQ(map.elementIndex("load 5"), -1) << "its part is that of the other row";
    const Probe motor{-1, -1, 10e6, map.elementIndex("load 4")};
    const auto current = [&](const Condition& in) { return operatingPoint(map, in)->currentThrough(motor.element); };
    Condition lock, unlock, commanded;
    lock.state = map.stateIndex("4-commanded"), unlock.state = map.stateIndex("5-commanded");
    EXPECT_GT(current(lock), 2);
    EXPECT_LT(current(unlock), -2);
    EXPECT_LT(operatingPoint(map, lock)->potential(map.nodeIndex("5.a")), 1.5);
    // Commanded from the key on it is the same, and for a share of the time.
    for (const double share : {1.0, 0.5}) {
        ilvek::SetUp setUp;
        setUp.state = "key-on", setUp.red = "4.a", setUp.black = "2.a";
        setUp.commands = {{"driver 4", share}};
        if (share == 1) {
            EXPECT_EQ(stateOf(map, setUp), map.stateIndex("4-commanded"));
        }
        EXPECT_NEAR(current(*conditionOf(map, setUp)), share * current(lock), 0.1) << share;
    }
}

TEST(BenchSheet, WhatASecondBatteryJoinsDoesNotFeedTheKeyedBus)
{
    const Map map = mapOf(
        "1;supply;supply, with key;;F2 10 A;;;;\n"
        "2;ground;return;;G1;;;;\n"
        ";pump;consumer;;S1;motor, ground G2;;;\n"
        ";second battery;source;;F99 80 A > S1;;;;\n");
    EXPECT_LT(volts(map, "1.a", "key-off"), 0.1);
    EXPECT_GT(volts(map, "S1", "key-off"), 11);
}

TEST(BenchSheet, AStatedSectionIsKnownAndTheLengthIsNot)
{
    const auto sheet = readPinSheet(
        "cavity;circuit;role;route;section\n1;supply;supply, always;X2-3 > F1 10 A;1.5 mm²\n2;ground;return;G1;\n",
        "sheet");
    ASSERT_TRUE(sheet && sheet->problems.empty());
    const auto document = mapFromSheet(sheet->rows, {});
    ASSERT_TRUE(document);
    const auto map = readMap(*document, "sheet");
    ASSERT_TRUE(map);
    const Element& own = partOf(*map, "wire X2-3.b to 1.a");
    EXPECT_EQ(own.value("section"), 1.5);
    EXPECT_EQ(own.knownOf("section"), Known::Stated);
    EXPECT_EQ(own.knownOf("length"), Known::Unknown);
    EXPECT_LT(toleranceOf(*map, map->elementIndex(own.id)),
              toleranceOf(*map, map->elementIndex("wire 2.a to G1.ring")));
    std::string wrong = *document;
    wrong.replace(wrong.find("\"stated\""), 8, "\"hearsay\"");
    const auto refused = readMap(wrong, "sheet");
    ASSERT_FALSE(refused);
    EXPECT_THAT(refused.error().front().message(), HasSubstr("stated, typical or unknown"));
    const auto bad = readPinSheet("cavity;circuit;role;section\n1;supply;supply, always;thick\n", "sheet");
    const auto problem = mapFromSheet(bad->rows, {});
    ASSERT_FALSE(problem);
    EXPECT_THAT(problem.error().front().message(), HasSubstr("write as 1.5 mm²"));
}

// Its feed had been lost: an open one could neither be named nor be suspected.
TEST(BenchSheet, AProximitySwitchHangsOnTheFeedThatIsTold)
{
    const Map map = mapOf(
        "1;supply;supply, with key;;F1 10 A;;;;\n"
        "2;ground;return;;G1;;;;\n"
        "3;sensor plus;24 V sensor supply;;;;;;\n"
        "4;sensor minus;sensor ground;;;;;;\n"
        "5;gate;sensor signal;;X1-3;\"proximity switch, feed 3, ground 4\";;;\n"
        "6;tray;hall input;;X2-3;\"hall sensor, feed 3, ground 4\";;;\n");
    for (const auto& [id, part, plug] :
         {std::tuple("5", "load 5", std::string("X1")), std::tuple("6", "load 6", std::string("X2"))}) {
        EXPECT_EQ(map.terminal(map.terminalIndex(id)).role, Role::HallInput) << id;
        const Element& sensor = partOf(map, part);
        EXPECT_EQ(map.node(sensor.nodes[0]), plug + "-?3.b");
        EXPECT_EQ(map.node(sensor.nodes[2]), plug + "-?4.b");
    }
}

TEST(BenchSheet, AUnitOfWhichTheSheetSaysThatItTerminatesNothingDoesNot)
{
    for (const char* words : {"no termination", "without termination", "not terminated", ""}) {
        const Map map = mapOf(
            "5;line high;differential bus, high;;;;;;\n"
            "6;line low;differential bus, low;;;;;;\n"
            ";brake unit;bus node;;;" +
            std::string(words) + ";;;\n");
        EXPECT_GE(map.elementIndex("brake unit node"), 0) << words;
        EXPECT_LT(map.elementIndex("brake unit termination"), 0) << words;
    }
}

// A sender of two wires stands anywhere in its range, and the module lifts its line; one with a supply is none.
TEST(BenchSheet, ASenderIsItsOhms)
{
    const Map map = test::mapOfRows(
        "cavity;circuit;role;route;far end;expected\n"
        "1;feed;supply, with key;F1 5 A;;\n"
        "2;minus;return;G1;;\n"
        "3;fuel;analogue input;;fuel sender 10-180 Ω, ground G2;\n"
        "4;trim;analogue input;;trim sender, ground G2;1.0..1.2 V\n"
        "5;lever;analogue input;;potentiometer 5 kΩ, supply 6, ground 7;\n"
        "6;sensors;5 V reference;;;\n"
        "7;sensors minus;sensor ground;;;\n",
        12);
    const Element& fuel = map.element(map.elementIndex("load 3"));
    EXPECT_EQ(fuel.kind, ElementKind::Resistor);
    EXPECT_NEAR(fuel.value("resistance"), std::sqrt(10 * 180), 0.1);
    EXPECT_NEAR(fuel.value("resistance") * std::pow(1 + fuel.value("tolerance") / 100, 2), 180, 15) << "two sigmas";
    EXPECT_EQ(map.element(map.elementIndex("load 5")).kind, ElementKind::Sensor);
    EXPECT_LT(map.elementIndex("pull-up 5"), 0);
    Condition on;
    on.state = map.stateIndex("key-on");
    const auto point = operatingPoint(map, on);
    ASSERT_TRUE(point);
    EXPECT_NEAR(point->potential(map.nodeIndex("4.a")), 1.1, 0.05) << "as it is told";
    EXPECT_GT(point->potential(map.nodeIndex("3.a")), 0.5) << "off the rails";
    EXPECT_LT(point->potential(map.nodeIndex("3.a")), 4.5);
}

// A list that names both sides of a motor, and a unit that draws by itself: neither is a ground of the module, and
// every place has words.
TEST(BenchSheet, AReturnOfTheSameNameTakesBackWhatTheDriveFeeds)
{
    const Map map = test::mapOfRows(
        "pin;designation;purpose;goes to\n"
        "1;KL30;permanent supply;F1 20 A\n"
        "2;KL31;ground;G1\n"
        "3;Brush motor +;high side output;brush motor 9 A\n"
        "4;Brush motor -;motor return;\n"
        "5;Strobe;high side output;module strobe unit 2 A, ground S2 > G2\n",
        12);
    EXPECT_EQ(map.terminal(map.terminalIndex("4")).role, Role::DriveReturn);
    const Element& motor = map.element(map.elementIndex("load 3"));
    EXPECT_EQ(motor.name, "brush motor");
    EXPECT_EQ(map.terminal(map.terminalIndex("3")).circuit, "Brush motor +");
    EXPECT_EQ(map.node(motor.nodes[1]), "4.end");
    Condition driven;
    driven.state = map.stateIndex("3-commanded");
    const auto point = operatingPoint(map, driven);
    ASSERT_TRUE(point);
    EXPECT_LT(point->potential(motor.nodes[1]), 1.0) << "what takes nine amperes back is made for them";
    EXPECT_EQ(map.nodeWords(map.nodeIndex("5.end")), "module strobe unit, supply side");
}

// Both ends of the wire from a splice or a fuse to a part: were they one place, no fault could be between them.
TEST(BenchSheet, BothWiresOfAPartAreWires)
{
    const Map map = test::mapOfRows(
        "cavity;circuit;role;route;far end\n"
        "1;feed;supply, with key;F1 20 A\n"
        "2;minus;return;G1\n"
        "3;spinner;drive, low side;X1-1;motor 15 A, other wire S2\n"
        "4;conveyor;drive, low side;X1-2;motor 18 A, other wire S2\n"
        "5;beacon;drive, high side;;lamp 21 W\n"
        "6;gate;switch input;;switch, other wire G2\n"
        "7;flap;drive, pwm;X1-3;solenoid 5 Ω, returns 8\n"
        "8;flap return;drive return;X1-4;\n"
        "9;limit;switch input;;switch, normally closed, fed from 1\n"
        ";motor feed;consumer;S2 > F4 50 A\n",
        12);
    const auto runs = [&](const char* from, const char* to) {
        return std::ranges::any_of(map.elements, [&](const Element& e) {
            return e.kind == ElementKind::Wire && map.node(e.nodes[0]) == from && map.node(e.nodes[1]) == to;
        });
    };
    EXPECT_TRUE(runs("S2", "3.far"));
    EXPECT_TRUE(runs("S2", "4.far"));
    EXPECT_TRUE(runs("G.ring", "5.far"));
    EXPECT_TRUE(runs("G2.ring", "6.far"));
    EXPECT_TRUE(runs("X1-4.b", "8.end")) << "what comes back passes the connector";
    const Element& flap = map.element(map.elementIndex("load 7"));
    EXPECT_EQ(map.node(flap.nodes[1]), "8.end");
    EXPECT_LT(map.elementIndex("load 8"), 0) << "the return's part is the flap";
    EXPECT_GE(map.elementIndex("pull-up 6"), 0);
    EXPECT_LT(map.elementIndex("pull-up 9"), 0) << "a switch that brings a supply needs none";
    // What takes the flap's current back is on while the flap is driven, by the state or by hand.
    ilvek::SetUp byHand;
    byHand.state = "key-on", byHand.commands = {{"driver 7", 1}};
    const auto commanded = conditionOf(map, byHand);
    ASSERT_TRUE(commanded);
    Condition driven;
    driven.state = map.stateIndex("7-commanded");
    for (const Condition& flapping : {driven, *commanded}) {
        const auto flapped = operatingPoint(map, flapping);
        ASSERT_TRUE(flapped);
        EXPECT_LT(flapped->potential(map.nodeIndex("8.a")), 2);
        EXPECT_GT(flapped->potential(map.nodeIndex("7.a")), 9);
    }
    // The wire to the spinner open: its two ends part.
    Condition setup;
    setup.state = map.stateIndex("3-commanded");
    Fault open;
    open.kind = Fault::Kind::Open;
    open.element = map.elementIndex("wire S2 to 3.far");
    setup.faults = {open};
    const auto point = operatingPoint(map, setup);
    ASSERT_TRUE(point);
    EXPECT_GT(point->potential(map.nodeIndex("S2")), 11);
    EXPECT_LT(point->potential(map.nodeIndex("3.far")), 1);
}

// A part that goes to a splice of the grounds had been grounded at the body instead: its current left out the one place
// that was bad.
TEST(BenchSheet, APartOnAGroundSpliceIsGroundedWhereTheOtherRowsSay)
{
    const Map map = test::mapOfRows(
        "cavity;circuit;role;route;far end\n"
        "1;feed;supply, with key;F1 20 A\n"
        "3;minus;return;X1-3 > S1 > G1\n"
        "4;minus;return;X1-4 > S1 > G1\n"
        "7;ram out;drive, high side;X2-1;solenoid 4 Ω, other wire S1\n"
        "8;ram in;drive;X2-2;solenoid 4 Ω, other wire S1\n"
        "9;stop;switch input;X2-3;switch, other wire S1\n"
        ";pump;consumer;F2 10 A;motor 5 A, other wire S1\n",
        12);
    const int splice = map.nodeIndex("S1");
    for (const char* part : {"load 7", "load 8", "pump"}) {
        const Element& e = map.element(map.elementIndex(part));
        const auto own = std::ranges::find_if(map.elements, [&](const Element& wire) {
            return wire.kind == ElementKind::Wire && wire.nodes[0] == splice && wire.nodes[1] == e.nodes[1];
        });
        EXPECT_NE(own, map.elements.end()) << part << " has a wire of its own to the splice";
    }
    EXPECT_EQ(map.terminal(map.terminalIndex("8")).role, Role::HighSideDrive) << "nothing else can feed its valve";
    Condition setup;
    setup.state = map.stateIndex("7-commanded");
    Fault bad;
    bad.element = map.elementIndex("G1");
    bad.resistance_ohm = 0.5;
    const auto lost = [&] { return operatingPoint(map, setup)->voltage(splice, map.batteryMinus()); };
    const double sound = lost();
    setup.faults = {bad};
    EXPECT_GT(lost(), sound + 1) << "some three amperes of the valve over half an ohm";
}

TEST(BenchSheet, AUnitIsUnpluggedWithItsEndOfTheBusAndWhatIsShortedInIt)
{
    const Map map = mapOf(
        "1;supply;supply, always;;F3 15 A;;;;\n"
        "2;ground;return;;G1;;;;\n"
        "5;line high;differential bus, high;;;;;;\n"
        "6;line low;differential bus, low;;;;;;\n"
        ";winch unit;consumer;;F8 15 A;module, ground G2;2 A;;\n"
        ";winch unit;bus node;;;termination;;;\n");
    ilvek::SetUp pulled;
    pulled.state = "key-off";
    pulled.removed = {"winch unit"};
    const auto condition = conditionOf(map, pulled);
    ASSERT_TRUE(condition);
    EXPECT_TRUE(condition->removed.contains(map.elementIndex("winch unit termination")));
    const auto suspects = suspectsOf(map, true);
    const auto inside = std::find_if(suspects.begin(), suspects.end(),
                                     [](const Suspect& s) { return s.id == "winch unit shorted inside"; });
    ASSERT_NE(inside, suspects.end());
    const auto at = [&](bool plugged) {
        Condition now;
        now.state = map.stateIndex("key-on");
        now.faults = inside->severities.back();
        if (!plugged) now.removed = condition->removed;
        const auto point = operatingPoint(map, now);
        return point ? point->voltage(map.nodeIndex("F8.out"), map.batteryMinus()) : -1.0;
    };
    EXPECT_LT(at(true), 1) << "the fuse is blown";
    EXPECT_GT(at(false), 11);
}

}  // namespace
}  // namespace ilvek
