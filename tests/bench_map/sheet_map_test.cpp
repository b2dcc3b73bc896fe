#include "bench_map/sheet_map.h"

#include <gmock/gmock.h>

#include <algorithm>

#include "circuit/operating_point.h"
#include "machine/map_reader.h"
#include "machine/paths.h"
#include "machine/schedule_gaps.h"
#include "practice/bench.h"
#include "practice/simulated_machine.h"
#include "proving/plan.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::Contains;
using testing::HasSubstr;

Map mapOf(const std::string& csv, double system_V = 12)
{
    const auto sheet = readPinSheet(csv, "sheet.csv");
    EXPECT_TRUE(sheet) << (sheet ? "" : sheet.error().message());
    NewMachine machine;
    machine.systemVoltage_V = system_V;
    machine.module = "BHC-2";
    const auto document = mapFromSheet(sheet->rows, machine);
    EXPECT_TRUE(document);
    auto map = readMap(*document, "sheet");
    if (!map) {
        for (const Error& problem : map.error())
            ADD_FAILURE() << problem.message();
        return {};
    }
    return std::move(*map);
}

TEST(PinSheet, TheShippedSampleBecomesAWorkingMap)
{
    const Map map = mapOf(test::sourceText("data/sheets/hauler-24v.csv"), 24);
    EXPECT_EQ(map.moduleTerminals().size(), 20U);
    EXPECT_THAT(siblingsOf(map, map.terminalIndex("A1")), Contains(map.terminalIndex("A2")));
    EXPECT_EQ(groundPointOf(map, map.terminalIndex("A6")), groundPointOf(map, map.terminalIndex("A7")));
    EXPECT_NE(groundPointOf(map, map.terminalIndex("A6")), groundPointOf(map, map.terminalIndex("A8")));
    Condition on;
    on.state = map.stateIndex("key-on");
    const auto point = operatingPoint(map, on);
    ASSERT_TRUE(point);
    EXPECT_GT(point->potential(map.terminal(map.terminalIndex("A1")).a), 22.0) << "relay K7 pulls in";
    EXPECT_NEAR(point->voltage(map.terminal(map.terminalIndex("A9")).a, map.terminal(map.terminalIndex("A10")).a), 5.0,
                0.25);
    for (const int terminal : map.moduleTerminals()) {
        if (map.terminal(terminal).role != Role::Empty) {
            EXPECT_TRUE(map.terminal(terminal).assumed) << map.terminal(terminal).id;
        }
    }
}

// What is assumed must agree with itself: a sound machine that is just as the sheet says is proven terminal by
// terminal.
TEST(PinSheet, WhatIsKnownToFailIsNamedOnARowOfItsOwn)
{
    const std::string sheet = test::sourceText("data/stories/excavator-fuse.csv");
    const Map map = mapOf(sheet + ";S5;old repair;;;;\n;F2;known weak;;;;\n;W3;known weak;;;;\n", 24);
    EXPECT_EQ(map.element(map.elementIndex("F2")).weakness, 10);
    EXPECT_EQ(map.element(map.elementIndex("F14")).weakness, 1);
    EXPECT_EQ(map.element(map.elementIndex("horn")).weakness, 10) << "the part at the plug";
    int weak = 0;
    for (const Element& e : map.elements)
        weak += e.kind == ElementKind::Wire && e.weakness > 1 ? 1 : 0;
    EXPECT_GE(weak, 2) << "the wires at the splice";
    const auto wrong = readPinSheet(sheet + ";X99;known weak;;;;\n", "sheet.csv");
    ASSERT_TRUE(wrong);
    const auto refused = mapFromSheet(wrong->rows, {});
    ASSERT_FALSE(refused);
    EXPECT_THAT(refused.error().front().message(), HasSubstr("X99"));
}

