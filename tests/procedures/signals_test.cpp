// Procedures of signals, drives and networks on machines of the stories: each fault at its own end, nothing on a sound
// one.
#include "machine/paths.h"
#include "procedures/in_words.h"
#include "support/maps.h"
#include "support/procedure_walker.h"

namespace ilvek {
namespace {

using test::ProcedureWalker;
using test::storyMap;

Fault of(Fault::Kind kind, int element, double figure = 0)
{
    Fault f;
    f.kind = kind, f.element = element;
    (kind == Fault::Kind::OutOfValue ? f.factor : f.resistance_ohm) = figure;
    return f;
}

Fault between(int a, int b, double ohm)
{
    Fault f;
    f.kind = Fault::Kind::ShortBetween, f.nodeA = a, f.nodeB = b, f.resistance_ohm = ohm;
    return f;
}

int first(const Map& map, ElementKind kind, bool inModule = false)
{
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind == kind && (e.place == "inside the module") == inModule) return static_cast<int>(i);
    }
    return -1;
}

// That of an input, not the key's.
int inputSwitch(const Map& map)
{
    const int tilt = test::elementWith(map, ElementKind::Switch, "tilt");
    return tilt >= 0 ? tilt : test::elementWith(map, ElementKind::Switch, "low lift");
}

int wireAt(const Map& map, int node)
{
    const WireEnd wire = onlyWireAt(map, node);
    EXPECT_GE(wire.element, 0) << map.node(node);
    return wire.element;
}

struct Case {
    const char* what;
    const char* sheet;
    const char* procedure;
    const char* subject;
    std::function<std::vector<Fault>(const Map&, const Terminal&)> faults;
    const char* ending;
};

class Signals : public ::testing::TestWithParam<Case> {};
TEST_P(Signals, EndWhereTheFaultIs)
{
    const Case& c = GetParam();
    const Map& map = std::string_view(c.sheet) == "pt-9" ? test::pt9() : storyMap(c.sheet);
    const int terminal = map.terminalIndex(c.subject);
    ASSERT_GE(terminal, 0) << c.subject;
    ProcedureWalker walker(map, c.faults(map, map.terminal(terminal)));
    const Procedure p = walker.follow(c.procedure, c.subject);
    ASSERT_TRUE(p.ending) << walker.story(p);
    EXPECT_EQ(p.ending->fact.id, c.ending) << c.what << "\n" << walker.story(p);
    for (const Stage& s : p.stages) {
        EXPECT_TRUE(isWorded(s.title)) << s.title.id;
        for (const Fact& fact : s.says)
            EXPECT_TRUE(isWorded(fact)) << fact.id;
    }
    EXPECT_TRUE(isWorded(p.ending->fact)) << p.ending->fact.id;
}

std::vector<Fault> sound(const Map&, const Terminal&)
{
    return {};
}

using K = Fault::Kind;

std::vector<Case> switchCases()
{
    return {{"sound", "scissor-lift", "switch", "7", sound, "switch.end.sound"},
            {"never opens", "scissor-lift", "switch", "7",
             [](const Map& m, const Terminal&) { return std::vector{of(K::StuckClosed, inputSwitch(m))}; },
             "switch.end.stays-closed"},
            {"never closes", "scissor-lift", "switch", "7",
             [](const Map& m, const Terminal&) { return std::vector{of(K::Open, inputSwitch(m))}; },
             "switch.end.never-closes"},
            {"wire open", "scissor-lift", "switch", "7",
             [](const Map& m, const Terminal& t) { return std::vector{of(K::Open, wireAt(m, t.a))}; }, "line.end.wire"},
            {"wire shorted to ground", "scissor-lift", "switch", "7",
             [](const Map& m, const Terminal& t) { return std::vector{between(t.a, m.batteryMinus(), 0.5)}; },
             "line.end.harness"},
            {"ground of the switch open", "pt-9", "switch", "J1-17",
             [](const Map& m, const Terminal&) {
                 return std::vector{of(K::Open, wireAt(m, m.element(m.elementIndex("SEAT")).nodes[1]))};
             },
             "line.end.ground"},
            {"wire open, own return", "pt-9", "switch", "J1-17",
             [](const Map& m, const Terminal& t) { return std::vector{of(K::Open, wireAt(m, t.a))}; }, "line.end.wire"},
            {"sound, own return", "pt-9", "switch", "J1-17", sound, "switch.end.sound"},
            {"sound, closed in all states", "pt-9", "switch", "J1-25", sound, "switch.end.sound"},
            {"no pull-up", "scissor-lift", "switch", "7",
             [](const Map& m, const Terminal&) {
                 return std::vector{of(K::OutOfValue, first(m, ElementKind::PullUp, true), 1e6)};
             },
             "line.end.module"}};
}

