// What people write into a pin sheet, taken one cell at a time.
#include "bench_map/sheet_words.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include "bench_map/pin_sheet.h"
#include "bench_map/spoken_voltage.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using Place = RoutePlace::Kind;
using Far = FarEnd::Kind;

std::vector<std::string> ids(const char* route)
{
    const auto places = parseRoute(route);
    EXPECT_TRUE(places) << route << ": " << (places ? "" : places.error().message());
    std::vector<std::string> out;
    for (const RoutePlace& p : places.value_or(std::vector<RoutePlace>{}))
        out.push_back(p.id);
    return out;
}

Place kindOf(const char* place)
{
    const auto places = parseRoute(place);
    EXPECT_TRUE(places) << place << ": " << (places ? "" : places.error().message());
    return places && !places->empty() ? places->front().kind : Place::Ground;
}

TEST(SheetWords, ARouteIsTakenFromThePinOutwards)
{
    EXPECT_THAT(ids("X2-3 > S1 > F5 30 A > K2"), ElementsAre("X2-3", "S1", "F5", "K2"));
    EXPECT_THAT(ids("X2-3 → S1 -> F5 30A»K2"), ElementsAre("X2-3", "S1", "F5", "K2"));
    EXPECT_THAT(ids(""), ElementsAre());
    EXPECT_EQ(parseRoute("F5 30 A")->front().rating_A, 30);
    EXPECT_EQ(parseRoute("F5, 7,5 A")->front().rating_A, 7.5);
    EXPECT_EQ(parseRoute("F5")->front().rating_A, std::nullopt) << "not told is not known";
}

TEST(SheetWords, WhatAPlaceIsFollowsFromItsLettersOrTheWordBeforeIt)
{
    for (const char* fuse : {"F3", "fuse 12 10 A", "breaker CB2", "12 15 A", "FL1"})
        EXPECT_EQ(kindOf(fuse), Place::Fuse) << fuse;
    for (const char* relay : {"K2", "relay 7", "R3"})
        EXPECT_EQ(kindOf(relay), Place::Relay) << relay;
    for (const char* splice : {"S1", "SP104", "splice J5", "joint 3"})
        EXPECT_EQ(kindOf(splice), Place::Splice) << splice;
    for (const char* ground : {"G1", "GP2", "ground 4", "chassis"})
        EXPECT_EQ(kindOf(ground), Place::Ground) << ground;
    for (const char* connector : {"X2-3", "X2.3", "C104:7", "connector DT4-2"})
        EXPECT_EQ(kindOf(connector), Place::Connector) << connector;
    EXPECT_EQ(kindOf("battery plus"), Place::Battery);
    EXPECT_EQ(kindOf("ignition switch"), Place::KeySwitch);
}

TEST(SheetWords, AWayIsUnderstoodInManyWords)
{
    for (const char* way :
         {"X3-5, S1, F5 20 A", "X3-5 / S1 / F5 20A", "X3-5 - S1 - F5 (20 A)", "X3-5 via S1 via F5 20 amps"}) {
        EXPECT_THAT(ids(way), ElementsAre("X3-5", "S1", "F5")) << way;
        EXPECT_EQ(parseRoute(way)->back().rating_A, 20) << way;
    }
    EXPECT_THAT(ids("C101 pin 3 > left ground G101"), ElementsAre("C101-3", "G101"));
    for (const char* fuse :
         {"20A fuse", "maxi fuse 40 A", "FB12 20 A", "circuit breaker 15A", "breaker 15 A", "fusible link"})
        EXPECT_EQ(kindOf(fuse), Place::Fuse) << fuse;
    EXPECT_EQ(parseRoute("maxi fuse 40 A")->front().rating_A, 40);
    EXPECT_THAT(ids("maxi fuse 40 A"), ElementsAre("maxi fuse"));
    EXPECT_THAT(ids("battery via F1 4A"), ElementsAre("F1", "plus")) << "told from its far end";
    EXPECT_THAT(ids("key > F2"), ElementsAre("KEY", "F2"));
    EXPECT_THAT(ids("main relay > battery isolator"), ElementsAre("main relay", "battery isolator"));
    for (const char* ground : {"left frame ground", "ground stud left", "engine block", "ground G7"})
        EXPECT_EQ(kindOf(ground), Place::Ground) << ground;
    EXPECT_EQ(kindOf("C101"), Place::Connector) << "whichever cavity";
    EXPECT_THAT(parseRoute("firewall connector").error().message(), HasSubstr("which cavity"));
}

