// A hand-over file names only what is on its map; and every circumstance of a reading comes through it.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/text.h"
#include "bench_map/pin_sheet.h"
#include "job/hand_over.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

Reading plain()
{
    Reading r;
    static_cast<ilvek::SetUp&>(r) = test::setUpAt(test::hauler(), "A3 > A6; key on");
    r.test = TestKind::OpenSupply;
    r.terminal = "A3";
    r.value = volts(25.05);
    return r;
}

std::string problemsOf(EventBody body)
{
    JobContent content{test::hauler().document, {}};
    content.events.push_back({7, 1'700'000'000'000, std::move(body)});
    const auto read = readHandOver(writeHandOver(content), "job.json");
    if (read) return "read";
    std::string all;
    for (const Error& problem : read.error())
        all += problem.message() + "\n";
    return all;
}

template <class Change>
std::string with(Change change)
{
    Reading r = plain();
    change(r);
    return problemsOf(r);
}

TEST(HandOverNames, WhatIsOnTheMapIsRead)
{
    EXPECT_EQ(problemsOf(plain()), "read");
    EXPECT_EQ(problemsOf(StateChange{"key-off"}), "read");
    EXPECT_EQ(problemsOf(Repair{0, {"F1", "A3"}, "mended"}), "read");
    EXPECT_EQ(problemsOf(Note{"no names in it"}), "read");
}

TEST(HandOverNames, WhatIsNotIsRefusedByItsName)
{
    EXPECT_THAT(with([](Reading& r) { r.red = "X9.a"; }), HasSubstr("entry 7: the place “X9.a” is not on the map"));
    EXPECT_THAT(with([](Reading& r) { r.black = "nowhere"; }), HasSubstr("the place “nowhere”"));
    EXPECT_THAT(with([](Reading& r) { r.state = "asleep"; }), HasSubstr("the state “asleep”"));
    EXPECT_THAT(with([](Reading& r) { r.terminal = "Q1"; }), HasSubstr("the terminal “Q1”"));
    EXPECT_THAT(with([](Reading& r) { r.unplugged = {"Z"}; }), HasSubstr("the connector “Z”"));
    EXPECT_THAT(with([](Reading& r) { r.unpinned = {"Z1"}; }), HasSubstr("the terminal “Z1”"));
    EXPECT_THAT(with([](Reading& r) { r.removed = {"F99"}; }), HasSubstr("the part “F99”"));
    EXPECT_THAT(with([](Reading& r) { r.jumpers = {{"A3.a", "moon", 5}}; }), HasSubstr("the place “moon”"));
    EXPECT_THAT(with([](Reading& r) { r.load = "candle", r.loadFrom = "A3.a", r.loadTo = "A6.a"; }),
                HasSubstr("the load “candle”"));
    EXPECT_THAT(with([](Reading& r) { r.commands = {{"driver Z", 1}}; }), HasSubstr("the part “driver Z”"));
    EXPECT_THAT(with([](Reading& r) { r.warmed = {{"sun", 60}}; }), HasSubstr("the part “sun”"));
    EXPECT_THAT(with([](Reading& r) { r.conductor = "river"; }), HasSubstr("the conductor “river”"));
    EXPECT_THAT(problemsOf(StateChange{"asleep"}), HasSubstr("asleep"));
    EXPECT_THAT(problemsOf(Assumption{"Q1", "looks new"}), HasSubstr("Q1"));
    EXPECT_THAT(problemsOf(Repair{0, {"F99"}, "mended"}), HasSubstr("F99"));
    PinRow row;
    row.connector = "A", row.cavity = 3, row.written = "A3", row.role = "wizard";
    EXPECT_THAT(problemsOf(MapCorrection{"A3", writePinRow(row)}), HasSubstr("“wizard” is no role"));
}

TEST(HandOverNames, ATerminalThatTheJobAddedIsOnItsMap)
{
    JobContent content{test::hauler().document, {}};
    PinRow row;
    row.connector = "B", row.cavity = 9, row.written = "B9", row.circuit = "horn", row.role = "low-side drive";
    content.events.push_back({1, 1'700'000'000'000, MapCorrection{"B9", writePinRow(row)}});
    Reading r = plain();
    r.terminal = "B9", r.red = "B9.a", r.test = TestKind::Level;
    content.events.push_back({2, 1'700'000'001'000, r});
    const auto read = readHandOver(writeHandOver(content), "job.json");
    EXPECT_TRUE(read) << read.error().front().message();
}

TEST(HandOverNames, EveryCircumstanceOfAReadingComesThrough)
{
    Reading r;
    static_cast<ilvek::SetUp&>(r) = test::setUpAt(
        test::hauler(),
        "A3 > A6; key off; apart A; unpinned A4; pulled K7; load 21 W lamp; bridged F3 in > F3 out 7.5 A; commanded B1 "
        "35 %; clamp A2; leads 0.25 ohm; touched sill; shut down");
    r.warmed = {{"load B1", 61.5}};
    r.test = TestKind::LoadedSupply;
    r.terminal = "A3";
    r.value = {11.8, Unit::Volt, false, 0.1};
    r.most = 12.4;
    JobContent content{test::hauler().document, {}};
    content.events.push_back({1, 1'700'000'000'000, r});
    const auto read = readHandOver(writeHandOver(content), "job.json");
    ASSERT_TRUE(read) << read.error().front().message();
    EXPECT_EQ(std::get<Reading>(read->events.front().body), r);
}

TEST(HandOverNames, VersionOneIsRead)
{
    std::string text = test::sourceText("data/demo/reduced-power.json");
    const auto at = text.find("\"version\": 2");
    ASSERT_NE(at, std::string::npos);
    text.replace(at, 12, "\"version\": 1");
    EXPECT_TRUE(readHandOver(text, "old.json"));
}

}  // namespace
}  // namespace ilvek
