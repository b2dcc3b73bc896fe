// Units beside the module, of which a list names the feed on one row and the end of the bus on another; and what two
// columns of one meaning say.
#include <gmock/gmock.h>

#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"
#include "proving/judge.h"
#include "support/maps.h"
#include "support/weighed.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;
using testing::HasSubstr;

const Map& sweeper()
{
    static const Map map = test::mapOfRows(
        "terminal;wire;what;role;via;load or unit;A\n"
        "C1;rd;feed;supply;F11 10 A;;\n"
        "C2;bn;minus;ground;G2;;\n"
        "C3;ye;bus high;CAN high;X20-3 > S8;;\n"
        "C4;gn;bus low;CAN low;X20-4 > S9;;\n"
        ";;bus end;bus node;S8, S9;module BR-1, termination, plug X30;\n"
        ";;bus mid;bus node;S8, S9;module WP-2, no termination, plug X31;\n"
        ";;broom unit feed;consumer;F13 15 A;module BR-1;\n"
        ";;water unit feed;consumer;F14 10 A;module WP-2;\n",
        24);
    return map;
}

TEST(Units, OneOnTwoRowsComesOffWithItsPlug)
{
    const auto apart = conditionOf(sweeper(), test::setUpAt(sweeper(), "F13 out > minus; key off; apart X30"));
    ASSERT_TRUE(apart);
    EXPECT_TRUE(apart->removed.contains(sweeper().elementIndex("broom unit feed")));
    EXPECT_TRUE(apart->removed.contains(sweeper().elementIndex("bus end termination")));
    EXPECT_FALSE(apart->removed.contains(sweeper().elementIndex("water unit feed")));
}

// The short goes away with the unit: it is in there, and the ohms beyond the range say so though no page tells any.
TEST(Units, AShortThatGoesWithTheUnitIsInsideIt)
{
    OneJob job(sweeper());
    job.take("plus > minus; key on", "24.9 V");
    job.take("F13 in > minus; key on", "24.8 V");
    job.take("F13 out > minus; key on", "0.0 V");
    job.take("F13 out > minus; key off; pulled F13", "0.8 ohm");
    job.take("F13 out > minus; key off; pulled F13; apart X30", "OL");
    const Reasoning r = weighed(job)->reason({});
    EXPECT_TRUE(r.doubtful.empty());
    ASSERT_FALSE(r.groups.empty());
    EXPECT_THAT(r.groups.front().words, HasSubstr("broom unit feed"));
    EXPECT_THAT(r.groups.front().words, HasSubstr("shorted inside"));
    EXPECT_GT(r.groups.front().probability, 0.9);
}

TEST(Units, OhmsBeyondTheRangeOfASoundOneAccuseNothing)
{
    OneJob job(sweeper());
    job.take("plus > minus; key on", "24.9 V");
    job.take("F13 out > minus; key off; pulled F13", "OL");
    job.take("F14 out > minus; key off; pulled F14", "8.2 kohm");
    const Reasoning r = weighed(job)->reason({});
    EXPECT_TRUE(r.doubtful.empty());
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open);
    EXPECT_LT(r.groups.front().probability, 0.6);
}

// What leaks through a drive that is off, behind the range of most meters, is no figure to be missed.
TEST(Units, BeyondTheRangeOfMetersAFigureAndNoneAreTheSame)
{
    const Map map = test::mapOfRows(
        "terminal;name;role;route;device\n"
        "1;supply;supply, always;F1 10 A;\n"
        "2;0 V;ground;G1;\n"
        "3;fan contactor;low side;X1-1;coil of K1, other end S1 > F2 5 A\n"
        "4;damper;low side;X2-1;solenoid 60 Ω at plug D1, other wire S1\n"
        ";fan;consumer;K1 > F9 50 A;motor 25 A, ground G2\n"
        ";display;consumer;F2;module DU-4, plug U1\n",
        24);
    for (const char* shown : {"OL", "22 Mohm", "5.1 Mohm"}) {
        OneJob job(map);
        job.take("plus > minus; key on", "25.1 V");
        job.take("F2 out > minus; key on", "25.0 V");
        EXPECT_EQ(job.take("F2 out > minus; key off; pulled F2", shown).verdict, Verdict::Noted) << shown;
        const Reasoning r = weighed(job)->reason({});
        EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open) << shown;
        ASSERT_FALSE(r.groups.empty());
        EXPECT_EQ(r.groups.front().members.front(), 0) << shown << ": " << r.groups.front().words;
    }
    OneJob job(map);
    job.take("plus > minus; key on", "25.1 V");
    EXPECT_EQ(job.take("F2 out > minus; key off; pulled F2", "1.9 ohm").verdict, Verdict::Low);
}

PinSheet sheetOf(const std::string& csv)
{
    const auto sheet = readPinSheet(csv, "sheet");
    EXPECT_TRUE(sheet) << (sheet ? "" : sheet.error().message());
    return sheet ? *sheet : PinSheet{};
}

TEST(PinSheet, OfTwoColumnsForTheFarEndTheOneThatSaysWhereItGoesIsTheWay)
{
    const PinSheet sheet = sheetOf(
        "No;signal;kind;goes to;load;amps\n"
        "1;main;supply, always;F1 40 A;;12 A\n"
        "3;minus;ground;G1;;\n"
        "7;brush contactor;low side;X3-1;coil of K1, other end S2;\n"
        "8;lift;low side;motor 3 A, other wire S2;;\n");
    ASSERT_EQ(sheet.rows.size(), 4U);
    EXPECT_EQ(sheet.rows[0].route, "F1 40 A");
    EXPECT_EQ(sheet.rows[0].current, "12 A") << "no column names a fuse: the amperes are the circuit's";
    EXPECT_EQ(sheet.rows[2].route, "X3-1");
    EXPECT_EQ(sheet.rows[2].otherEnd, "coil of K1, other end S2");
    EXPECT_EQ(sheet.rows[3].otherEnd, "motor 3 A, other wire S2");
    EXPECT_TRUE(sheet.rows[3].route.empty());
}

