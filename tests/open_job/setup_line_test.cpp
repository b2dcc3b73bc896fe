#include "open_job/setup_line.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "open_job/places.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

SetUp parsed(const Map& map, const char* line)
{
    const auto setUp = parseSetUp(map, line, "key-on");
    EXPECT_TRUE(setUp) << line << ": " << (setUp ? "" : setUp.error().message());
    return setUp.value_or(SetUp{});
}

std::string refusal(const Map& map, const char* line)
{
    const auto setUp = parseSetUp(map, line, "key-on");
    EXPECT_FALSE(setUp) << line;
    return setUp ? "" : setUp.error().message();
}

TEST(SetUpLine, EveryCircumstanceCanBeSaid)
{
    const Map& map = test::hauler();
    const ilvek::SetUp s =
        parsed(map,
               "A1 > A6; key off; apart A; unpinned A4; pulled K7, F1; load 21 W lamp; bridged F3 in > F3 "
               "out 20 A; commanded B1 60 %; clamp A2; leads 0.3 ohm; touched loom at the mast; shut down");
    EXPECT_EQ(s.red, "A1.a");
    EXPECT_EQ(s.black, "A6.a");
    EXPECT_EQ(s.state, "key-off");
    EXPECT_THAT(s.unplugged, ElementsAre("A"));
    EXPECT_THAT(s.unpinned, ElementsAre("A4"));
    EXPECT_THAT(s.removed, ElementsAre("K7", "F1"));
    EXPECT_EQ(s.load, "lamp-21w");
    EXPECT_EQ(s.loadFrom, "A1.a") << "between the leads where nothing else is said";
    ASSERT_EQ(s.jumpers.size(), 1U);
    EXPECT_EQ(s.jumpers[0].fuse_A, 20);
    ASSERT_EQ(s.commands.size(), 1U);
    EXPECT_EQ(s.commands[0].element, "driver B1");
    EXPECT_DOUBLE_EQ(s.commands[0].share, 0.6);
    EXPECT_EQ(s.conductor, "A2");
    EXPECT_EQ(s.testLeads_ohm, 0.3);
    EXPECT_EQ(s.touched, "loom at the mast");
    EXPECT_TRUE(s.inShutDown);
}

TEST(SetUpLine, TheSameMayBeSaidInOtherWords)
{
    const Map& map = test::hauler();
    const std::pair<const char*, const char*> same[] = {
        {"A1 > earth; ignition on", "A1 > battery minus; key on"},
        {"A1 > gnd; engine running", "A1 > battery minus; running"},
        {"A1 > negative; off", "A1 > battery minus; key off"},
        {"A1 > A6; A unplugged", "A1 > A6; apart A"},
        {"A1 > A6; unplugged connector A", "A1 > A6; apart A"},
        {"A1 > A6; relay K7 removed", "A1 > A6; pulled K7"},
        {"A1 > A6; fuse F1 pulled", "A1 > A6; pulled F1"},
        {"A1 > A6; jumper F3 in > F3 out 20 A", "A1 > A6; bridged F3 in > F3 out 20 A"},
        {"A1 > A6; B1 driven", "A1 > A6; commanded B1"},
        {"A1 > A6; commanded B1, B2 60 %", "A1 > A6; commanded B1; commanded B2 60 %"},
        {"A1 > A6; commanded B1 62,5 %", "A1 > A6; commanded B1 62.5 %"},
        {"A1 > A6; wiggled loom", "A1 > A6; touched loom"}};
    for (const auto& [other, usual] : same)
        EXPECT_EQ(parsed(map, other), parsed(map, usual)) << other;
    EXPECT_EQ(parsed(map, "A1 > A6; touched what was unplugged").touched, "what was unplugged");
}

TEST(SetUpLine, PlacesGoByTheNamesThatPeopleUse)
{
    const Map& map = test::hauler();
    const auto node = [&](const char* text) {
        const auto place = placeNamed(map, text);
        return place ? map.node(*place) : place.error().message();
    };
    EXPECT_EQ(node("a1"), "A1.a");
    EXPECT_EQ(node("A-1"), "A1.a") << "separators do not matter";
    EXPECT_EQ(node("A1 inside"), "A1.b");
    EXPECT_EQ(node("F3 out"), "F3.out");
    EXPECT_EQ(node("K7 86"), "K7.86");
    EXPECT_EQ(node("plus"), map.node(map.batteryPlus()));
    EXPECT_EQ(node("body"), map.node(map.batteryMinus()));
    EXPECT_EQ(node("SP1"), "SP1");
    EXPECT_THAT(node("Z9"), HasSubstr("no place of this machine"));
    EXPECT_THAT(node("A"), HasSubstr("may be A1"));
}