TEST(PinSheet, ASoundMachineAsTheSheetSaysPassesTheLimitsThatAreAssumed)
{
    for (const double systemVoltage_V : {12.0, 24.0, 48.0}) {
        const Map map = mapOf(test::sourceText("data/sheets/hauler-24v.csv"), systemVoltage_V);
        practice::SimulatedMachine machine(map, {});
        test::Bench bench(map);
        std::string state = "key-off";
        for (int readings = 0; readings < 150; ++readings) {
            const auto step = nextStep(map, bench.assessed(), {bench.now(), state});
            if (!step) break;
            state = step->state;
            const auto value = machine.read(*step);
            ASSERT_TRUE(value) << step->title;
            bench.take(*step, value->value);
        }
        const Assessment assessment = bench.assessed();
        for (const int terminal : provingOrder(map, {})) {
            const Proof proof = proofOf(map, assessment, terminal);
            // What must be seen to move is not shown by standing where it stands.
            if (map.terminal(terminal).moves.size() == 1) {
                EXPECT_EQ(proof.state, ProofState::ReadOnly) << map.terminal(terminal).id;
                continue;
            }
            EXPECT_TRUE(proof.missing.empty()) << systemVoltage_V << " V: " << map.terminal(terminal).id << ", "
                                               << proofWords(proof.state) << ", " << proof.figure;
        }
    }
}

// Lists as they are copied from a page: no roles, other names of columns, lettered cavities, a relay of which only the
// coil is on the list, a ground where a cavity is called G. Sound, nothing on them fails.
TEST(PinSheet, ListsOfOtherKindsMakeMapsThatAccuseNothing)
{
    struct List {
        const char* file;
        std::size_t terminals;
        double system_V;
    };
    constexpr List lists[] = {{"pin-list-engine.csv", 18, 12},
                              {"crane-arm.csv", 16, 24},
                              {"lettered-hydraulics.csv", 12, 24},
                              {"wipers.csv", 10, 12},
                              {"cab-heater.csv", 11, 24},
                              {"pallet-truck.csv", 13, 48},
                              {"generating-set.csv", 16, 24},
                              {"body-unit.csv", 13, 24},
                              {"skid-loader.csv", 14, 12},
                              {"trailer-brakes.csv", 12, 24},
                              {"boat.csv", 11, 12},
                              {"header-reel.csv", 12, 12},
                              {"scissor-lift.csv", 12, 24},
                              {"refrigerated-body.csv", 14, 12},
                              {"motorcycle.csv", 15, 12},
                              {"start-controller.csv", 13, 24},
                              {"bus-door.csv", 11, 24},
                              {"dozer-engine.csv", 16, 24},
                              {"milking-unit.csv", 13, 24},
                              {"baggage-tug.csv", 15, 48},
                              {"slewing-crane.csv", 18, 24},
                              {"greenhouse-vents.csv", 12, 12},
                              {"ride-on-mower.csv", 11, 12},
                              {"ferry-gate.csv", 14, 24},
                              {"stacker.csv", 17, 24},
                              {"flood-lamps.csv", 10, 24},
                              {"rope-hoist.csv", 13, 24},
                              {"stationary-engine.csv", 22, 24}};
    for (const auto& [file, terminals, system_V] : lists) {
        const Map map = mapOf(test::sourceText(std::string("tests/bench_map/lists/") + file), system_V);
        ASSERT_EQ(map.moduleTerminals().size(), terminals) << file;
        for (const bool exact : {true, false}) {
            practice::Imperfection asInLife;
            asInLife.none = exact, asInLife.seed = 7;
            practice::SimulatedMachine machine(map, {}, {}, asInLife);
            test::Bench bench(map);
            std::string state = "key-off";
            int readings = 0;
            for (; readings < 150; ++readings) {
                const auto step = nextStep(map, bench.assessed(), {bench.now(), state});
                if (!step) break;
                state = step->state;
                const auto value = machine.read(*step);
                ASSERT_TRUE(value) << step->title;
                bench.take(*step, value->value);
            }
            EXPECT_GT(readings, 15) << file;
            EXPECT_LT(readings, 150) << file << ": the plan has no end";
            const Assessment assessment = bench.assessed();
            for (std::size_t i = 0; i < assessment.judgements.size(); ++i)
                EXPECT_FALSE(isFailure(assessment.judgements[i].verdict))
                    << file << ", " << (exact ? "exact" : "as in life") << ", " << assessment.evidence.readings[i].red
                    << ": " << assessment.judgements[i].word << " " << assessment.judgements[i].arithmetic;
        }
    }
}

