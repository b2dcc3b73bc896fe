#include "practice/field_machine.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "bench_map/sheet_map.h"
#include "circuit/operating_point.h"
#include "machine/map_reader.h"
#include "machine/stated_figure.h"
#include "practice/field_sheets.h"
#include "prediction/predictions.h"
#include "quantity/trade.h"

namespace ilvek::practice {

namespace {

// Spread of a part on its own, sigma of the natural logarithm; 0: it is what it is.
double sigmaOf(const Element& e, const FieldSpread& spread)
{
    switch (e.kind) {
        case ElementKind::Battery:
        case ElementKind::Alternator:
        case ElementKind::Regulator:
        case ElementKind::Switch:
        case ElementKind::BusPort:
            return 0;
        case ElementKind::Contact:
        case ElementKind::Fuse:
        case ElementKind::Joint:
            return 0.3;
        case ElementKind::Relay:
        case ElementKind::PullUp:
        case ElementKind::Input:
            return 0.15;
        default:
            return hasStatedFigure(e) ? spread.stated : spread.unknown;
    }
}

std::vector<Fault> truthOf(const Map& map, std::mt19937& random, const FieldSpread& spread)
{
    std::normal_distribution<double> normal;
    std::bernoulli_distribution wrong(spread.wrongShare);
    std::vector<Fault> out;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        double sigma = sigmaOf(e, spread);
        if (e.kind == ElementKind::Thermistor)
            sigma = std::min(sigma, std::log1p(toleranceOf(map, static_cast<int>(i))));
        if (sigma <= 0) continue;
        const double drawn =
            spread.flat ? std::uniform_real_distribution<double>(-1.732, 1.732)(random) : normal(random);
        double factor = std::exp(sigma * drawn);
        const bool isPart = specOf(e.kind).isLoad || e.kind == ElementKind::SupplyPort;
        if (hasStatedFigure(e) && isPart && wrong(random)) factor *= random() % 2 == 0 ? 2.2 : 0.45;
        out.push_back({Fault::Kind::OutOfValue, static_cast<int>(i), -1, -1, 0, factor});
    }
    return out;
}

// What custom lets a sound machine lose: 5 % on a feed, 0.2 V on a return; its battery holds the starter, and nothing
// that it can do blows a fuse.
bool isSound(const Map& map, const std::vector<Fault>& truth)
{
    for (std::size_t state = 0; state < map.states.size(); ++state) {
        Condition condition;
        condition.state = static_cast<int>(state);
        condition.faults = truth;
        const auto point = operatingPoint(map, condition);
        if (!point || !point->blownFuses().empty()) return false;
    }
    Condition cranking;
    cranking.state = map.stateIndex("cranking");
    cranking.faults = truth;
    const auto turned = operatingPoint(map, cranking);
    const double cranksAtLeast_V = trade::crankingAtLeast_V * map.systemVoltage_V / 12;
    if (!turned || turned->voltage(map.batteryPlus(), map.batteryMinus()) < cranksAtLeast_V) return false;
    for (const char* state : {"key-off", "key-on"}) {
        Condition condition;
        condition.state = map.stateIndex(state);
        condition.faults = truth;
        const auto point = operatingPoint(map, condition);
        if (!point || point->chatters()) return false;
        const double battery = point->voltage(map.batteryPlus(), map.batteryMinus());
        for (const int terminal : map.moduleTerminals()) {
            const Terminal& t = map.terminal(terminal);
            if (t.a < 0 || !t.role) continue;
            const double v = point->voltage(t.a, map.batteryMinus());
            if (t.role == Role::Return && std::abs(v) > 0.15) return false;
            const bool needed = std::find(t.neededIn.begin(), t.neededIn.end(), condition.state) != t.neededIn.end();
            if (isSupply(*t.role) && needed && v < 0.97 * battery) return false;
        }
    }
    return true;
}

Result<Map, Problems> mapOf(const std::string& text, const std::string& name, double systemVoltage_V)
{
    NewMachine machine;
    machine.systemVoltage_V = systemVoltage_V;
    machine.module = "UNIT";
    const auto sheet = readPinSheet(text, name);
    if (!sheet) return tl::unexpected(Problems{sheet.error()});
    if (!sheet->problems.empty()) return tl::unexpected(sheet->problems);
    const auto document = mapFromSheet(sheet->rows, machine);
    if (!document) return tl::unexpected(document.error());
    return readMap(*document, name);
}

// In so many machines of a hundred.
constexpr double pullsUpToSupply = 0.3, feedsSensorsHigher = 0.15;
// One sigma of ln(what a module draws in one state / in all): what it drives it drives in some of them.
constexpr double drawsByState = 0.6;

Map madeOtherwise(const Map& map, std::uint32_t seed)
{
    std::mt19937 random(seed + 7919U);
    const auto happens = [&](double share) { return std::bernoulli_distribution(share)(random); };
    const bool toSupply = happens(pullsUpToSupply), higher = happens(feedsSensorsHigher);
    Map made = map;
    for (Element& e : made.elements) {
        if (e.kind != ElementKind::SupplyPort) continue;
        std::normal_distribution<double> normal;
        for (std::size_t s = 0; s < map.states.size(); ++s)
            e.currentIn_A[static_cast<int>(s)] = e.value("current") * std::exp(drawsByState * normal(random));
    }
    const auto regulator = std::find_if(made.elements.begin(), made.elements.end(),
                                        [](const Element& e) { return e.kind == ElementKind::Regulator; });
    if (regulator == made.elements.end()) return made;
    const int supply = regulator->nodes[0], regulated = regulator->nodes[1];
    const auto has = [&](Role role) {
        return std::any_of(map.terminals.begin(), map.terminals.end(),
                           [&](const Terminal& t) { return t.role == role; });
    };
    // A thermistor is read at 5 V.
    if (higher && map.systemVoltage_V >= 12 && !has(Role::ThermistorInput)) regulator->values["voltage"] = 10;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        for (Element& e : made.elements) {
            const bool isPullUp = e.kind == ElementKind::PullUp && e.nodes[0] == regulated && e.nodes[1] == terminal.b;
            if (toSupply && isPullUp && terminal.role == Role::SwitchInput) e.nodes[0] = supply;
        }
    }
    return made;
}