const auto numbered = [](const auto& c) { return "n" + std::to_string(c.index); };
INSTANTIATE_TEST_SUITE_P(Switch, Signals, ::testing::ValuesIn(switchCases()), numbered);

int sensorAt(const Map& map)
{
    return first(map, ElementKind::Sensor);
}

std::vector<Case> sensorCases()
{
    return {
        {"sound, of which nobody says what it must be", "roller-sensor", "sensor", "9", sound, "sensor.end.agree"},
        {"signal wire open", "roller-sensor", "sensor", "9",
         [](const Map& m, const Terminal& t) { return std::vector{of(K::Open, wireAt(m, t.a))}; }, "sensor.end.wire"},
        {"supply wire open", "roller-sensor", "sensor", "9",
         [](const Map& m, const Terminal&) {
             return std::vector{of(K::Open, wireAt(m, m.terminal(m.terminalIndex("10")).a))};
         },
         "sensor.end.supply-wire"},
        {"return open", "roller-sensor", "sensor", "9",
         [](const Map& m, const Terminal&) {
             return std::vector{of(K::Open, m.terminal(m.terminalIndex("8")).contact)};
         },
         "sensor.end.return"},
        {"signal to ground", "roller-sensor", "sensor", "9",
         [](const Map& m, const Terminal& t) { return std::vector{between(t.a, m.batteryMinus(), 1)}; },
         "sensor.end.shorted"},
        {"signal to the battery", "roller-sensor", "sensor", "9",
         [](const Map& m, const Terminal& t) { return std::vector{between(t.a, m.batteryPlus(), 1)}; },
         "sensor.end.shorted"},
        {"sensor stands low", "roller-sensor", "sensor", "9",
         [](const Map& m, const Terminal&) { return std::vector{of(K::OutOfValue, sensorAt(m), 0.02)}; },
         "sensor.end.sensor"},
        {"sound, limits stated", "pt-9", "sensor", "J1-14", sound, "sensor.end.sound"},
        {"module's ground open", "roller-sensor", "sensor", "9",
         [](const Map& m, const Terminal&) {
             return std::vector{of(K::Open, m.terminal(m.terminalIndex("3")).contact)};
         },
         "sensor.end.lifted"},
        {"reference dragged down", "roller-sensor", "sensor", "9",
         [](const Map& m, const Terminal&) {
             return std::vector{between(m.terminal(m.terminalIndex("10")).a, m.batteryMinus(), 2)};
         },
         "sensor.end.reference"}};
}
INSTANTIATE_TEST_SUITE_P(Sensor, Signals, ::testing::ValuesIn(sensorCases()), numbered);

std::vector<Case> thermistorCases()
{
    const auto part = [](K kind, double figure = 0) {
        return [=](const Map& m, const Terminal&) {
            return std::vector{of(kind, first(m, ElementKind::Thermistor), figure)};
        };
    };
    return {
        {"sound", "roller-sensor", "thermistor", "11", sound, "thermistor.end.sound"},
        {"sound", "pt-9", "thermistor", "J1-13", sound, "thermistor.end.sound"},
        {"open inside", "roller-sensor", "thermistor", "11", part(K::Open), "thermistor.end.open"},
        {"shorted inside", "roller-sensor", "thermistor", "11", part(K::OutOfValue, 1e-3), "thermistor.end.shorted"},
        {"wire open", "roller-sensor", "thermistor", "11",
         [](const Map& m, const Terminal& t) { return std::vector{of(K::Open, wireAt(m, t.a))}; }, "line.end.wire"},
        {"wire to ground", "roller-sensor", "thermistor", "11",
         [](const Map& m, const Terminal& t) { return std::vector{between(t.a, m.batteryMinus(), 0.5)}; },
         "line.end.harness"},
        {"return open", "roller-sensor", "thermistor", "11",
         [](const Map& m, const Terminal&) {
             return std::vector{of(K::Open, m.terminal(m.terminalIndex("8")).contact)};
         },
         "thermistor.end.return"},
        {"module's ground open", "roller-sensor", "thermistor", "11",
         [](const Map& m, const Terminal&) {
             return std::vector{of(K::Open, m.terminal(m.terminalIndex("3")).contact)};
         },
         "thermistor.end.lifted"},
        {"wire to the reference", "roller-sensor", "thermistor", "11",
         [](const Map& m, const Terminal& t) {
             return std::vector{between(t.a, m.terminal(m.terminalIndex("10")).a, 1)};
         },
         "line.end.fed"},
        {"contact of its pin", "roller-sensor", "thermistor", "11",
         [](const Map&, const Terminal& t) { return std::vector{of(K::AddedResistance, t.contact, 3e5)}; },
         "thermistor.end.stays-closed"},
        {"no pull-up", "roller-sensor", "thermistor", "11",
         [](const Map& m, const Terminal&) {
             return std::vector{of(K::OutOfValue, first(m, ElementKind::PullUp, true), 1e6)};
         },
         "line.end.module"}};
}
INSTANTIATE_TEST_SUITE_P(Thermistor, Signals, ::testing::ValuesIn(thermistorCases()), numbered);