TEST(SheetWords, ASensorsFeedStandsBesideItsSecondWire)
{
    const FarEnd pot = parseFarEnd("potentiometer 5k, supply 5, ground 6");
    EXPECT_EQ(pot.supply, "5");
    EXPECT_EQ(pot.otherWire, "ground 6");
    EXPECT_EQ(pot.name, "potentiometer 5k");
    EXPECT_EQ(parseFarEnd("transmitter 4-20 mA, fed F1").supply, "F1");
    EXPECT_EQ(parseFarEnd("lamp 5 W, fed F13 4 A").otherWire, "F13 4 A") << "of a part with two wires the other one";
}

TEST(SheetWords, WhatSwitchesPlusIsASwitchAndWhatPullsDownAHallSensor)
{
    const FarEnd plus = parseFarEnd("inductive switch PNP, supply F12 2 A, ground G1");
    EXPECT_EQ(plus.kind, Far::Switch);
    EXPECT_EQ(plus.otherWire, "F12 2 A") << "it hands its feed on";
    EXPECT_EQ(parseFarEnd("prox sensor PNP").otherWire, "battery plus");
    EXPECT_EQ(parseFarEnd("flow meter NPN").kind, Far::Hall);
    EXPECT_EQ(parseFarEnd("inductive 200 ohm").kind, Far::PickUp);
    EXPECT_EQ(parseFarEnd("E-stop contact from F1").otherWire, "F1");
    EXPECT_EQ(parseFarEnd("push button from 101").otherWire, "") << "the number of a wire is no place";
    const Map map = test::mapOfRows(
        "terminal;designation;type;leads to\n"
        "12;24 V supply;supply, always, F12 16 A;\n"
        "13;0 V;return;\n"
        "31;up;input;pushbutton from 12\n"
        "32;end stop;input;limit switch, normally closed, from 12\n"
        "33;down;input;pushbutton from 101\n"
        "A1;second supply;supply, always, F13 6 A;\n"
        "A2;guard;input;guard switch, normally closed, from A1\n",
        24);
    EXPECT_LT(map.elementIndex("pull-up A2"), 0);
    for (const char* fed : {"31", "32"}) {
        EXPECT_LT(map.elementIndex(std::string("pull-up ") + fed), 0) << "it brings the supply";
        EXPECT_EQ(map.node(map.element(map.elementIndex(std::string("wire 12.a to ") + fed + ".far")).nodes[0]),
                  "12.a");
    }
    EXPECT_GE(map.elementIndex("pull-up 33"), 0) << "101 is no terminal";
    EXPECT_EQ(parseFarEnd("guard switch, normally closed, from A1").fromNumber, "A1");
    EXPECT_EQ(map.element(map.elementIndex("load 32")).name, "limit switch");
}

TEST(SheetWords, PlatinumIsKnownByItsName)
{
    const FarEnd at = parseFarEnd("PT1000 to 0V");
    EXPECT_EQ(at.kind, Far::Thermistor);
    EXPECT_TRUE(at.isRising);
    EXPECT_NEAR(at.ohms->middle(), 1096, 1);
    EXPECT_FALSE(parseFarEnd("NTC 10k").isRising);
}

TEST(SheetWords, RemarksThatTellOfThePartAreTakenWithIt)
{
    EXPECT_EQ(clausesOfPart("to 31, closed when seated"), ", to 31");
    EXPECT_EQ(clausesOfPart("supply B7, mind the hose"), ", supply B7");
    EXPECT_EQ(clausesOfPart("normally closed"), ", normally closed");
}

TEST(SheetWords, TerminalNumbersAndPortsAreRoles)
{
    EXPECT_EQ(parseRole("30")->role, Role::PermanentFeed);
    EXPECT_EQ(parseRole("KL15")->role, Role::SwitchedFeed);
    EXPECT_EQ(parseRole("31")->role, Role::Return);
    EXPECT_EQ(parseRole("DI3")->role, Role::SwitchInput);
    EXPECT_EQ(parseRole("AI1")->role, Role::AnalogueInput);
    EXPECT_EQ(parseRole("+5 V out")->role, Role::Reference);
    EXPECT_EQ(parseRole("valve common")->role, Role::DriveReturn);
    EXPECT_EQ(parseRole("common rail pressure")->role, Role::AnalogueInput);
}