TEST(PinSheet, AConnectorOfWhichNobodyKnowsTheCavityHasAContactForEachWire)
{
    const Map map = mapOf(
        "cavity;circuit;role;route;far end\n"
        "1;feed;supply, always;X5 > F1 10 A;\n"
        "2;minus;return;X5 > G1;\n"
        "3;lamp;drive, high side;X5-1;lamp 21 W, ground G1\n");
    std::vector<int> places;
    for (const char* contact : {"X5-?1", "X5-?2", "X5-1"}) {
        EXPECT_GE(map.nodeIndex(std::string(contact) + ".a"), 0) << contact;
        const int at = map.terminalIndex(contact);
        ASSERT_GE(at, 0) << contact;
        places.push_back(map.terminal(at).number);
    }
    EXPECT_THAT(places, testing::UnorderedElementsAre(1, 2, 3)) << "each in a place of its own";
    EXPECT_EQ(places.back(), 1) << "what is known stands where it is";
}

TEST(PinSheet, TwoColumnsOfNamesTellRoleAndName)
{
    const auto sheet = readPinSheet(
        "Terminal,Designation,Function,Where\n1,DI2,gate closed,reed switch to 0V\n"
        "2,0V,common,terminal block\n3,DO1,wash valve,\"solenoid 24V 8W, to 0V\"\n",
        "sheet");
    ASSERT_TRUE(sheet);
    EXPECT_TRUE(sheet->problems.empty());
    ASSERT_EQ(sheet->rows.size(), 3U);
    EXPECT_EQ(sheet->rows[0].circuit, "DI2 gate closed");
    EXPECT_EQ(roleFromText(sheet->rows[0].role), Role::SwitchInput);
    EXPECT_EQ(roleFromText(sheet->rows[2].role), Role::HighSideDrive);
    // A role that is none is asked for all the same.
    EXPECT_FALSE(readPinSheet("pin,circuit,role\n1,main ground,retrun\n", "sheet")->problems.empty());
}

// A sound machine of a list, followed by the suggestions for a complaint.
void accusesNothing(const char* file, double system_V)
{
    const Map map = mapOf(test::sourceText(std::string("tests/bench_map/lists/") + file), system_V);
    Reasoner reasoner(map, {}, true);
    while (reasoner.buildNext()) {
    }
    practice::Imperfection asInLife;
    asInLife.none = false, asInLife.seed = 3;
    practice::SimulatedMachine machine(map, {}, {}, asInLife);
    const practice::Run run = practice::follow(reasoner, machine, {{}, true}, {}, 30);
    ASSERT_FALSE(run.last.groups.empty());
    EXPECT_EQ(run.last.conclusion.kind, Conclusion::Kind::Open) << run.last.conclusion.words;
    const SuspectGroup& first = run.last.groups.front();
    const SuspectKind kind = reasoner.suspects()[static_cast<std::size_t>(first.members.front())].kind;
    EXPECT_TRUE(kind == SuspectKind::Nothing || kind == SuspectKind::NotOnMap || first.probability < 0.5)
        << file << ": " << first.words << " " << first.probability;
}

// The open line of a switch that nobody stated stands a little below the rail of its pull-up: read in seven states it
// had been called a bad contact.
TEST(PinSheet, ASwitchLineThatStandsNearItsRailAccusesNothing)
{
    accusesNothing("pallet-truck.csv", 48);
}

// Sensors on 24 V stand where those on 5 V cannot: that one stood between 0.25 and 4.75 V had made a sensor that reads
// low of a sound one, and so had a reading elsewhere on its wire.
TEST(PinSheet, ASensorThatLivesOnMoreThanFiveVoltsAccusesNothing)
{
    accusesNothing("scissor-lift.csv", 24);
}

TEST(PinSheet, AListThatIsNoModuleIsRefusedAndSaysSo)
{
    std::string text = "cavity,circuit,role\n";
    for (int i = 0; i < 1'000'000; ++i)
        text += "1,x,nonsense\n";
    const auto sheet = readPinSheet(text, "big.csv");
    ASSERT_FALSE(sheet);
    EXPECT_NE(sheet.error().message().find("more than 2000 rows"), std::string::npos) << sheet.error().message();
}

