#include "support/spice.h"

#include <fmt/format.h>

#include <ngspice/sharedspice.h>

#include <cmath>
#include <cstdio>
#include <sstream>
#include <vector>

namespace ilvek::test {

namespace {

class Netlist {
public:
    Netlist(const Map& map, const Condition& condition, const OperatingPoint& settled)
        : map_(map), condition_(condition), settled_(settled)
    {
    }

    std::string text()
    {
        out_ = "* one condition of a map\n";
        for (std::size_t i = 0; i < map_.nodes.size(); ++i) {
            if (static_cast<int>(i) != map_.batteryMinus()) resistor(static_cast<int>(i), map_.batteryMinus(), 1e9);
        }
        for (std::size_t i = 0; i < map_.elements.size(); ++i)
            element(static_cast<int>(i));
        if (condition_.load) lamp(condition_.load->from, condition_.load->to, condition_.load->load);
        if (condition_.meter)
            resistor(condition_.meter->red, condition_.meter->black, condition_.meter->inputResistance_ohm);
        for (const Fault& fault : condition_.faults) {
            if (fault.kind == Fault::Kind::ShortBetween) resistor(fault.nodeA, fault.nodeB, fault.resistance_ohm);
        }
        out_ += ".options reltol=1e-7 abstol=1e-10 vntol=1e-8 itl1=2000 gmin=1e-15\n";
        // A starting point for Newton's method only.
        for (std::size_t i = 0; i < map_.nodes.size(); ++i) {
            if (static_cast<int>(i) != map_.batteryMinus())
                out_ += fmt::format(".nodeset v({})={:.4f}\n", node(static_cast<int>(i)),
                                    settled_.potential(static_cast<int>(i)) + 0.003);
        }
        return out_ + ".end\n";
    }

private:
    std::string node(int index) const { return index == map_.batteryMinus() ? "0" : fmt::format("n{}", index); }
    std::string v(int a, int b) const { return fmt::format("(v({})-v({}))", node(a), node(b)); }

    void resistor(int a, int b, double r)
    {
        out_ += fmt::format("R{} {} {} {:.12g}\n", ++count_, node(a), node(b), std::max(1e-5, r));
    }
    void source(int a, int b, const std::string& current)
    {
        out_ += fmt::format("B{} {} {} I={}\n", ++count_, node(a), node(b), current);
    }

    double added(int element, Fault::Kind kind = Fault::Kind::AddedResistance) const
    {
        double sum = 0;
        for (const Fault& fault : condition_.faults) {
            if (fault.kind == kind && fault.element == element) sum += fault.resistance_ohm;
        }
        return sum;
    }
    // How many times what it should be the element's own figure is.
    double factor(int element) const
    {
        double product = 1;
        for (const Fault& fault : condition_.faults) {
            if (fault.kind == Fault::Kind::OutOfValue && fault.element == element) product *= fault.factor;
        }
        return product;
    }
    // Without function, or regulating from a port without function.
    bool isDead(int element) const
    {
        const Element& e = map_.element(element);
        for (const Fault& fault : condition_.faults) {
            if (fault.kind == Fault::Kind::Open && fault.element == element) return true;
            if (fault.kind != Fault::Kind::Dead) continue;
            const bool same = map_.element(fault.element).nodes[0] == e.nodes[0];
            if (fault.element == element || (same && e.kind == ElementKind::Regulator)) return true;
        }
        return false;
    }

    // I = I_r (U/U_r)^0.55, below the corner of the cold filament I = U / (0.1 U_r / I_r).
    void lamp(int a, int b, const SubstituteLoad& load)
    {
        const std::string u = v(a, b);
        if (load.kind != LoadKind::Lamp) return resistor(a, b, load.ratedVoltage_V / load.ratedCurrent_A);
        const double corner = load.ratedVoltage_V * std::pow(0.1, 1 / 0.45);
        source(a, b,
               fmt::format("abs({0})<{1:.9g} ? {0}/{2:.9g} : sgn({0})*{3:.9g}*pow(abs({0})/{4:.9g},0.55)", u, corner,
                           0.1 * load.ratedVoltage_V / load.ratedCurrent_A, load.ratedCurrent_A, load.ratedVoltage_V));
    }

    void constantDraw(int a, int b, double i0, double brownOut)
    {
        source(a, b,
               fmt::format("1e-9*{0}+{1:.9g}*max(0,min(1,({0}-{2:.9g})/{3:.9g}))", v(a, b), i0, 0.2 * brownOut,
                           0.8 * brownOut));
    }

    // Output held through R at the share f of the span between supply and return.
    void divider(int supply, int output, int ret, double f, double r)
    {
        const std::string i =
            fmt::format("(v({})-{:.9g}*v({})-{:.9g}*v({}))/{:.9g}", node(output), f, node(supply), 1 - f, node(ret), r);
        source(output, supply, fmt::format("{:.9g}*({})", f, i));
        source(output, ret, fmt::format("{:.9g}*({})", 1 - f, i));
    }

    bool isStuck(int index) const
    {
        return std::any_of(condition_.faults.begin(), condition_.faults.end(),
                           [&](const Fault& f) { return f.kind == Fault::Kind::StuckClosed && f.element == index; });
    }