TEST(SheetWords, AnUnclearPlaceIsRefusedWithWhatToWrite)
{
    const auto route = parseRoute("X2-3 > Z9");
    ASSERT_FALSE(route);
    EXPECT_THAT(route.error().message(), HasSubstr("Write as “fuse Z9”")) << route.error().message();
    EXPECT_THAT(parseRoute("F5 thick").error().message(), HasSubstr("no rating in amperes"));
    EXPECT_FALSE(parseRoute("S1 > > K2"));
}

TEST(SheetWords, RolesAreUnderstoodInAnyOrderOfTheirWords)
{
    const std::pair<const char*, Role> cases[] = {{"supply, always", Role::PermanentFeed},
                                                  {"permanent feed", Role::PermanentFeed},
                                                  {"supply, with key", Role::SwitchedFeed},
                                                  {"supply, by relay K2", Role::RelayFedSupply},
                                                  {"fed by the contact of K1", Role::RelayFedSupply},
                                                  {"drives coil of K2", Role::LowSideDrive},
                                                  {"drive, low side", Role::LowSideDrive},
                                                  {"drive, high side", Role::HighSideDrive},
                                                  {"drive, duty", Role::DutyDrive},
                                                  {"input, switch", Role::SwitchInput},
                                                  {"Hall input", Role::HallInput},
                                                  {"pick-up", Role::ReluctanceInput},
                                                  {"sensor return", Role::ReferenceReturn},
                                                  {"sensor supply", Role::Reference},
                                                  {"bus, single wire", Role::SingleWireBus},
                                                  {"differential bus, low", Role::DifferentialBus},
                                                  {"gnd", Role::Return}};
    for (const auto& [text, role] : cases) {
        const auto read = parseRole(text);
        ASSERT_TRUE(read) << text << ": " << read.error().message();
        EXPECT_EQ(read->role, role) << text;
    }
    EXPECT_EQ(parseRole("supply, by relay K2")->relay, "K2");
    EXPECT_EQ(parseRole("drives the coil of relay K3")->relay, "K3");
    EXPECT_EQ(parseRole("fed by the contact of K1")->relay, "K1");
    EXPECT_TRUE(parseRole("differential bus, low")->lowLine);
    EXPECT_THAT(parseRole("wizardry").error().message(), HasSubstr("no role"));
}

// As technicians write them, from many pages.
// Two "proportional valve 22 Ω" were two parts of one name.
TEST(SheetWords, AKindIsNoName)
{
    EXPECT_FALSE(parseFarEnd("proportional valve 22 Ω").isNamed);
    EXPECT_TRUE(parseFarEnd("tilt valve 22 Ω").isNamed);
}

