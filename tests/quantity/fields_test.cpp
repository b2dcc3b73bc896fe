#include "quantity/fields.h"

#include <gmock/gmock.h>

#include <nlohmann/json.hpp>

namespace ilvek {
namespace {

using nlohmann::json;
using testing::HasSubstr;

TEST(Fields, ReadEachKindAndNameEachFault)
{
    const json object{
        {"t", "x"},    {"n", 3},     {"q", "4.7 kΩ"},    {"list", {"a", "b"}}, {"objects", {json::object()}},
        {"yes", true}, {"extra", 1}, {"note", "ignored"}};
    Problems problems;
    Fields f(object, "thing", problems);
    EXPECT_EQ(f.text("t", Need::Required), "x");
    EXPECT_EQ(f.whole("n", 1, 5, Need::Required), 3);
    EXPECT_DOUBLE_EQ(f.quantity("q", Unit::Ohm, 1, 1e6, Need::Required)->value, 4700);
    EXPECT_EQ(f.texts("list", Need::Required), (std::vector<std::string>{"a", "b"}));
    EXPECT_EQ(f.objects("objects", Need::Required).size(), 1U);
    EXPECT_TRUE(f.flag("yes"));
    EXPECT_FALSE(f.flag("no"));
    EXPECT_EQ(f.object("none", Need::Optional), nullptr);
    EXPECT_TRUE(problems.empty());
    f.reportUnknown();
    ASSERT_EQ(problems.size(), 1U);
    EXPECT_EQ(problems[0].message(), "thing, extra: is no field that is known here");
}

TEST(Fields, GoOnAfterAFault)
{
    const json object{{"t", 7}, {"n", "three"}, {"q", "4.7 V"}, {"list", {1}}, {"yes", "yes"}, {"big", 99}};
    Problems problems;
    Fields f(object, "thing", problems);
    f.text("t", Need::Required);
    f.whole("n", 1, 5, Need::Required);
    f.quantity("q", Unit::Ohm, 1, 1e6, Need::Required);
    f.texts("list", Need::Required);
    f.flag("yes");
    f.whole("big", 1, 5, Need::Optional);
    f.text("missing", Need::Required);
    ASSERT_EQ(problems.size(), 7U) << "all of them, not only the first";
    EXPECT_THAT(problems[2].message(), HasSubstr("this is in volts, but ohms are asked for"));
    EXPECT_THAT(problems[6].message(), HasSubstr("missing: is missing"));
}

TEST(Fields, WhatIsNoObjectReadsAsAbsent)
{
    Problems problems;
    const json number = 5;
    Fields f(number, "thing", problems);
    EXPECT_FALSE(f.isObject());
    EXPECT_EQ(f.text("t", Need::Optional), "");
    f.reportUnknown();
    EXPECT_EQ(problems.size(), 1U);
}

TEST(Json, NamesLineAndColumn)
{
    const auto read = parseJson("{\n  \"a\": 1,\n  b\n}", "x.json");
    ASSERT_FALSE(read);
    EXPECT_THAT(read.error().message(), HasSubstr("x.json, line 3"));
}

TEST(Json, StopsAtSixtyFourLevels)
{
    EXPECT_TRUE(parseJson(std::string(60, '[') + std::string(60, ']'), "x"));
    EXPECT_FALSE(parseJson(std::string(70, '[') + std::string(70, ']'), "x"));
}

}  // namespace
}  // namespace ilvek
