#include "circuit/operating_point.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/maps.h"

namespace ilvek {
namespace {

OperatingPoint solved(const Map& map, const Condition& condition)
{
    auto point = operatingPoint(map, condition);
    EXPECT_TRUE(point) << (point ? "" : point.error().message());
    return point ? *point : OperatingPoint{};
}

Condition inState(const Map& map, const std::string& state)
{
    Condition condition;
    condition.state = map.stateIndex(state);
    return condition;
}

// By hand: the port draws 1.2 A, the reference 5 mA, the meter nothing. Feed: 10 mΩ battery, 10 mΩ fuse, 10 mΩ switch,
// 10 mΩ for each metre of wire (0.01724 Ω mm²/m over 1.724 mm²); 10 µΩ is the least a contact may have.
TEST(OperatingPoint, AgreesWithTheArithmeticOfASmallCircuit)
{
    const Map& map = test::smallMap();
    const auto point = solved(map, inState(map, "key-on"));
    const double current = 1.2 + 5.0 / 1002 + 5e-6;
    const double feed = 12.0 - current * (0.010 + 0.010 + 0.010 + 0.010 + 0.010 + 2e-5);
    EXPECT_NEAR(point.potential(map.nodeIndex("M-1.b")), feed, 1e-3);
    EXPECT_NEAR(point.potential(map.nodeIndex("M-2.a")), current * (0.010 + 0.001 + 0.001), 1e-3);
    EXPECT_NEAR(point.voltage(map.nodeIndex("M-3.a"), map.nodeIndex("M-4.a")), 5.0, 0.005);
    EXPECT_NEAR(point.voltage(map.nodeIndex("M-5.a"), map.nodeIndex("M-4.a")), 2.5, 0.01);
}

TEST(OperatingPoint, IsDeadWithTheKeyOff)
{
    const Map& map = test::smallMap();
    const auto point = solved(map, inState(map, "key-off"));
    EXPECT_NEAR(point.potential(map.nodeIndex("M-1.a")), 0.0, 1e-3);
    EXPECT_NEAR(point.potential(map.batteryPlus()), 12.0, 1e-6);
}

// Kirchhoff: what flows through the chain of single elements is the same in each.
TEST(OperatingPoint, TheCurrentIsTheSameAlongAnUnbranchedFeed)
{
    const Map& map = test::smallMap();
    Condition condition = inState(map, "key-on");
    condition.load = AppliedLoad{*findLoad(12, "lamp-21w"), map.nodeIndex("M-1.a"), map.nodeIndex("M-2.a")};
    const auto point = solved(map, condition);
    const double fuse = point.currentThrough(map.elementIndex("F1"));
    for (const char* id : {"KEY", "W1", "X-1", "W2"})
        EXPECT_NEAR(point.currentThrough(map.elementIndex(id)), fuse, 1e-5) << id;
    EXPECT_NEAR(fuse, -point.currentThrough(map.elementIndex("B")), 1e-5);
    EXPECT_NEAR(fuse, point.currentThrough(map.elementIndex("P")) + point.loadCurrent() + 5.0 / 1000, 2e-3);
}

TEST(OperatingPoint, AFaultIsAnEdit)
{
    const Map& map = test::smallMap();
    Condition condition = inState(map, "key-on");
    condition.faults = {{Fault::Kind::AddedResistance, map.elementIndex("X-1"), -1, -1, 2.0}};
    const auto weak = solved(map, condition);
    EXPECT_NEAR(weak.voltage(map.nodeIndex("X-1.a"), map.nodeIndex("X-1.b")), 2.0 * 1.205, 0.01);
    condition.faults = {{Fault::Kind::Open, map.elementIndex("X-1")}};
    const auto open = solved(map, condition);
    EXPECT_LT(open.potential(map.nodeIndex("M-1.a")), 0.1);
    condition.faults = {{Fault::Kind::ShortBetween, -1, map.nodeIndex("M-1.a"), map.nodeIndex("B.-"), 1.0}};
    EXPECT_GT(solved(map, condition).currentThrough(map.elementIndex("F1")), 11.0);
}

// Solutions are kept for conditions asked again; a condition or a map that differs in anything is solved anew.
TEST(OperatingPoint, WhatIsKeptIsNeverTakenForAnother)
{
    const Map& map = test::smallMap();
    Condition condition = inState(map, "key-on");
    const double first = solved(map, condition).potential(map.batteryPlus());
    EXPECT_EQ(solved(map, condition).potential(map.batteryPlus()), first);
    condition.batteryEmf_V = 10.0;
    EXPECT_LT(solved(map, condition).potential(map.batteryPlus()), 10.0);
    condition.batteryEmf_V.reset();
    std::string text = test::smallMapText();
    text.replace(text.find("\"emf\":\"12 V\""), 12, "\"emf\":\"11 V\"");
    const auto other = readMap(text, "other");
    ASSERT_TRUE(other);
    EXPECT_LT(solved(*other, condition).potential(other->batteryPlus()), 11.0);
    EXPECT_EQ(solved(map, condition).potential(map.batteryPlus()), first);
}

TEST(OperatingPoint, TheMeterIsInTheCircuit)
{
    const Map& map = test::smallMap();
    Condition condition = inState(map, "key-on");
    condition.unplugged = {map.connectorIndex("M")};
    // Half a megohm in series reads five per cent low through ten.
    condition.faults = {{Fault::Kind::AddedResistance, map.elementIndex("X-1"), -1, -1, 0.5e6}};
    condition.meter = Meter{map.nodeIndex("M-1.a"), map.nodeIndex("B.-"), 10e6};
    const auto point = solved(map, condition);
    EXPECT_NEAR(point.potential(map.nodeIndex("M-1.a")), 12.0 * 10.0 / 10.5, 0.02);
}

TEST(OperatingPoint, AnUnpluggedTerminalFloats)
{
    const Map& map = test::smallMap();
    Condition condition = inState(map, "key-on");
    condition.unplugged = {map.connectorIndex("M"), map.connectorIndex("X")};
    const auto point = solved(map, condition);
    EXPECT_TRUE(point.isFloating(map.nodeIndex("M-1.a")));
    EXPECT_FALSE(point.isFloating(map.nodeIndex("M-2.a")));
}

// The same network by dense Gauss elimination, as slow and obvious as can be: a ladder of plain resistances.
TEST(OperatingPoint, AgreesWithAnEliminationByHandOnALadder)
{
    // 12 V behind 10 mΩ; with the module apart and a 6 Ω load only series resistances carry current.
    const Map& map = test::smallMap();
    Condition condition = inState(map, "key-on");
    condition.unplugged = {map.connectorIndex("M")};
    SubstituteLoad six{"six", "six ohms", LoadKind::Resistor, 12, 2, 0};
    condition.load = AppliedLoad{six, map.nodeIndex("M-1.a"), map.nodeIndex("M-2.a")};
    const auto point = solved(map, condition);
    const double series = 0.010 + 0.010 + 0.010 + 0.010 + 1e-5 + 0.010 + 0.010 + 0.001 + 0.001;
    const double current = 12.0 / (6.0 + series);
    EXPECT_NEAR(point.loadCurrent(), current, 1e-6);
    EXPECT_NEAR(point.voltage(map.nodeIndex("M-1.a"), map.nodeIndex("M-2.a")), 6.0 * current, 1e-5);
}

TEST(OperatingPoint, EveryStateOfTheDemonstrationMachineSettlesAndKeepsItsTable)
{
    const Map& map = test::pt9();
    for (std::size_t s = 0; s < map.states.size(); ++s) {
        Condition condition;
        condition.state = static_cast<int>(s);
        const auto point = solved(map, condition);
        EXPECT_FALSE(point.chatters()) << map.states[s].id;
        const double battery = point.potential(map.batteryPlus());
        for (const int index : map.moduleTerminals()) {
            const Terminal& t = map.terminal(index);
            if (t.a < 0 || t.asFound == AsFound::Empty) continue;
            const double reading =
                point.voltage(t.a, t.ownReturn >= 0 && groupOf(*t.role) != Group::Supplies ? map.terminal(t.ownReturn).a
                                                                                           : map.batteryMinus());
            bool anyInside = false, any = false;
            for (const Expected& e : t.expected) {
                if (e.state != static_cast<int>(s) || e.measure == Measure::Resistance) continue;
                const double value = e.measure == Measure::BelowBattery ? battery - reading : reading;
                any = true;
                anyInside = anyInside || (value >= e.low.value_or(-1e9) && value <= e.high.value_or(1e9));
            }
            EXPECT_TRUE(!any || anyInside) << t.id << " reads " << reading << " in " << map.states[s].id;
        }
    }
}

TEST(OperatingPoint, TheDemonstrationFaultShowsAsTheScenarioSays)
{
    const Map& map = test::pt9();
    Condition condition = inState(map, "key-on");
    condition.faults = {{Fault::Kind::AddedResistance, map.elementIndex("X4-7"), -1, -1, 4.0}};
    const int terminal = map.nodeIndex("J2-1.a");
    const auto mated = solved(map, condition);
    const double shortfall = mated.potential(map.batteryPlus()) - mated.potential(terminal);
    EXPECT_GT(shortfall, 0.2) << "a few tenths low at rest, by the module's own standing current";
    EXPECT_LT(shortfall, 0.6);
    condition.unplugged = {map.connectorIndex("J2")};
    const auto apart = solved(map, condition);
    EXPECT_LT(apart.potential(map.batteryPlus()) - apart.potential(terminal), 0.05) << "as if healthy when apart";
    Condition working = inState(map, "tiller-commanded");
    working.faults = condition.faults;
    EXPECT_LT(solved(map, working).potential(terminal), 6.0) << "collapses at work";
}

TEST(SubstituteLoad, AFilamentFollowsItsLawAboveTheColdCorner)
{
    for (const SubstituteLoad& load : loadCatalogue(12)) {
        EXPECT_NEAR(load.current_A(load.ratedVoltage_V), load.ratedCurrent_A, 1e-9) << load.id;
        EXPECT_NEAR(load.current_A(-5), -load.current_A(5), 1e-12);
        double before = 0;
        for (double v = 0.001; v < 30; v *= 1.01) {
            EXPECT_GE(load.current_A(v), before) << load.id << " falls at " << v;
            EXPECT_NEAR((load.current_A(v * 1.0001) - load.current_A(v)) / (v * 0.0001), load.slope_S(v),
                        0.02 * load.slope_S(v) + 1e-9)
                << load.id << " at " << v;
            before = load.current_A(v);
        }
    }
    const auto lamp = findLoad(12, "lamp-21w");
    ASSERT_TRUE(lamp);
    EXPECT_NEAR(lamp->current_A(6), 1.75 * std::pow(0.5, 0.55), 1e-9);
    EXPECT_NEAR(lamp->coldResistance_ohm(), 12 / 1.75 / 10, 1e-9);
    EXPECT_FALSE(findLoad(12, "no such"));
}

TEST(SubstituteLoad, TheCatalogueFollowsTheSystemVoltage)
{
    EXPECT_DOUBLE_EQ(findLoad(24, "lamp-21w")->ratedVoltage_V, 24);
    EXPECT_DOUBLE_EQ(findLoad(24, "lamp-21w")->ratedCurrent_A, 21.0 / 24);
}

TEST(SubstituteLoad, AnyLampByItsWattsAndAnyResistorByItsOhms)
{
    struct Typed {
        const char *words, *id;
        double hot_ohm;  // at 24 V
    };
    for (const Typed& t :
         {Typed{"70 W lamp", "lamp-70w", 576.0 / 70}, Typed{"70W", "lamp-70w", 576.0 / 70},
          Typed{"lamp 5 W", "lamp-5w", 576.0 / 5}, Typed{"2 x 70 W lamps", "lamps-2x70w", 576.0 / 140},
          Typed{"2 × 55 W lamps", "lamps-2x55w", 576.0 / 110}, Typed{"1,2 W bulb", "lamp-1.2w", 480},
          Typed{"47 Ω resistor", "resistor-47", 47}, Typed{"10 ohm", "resistor-10", 10},
          Typed{"resistor 4.7 Ω, 50 W", "resistor-4.7", 4.7}, Typed{"22 Ω resistor, 25 W", "resistor-22", 22}}) {
        const auto load = loadCalled(24, t.words);
        ASSERT_TRUE(load) << t.words;
        EXPECT_EQ(load->id, t.id);
        EXPECT_NEAR(load->current_A(24), 24 / t.hot_ohm, 1e-9) << t.words;
        EXPECT_EQ(findLoad(24, load->id), load) << "what is kept in a job is read again: " << t.words;
        EXPECT_EQ(loadCalled(24, load->name), load) << load->name;
    }
    for (const char* none : {"", "lamp", "0 W lamp", "9000 W lamp", "99 x 5 W", "0 ohm", "5 W motor", "70 Watts in"})
        EXPECT_FALSE(loadCalled(24, none)) << none;
}

}  // namespace
}  // namespace ilvek