// False when no draw gives a machine that is sound by custom.
bool drawTruth(FieldMachine& machine, std::mt19937& random, const FieldSpread& spread, int tries)
{
    while (tries-- > 0) {
        machine.truth = truthOf(machine.map, random, spread);
        if (isSound(machine.made, machine.truth)) return true;
    }
    return false;
}

}  // namespace

FieldMachine fieldMachine(std::uint32_t seed, const FieldSpread& spread)
{
    std::mt19937 random(seed);
    static constexpr double volts[] = {6, 12, 12, 12, 24, 24, 36, 48};
    for (;;) {
        FieldMachine out;
        const double systemVoltage_V = volts[random() % 8];
        out.sheet = spread.workshop ? workshopSheet(random, spread) : technicianSheet(random, spread);
        auto map = mapOf(out.sheet, "sheet", systemVoltage_V);
        if (!map) {
            // A sheet that this writes and the reader refuses is a defect of one of them.
            for (const Error& p : map.error())
                fmt::print(stderr, "{}\n", p.message());
            fmt::print(stderr, "{}", out.sheet);
            std::abort();
        }
        out.map = std::move(*map);
        out.made = madeOtherwise(out.map, seed);
        if (drawTruth(out, random, spread, 20)) return out;
    }
}

Result<FieldMachine, Problems> machineBehind(const std::string& sheet, const std::string& name, double systemVoltage_V,
                                             std::uint32_t seed, const FieldSpread& spread)
{
    std::mt19937 random(seed);
    auto map = mapOf(sheet, name, systemVoltage_V);
    if (!map) return tl::unexpected(map.error());
    FieldMachine out{sheet, std::move(*map), {}, {}};
    out.made = madeOtherwise(out.map, seed);
    if (!drawTruth(out, random, spread, 100))
        return tl::unexpected(Problems{Error{name, "no sound machine of this sheet was drawn"}});
    return out;
}

}  // namespace ilvek::practice