TEST(PinSheet, AmpsBesideAFuseAreItsRating)
{
    const PinSheet sheet = sheetOf("pin;signal;kind;fuse;amps\n1;main;supply, always;F1;40\n3;minus;ground;;\n");
    ASSERT_EQ(sheet.rows.size(), 2U);
    EXPECT_EQ(sheet.rows[0].fuseRating, "40");
    EXPECT_TRUE(sheet.rows[0].current.empty());
}

TEST(PinSheet, AmpsBesideAFuseWithoutARatingAreNeither)
{
    const PinSheet sheet = sheetOf(
        "pin;signal;kind;route;amps\n1;main;supply, always;F1;40\n2;side;supply, always;F2;3.4\n3;minus;ground;G1;\n");
    ASSERT_EQ(sheet.rows.size(), 3U);
    EXPECT_TRUE(sheet.rows[0].current.empty());
    EXPECT_EQ(sheet.rows[1].current, "3.4") << "no fuse is made for that";
    ASSERT_FALSE(sheet.remarks.empty());
    EXPECT_THAT(sheet.remarks.front().reason, HasSubstr("behind the fuse"));
}

TEST(PinSheet, TwoColumnsOfOneMeaningAreBothKept)
{
    const PinSheet sheet = sheetOf(
        "pin;signal;kind;route;page;drawing;expected;normal\n"
        "1;main;supply, always;F1 40 A;4;12;key off 12..13 V;\n"
        "3;minus;ground;G1;;7;;\n"
        "4;lever;analogue input;X1-1;5;;key on 0.5..1 V;commanded 2..3 V\n");
    ASSERT_EQ(sheet.rows.size(), 3U);
    EXPECT_EQ(sheet.rows[0].source, "4, 12");
    EXPECT_EQ(sheet.rows[0].expected, "key off 12..13 V");
    EXPECT_EQ(sheet.rows[1].source, "7");
    EXPECT_EQ(sheet.rows[2].expected, "key on 0.5..1 V / commanded 2..3 V");
}

// A battery just charged, or with the charger on, is no fault of a machine of which no page tells a range.
TEST(Units, ABatteryThatIsChargedIsNotedAboveWhatIsCustomary)
{
    OneJob job(sweeper());
    for (const char* charged : {"26.4 V", "27.6 V", "28.6 V"}) {
        const Judgement& j = job.take("plus > minus; key on", charged);
        EXPECT_EQ(j.verdict, Verdict::Noted) << charged;
        EXPECT_EQ(j.word, "Above its range") << charged;
        EXPECT_FALSE(j.traps.empty()) << charged;
    }
    EXPECT_EQ(job.take("plus > minus; key on", "29.4 V").verdict, Verdict::High);
    EXPECT_EQ(job.take("plus > minus; key on", "22.9 V").verdict, Verdict::Low);
}

const Map& blower()
{
    static const Map map = test::storyMap("bark-blower");
    return map;
}

// Nodes that are listed, told by the pin of their line: a load of its own for "other nodes" had made OL a fault.
TEST(Units, NodesThatAreListedOnALineStandForThemselves)
{
    for (const char* node : {"keypad", "joystick"})
        EXPECT_GE(blower().elementIndex(node), 0) << node;
    for (const Element& e : blower().elements)
        EXPECT_FALSE(e.name.starts_with("other nodes")) << e.id;
    const PinSheet sheet = sheetOf(
        "pin;name;kind;route;end\n1;main;supply, always;F1 5 A;\n2;minus;ground;G1;\n3;line;LIN;X1-1;\n"
        ";dash;bus node;9;plug P5\n");
    NewMachine machine;
    const auto refused = mapFromSheet(sheet.rows, machine);
    ASSERT_FALSE(refused) << "9 is no pin of the sheet, and may be anything";
    EXPECT_THAT(refused.error().front().message(), HasSubstr("row 5, route"));
}

// What hangs on a reference beside what is listed nobody knows: there may be none of it, and there is one of it.
TEST(Units, SensorsThatNobodyListedFailNoOhms)
{
    const Map map = test::mapOfRows(
        "pin;name;kind;route;end\n1;main;supply, always;F1 5 A;\n2;minus;ground;G1;\n"
        "5;encoder A;hall input;X2-1;encoder, supply 7, return 8\n"
        "7;encoder plus;reference 10 V;X2-3;\n8;encoder minus;sensor ground;X2-4;\n",
        24);
    EXPECT_EQ(std::ranges::count_if(map.elements, [](const Element& e) { return e.name.starts_with("sensors on"); }),
              1);
    OneJob job(map);
    const char* pair = "X2-3 far side > X2-4 far side; key off; apart X2";
    for (const char* ohms : {"2.4 kΩ", "90 kΩ", "OL"})
        EXPECT_NE(job.take(pair, ohms).verdict, Verdict::High) << ohms;
    EXPECT_EQ(job.take(pair, "18 Ω").verdict, Verdict::Low);
}

}  // namespace
}  // namespace ilvek
