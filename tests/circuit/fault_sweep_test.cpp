// The edited circuit against the same circuit with the fault built in and solved from cold.
#include "circuit/fault_sweep.h"

#include <gtest/gtest.h>

#include <cmath>

#include "circuit/operating_point.h"
#include "circuit/warm_circuit.h"
#include "machine/paths.h"
#include "support/maps.h"

namespace ilvek {
namespace {

std::vector<Fault> manyFaults(const Map& map)
{
    std::vector<Fault> faults;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const int e = static_cast<int>(i);
        const Element& element = map.elements[i];
        const ElementKindSpec& spec = specOf(element.kind);
        faults.push_back({Fault::Kind::Open, e});
        if (spec.conducts || spec.isLoad) {
            for (const double r : {0.3, 4.0, 800.0})
                faults.push_back({Fault::Kind::AddedResistance, e, -1, -1, r});
        }
        if (element.kind == ElementKind::Relay) {
            faults.push_back({Fault::Kind::StuckClosed, e});
            faults.push_back({Fault::Kind::AddedCoilResistance, e, -1, -1, 60});
        }
        if (element.kind == ElementKind::LowSideDriver || element.kind == ElementKind::HighSideDriver)
            faults.push_back({Fault::Kind::StuckClosed, e});
        if (element.kind == ElementKind::SupplyPort) faults.push_back({Fault::Kind::Dead, e});
        if (spec.isLoad || element.kind == ElementKind::Regulator)
            faults.push_back({Fault::Kind::OutOfValue, e, -1, -1, 0, 0.5});
    }
    for (std::size_t n = 0; n < map.nodes.size(); n += 2) {
        const int node = static_cast<int>(n);
        if (node == map.batteryMinus() || node == map.batteryPlus()) continue;
        for (const double r : {0.05, 5.0}) {
            faults.push_back({Fault::Kind::ShortBetween, -1, node, map.batteryMinus(), r});
            faults.push_back({Fault::Kind::ShortBetween, -1, node, map.batteryPlus(), r});
        }
    }
    return faults;
}

void agreesWithASolutionFromCold(const Map& map, const Condition& healthy, std::size_t every)
{
    auto sweep = FaultSweep::of(map, healthy);
    ASSERT_TRUE(sweep);
    const auto faults = manyFaults(map);
    for (std::size_t i = 0; i < faults.size(); i += every) {
        Condition condition = healthy;
        condition.faults = {faults[i]};
        const auto cold = operatingPoint(map, condition);
        ASSERT_TRUE(cold);
        ASSERT_TRUE(sweep->apply({faults[i]}));
        EXPECT_EQ(sweep->chatters(), cold->chatters());
        if (cold->chatters()) continue;  // it has no figure
        const std::string what = faults[i].element >= 0 ? map.element(faults[i].element).id
                                                        : map.node(faults[i].nodeA) + ":" + map.node(faults[i].nodeB);
        for (std::size_t n = 0; n < map.nodes.size(); ++n) {
            const int node = static_cast<int>(n);
            if (cold->isFloating(node)) continue;
            // Two routes through the same equations: they agree to the last digit of any meter.
            EXPECT_NEAR(sweep->voltage(node, map.batteryMinus(), INFINITY), cold->potential(node), 1e-4)
                << what << " kind " << static_cast<int>(faults[i].kind) << " at " << map.node(node);
            if (testing::Test::HasFailure()) return;
        }
    }
    std::printf("  %zu faults, %ld of them solved anew\n", faults.size() / every, sweep->refactorisations());
}

TEST(FaultSweep, AgreesWithTheCircuitBuiltWithTheFault)
{
    const Map& map = test::pt9();
    for (std::size_t s = 0; s < map.states.size(); ++s) {
        Condition condition;
        condition.state = static_cast<int>(s);
        agreesWithASolutionFromCold(map, condition, 5);
    }
}

TEST(FaultSweep, AgreesWithAConnectorApartAndALoadOn)
{
    const Map& map = test::pt9();
    Condition condition;
    condition.state = map.stateIndex("key-on");
    condition.unplugged = {map.connectorIndex("J2")};
    condition.load = AppliedLoad{loadCatalogue(12)[3], map.nodeIndex("J2-1.a"), map.nodeIndex("J2-3.a")};
    agreesWithASolutionFromCold(map, condition, 5);
}

TEST(FaultSweep, TakesTheMeterIntoAccount)
{
    // Half a megohm in the way of an open-circuit reading shows as five per cent (T2).
    const Map& map = test::pt9();
    Condition condition;
    condition.state = map.stateIndex("key-on");
    condition.unplugged = {map.connectorIndex("J2")};
    auto sweep = FaultSweep::of(map, condition);
    ASSERT_TRUE(sweep);
    const int red = map.nodeIndex("J2-1.a"), black = map.nodeIndex("J2-3.a");
    const Fault fault{Fault::Kind::AddedResistance, map.elementIndex("X4-7"), -1, -1, 0.5e6};
    ASSERT_TRUE(sweep->apply({fault}));
    condition.faults = {fault};
    condition.meter = Meter{red, black};
    const auto cold = operatingPoint(map, condition);
    ASSERT_TRUE(cold);
    EXPECT_NEAR(sweep->voltage(red, black, 10e6), cold->voltage(red, black), 1e-4);
    EXPECT_NEAR(sweep->voltage(red, black, 10e6) / sweep->voltage(red, black, INFINITY), 10.0 / 10.5, 1e-3);
}

TEST(FaultSweep, TakesTheMeterIntoAccountBehindEveryNearlyOpenPart)
{
    // Where only the meter and leaks are left behind a part the small matrix is nearly singular: the guard's case.
    const Map& map = test::pt9();
    for (const char* state : {"key-off", "key-on"}) {
        Condition condition;
        condition.state = map.stateIndex(state);
        auto sweep = FaultSweep::of(map, condition);
        ASSERT_TRUE(sweep);
        for (std::size_t i = 0; i < map.elements.size(); i += 3) {
            const Element& e = map.elements[i];
            if (e.kind != ElementKind::Wire && e.kind != ElementKind::Contact && e.kind != ElementKind::Fuse) continue;
            const Fault fault{Fault::Kind::AddedResistance, static_cast<int>(i), -1, -1, 4e5};
            if (!sweep->apply({fault}) || sweep->chatters()) continue;
            for (const int node : {e.nodes[0], e.nodes[1]}) {
                Condition with = condition;
                with.faults = {fault};
                with.meter = Meter{node, map.batteryMinus()};
                const auto cold = displayOf(map, with);
                ASSERT_TRUE(cold);
                if (cold->floating) continue;
                EXPECT_NEAR(sweep->voltage(node, map.batteryMinus(), 10e6), cold->value, 0.02)
                    << state << ", " << e.id << " at " << map.node(node);
                with.meter->mode = Meter::Mode::Ohms;
                const auto shown = displayOf(map, with);
                // With the key on an ohmmeter means nothing.
                if (state == std::string("key-on") || shown->live || shown->overLimit) continue;
                if (shown->value > 3e6 || shown->value < 1) continue;
                // The ohmmeter's own volts bend the laws of electronics that hang on the circuit.
                EXPECT_NEAR(sweep->sourceResistance_ohm(node, map.batteryMinus()) / shown->value, 1, 0.2)
                    << state << ", " << e.id << " at " << map.node(node);
            }
        }
    }
}

TEST(FaultSweep, MeasuresResistanceInCircuitsThatNothingTiesToGround)
{
    const Map& map = test::pt9();
    Condition dead;
    dead.state = map.stateIndex("key-off");
    dead.unplugged = {map.connectorIndex("J1")};
    auto sweep = FaultSweep::of(map, dead);
    ASSERT_TRUE(sweep);
    const int red = map.nodeIndex("J1-24.a"), black = map.nodeIndex("J1-7.a");
    int compared = 0;
    for (const ElementKind kind : {ElementKind::Wire, ElementKind::Contact}) {
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            if (map.elements[i].kind != kind) continue;
            for (const double added : {8.0, 3e3, 3e5, 0.0}) {
                Fault fault{Fault::Kind::AddedResistance, static_cast<int>(i), -1, -1, added};
                if (added == 0.0) fault.kind = Fault::Kind::Open;
                ASSERT_TRUE(sweep->apply({fault}));
                Condition with = dead;
                with.faults = {fault};
                with.meter = Meter{red, black};
                with.meter->mode = Meter::Mode::Ohms;
                const auto shown = displayOf(map, with);
                ASSERT_TRUE(shown);
                const double swept = sweep->sourceResistance_ohm(red, black);
                if (shown->overLimit || shown->value > 3e7) {
                    EXPECT_GT(swept, 3e7) << map.elements[i].id << " " << added;
                } else {
                    EXPECT_NEAR(swept / shown->value, 1, 0.01) << map.elements[i].id << " " << added;
                }
                compared += swept > 1000;
            }
        }
    }
    EXPECT_GT(compared, 8);  // of parts that lie in the way
}