TEST(PinSheet, EverySeparatorAndManyHeaderNamesAreUnderstood)
{
    for (const char separator : {',', ';', '\t', '|'}) {
        std::string csv = "Pin Number,Function,Type,Wire Color,Earth\nJ1-1,supply,B+,RD/YE,\nJ1-2,ground,GND,brn,G4\n";
        std::replace(csv.begin(), csv.end(), ',', separator);
        const auto sheet = readPinSheet("\xEF\xBB\xBF" + csv, "sheet.csv");
        ASSERT_TRUE(sheet) << separator;
        ASSERT_EQ(sheet->rows.size(), 2U);
        EXPECT_EQ(sheet->rows[1].ground, "G4");
        EXPECT_EQ(sheet->rows[0].id(), "J1-1");
    }
}

TEST(PinSheet, ReadsQuotedCellsWithSeparatorsAndLineBreaks)
{
    const auto sheet =
        readPinSheet("cavity,circuit,role\n1,\"feed, \"\"main\"\"\nsecond line\",feed\n2,ground,gnd\n", "s");
    ASSERT_TRUE(sheet);
    ASSERT_EQ(sheet->rows.size(), 2U);
    EXPECT_EQ(sheet->rows[0].circuit, "feed, \"main\"\nsecond line");
    EXPECT_EQ(sheet->rows[1].line, 4);
}

TEST(PinSheet, NamesTheProblemsRowByRowAndKeepsTheGoodRows)
{
    const auto sheet = readPinSheet(
        "cavity,circuit,role,colour\n1,supply,B+,octarine\n?!,ground,gnd,\n3,third,wizardry,\n1,again,gnd,\n5,,gnd,\n6,"
        "ok,gnd,\n",
        "s");
    ASSERT_TRUE(sheet);
    std::string all;
    for (const Error& problem : sheet->problems)
        all += problem.message() + "\n";
    EXPECT_THAT(all, HasSubstr("row 3, cavity: “?!” is no cavity"));
    EXPECT_THAT(all, HasSubstr("row 4, role: “wizardry” is no role"));
    EXPECT_THAT(all, HasSubstr("row 5, cavity: 1 is listed twice"));
    EXPECT_THAT(all, HasSubstr("row 6, circuit: the circuit has no name"));
    EXPECT_EQ(sheet->rows.size(), 2U);
    ASSERT_EQ(sheet->remarks.size(), 1U);
    EXPECT_THAT(sheet->remarks[0].message(), HasSubstr("row 2, colour"));
}

// One separator too many had put the way of a pump into the column of its part, and the part was lost without a word.
TEST(PinSheet, WhatStandsBehindTheLastColumnIsNamedAndAWayInItIsAWay)
{
    const auto sheet = readPinSheet(
        "pin;circuit;role;route;far end\n"
        "1;power;supply, always;F1 6 A;\n"
        ";pump;consumer;;F2 30 A > K1;motor 20 A, ground G1\n",
        "sheet");
    ASSERT_TRUE(sheet);
    ASSERT_EQ(sheet->rows.size(), 2U);
    EXPECT_EQ(sheet->rows[1].route, "F2 30 A > K1");
    EXPECT_EQ(sheet->rows[1].otherEnd, "");
    ASSERT_EQ(sheet->remarks.size(), 1U);
    EXPECT_EQ(sheet->remarks[0].item, "row 3");
    EXPECT_THAT(sheet->remarks[0].reason, testing::HasSubstr("“motor 20 A, ground G1” stands behind the last column"));
}

TEST(PinSheet, RefusesWhatIsNoSheet)
{
    EXPECT_FALSE(readPinSheet("", "s"));
    EXPECT_FALSE(readPinSheet("a,b,c\n1,2,3\n", "s"));
    EXPECT_FALSE(readPinSheet(std::string("cavity,circuit,role\n1,\0,gnd\n", 28), "s"));
    EXPECT_FALSE(readPinSheet("cavity,circuit,role\n", "s"));
    EXPECT_FALSE(readPinSheet(std::string(1'000'000, '"'), "s"));
    EXPECT_FALSE(readPinSheet(std::string(1'000'000, ','), "s"));
}

