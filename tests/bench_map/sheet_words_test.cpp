// What people write into a pin sheet, taken one cell at a time.
#include "bench_map/sheet_words.h"

#include <gmock/gmock.h>

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

}  // namespace
}  // namespace ilvek