TEST(SheetWords, RolesAreUnderstoodInManyWords)
{
    const std::pair<Role, std::vector<const char*>> cases[] = {
        {Role::PermanentFeed,
         {"permanent live", "constant power", "battery feed", "battery supply", "12 V permanent", "B+",
          "unswitched feed"}},
        {Role::SwitchedFeed,
         {"switched live", "ignition feed", "key-on feed", "ignition", "ignition switched supply", "wake", "wake-up",
          "wake input", "enable input", "ignition switch", "accessory feed"}},
        {Role::RelayFedSupply, {"main relay feed", "supply via relay", "supply by relay K7", "relay-fed supply"}},
        {Role::Return, {"earth", "chassis", "0 V", "power ground", "battery ground", "battery minus"}},
        {Role::ReferenceReturn, {"signal ground", "sensor ground", "sensor return", "reference ground"}},
        {Role::Reference,
         {"5 V supply", "5 V reference", "ref 5 V", "10 V reference", "sensor supply", "sensor feed", "sensor 5 V",
          "vref"}},
        {Role::AnalogueInput,
         {"pressure signal", "position sensor", "pot wiper", "potentiometer signal", "oxygen sensor", "load cell",
          "joystick", "track 1", "pressure sensor 0.5-4.5 V", "level sender", "4-20 mA"}},
        {Role::ThermistorInput, {"temperature sensor", "NTC input", "coolant temp signal"}},
        {Role::HallInput, {"hall sensor", "frequency input", "pulse input", "proximity sensor"}},
        {Role::ReluctanceInput, {"reluctor", "inductive sensor", "inductive speed sensor", "magnetic pickup"}},
        {Role::SwitchInput, {"switch to plus", "switch to ground", "limit switch", "push button", "reed contact"}},
        {Role::SenseInput, {"start signal", "crank signal", "battery sense", "voltage sense", "ignition sense"}},
        {Role::DifferentialBus, {"CAN high", "CAN L", "CAN-H", "bus high", "data +"}},
        {Role::SingleWireBus, {"LIN", "K-line", "data line", "single wire bus"}},
        {Role::LowSideDrive,
         {"relay output", "relay coil", "start relay", "fuel pump relay", "oxygen sensor heater", "fuel return valve",
          "body lights", "feed pump", "injector", "glow plug", "buzzer", "solenoid", "switched ground", "ignition coil",
          "warning lamp"}},
        {Role::HighSideDrive, {"motor +", "lamp output, high side", "high side driver", "output +"}},
        {Role::DriveReturn, {"motor -", "drive return"}},
        {Role::DutyDrive, {"alternator field", "valve output pwm", "PWM low side", "low side PWM", "PWM high side"}},
        {Role::DutyInput, {"PWM input", "PWM signal", "duty input"}},
        {Role::Empty, {"n.c.", "spare", "unused"}}};
    for (const auto& [role, texts] : cases) {
        for (const char* text : texts) {
            const auto read = parseRole(text);
            ASSERT_TRUE(read) << text << ": " << read.error().message();
            EXPECT_EQ(roleName(read->role), roleName(role)) << text;
        }
    }
    EXPECT_EQ(parseRole("relay output")->relay, "") << "a word is no relay's name";
    EXPECT_TRUE(parseRole("PWM high side")->highLine) << "it feeds its part";
    EXPECT_FALSE(parseRole("PWM low side")->highLine);
    EXPECT_TRUE(parseRole("CAN H")->highLine);
    EXPECT_TRUE(parseRole("CAN-L")->lowLine);
}

// A list of pins as it is copied from a page: no roles, names that tell them.
TEST(SheetWords, AListWithoutRolesIsReadByItsNames)
{
    const auto sheet = readPinSheet(
        "Pin no.;Description;Wire colour\n"
        "1;Battery supply;red\n2;Ground;black\n3;Ignition feed;black/red\n"
        "4;CAN high;yellow\n5;CAN low;green\n6;Coolant temperature sensor;blue\n"
        "7;Sensor ground;brown\n8;Work lamp relay;white\n9;Spare;\n10;Hour counter;grey\n",
        "list.csv");
    ASSERT_TRUE(sheet) << sheet.error().message();
    std::vector<std::string> roles;
    for (const PinRow& row : sheet->rows)
        roles.push_back(row.role);
    const auto name = [](Role role) { return std::string(roleName(role)); };
    EXPECT_THAT(roles,
                ElementsAre(name(Role::PermanentFeed), name(Role::Return), name(Role::SwitchedFeed),
                            name(Role::DifferentialBus), name(Role::DifferentialBus), name(Role::ThermistorInput),
                            name(Role::ReferenceReturn), name(Role::LowSideDrive), name(Role::Empty)));
    EXPECT_EQ(sheet->rows[3].side, "high");
    ASSERT_EQ(sheet->remarks.size(), 1U) << "what was guessed is said";
    EXPECT_THAT(sheet->remarks.front().message(), HasSubstr("9 roles: taken from the names"));
    ASSERT_EQ(sheet->problems.size(), 1U) << "and what no name tells is asked for";
    EXPECT_THAT(sheet->problems.front().message(), HasSubstr("Hour counter"));
    // A column that is not understood is named.
    const auto odd = readPinSheet("Pin;Name;Role;Bundle\n1;egt;temperature;loom 4\n", "odd.csv");
    ASSERT_TRUE(odd);
    ASSERT_FALSE(odd->remarks.empty());
    EXPECT_THAT(odd->remarks.front().message(), HasSubstr("“Bundle”"));
    const auto couple = readPinSheet("Pin;Name;Role;Far end\n1;exhaust;temperature;thermocouple\n", "t.csv");
    ASSERT_TRUE(couple);
    EXPECT_EQ(couple->rows.front().role, name(Role::AnalogueInput)) << "it has no pull-up";
    // Of a name and a function the function is the role.
    const auto two = readPinSheet("Pin;Name;Function\nA1;T15;switched live\nA2;M3;earth\n", "two.csv");
    ASSERT_TRUE(two);
    ASSERT_EQ(two->rows.size(), 2U);
    EXPECT_EQ(two->rows[0].role, name(Role::SwitchedFeed));
    EXPECT_EQ(two->rows[0].circuit, "T15 switched live");
}