TEST(FaultSweep, MeasuresResistanceWhereAllButLittleOfAnEditCancels)
{
    // A wire that ends at another conductor of a dead circuit, and a circuit with a few millivolts of its own.
    const Map& map = test::pt9();
    using Fk = Fault::Kind;
    const auto node = [&](const char* name) { return map.nodeIndex(name); };
    const auto ends = [&](const char* here, const char* there) {
        const int a = map.terminal(map.terminalIndex(here)).a, b = map.terminal(map.terminalIndex(there)).a;
        return std::vector<Fault>{{Fk::Open, onlyWireAt(map, a).element}, {Fk::ShortBetween, -1, a, b, 0.03}};
    };
    Condition apart, pulled, relayOut;
    apart.state = pulled.state = relayOut.state = map.stateIndex("key-off");
    apart.unplugged = {map.connectorIndex("J1"), map.connectorIndex("J2")};
    pulled.removed = {map.elementIndex("F15")};
    relayOut.removed = {map.elementIndex("K2")};
    struct Case {
        const Condition& condition;
        int red, black;
        std::vector<Fault> faults;
    };
    const Case cases[] = {
        {pulled, node("F15.out"), map.batteryMinus(), ends("J2-2", "J1-12")},
        {apart, node("J1-17.a"), node("J1-9.a"), ends("J1-17", "J2-1")},
        {apart, node("J2-8.a"), node("J2-6.a"), ends("J2-8", "J1-7")},
        {apart, node("J1-17.a"), node("J1-9.a"), ends("J1-11", "J1-17")},
        {relayOut, node("K2.87"), map.batteryMinus(), {{Fk::ShortBetween, -1, node("J1-7.a"), map.batteryPlus(), 300}}},
    };
    for (const Case& c : cases) {
        auto sweep = FaultSweep::of(map, c.condition);
        ASSERT_TRUE(sweep);
        ASSERT_TRUE(sweep->apply(c.faults));
        const double open_V = sweep->voltage(c.red, c.black, INFINITY);
        const double swept = ohmmeterShows_ohm(open_V, sweep->sourceResistance_ohm(c.red, c.black));
        Condition with = c.condition;
        with.faults = c.faults;
        with.meter = Meter{c.red, c.black, 10e6, Meter::Mode::Ohms};
        const auto shown = displayOf(map, with);
        ASSERT_TRUE(shown && !shown->live);
        if (shown->overLimit)
            EXPECT_GT(swept, 5e7) << map.node(c.red);
        else
            EXPECT_NEAR(swept / shown->value, 1, 0.03) << map.node(c.red) << ": " << shown->value << " ohms";
    }
}

