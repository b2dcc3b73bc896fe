#include "machine/map_reader.h"

#include <gmock/gmock.h>

#include <nlohmann/json.hpp>

#include "support/maps.h"

namespace ilvek {
namespace {

using nlohmann::json;
using testing::HasSubstr;

std::string allProblems(const std::string& text)
{
    const auto map = readMap(text, "x.json");
    std::string out;
    if (map) return out;
    for (const Error& problem : map.error())
        out += problem.message() + "\n";
    return out;
}

json small()
{
    return json::parse(test::smallMapText());
}

json& element(json& map, const std::string& id)
{
    for (json& e : map["elements"]) {
        if (e["id"] == id) return e;
    }
    throw std::runtime_error("no element " + id);
}

TEST(MapReader, ReadsTheWholeDemonstrationMachine)
{
    const Map& map = test::pt9();
    EXPECT_EQ(map.title(), "Vintergarn PT-9");
    EXPECT_EQ(map.module, "DCU-54");
    EXPECT_EQ(map.moduleTerminals().size(), 54U);
    EXPECT_EQ(map.connectors[0].rows * map.connectors[0].columns, 26);
    EXPECT_EQ(map.connectors[1].rows * map.connectors[1].columns, 28);
    EXPECT_EQ(map.terminal(map.terminalIndex("J2-28")).asFound, AsFound::Empty);
    EXPECT_EQ(map.terminal(map.terminalIndex("J1-1")).colour, (Colour{"red", "yellow"}));
    EXPECT_EQ(map.terminal(map.terminalIndex("J2-26")).expected.size(), 2U) << "two sources disagree about it";
}

TEST(MapReader, EveryTerminalOfTheDemonstrationMachineHasAnExpectedValueWithASource)
{
    for (const int index : test::pt9().moduleTerminals()) {
        const Terminal& t = test::pt9().terminal(index);
        if (t.role == Role::Empty) continue;
        EXPECT_FALSE(t.expected.empty()) << t.id;
        for (const Expected& e : t.expected)
            EXPECT_FALSE(test::pt9().sourceId(e.source).empty()) << t.id;
    }
}

TEST(MapReader, NamesFileElementFieldAndReason)
{
    json map = small();
    element(map, "F1")["rating"] = "10 parsec";
    EXPECT_THAT(allProblems(map.dump()),
                HasSubstr("x.json: element F1, rating: 10 parsec: “parsec” is no unit that is known here"));
}

TEST(MapReader, ReportsAllFaultsAtOnce)
{
    json map = small();
    element(map, "F1")["rating"] = "-4 A";
    element(map, "W1").erase("length");
    map["connectors"][0]["cavities"][0]["role"] = "magic";
    map["connectors"][0]["cavities"][1]["cavity"] = 1;
    map["connectors"][0]["cavities"][4]["expected"][0].erase("source");
    const std::string problems = allProblems(map.dump());
    EXPECT_THAT(problems, HasSubstr("element F1, rating: −4 A is not possible"));
    EXPECT_THAT(problems, HasSubstr("element W1, length: is missing"));
    EXPECT_THAT(problems, HasSubstr("cavity M-1, role: “magic” is no role"));
    EXPECT_THAT(problems, HasSubstr("1 is listed twice"));
    EXPECT_THAT(problems, HasSubstr("cavity M-5, expected value 1, source: is missing"));
}

struct Fault {
    const char* name;
    void (*make)(json&);
    const char* says;
};

class OneFault : public testing::TestWithParam<Fault> {};

TEST_P(OneFault, IsNamed)
{
    json map = small();
    GetParam().make(map);
    EXPECT_THAT(allProblems(map.dump()), HasSubstr(GetParam().says));
}

INSTANTIATE_TEST_SUITE_P(
    Map, OneFault,
    testing::Values(
        Fault{"dangling", [](json& m) { element(m, "W2")["nodes"][1] = "nowhere"; },
              "element W2: its node nowhere leads nowhere else (dangling node)"},
        Fault{"unreached", [](json& m) { element(m, "W2")["nodes"][1] = "nowhere"; },
              "cavity M-1: no conductor reaches its wire side"},
        Fault{"noRole", [](json& m) { m["connectors"][0]["cavities"][0].erase("role"); },
              "cavity M-1, role: is missing"},
        Fault{"noSource", [](json& m) { m["connectors"][0]["cavities"][0]["expected"][0]["source"] = "Z"; },
              "there is no source Z"},
        Fault{"noCurrentSource", [](json& m) { m["connectors"][0]["cavities"][0].erase("current_source"); },
              "cavity M-1, current_source: is missing"},
        Fault{"noState", [](json& m) { m["connectors"][0]["cavities"][0]["needed_in"][0] = "asleep"; },
              "there is no state asleep"},
        Fault{"neverNeeded", [](json& m) { m["connectors"][0]["cavities"][0].erase("needed_in"); },
              "in which state this supply is needed"},
        Fault{"twice", [](json& m) { element(m, "W2")["id"] = "W1"; }, "element W1, id: is used twice"},
        Fault{"kind", [](json& m) { element(m, "W2")["kind"] = "fairy"; }, "“fairy” is no kind of element"},
        Fault{"nodes", [](json& m) { element(m, "W2")["nodes"].push_back("c"); },
              "a wire has 2 nodes (a, b), 3 are given"},
        Fault{"itself",
              [](json& m) {
                  element(m, "W4")["nodes"] = {"G", "G"};
              },
              "both of its ends are the same node"},
        Fault{"colour", [](json& m) { m["connectors"][0]["cavities"][0]["colour"] = "octarine"; },
              "octarine: is no wire colour"},
        Fault{"limits", [](json& m) { m["connectors"][0]["cavities"][0]["expected"][0]["low"] = "3 V"; },
              "is above the upper limit"},
        Fault{"noLimit",
              [](json& m) {
                  m["connectors"][0]["cavities"][0]["expected"][0].erase("low");
                  m["connectors"][0]["cavities"][0]["expected"][0].erase("high");
              },
              "a lower or an upper limit is needed"},
        Fault{"unknownField", [](json& m) { element(m, "W2")["lenght"] = "2 m"; },
              "element W2, lenght: is no field that is known here"},
        Fault{"noBattery", [](json& m) { m["machine"]["battery"] = "B9"; }, "there is no battery B9"},
        Fault{"noPath",
              [](json& m) {
                  element(m, "KEY")["kind"] = "resistor";
                  element(m, "KEY").erase("in");
              },
              "no path from battery plus to this supply"},
        Fault{"noWay",
              [](json& m) {
                  element(m, "W4")["kind"] = "resistor";
                  element(m, "W4").erase("length");
                  element(m, "W4").erase("section");
                  element(m, "W4")["resistance"] = "1 Ω";
              },
              "no path from this return to battery minus"},
        Fault{"cavityRange", [](json& m) { m["connectors"][0]["cavities"][0]["cavity"] = 7; }, "must lie from 1 to 6"},
        Fault{"unitMissing", [](json& m) { element(m, "F1")["rating"] = "10"; }, "the unit is missing"},
        Fault{"wrongType", [](json& m) { element(m, "F1")["rating"] = 10; },
              "a figure with its unit in quotes is expected"},
        Fault{"notAnObject", [](json& m) { m["elements"].push_back(7); }, "an object in braces is expected"},
        Fault{"listWanted", [](json& m) { m["states"] = "none"; }, "a list in brackets is expected"},
        Fault{"newer", [](json& m) { m["version"] = 99; }, "format version 99; this Ilvek reads version 1"},
        Fault{"foreign", [](json& m) { m["format"] = "shopping list"; }, "this is not an Ilvek map"}),
    [](const auto& one) { return one.param.name; });

TEST(MapReader, NamesThePlaceOfBrokenJson)
{
    EXPECT_THAT(allProblems("{\n \"format\": \n}"), HasSubstr("x.json, line 3, column 1"));
}

TEST(MapReader, RefusesHostileFiles)
{
    EXPECT_THAT(allProblems(std::string(100'000, '[')), HasSubstr("x.json"));
    EXPECT_THAT(allProblems(std::string(300, '[') + std::string(300, ']')), HasSubstr("nested deeper"));
    EXPECT_THAT(allProblems("{\"format\":\"\xFF\xFE\"}"), HasSubstr("not valid UTF-8"));
    EXPECT_THAT(allProblems(""), HasSubstr("not well-formed"));
    EXPECT_THAT(allProblems("[]"), HasSubstr("an object in braces"));
    EXPECT_THAT(allProblems("null"), HasSubstr("x.json"));
}

TEST(MapReader, LoadsNothingOfAFileCutShortAnywhere)
{
    const std::string text = test::smallMapText();
    for (std::size_t length = 0; length < text.size() - 1; length += 37)
        EXPECT_FALSE(readMap(text.substr(0, length), "x.json")) << length;
}

TEST(MapReader, SurvivesAnyOneValueReplaced)
{
    // Every value in turn becomes something of another type; the reader must name it or accept it, never fall over.
    const json original = small();
    const json flat = original.flatten();
    for (const auto& [pointer, value] : flat.items()) {
        for (const json& other :
             {json(nullptr), json(-1), json(1e300), json(""), json("∞"), json::array(), json::object(), json(true)}) {
            json changed = original;
            changed[json::json_pointer(pointer)] = other;
            const auto map = readMap(changed.dump(), "x.json");
            if (!map) {
                EXPECT_FALSE(map.error().empty()) << pointer;
            }
        }
    }
}

}  // namespace
}  // namespace ilvek