TEST(SetUpLine, APartGoesByItsNameOrItsPlugAndASwitchIsOperated)
{
    const Map& map = test::washer();
    const auto node = [&](const char* text) {
        const auto place = placeNamed(map, text);
        return place ? map.node(*place) : place.error().message();
    };
    EXPECT_EQ(node("wash valve control side"), "B3.end");
    EXPECT_EQ(node("W1 feed side"), "B3.far");
    EXPECT_EQ(node("w2 plus"), "wash pump.+");
    EXPECT_THAT(node("W1"), HasSubstr("no place"));
    EXPECT_EQ(parsed(map, "B8 > A7; operated B8").state, "b8-operated");
    EXPECT_THAT(refusal(map, "B3 > A7; operated B3"), HasSubstr("no state"));
    const auto pulled = elementNamed(map, "water pressure sensor");
    ASSERT_TRUE(pulled) << "one part, whatever rows name it";
    EXPECT_EQ(map.element(*pulled).id, "load B7");
}

TEST(SetUpLine, WhatCannotBeMeantIsNamedWithItsReason)
{
    const Map& map = test::hauler();
    EXPECT_THAT(refusal(map, "A1 > Z9"), HasSubstr("Z9"));
    EXPECT_THAT(refusal(map, "apart Q"), HasSubstr("no connector"));
    EXPECT_THAT(refusal(map, "A1 > A6; bridged F3 in > F3 out"), HasSubstr("say its rating"));
    EXPECT_THAT(refusal(map, "load candle at A1 > A6"), HasSubstr("21 W lamp"));
    EXPECT_THAT(refusal(map, "commanded F1"), HasSubstr("nothing that is commanded"));
    EXPECT_THAT(refusal(map, "A1 > A6; upside down"), HasSubstr("neither two places"));
    EXPECT_THAT(refusal(map, "load 21 W lamp"), HasSubstr("where it hangs"));
    EXPECT_THAT(refusal(map, "commanded B1 140 %"), HasSubstr("0 to 100 %"));
}

// Any set-up of any map, as a line and back.
class RandomSetUp {
public:
    RandomSetUp(const Map& map, unsigned seed) : map_(map), random_(seed) {}

    SetUp next()
    {
        SetUp s;
        s.red = one(map_.nodes), s.black = one(map_.nodes), s.state = one(map_.states).id;
        if (chance()) s.unplugged = {one(map_.connectors).id};
        if (chance()) s.removed = {one(map_.elements).id};
        if (chance()) s.unpinned = {one(map_.terminals).id};
        if (chance())
            s.load = one(loadCatalogue(map_.systemVoltage_V)).id, s.loadFrom = one(map_.nodes),
            s.loadTo = one(map_.nodes);
        if (chance()) s.jumpers = {{one(map_.nodes), one(map_.nodes), 5}, {one(map_.nodes), one(map_.nodes), 7.5}};
        for (const Element& e : map_.elements) {
            if (e.kind == ElementKind::LowSideDriver && s.commands.empty() && chance()) s.commands = {{e.id, 0.4}};
        }
        if (chance()) s.conductor = one(map_.elements).id;
        if (chance()) s.warmed = {{one(map_.elements).id, 85}};
        if (chance()) s.testLeads_ohm = 0.2;
        if (chance()) s.touched = "the sill, left";
        s.inShutDown = chance();
        return s;
    }

private:
    bool chance() { return random_() % 3 == 0; }
    template <class List>
    typename List::value_type one(const List& list)
    {
        return list[random_() % list.size()];
    }
    const Map& map_;
    std::mt19937 random_;
};

TEST(SetUpLine, ReadingItBackGivesTheSetUpAgain)
{
    for (const Map* map : {&test::hauler(), &test::pt9(), &test::smallMap()}) {
        RandomSetUp any(*map, 11);
        for (int n = 0; n < 150; ++n) {
            const ilvek::SetUp s = any.next();
            const std::string line = setUpLine(*map, s);
            const auto again = parseSetUp(*map, line, "");
            ASSERT_TRUE(again) << line << "\n" << again.error().message();
            EXPECT_EQ(*again, s) << line << "\n" << setUpLine(*map, *again);
        }
    }
}