TEST(FaultSweep, KnowsHowAReadingFollowsTheBatteryAndTheParts)
{
    const Map& map = test::pt9();
    Condition condition;
    condition.state = map.stateIndex("key-on");
    auto sweep = FaultSweep::of(map, condition);
    ASSERT_TRUE(sweep);
    const Fault fault{Fault::Kind::AddedResistance, map.elementIndex("X4-7"), -1, -1, 4};
    const int red = map.nodeIndex("J2-1.a"), black = map.nodeIndex("J2-3.a");
    ASSERT_TRUE(sweep->apply({fault}));
    const auto at = [&](double emf) {
        Condition c = condition;
        c.faults = {fault};
        c.batteryEmf_V = emf;
        return operatingPoint(map, c)->voltage(red, black);
    };
    const double emf = map.element(map.battery).value("emf");
    EXPECT_NEAR(sweep->batterySlope(red, black), (at(emf + 0.01) - at(emf - 0.01)) / 0.02, 1e-4);
    // A part's influence, against the part made 0.1 % larger.
    const int wire = map.elementIndex("W26");
    const auto slopes = sweep->resistanceSlopes(red, black);
    Condition larger = condition;
    larger.faults = {{Fault::Kind::OutOfValue, wire, -1, -1, 0, 1.001}};
    const double change =
        operatingPoint(map, larger)->voltage(red, black) - operatingPoint(map, condition)->voltage(red, black);
    EXPECT_NEAR(slopes[static_cast<std::size_t>(wire)], change / std::log(1.001), 1e-6);
}