TEST(PinSheet, TakesLatin1WithARemark)
{
    const auto sheet = readPinSheet("cavity,circuit,role\n1,r\xE9servoir,gnd\n", "s");
    ASSERT_TRUE(sheet);
    EXPECT_EQ(sheet->rows[0].circuit, "réservoir");
    EXPECT_EQ(sheet->remarks.size(), 1U);
}

TEST(PinSheet, NamesARowWhoseFuseIsNoFuse)
{
    const auto sheet = readPinSheet("cavity,circuit,role,fuse,rating\n1,supply,B+,F1,lots\n2,g,gnd,,\n", "s");
    const auto made = mapFromSheet(sheet->rows, {});
    ASSERT_FALSE(made);
    EXPECT_THAT(made.error().front().message(), HasSubstr("row 2, fuse rating"));
}

TEST(PinSheet, TheTemplateIsASheet)
{
    const auto sheet = readPinSheet(pinSheetTemplate(), "s");
    ASSERT_TRUE(sheet);
    EXPECT_TRUE(sheet->problems.empty());
    mapOf(pinSheetTemplate());
}

TEST(PinSheet, AnySingleRoleAloneMakesAMapOrSaysWhyNot)
{
    for (const std::string& role : roleNames()) {
        const auto sheet = readPinSheet("cavity,circuit,role\n1,thing," + role + "\n", "s");
        ASSERT_TRUE(sheet) << role;
        const auto made = mapFromSheet(sheet->rows, {});
        ASSERT_TRUE(made) << role;
        const auto map = readMap(*made, "s");
        if (!map) {
            EXPECT_FALSE(map.error().empty());
        }
    }
}

// The first row that is typed may be a drive that needs no ground of the module.
TEST(PinSheet, ADriveAloneMakesAMap)
{
    const Map map = mapOf("cavity;circuit;role;far end\n1;horn;HS out;horn 1 A to ground\n");
    ASSERT_EQ(map.moduleTerminals().size(), 1U);
    EXPECT_EQ(map.terminal(map.moduleTerminals().front()).role, Role::HighSideDrive);
}

TEST(Schedule, FlagsTheRolesThatHaveNone)
{
    const auto gaps =
        scheduleGaps(mapOf("cavity,circuit,role\n1,supply,relay-fed supply\n2,g,gnd\n3,level,analogue input\n"));
    EXPECT_THAT(gaps, Contains(HasSubstr("No permanent feed")));
    EXPECT_THAT(gaps, Contains(HasSubstr("no relay control")));
    EXPECT_THAT(gaps, Contains(HasSubstr("no reference for their sensors")));
    EXPECT_TRUE(scheduleGaps(test::pt9()).empty());
}

TEST(SheetMap, AnAlternatorHasItsOwnCableAndCase)
{
    const std::string head =
        "cavity;circuit;role;route;far end\n1;supply;supply, always;F1 10 A;\n2;ground;return;G1;\n";
    const Map wired = mapOf(head + ";alternator;source;F9 80 A;\n");
    const int own = wired.elementIndex("alternator");
    ASSERT_GE(own, 0);
    EXPECT_NE(wired.element(own).nodes[0], wired.batteryPlus()) << "its output can be read against battery plus";
    EXPECT_NE(wired.element(own).nodes[1], wired.batteryMinus());
    int alternators = 0;
    for (const Element& e : wired.elements)
        alternators += e.kind == ElementKind::Alternator;
    EXPECT_EQ(alternators, 1);
    // While it runs the battery is charged through its cable.
    Condition running;
    running.state = wired.stateIndex("running");
    const auto point = operatingPoint(wired, running);
    ASSERT_TRUE(point);
    EXPECT_GT(point->voltage(wired.batteryPlus(), wired.batteryMinus()), 13);
    EXPECT_GT(point->voltage(wired.element(own).nodes[0], wired.batteryPlus()), 0);
    const Map plain = mapOf(head);
    EXPECT_EQ(plain.element(plain.elementIndex("alternator")).nodes[0], plain.batteryPlus()) << "nobody said how";
}