// The panel reads the line at every key that is pressed.
TEST(SetUpLine, EveryBeginningOfALineIsReadOrRefused)
{
    const Map& map = test::hauler();
    const std::string lines[] = {
        "A1 > A6; key off; apart A; unpinned A4; pulled K7, F1; load 21 W lamp at A1 > A6; bridged F3 in > F3 out 20 A",
        "commanded B1 60 %; commanded B1 off; clamp A2; warmed load B1 to 60 °C; leads 0.3 ohm; touched sill; shut "
        "down"};
    for (const std::string& line : lines) {
        for (std::size_t n = 0; n <= line.size(); ++n) {
            for (const std::string& typed :
                 {line.substr(0, n), line.substr(n), line.substr(0, n) + " ", line.substr(0, n) + ";"})
                EXPECT_NO_THROW(static_cast<void>(parseSetUp(map, typed, "key-on"))) << typed;
        }
    }
}

TEST(Places, EveryPlaceIsFoundByItsName)
{
    for (const Map* map : {&test::hauler(), &test::pt9(), &test::smallMap()}) {
        for (const Place& p : placesOf(*map)) {
            const auto node = placeNamed(*map, p.name);
            ASSERT_TRUE(node) << p.name << ": " << node.error().message();
            EXPECT_EQ(*node, p.node) << p.name;
        }
    }
}

TEST(Places, AHalfOfAPlugByWhatItFacesAndTheFarEndOfAWire)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;power;supply, with key;X3-1 > F1 10 A;\n"
        "2;ground;return;X3-2 > G1;\n"
        "7;valve;drive, low side;X4-1;solenoid 8 Ω, other wire F2 10 A\n");
    const std::pair<const char*, const char*> places[] = {
        {"X3-1 module side", "X3-1.b"}, {"X3-1 battery side", "X3-1.a"}, {"x3-2 module side", "X3-2.a"},
        {"X3-2 ground side", "X3-2.b"}, {"X4-1 module side", "X4-1.a"},  {"X4-1 part side", "X4-1.b"},
        {"X4-1 source side", "X4-1.a"}, {"X4-1 far side", "X4-1.b"},     {"7 end", "7.end"},
        {"7 far end", "7.end"}};
    for (const auto& [typed, node] : places) {
        const auto found = placeNamed(map, typed);
        ASSERT_TRUE(found) << typed << ": " << found.error().message();
        EXPECT_EQ(map.node(*found), node) << typed;
    }
    for (const char* none : {"X9-1 module side", "7 module side of", "end", "module side"})
        EXPECT_FALSE(placeNamed(map, none)) << none;
}

const Map& cooler()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;power;supply, always;F1 10 A;\n"
        "2;ground;return;G1;\n"
        "3;fan relay;drives coil of K5;;coil of K5, other end F2\n"
        "4;horn relay;drives coil of K6;;coil of K6, other end G2\n"
        "5;pump bus;single-wire bus;;\n"
        "6;line high;differential bus, high;;\n"
        "7;line low;differential bus, low;;\n"
        ";fan;consumer;F8 30 A > K5;motor 12 A, ground G3\n"
        ";circulation unit;bus node;;plug X4, no termination\n"
        ";outer unit;bus node;X9;termination\n",
        24);
    return map;
}

TEST(Places, APartsEndsGoByTheWordsOfTheTrade)
{
    const Map& map = cooler();
    const std::pair<const char*, const char*> places[] = {
        {"fan feed end", "fan.+"},    {"fan +", "fan.+"},     {"fan plus", "fan.+"},
        {"fan ground side", "fan.-"}, {"K5 coil +", "K5.86"}, {"K5 coil feed", "K5.86"},
        {"K5 coil -", "K5.85"},       {"k6 coil +", "4.end"}, {"K6 coil minus", "4.far"}};
    for (const auto& [typed, node] : places) {
        const auto found = placeNamed(map, typed);
        ASSERT_TRUE(found) << typed << ": " << found.error().message();
        EXPECT_EQ(map.node(*found), node) << typed;
    }
    EXPECT_FALSE(placeNamed(map, "fan lid"));
}