TEST(FaultSweep, TwoOpensThatLeaveATerminalAloneAreSolvedAndNotNoise)
{
    const Map& map = test::pt9();
    for (const Terminal& t : map.terminals) {
        if (t.contact < 0) continue;
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            const Element& e = map.elements[i];
            if (e.kind != ElementKind::Wire || (e.nodes[0] != t.a && e.nodes[1] != t.a)) continue;
            Condition keyOn;
            keyOn.state = map.stateIndex("key-on");
            static auto sweep = FaultSweep::of(map, keyOn);
            ASSERT_TRUE(sweep);
            Condition open = keyOn;
            open.faults = {Fault{Fault::Kind::Open, t.contact}, Fault{Fault::Kind::Open, static_cast<int>(i)}};
            ASSERT_TRUE(sweep->apply(open.faults));
            const auto cold = operatingPoint(map, open);
            ASSERT_TRUE(cold);
            for (const char* node : {"J1-10.b", "J2-1.b", "J1-21.a"}) {
                const int at = map.nodeIndex(node);
                EXPECT_NEAR(sweep->voltage(at, map.batteryMinus(), 1e12), cold->potential(at), 2e-3)
                    << t.id << " and " << e.id << " at " << node;
            }
        }
    }
}

// The slope by one solution for all parts against two solutions for each.
void slopesAgreeWithDifferences(const Map& map, const Condition& healthy, std::size_t every)
{
    auto circuit = WarmCircuit::of(map, healthy);
    ASSERT_TRUE(circuit);
    std::vector<std::pair<int, int>> pairs;
    for (const int t : map.moduleTerminals()) {
        if (map.terminal(t).a >= 0) pairs.emplace_back(map.terminal(t).a, map.batteryMinus());
    }
    std::vector<int> elements;
    for (std::size_t e = 0; e < map.elements.size(); ++e)
        elements.push_back(static_cast<int>(e));
    const auto faults = manyFaults(map);
    for (std::size_t i = 0; i < faults.size(); i += every) {
        if (faults[i].kind == Fault::Kind::OutOfValue) continue;
        ASSERT_TRUE(circuit->apply({faults[i]}));
        const auto slopes = circuit->valueSlopes(pairs, elements);
        for (std::size_t e = i % 5; e < elements.size(); e += 5) {
            // Its figure is the fault's too; and a battery bends where it begins to be charged.
            if (faults[i].element == elements[e] || map.elements[e].kind == ElementKind::Battery) continue;
            constexpr double step = 1e-3;
            std::vector<double> up, down;
            for (const double by : {1 + step, 1 - step}) {
                // The figure first, then the fault.
                ASSERT_TRUE(circuit->apply({{Fault::Kind::OutOfValue, elements[e], -1, -1, 0, by}, faults[i]}));
                for (const auto& [red, black] : pairs)
                    (by > 1 ? up : down).push_back(circuit->voltage(red, black, INFINITY));
            }
            for (std::size_t p = 0; p < pairs.size(); ++p) {
                const double difference = (up[p] - down[p]) / (2 * step);
                EXPECT_NEAR(slopes[p][e], difference, 2e-3 + 0.02 * std::abs(difference))
                    << map.elements[e].id << " at " << map.node(pairs[p].first) << ", fault " << i;
            }
        }
    }
}

TEST(WarmCircuit, SlopesOfAllFiguresAtOnceAgreeWithDifferences)
{
    for (const Map* map : {&test::hauler(), &test::washer()}) {
        Condition on;
        on.state = map->stateIndex("key-on");
        slopesAgreeWithDifferences(*map, on, 17);
    }
}

TEST(WarmCircuit, StandsWhereASolutionFromColdDoes)
{
    for (const Map* map : {&test::hauler(), &test::pt9()}) {
        Condition on;
        on.state = map->stateIndex("key-on");
        auto circuit = WarmCircuit::of(*map, on);
        ASSERT_TRUE(circuit);
        const auto faults = manyFaults(*map);
        for (std::size_t i = 0; i < faults.size(); i += 23) {
            // Other figures beside the fault.
            Condition condition = on;
            for (std::size_t e = i % 7; e < map->elements.size(); e += 7)
                condition.faults.push_back({Fault::Kind::OutOfValue, static_cast<int>(e), -1, -1, 0, 1.2});
            condition.faults.push_back(faults[i]);
            const auto cold = operatingPoint(*map, condition);
            ASSERT_TRUE(cold);
            ASSERT_TRUE(circuit->apply(condition.faults));
            if (cold->chatters()) continue;
            for (std::size_t n = 0; n < map->nodes.size(); n += 3) {
                const int node = static_cast<int>(n);
                EXPECT_NEAR(circuit->voltage(node, map->batteryMinus(), INFINITY), cold->potential(node), 2e-5)
                    << map->node(node) << ", fault " << i;
            }
        }
    }
}

}  // namespace
}  // namespace ilvek
