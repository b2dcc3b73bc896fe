#include "practice/field_machine.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "bench_map/sheet_map.h"
#include "circuit/operating_point.h"
#include "machine/map_reader.h"
#include "machine/stated_figure.h"
#include "prediction/predictions.h"

namespace ilvek::practice {

namespace {

class SheetWriter {
public:
    SheetWriter(std::mt19937& random, const FieldSpread& spread) : random_(random), spread_(spread) {}

    std::string write()
    {
        text_ = "cavity;circuit;role;colour;route;far end;current;expected;source\n";
        const unsigned budget = 4 + pick(static_cast<unsigned>(spread_.mostTerminals) - 3);
        returns();
        supplies();
        while (rows_ < budget)
            circuit();
        if (chance(0.5)) loose("pump", "consumer", "S1", "motor, ground G2", maybe("5 A"));
        for (const std::string& input : inputs_) {
            if (chance(0.3))
                loose(fmt::format("C{}", 100 + rows_++), "code", "", input + (chance(0.5) ? " low" : " high"), "");
        }
        if (chance(0.05)) loose("second battery", "source", "F99 80 A > S1", "", "");
        return std::move(text_);
    }

private:
    unsigned pick(unsigned n) { return static_cast<unsigned>(random_() % n); }
    bool chance(double p) { return std::bernoulli_distribution(p)(random_); }
    // A figure of the sheet, or nothing.
    std::string maybe(const std::string& figure) { return chance(1 - spread_.missingShare) ? figure : ""; }
    double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(random_); }

    std::string row(const std::string& circuit, const std::string& role, const std::string& route,
                    const std::string& far, const std::string& current)
    {
        static constexpr const char* colours[] = {"red", "black", "green", "blue/white", "brown", "", "yellow"};
        ++rows_;
        const std::string cavity = fmt::format("{}{}", rows_ % 3 == 0 ? "B" : "A", rows_);
        text_ += fmt::format("{};{};{};{};{};{};{};;page {}\n", cavity, circuit, role, colours[pick(7)], route, far,
                             current, pick(40) + 1);
        return cavity;
    }

    void loose(const std::string& name, const char* role, const std::string& route, const std::string& far,
               const std::string& current)
    {
        text_ += fmt::format(";{};{};;{};{};{};;\n", name, role, route, far, current);
    }

    std::string fuse()
    {
        static constexpr int ratings[] = {5, 10, 15, 20, 30};
        const std::string id = fmt::format("F{}", ++fuses_);
        return chance(0.8) ? fmt::format("{} {} A", id, ratings[pick(5)]) : id;
    }

    // The way of a wire may pass an in-line connector.
    std::string way(const std::string& rest)
    {
        if (!chance(0.4)) return rest;
        const std::string at = fmt::format("X{}-{}", pick(3) + 1, ++cavities_);
        return rest.empty() ? at : at + " > " + rest;
    }

    void returns()
    {
        for (unsigned n = 1 + pick(3); n > 0; --n)
            row(fmt::format("ground {}", n), "return", way(chance(0.6) ? "G1" : "G3"), "", "");
    }

    void supplies()
    {
        row("memory", "supply, always", way(fuse()), "", maybe(fmt::format("{:.2f} A", between(0.05, 0.6))));
        if (chance(0.7))
            row("key", "supply, with key", way(fuse()), "", maybe(fmt::format("{:.2f} A", between(0.1, 1.0))));
        if (!chance(0.6)) return;
        const std::string shared = "S1 > " + fuse() + " > K1";
        for (unsigned n = 1 + pick(3); n > 0; --n)
            row(fmt::format("main supply {}", n), "supply, by relay K1", way(shared), "",
                maybe(fmt::format("{:.1f} A", between(1, 6))));
        if (chance(0.7)) row("relay control", "drives coil of K1", way(""), "coil of K1, other end F90 5 A", "");
        isSpliced_ = true;
    }

    // One circuit of any kind.
    void circuit()
    {
        const std::string name = fmt::format("circuit {}", rows_ + 1);
        const double ohm = between(5, 40);
        const std::string solenoid = maybe(fmt::format("solenoid {:.1f}–{:.1f} Ω", 0.9 * ohm, 1.1 * ohm));
        const std::string fed = isSpliced_ && chance(0.5) ? ", other wire S1" : ", other wire F91 10 A";
        switch (pick(8)) {
            case 0:
            case 1:
                row(name, "drive, low side", way(""), (solenoid.empty() ? std::string("valve") : solenoid) + fed, "");
                return;
            case 2:
                row(name, "drive, high side", way(""),
                    maybe("lamp 21 W").empty() ? "lamp, ground G2" : "lamp 21 W, ground G2", "");
                return;
            case 3:
                row(name, "switch input", way(""), chance(0.5) ? "switch, ground G2" : "switch open at rest, ground G2",
                    "");
                return;
            case 4: {
                if (!hasReference_) {
                    row("sensor ground", "sensor return", way(""), "", "");
                    row("sensor supply", "reference", way(""), "sensors", "");
                    hasReference_ = true;
                }
                inputs_.push_back(row(name, "analogue input", way(""), "position sensor", ""));
                return;
            }
            case 5:
                inputs_.push_back(row(name, "thermistor input", way(""),
                                      maybe("x").empty() ? "thermistor" : "thermistor 2.2 kΩ at 25 °C", ""));
                return;
            case 6:
                if (hasBus_) return circuit();
                hasBus_ = true;
                row("line high", "differential bus, high", way(""), "", "");
                row("line low", "differential bus, low", way(""), "", "");
                loose("other unit", "bus node", "", "termination", "");
                return;
            default:
                row(name, "supply, with key", way(fuse()), "", maybe(fmt::format("{:.1f} A", between(0.2, 3))));
        }
    }

    std::mt19937& random_;
    const FieldSpread& spread_;
    std::string text_;
    std::vector<std::string> inputs_;
    unsigned rows_ = 0, fuses_ = 0, cavities_ = 0;
    bool isSpliced_ = false, hasReference_ = false, hasBus_ = false;
};

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

// What custom lets a sound machine lose: 5 % on a feed, 0.2 V on a return; and nothing that it can do blows a fuse.
bool isSound(const Map& map, const std::vector<Fault>& truth)
{
    for (std::size_t state = 0; state < map.states.size(); ++state) {
        Condition condition;
        condition.state = static_cast<int>(state);
        condition.faults = truth;
        const auto point = operatingPoint(map, condition);
        if (!point || !point->blownFuses().empty()) return false;
    }
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

Map madeOtherwise(const Map& map, std::uint32_t seed)
{
    std::mt19937 random(seed + 7919U);
    const auto happens = [&](double share) { return std::bernoulli_distribution(share)(random); };
    const bool toSupply = happens(pullsUpToSupply), higher = happens(feedsSensorsHigher);
    Map made = map;
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
        out.sheet = SheetWriter(random, spread).write();
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