// What it senses goes by the name of the alternator too; the drop of its case was noted at that input's return.
TEST(Places, TheAlternatorsOwnPostsGoBeforeWhatSensesIt)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;sense;supply, always;F2 5 A;\n"
        "3;ground;return;G1;\n"
        "5;feedback;analogue input;;alternator\n"
        ";alternator;source;F9 80 A;case G2\n");
    const Element& alternator = map.element(map.elementIndex("alternator"));
    ASSERT_EQ(alternator.kind, ElementKind::Alternator);
    EXPECT_EQ(*placeNamed(map, "alternator minus"), alternator.nodes[1]);
    EXPECT_EQ(*placeNamed(map, "alternator plus"), alternator.nodes[0]);
}

// The cavity of 3's wire in a plug, and the third cavity of that plug.
TEST(Places, ACavityThatNobodyKnowsIsNotTheOneOfThatNumber)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;power;supply, always;F1 10 A;\n"
        "2;ground;return;G1;\n"
        "3;sensor plus;5 V reference;;\n"
        "4;sensor minus;sensor ground;;\n"
        "5;gate;sensor signal;X1-3;\"sensor 3 wires, feed 3, ground 4\"\n");
    for (const char* line : {"X1-?3 far side > minus; key on", "X1-3 far side > minus; key on",
                             "X1-?3 part side > minus; key on", "X1-3 part side > minus; key on"}) {
        const auto read = parsed(map, line);
        EXPECT_EQ(read.red, std::string(line).starts_with("X1-?3") ? "X1-?3.b" : "X1-3.b") << line;
        EXPECT_EQ(parsed(map, setUpLine(map, read).c_str()), read) << line;
    }
}

// No connector of theirs is drawn: they are parted all the same.
TEST(SetUpLine, AUnitIsApartByItsNameOrByThatOfItsPlug)
{
    for (const char* line : {"6 > 7; key off; apart circulation unit", "6 > 7; key off; apart X4",
                             "6 > 7; key off; plug X4 unplugged", "6 > 7; key off; pulled circulation unit"})
        EXPECT_THAT(parsed(cooler(), line).removed, ElementsAre("circulation unit node")) << line;
    EXPECT_THAT(parsed(cooler(), "6 > 7; key off; apart X9").removed, ElementsAre("outer unit termination"));
    EXPECT_THAT(refusal(cooler(), "6 > 7; apart X5"), HasSubstr("no connector"));
}

TEST(SetUpLine, TheModuleIsApartByItsName)
{
    const auto all = parsed(cooler(), ("6 > 7; key off; apart " + cooler().module).c_str()).unplugged;
    EXPECT_THAT(
        all,
        ElementsAre(cooler()
                        .connectors[static_cast<std::size_t>(cooler().terminal(cooler().terminalIndex("6")).connector)]
                        .id));
}

TEST(SetUpLine, WhatIsCommandedIsSoWithTheKeyOnUnlessItIsSaidOtherwise)
{
    const auto state = [](const char* line) { return parseSetUp(cooler(), line, "key-off")->state; };
    EXPECT_EQ(state("3 > 2; commanded 3 40 %"), "key-on");
    EXPECT_EQ(state("3 > 2; commanded 3 off"), "key-off");
    EXPECT_EQ(state("3 > 2; key off; commanded 3 40 %"), "key-off");
    EXPECT_EQ(state("3 > 2; running; commanded 3 40 %"), "running");
    EXPECT_EQ(state("3 > 2"), "key-off");
}

// A drive that is fed by a terminal is not that terminal.
TEST(SetUpLine, WhatIsCommandedIsReadBackByTheTerminalThatItDrives)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;far end\n"
        "1;power;supply, with key;\n"
        "2;ground;return;\n"
        "6;belt;drive, high side;motor 9 A, ground G2\n"
        "7;fan;drive, high side;motor 4 A, ground G2\n");
    const ilvek::SetUp s = parsed(map, "7 > battery minus; commanded 7");
    ASSERT_EQ(s.commands.size(), 1U);
    EXPECT_EQ(s.commands[0].element, "driver 7");
    EXPECT_THAT(setUpLine(map, s), HasSubstr("commanded 7"));
    EXPECT_EQ(parsed(map, setUpLine(map, s).c_str()).commands, s.commands);
    EXPECT_THAT(refusal(map, "7 > battery minus; commanded 1"), HasSubstr("1"));
}

}  // namespace
}  // namespace ilvek