// Headers and short words as people have them: a column for the connector, "Pin #", "I/O", abbreviations, remarks that
// name the part.
TEST(SheetWords, ShortWordsAndOtherColumnsAreUnderstood)
{
    const auto sheet = readPinSheet(
        "Conn,Pin #,Description,I/O,Remarks\n"
        "J1,1,B+ unswitched,power,\nJ1,2,Chassis gnd,gnd,\nJ1,3,Ign sw,digital in,\nJ1,4,Seat sw,digital in,\n"
        "J1,5,Lift sol,HS out,solenoid 9 ohm to ground\nJ2,1,Lever pos,analog in,look for chafing\n"
        "J2,2,wheel speed left,speed input,pick-up 1200 ohm\nJ2,31a,minus electronics,,\n",
        "short.csv");
    ASSERT_TRUE(sheet) << sheet.error().message();
    for (const auto& p : sheet->problems)
        ADD_FAILURE() << p.message();
    std::vector<std::string> roles, ids;
    for (const PinRow& row : sheet->rows)
        roles.push_back(row.role), ids.push_back(row.id());
    const auto name = [](Role role) { return std::string(roleName(role)); };
    EXPECT_THAT(ids, ElementsAre("J1-1", "J1-2", "J1-3", "J1-4", "J1-5", "J2-1", "J2-2", "J2-31a"));
    EXPECT_THAT(roles, ElementsAre(name(Role::PermanentFeed), name(Role::Return), name(Role::SwitchedFeed),
                                   name(Role::SwitchInput), name(Role::HighSideDrive), name(Role::AnalogueInput),
                                   name(Role::ReluctanceInput), name(Role::Return)));
    EXPECT_EQ(sheet->rows[4].otherEnd, "solenoid 9 ohm to ground");
    EXPECT_EQ(parseFarEnd(sheet->rows[4].otherEnd).otherWire, "ground");
    EXPECT_EQ(sheet->rows[5].otherEnd, "");
    ASSERT_FALSE(sheet->remarks.empty());
    EXPECT_THAT(sheet->remarks.front().message(), HasSubstr("“look for chafing” names no part"));
    EXPECT_EQ(relayIn("relay out"), "") << "no relay is called so";
    EXPECT_EQ(relayIn("by relay K4"), "K4");
    EXPECT_TRUE(parseExpectedFigures("toggles")->empty()) << "what is customary holds";
    EXPECT_TRUE(parseExpectedFigures("battery voltage when on")->empty());
    const auto way = parseRoute("F1 15 A, E-stop, battery switch, 0V");
    ASSERT_TRUE(way) << way.error().message();
    EXPECT_EQ((*way)[1].kind, RoutePlace::Kind::Splice);
    EXPECT_EQ(way->back().kind, RoutePlace::Kind::Ground);
}

TEST(SheetWords, TheSystemVoltageThatASheetSpeaksOfIsHeard)
{
    const auto spoken = [](const char* rows) {
        const auto sheet = readPinSheet(std::string("cavity;circuit;role;far end;expected\n") + rows, "v.csv");
        return sheet ? spokenSystemVoltage_V(sheet->rows) : std::nullopt;
    };
    EXPECT_EQ(spoken("1;horn;drive, high side;horn 24 V 1 A;\n2;ref;sensor supply;;5 V\n"), 24);
    EXPECT_EQ(spoken("1;horn;drive, high side;horn 24 V;\n2;lamp;drive, low side;lamp 12 V;\n"), std::nullopt);
    EXPECT_EQ(spoken("1;horn;drive, high side;horn 1 A;key on 4.8..5.2 V\n"), std::nullopt);
}

