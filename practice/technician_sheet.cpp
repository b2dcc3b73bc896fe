#include <fmt/format.h>

#include "practice/field_sheets.h"

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

}  // namespace

std::string technicianSheet(std::mt19937& random, const FieldSpread& spread)
{
    return SheetWriter(random, spread).write();
}

}  // namespace ilvek::practice