    void element(int index)
    {
        const Element& e = map_.element(index);
        const auto n = [&](std::size_t i) { return e.nodes[i]; };
        if (e.kind == ElementKind::Relay)
            resistor(n(2), n(3), e.value("coil") + added(index, Fault::Kind::AddedCoilResistance));
        if (!settled_.isClosed(index) || (isDead(index) && e.kind != ElementKind::Relay)) return;
        const double f = factor(index);
        const double r = std::max(1e-5, f * map_.soundResistance_ohm(e) + added(index));
        const double own = std::max(1e-5, map_.soundResistance_ohm(e) + added(index));
        switch (e.kind) {
            case ElementKind::Battery:
                return source(n(0), n(1),
                              fmt::format("({0}-{1})*({0}>{1} ? {2:.9g} : {3:.9g})", v(n(0), n(1)), f * e.value("emf"),
                                          1 / e.value("charge_resistance", own), 1 / own));
            case ElementKind::Alternator:
                if (e.isIn(condition_.state))
                    source(n(0), n(1),
                           fmt::format("-max(0,min({},({}-{})/{:.9g}))", e.value("limit"), f * e.value("emf"),
                                       v(n(0), n(1)), own));
                return;
            case ElementKind::Motor:
                return resistor(n(0), n(1), f * e.value("voltage") / e.value("current") + added(index));
            case ElementKind::Diode:
                return source(n(0), n(1),
                              fmt::format("1e-9*{0}+max(0,({0}-{1:.9g})/0.02)", v(n(0), n(1)), e.value("voltage")));
            case ElementKind::Lamp:
                return lamp(n(0), n(1),
                            {"", "", LoadKind::Lamp, e.value("voltage"), e.value("power") / e.value("voltage") / f, 0});
            case ElementKind::Thermistor: {
                const double kelvin = e.value("temperature") + 273.15;
                return resistor(n(0), n(1),
                                f * e.value("resistance_25") * std::exp(e.value("beta") * (1 / kelvin - 1 / 298.15)) +
                                    added(index));
            }
            case ElementKind::Sensor:
                resistor(n(0), n(2), std::max(1e-5, map_.soundResistance_ohm(e)));
                return divider(n(0), n(1), n(2), std::min(1.0, f * e.value("output") / 100),
                               std::max(1.0, e.value("output_resistance", 100)) + added(index));
            case ElementKind::Hall:
                constantDraw(n(0), n(2), f * e.value("current"), 4.0);
                if (e.isIn(condition_.state) || isStuck(index))
                    resistor(n(1), n(2), std::max(1e-5, map_.soundResistance_ohm(e)));
                return;
            case ElementKind::SupplyPort: {
                const auto listed = e.currentIn_A.find(condition_.state);
                return constantDraw(n(0), n(1),
                                    f * (listed == e.currentIn_A.end() ? e.value("current") : listed->second),
                                    e.value("brown_out"));
            }
            case ElementKind::Regulator: {
                const std::string nominal = fmt::format("min({},v({})-v({})-{})", f * e.value("voltage"), node(n(0)),
                                                        node(n(2)), e.value("dropout"));
                return source(n(0), n(1),
                              fmt::format("max(0,min({},({}+v({})-v({}))/{:.9g}))", e.value("limit"), nominal,
                                          node(n(2)), node(n(1)), own));
            }
            case ElementKind::BusPort:
                divider(n(2), n(0), n(3), std::min(1.0, f * 0.5), own);
                return divider(n(2), n(1), n(3), 0.5, std::max(1e-5, map_.soundResistance_ohm(e)));
            case ElementKind::LowSideDriver:
            case ElementKind::HighSideDriver:
                if (const double limit = e.value("limit"); limit > 0)
                    return source(
                        n(0), n(1),
                        fmt::format("1e-9*{0}+max(-{1:.9g},min({1:.9g},{0}/{2:.9g}))", v(n(0), n(1)), limit, r));
                return resistor(n(0), n(1), r);
            case ElementKind::Relay:
                return resistor(n(0), n(1), r);
            default:
                return resistor(n(0), n(1), r);
        }
    }

    const Map& map_;
    const Condition& condition_;
    const OperatingPoint& settled_;
    std::string out_;
    int count_ = 0;
};

}  // namespace

std::string spiceNetlist(const Map& map, const Condition& condition, const OperatingPoint& settled)
{
    return Netlist(map, condition, settled).text();
}

namespace {

// ngspice as a library; there is one in a process.
class Library {
public:
    Library()
    {
        ngSpice_Init(heard, heard, finished, nullptr, nullptr, nullptr, nullptr);
        command("set numdgt=12");
    }

    bool load(const std::string& netlist)
    {
        std::vector<std::string> lines;
        std::istringstream text(netlist);
        for (std::string line; std::getline(text, line);)
            lines.push_back(line);
        std::vector<char*> pointers;
        for (std::string& line : lines)
            pointers.push_back(line.data());
        pointers.push_back(nullptr);
        command("destroy all");
        if (loaded_) command("remcirc");
        loaded_ = ngSpice_Circ(pointers.data()) == 0;
        return loaded_;
    }

    std::map<int, double> solve()
    {
        said.clear();
        if (command("op") != 0 || said.find("failed") != std::string::npos) return {};
        std::map<int, double> potentials;
        char* plot = ngSpice_CurPlot();
        for (char** name = ngSpice_AllVecs(plot); name && *name; ++name) {
            int index = 0;
            char rest = 0;
            if (std::sscanf(*name, "n%d%c", &index, &rest) != 1) continue;
            const pvector_info vector = ngGet_Vec_Info(*name);
            if (vector && vector->v_length > 0) potentials[index] = vector->v_realdata[0];
        }
        return potentials;
    }

private:
    static int heard(char* words, int, void*)
    {
        said += words;
        said += "\n";
        return 0;
    }
    static int finished(int, NG_BOOL, NG_BOOL, int, void*) { return 0; }
    int command(const char* words) { return ngSpice_Command(const_cast<char*>(words)); }

    static inline std::string said;
    bool loaded_ = false;
};

}  // namespace

std::map<int, double> spicePotentials(const std::string& netlist)
{
    static Library library;
    return library.load(netlist) ? library.solve() : std::map<int, double>{};
}

}  // namespace ilvek::test