// What is left open is asked for, and not guessed.
TEST(SheetWords, ARoleThatMayBeTwoIsAskedFor)
{
    const auto asked = [](const char* text) {
        const auto role = parseRole(text);
        return role ? fmt::format("{} is taken for {}", text, roleName(role->role)) : role.error().message();
    };
    EXPECT_THAT(asked("+12 V"), HasSubstr("when is it there?"));
    EXPECT_THAT(asked("logic supply"), HasSubstr("when is it there?"));
    EXPECT_THAT(asked("crankshaft sensor"), HasSubstr("Hall sensor or a pick-up?"));
    EXPECT_THAT(asked("speed sensor"), HasSubstr("Hall sensor or a pick-up?"));
    EXPECT_THAT(asked("shield"), HasSubstr("leave the row out"));
    // The rest of the row may tell.
    const auto sheet = readPinSheet(
        "cavity;circuit;role;route;far end\n"
        "1;feed;logic supply;F5 30 A > K2;\n2;ground;earth;G1;\n"
        "3;shaft;speed sensor;;pick-up 200 ohm\n4;drum;speed sensor;;hall sensor\n"
        "5;key;+12 V;F3 5 A > KEY;\n",
        "sheet.csv");
    ASSERT_TRUE(sheet);
    ASSERT_TRUE(sheet->problems.empty()) << sheet->problems.front().message();
    EXPECT_EQ(sheet->rows[0].role, roleName(Role::RelayFedSupply));
    EXPECT_EQ(sheet->rows[2].role, roleName(Role::ReluctanceInput));
    EXPECT_EQ(sheet->rows[3].role, roleName(Role::HallInput));
    EXPECT_EQ(sheet->rows[4].role, roleName(Role::SwitchedFeed));
}

TEST(SheetWords, AFigureKeepsItsRange)
{
    const auto range = [](const char* text, Unit unit) {
        const auto f = parseStated(text, unit);
        return f ? std::pair(f->low, f->high) : std::pair(-1.0, -1.0);
    };
    EXPECT_EQ(range("12–16 Ω", Unit::Ohm), std::pair(12.0, 16.0));
    EXPECT_EQ(range("12-16 ohm", Unit::Ohm), std::pair(12.0, 16.0));
    EXPECT_EQ(range("1.2..3,4 kΩ", Unit::Ohm), std::pair(1200.0, 3400.0));
    EXPECT_EQ(range("11 to 14 Ω at plug W1", Unit::Ohm), std::pair(11.0, 14.0));
    EXPECT_EQ(range("lamp 21 W", Unit::Watt), std::pair(21.0, 21.0));
    EXPECT_EQ(range("0.9 A..1.2 A", Unit::Ampere), std::pair(0.9, 1.2));
    EXPECT_EQ(range("plug W12", Unit::Watt), std::pair(-1.0, -1.0)) << "a name is no figure";
    EXPECT_EQ(range("2.2 kΩ at 25 °C", Unit::Celsius), std::pair(25.0, 25.0));
}

TEST(SheetWords, ThePartAtTheFarEnd)
{
    const FarEnd valve = parseFarEnd("solenoid 11–14 Ω at plug W1, other wire S1");
    EXPECT_EQ(valve.kind, Far::Winding);
    EXPECT_EQ(valve.ohms->middle(), 12.5);
    EXPECT_EQ(valve.plug, "W1");
    EXPECT_EQ(valve.otherWire, "S1");
    const FarEnd coil = parseFarEnd("coil of K2, other end F4");
    EXPECT_EQ(coil.kind, Far::RelayCoil);
    EXPECT_EQ(coil.relay, "K2");
    EXPECT_EQ(coil.otherWire, "F4");
    EXPECT_EQ(parseFarEnd("relay K7, coil").relay, "K7");
    const FarEnd thermistor = parseFarEnd("thermistor 2,2 kΩ at 25 °C, returns A8");
    EXPECT_EQ(thermistor.kind, Far::Thermistor);
    EXPECT_EQ(thermistor.ohms->middle(), 2200);
    EXPECT_EQ(thermistor.at_C, 25);
    EXPECT_EQ(thermistor.otherWire, "A8");
    const FarEnd lamp = parseFarEnd("lamp 21 W, ground G2");
    EXPECT_EQ(lamp.kind, Far::Lamp);
    EXPECT_EQ(lamp.watts->middle(), 21);
    EXPECT_EQ(lamp.otherWire, "ground G2");
    EXPECT_EQ(parseFarEnd("2 lamps 21 W, ground G4").watts->middle(), 42);
    EXPECT_EQ(parseFarEnd("2 x 21 W lamps").watts->middle(), 42);
    const std::pair<FarEnd::Kind, std::vector<const char*>> kinds[] = {
        {FarEnd::Kind::Thermistor, {"NTC 2.2k", "coolant temperature sender", "PTC"}},
        {FarEnd::Kind::Switch, {"temperature switch", "brake pedal switch", "reed contact", "push button"}},
        {FarEnd::Kind::Sensor, {"pressure transducer", "joystick", "throttle pedal", "fuel sender"}},
        {FarEnd::Kind::PickUp, {"inductive sensor 1 kohm", "reluctor"}},
        {FarEnd::Kind::Hall, {"proximity sensor", "hall sensor"}},
        {FarEnd::Kind::Lamp, {"H7 55 W bulb", "work light", "beacon"}},
        {FarEnd::Kind::Motor, {"wiper motor 60 W", "horn", "compressor"}},
        {FarEnd::Kind::Winding, {"magnetic clutch", "door lock actuator", "injector 12 ohm"}}};
    for (const auto& [kind, texts] : kinds) {
        for (const char* text : texts)
            EXPECT_EQ(parseFarEnd(text).kind, kind) << text;
    }
    EXPECT_TRUE(parseFarEnd("switch closed at rest").isClosedAtRest);
    EXPECT_FALSE(parseFarEnd("tailgate switch").isRestTold);
    EXPECT_EQ(parseFarEnd("the thing behind the panel").kind, Far::Unknown);
    EXPECT_EQ(parseFarEnd("motor 8 A").amperes->middle(), 8);
    EXPECT_EQ(parseFarEnd("module CD-2, feed F7, ground G3").kind, Far::Module);
}