// Two papers disagree about one level: both stand on the terminal, each with its own source.
TEST(SheetMap, AFigureMayNameASourceOfItsOwn)
{
    const Map map = mapOf(
        "cavity;circuit;role;route;far end;expected;source\n1;supply;supply, always;F1 10 A;;;p "
        "3\n2;ground;return;G1;;;\n"
        "3;feedback;analogue input;;alternator;running 6..7 V / running 13..14 V (label of the part);p 7\n");
    const Terminal& t = map.terminal(map.terminalIndex("3"));
    ASSERT_EQ(t.expected.size(), 2U);
    EXPECT_NE(t.expected[0].source, t.expected[1].source);
    // Wherever between nothing and the battery it stands, some setting of what sends it makes that.
    const Element& sender = map.element(map.elementIndex("load 3"));
    EXPECT_EQ(sender.kind, ElementKind::Sensor);
}

// "9 A" of a feed is what it carries at full work: the motor that it feeds through the module is in it.
TEST(PinSheet, TheCurrentOfAFeedHoldsWhatItsDrivesTake)
{
    const std::string rows =
        "pin;circuit;role;far end;current\n"
        "1;power;supply, with key;;{}\n"
        "2;ground;return;;\n"
        "6;belt;drive, high side;motor 8 A, ground G2;\n"
        "7;lamp;drive, high side;lamp 12 W, ground G2;\n";
    const auto standing = [&](const char* stated) {
        std::string csv = rows;
        csv.replace(csv.find("{}"), 2, stated);
        const Map map = mapOf(csv);
        return map.element(map.elementIndex("port 1")).value("current");
    };
    EXPECT_NEAR(standing("12 A"), 3, 0.01);
    EXPECT_NEAR(standing("9 A"), 0.1, 0.01) << "the module itself takes hardly anything";
    EXPECT_NEAR(standing("2 A"), 2, 0.01) << "less than the motor alone: that is without it";
    const Map map = mapOf(
        "pin;circuit;role;far end;current\n1;power;supply, with key;;12 A\n2;ground;return;;\n"
        "6;belt;drive, high side;motor 8 A, ground G2;\n");
    EXPECT_NEAR(map.terminal(map.terminalIndex("1")).current_A.value_or(0), 12, 0.01)
        << "a load must still carry it all";
}

// X6-3 is the signal's cavity; the same plug holds the sensor's feed and return.
TEST(PinSheet, ASensorsPlugPartsItFromItsFeedToo)
{
    const Map map = mapOf(
        "pin;circuit;role;route;far end\n"
        "1;power;supply, with key;F1 10 A;\n"
        "2;ground;return;G1;\n"
        "5;sensors;5 V reference;;\n"
        "6;sensor ground;sensor return;X7-2;\n"
        "8;clamp;sensor signal;X6-3;pressure sensor, feed 5, ground 6\n"
        "9;boom;sensor signal;X7-3;angle sensor, feed 5, ground 6\n");
    const auto reaches = [&](const char* from, const char* to, const char* plug) {
        auto path = conductorPath(map, map.nodeIndex(from), map.nodeIndex(to));
        if (!path) return false;
        return std::none_of(path->begin(), path->end(), [&](const PathStep& step) {
            for (const int t : map.connectors[static_cast<std::size_t>(map.connectorIndex(plug))].terminals) {
                if (t >= 0 && map.terminal(t).contact == step.element) return true;
            }
            return false;
        });
    };
    const Element& clamp = map.element(map.elementIndex("load 8"));
    const Element& boom = map.element(map.elementIndex("load 9"));
    for (const int pole : {0, 2}) {
        const std::string from = pole == 0 ? "5.a" : "6.a";
        EXPECT_FALSE(reaches(from.c_str(), map.node(clamp.nodes[static_cast<std::size_t>(pole)]).c_str(), "X6"));
        EXPECT_FALSE(reaches(from.c_str(), map.node(boom.nodes[static_cast<std::size_t>(pole)]).c_str(), "X7"));
    }
    const auto& cavities = map.connectors[static_cast<std::size_t>(map.connectorIndex("X7"))].terminals;
    EXPECT_EQ(std::count_if(cavities.begin(), cavities.end(), [](int t) { return t >= 0; }), 3)
        << "the return comes over X7-2 already";
}

}  // namespace
}  // namespace ilvek