int driverAt(const Map& map, const Terminal& t)
{
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        const bool isDriver = e.kind == ElementKind::LowSideDriver || e.kind == ElementKind::HighSideDriver;
        if (isDriver && std::find(e.nodes.begin(), e.nodes.end(), t.b) != e.nodes.end()) return static_cast<int>(i);
    }
    return -1;
}

int valve(const Map& map)
{
    return test::elementWith(map, ElementKind::Winding, "lift valve");
}

std::vector<Case> driveCases()
{
    const auto winding = [](K kind, double figure) {
        return [=](const Map& m, const Terminal&) { return std::vector{of(kind, valve(m), figure)}; };
    };
    return {
        {"sound", "scissor-lift", "drive", "8", sound, "drive.end.sound"},
        {"winding open", "scissor-lift", "drive", "8", winding(K::Open, 0), "drive.end.winding"},
        {"half of its turns shorted", "scissor-lift", "drive", "8", winding(K::OutOfValue, 0.4), "drive.end.ohms"},
        {"control wire open", "scissor-lift", "drive", "8",
         [](const Map& m, const Terminal& t) { return std::vector{of(K::Open, wireAt(m, t.a))}; },
         "drive.end.control-wire"},
        {"control wire to ground", "scissor-lift", "drive", "8",
         [](const Map& m, const Terminal& t) { return std::vector{between(t.a, m.batteryMinus(), 0.1)}; },
         "drive.end.grounded"},
        {"driver dead", "scissor-lift", "drive", "8",
         [](const Map& m, const Terminal& t) { return std::vector{of(K::Open, driverAt(m, t))}; },
         "drive.end.not-driven"},
        {"driver stuck on", "scissor-lift", "drive", "8",
         [](const Map& m, const Terminal& t) { return std::vector{of(K::StuckClosed, driverAt(m, t))}; },
         "drive.end.stuck"},
        {"its fuse is blown", "scissor-lift", "drive", "8",
         [](const Map& m, const Terminal&) { return std::vector{of(K::Open, m.elementIndex("F3"))}; },
         "drive.end.feed"},
    };
}
INSTANTIATE_TEST_SUITE_P(Drive, Signals, ::testing::ValuesIn(driveCases()), numbered);

std::vector<Case> networkCases()
{
    const auto low = [](const Map& m) { return m.terminal(m.terminalIndex("8")); };
    const auto bus = [](const Map& m, const char* id) { return m.element(m.elementIndex(id)); };
    return {
        {"sound", "log-loader", "network", "7", sound, "network.end.sound"},
        {"lines together", "log-loader", "network", "7",
         [low](const Map& m, const Terminal& t) { return std::vector{between(t.a, low(m).a, 1)}; },
         "network.end.harness"},
        {"low line to ground", "log-loader", "network", "7",
         [low](const Map& m, const Terminal&) { return std::vector{between(low(m).a, m.batteryMinus(), 1)}; },
         "network.end.harness"},
        {"high line to a supply", "log-loader", "network", "7",
         [](const Map& m, const Terminal& t) { return std::vector{between(t.a, m.batteryPlus(), 20)}; },
         "network.end.harness"},
        {"high line open", "log-loader", "network", "7",
         [](const Map& m, const Terminal& t) { return std::vector{of(K::Open, wireAt(m, t.a))}; }, "network.end.open"},
        {"the display shorts them", "log-loader", "network", "7",
         [bus](const Map& m, const Terminal&) {
             Fault f = between(bus(m, "display termination").nodes[0], bus(m, "display termination").nodes[1], 2);
             f.element = m.elementIndex("display termination");
             return std::vector{f};
         },
         "network.end.node"},
    };
}
INSTANTIATE_TEST_SUITE_P(Network, Signals, ::testing::ValuesIn(networkCases()), numbered);

}  // namespace
}  // namespace ilvek