TEST(SheetWords, ExpectedFiguresWithTheirStates)
{
    const auto figures = parseExpectedFigures("key off 12.1..12.9 V / commanded 0.9..1.2 A / at rest below 0.2 V");
    ASSERT_TRUE(figures);
    ASSERT_EQ(figures->size(), 3U);
    EXPECT_EQ((*figures)[0].state, "key off");
    EXPECT_EQ((*figures)[0].low, 12.1);
    EXPECT_EQ((*figures)[1].unit, Unit::Ampere);
    EXPECT_EQ((*figures)[2].state, "at rest");
    EXPECT_EQ((*figures)[2].low, std::nullopt);
    EXPECT_EQ((*figures)[2].high, 0.2);
    EXPECT_TRUE(parseExpectedFigures("")->empty());
    EXPECT_FALSE(parseExpectedFigures("as usual"));
}

// The fuse of its feed had become the valve's own current, and a part of its name.
TEST(FarEnd, WhatFeedsAPartIsNothingOfThePart)
{
    const FarEnd valve = parseFarEnd("solenoid 6 Ω from F2 15 A");
    EXPECT_EQ(valve.kind, FarEnd::Kind::Winding);
    EXPECT_EQ(valve.otherWire, "F2 15 A");
    EXPECT_EQ(valve.name, "solenoid");
    EXPECT_FALSE(valve.amperes);
    EXPECT_FALSE(valve.isNamed);
    const FarEnd button = parseFarEnd("horn button from +");
    EXPECT_EQ(button.otherWire, "battery plus");
    EXPECT_EQ(button.name, "horn button");
}

TEST(FarEnd, ALightBarrierIsNoLamp)
{
    for (const char* words : {"light barrier, feed 5, ground 6", "light curtain", "optical sensor", "photocell"})
        EXPECT_EQ(parseFarEnd(words).kind, FarEnd::Kind::Hall) << words;
    EXPECT_EQ(parseFarEnd("light 21 W").kind, FarEnd::Kind::Lamp);
}

TEST(SheetWords, APartsNameHoldsNoneOfItsFiguresNorItsPlug)
{
    const std::pair<const char*, const char*> parts[] = {{"tilt valve 22-26 Ω at 20 °C, plug X4", "tilt valve"},
                                                         {"cab motor 4 A, returns 4", "cab motor"},
                                                         {"2 lamps 55 W", "2 lamps"},
                                                         {"NTC 2.5 kΩ at 25 °C in the sump", "NTC in the sump"},
                                                         {"heater of 1.2 Ω", "heater"},
                                                         {"door lock", "door lock"},
                                                         {"5 A", "5 A"}};
    for (const auto& [text, name] : parts)
        EXPECT_EQ(parseFarEnd(text).name, name) << text;
}

// "ground S4" names a ground point; with its way behind it S4 is a splice on it.
TEST(SheetWords, AWayToAGroundIsTheOtherWire)
{
    EXPECT_EQ(parseFarEnd("valve, ground S4 > G2").otherWire, "S4 > G2");
    EXPECT_EQ(parseFarEnd("valve, ground G2").otherWire, "ground G2");
}

}  // namespace
}  // namespace ilvek
