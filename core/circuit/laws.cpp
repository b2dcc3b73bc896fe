#include "circuit/laws.h"

#include <algorithm>
#include <cmath>

namespace ilvek::law {

namespace {

// What a law that has stopped conducting still passes, so that no row of the Jacobian is empty.
constexpr double idleConductance_S = 1e-9;
constexpr double diodeOnResistance_ohm = 0.02;

}  // namespace

void source(int a, int b, double emf_V, double resistance_ohm, const Voltages& v, Sink& eq)
{
    const double g = 1.0 / resistance_ohm;
    eq.branch(a, b, g * (v[a] - v[b] - emf_V), g);
}

void constantDraw(int a, int b, double current_A, double brownOut_V, const Voltages& v, Sink& eq)
{
    const double u = v[a] - v[b];
    const double idle = idleConductance_S * u;
    const double wakes_V = drawWakesAtShare * brownOut_V;
    const double slope = current_A / (brownOut_V - wakes_V);
    if (u <= wakes_V)
        eq.branch(a, b, idle, idleConductance_S);
    else if (u < brownOut_V)
        eq.branch(a, b, idle + slope * (u - wakes_V), idleConductance_S + slope);
    else
        eq.branch(a, b, idle + current_A, idleConductance_S);
}

void limitedSource(int a, int b, double emf_V, double resistance_ohm, double limit_A, const Voltages& v, Sink& eq)
{
    const double out = (emf_V - (v[a] - v[b])) / resistance_ohm;
    const bool inside = out > 0.0 && out < limit_A;
    eq.branch(a, b, -std::clamp(out, 0.0, limit_A), inside ? 1.0 / resistance_ohm : idleConductance_S);
}

void regulator(int supply, int output, int ret, const RegulatorValues& r, const Voltages& v, Sink& eq)
{
    const double room = v[supply] - v[ret] - r.dropout_V;
    const bool starved = room < r.voltage_V;
    const double nominal = starved ? room : r.voltage_V;
    const double wanted = (nominal + v[ret] - v[output]) / r.resistance_ohm;
    const double current = std::clamp(wanted, 0.0, r.limit_A);
    eq.leave(supply, current);
    eq.leave(output, -current);
    if (wanted <= 0.0 || wanted >= r.limit_A) {
        eq.slope(output, output, idleConductance_S);
        return;
    }
    const double g = 1.0 / r.resistance_ohm;
    const double bySupply = starved ? g : 0.0;
    const double byReturn = starved ? 0.0 : g;
    for (const auto& [row, sign] : {std::pair{supply, 1.0}, std::pair{output, -1.0}}) {
        eq.slope(row, output, -sign * g);
        eq.slope(row, supply, sign * bySupply);
        eq.slope(row, ret, sign * byReturn);
    }
}

void divider(int supply, int output, int ret, double share, double resistance_ohm, const Voltages& v, Sink& eq)
{
    const double g = 1.0 / resistance_ohm;
    const double i = g * (v[output] - share * v[supply] - (1.0 - share) * v[ret]);
    const std::pair<int, double> rows[] = {{output, 1.0}, {supply, -share}, {ret, -(1.0 - share)}};
    for (const auto& [row, weight] : rows) {
        eq.leave(row, weight * i);
        for (const auto& [column, by] : rows)
            eq.slope(row, column, weight * by * g);
    }
}

void diode(int anode, int cathode, double forward_V, const Voltages& v, Sink& eq)
{
    const double over = v[anode] - v[cathode] - forward_V;
    const double idle = idleConductance_S * (v[anode] - v[cathode]);
    if (over > 0.0)
        eq.branch(anode, cathode, idle + over / diodeOnResistance_ohm, idleConductance_S + 1.0 / diodeOnResistance_ohm);
    else
        eq.branch(anode, cathode, idle, idleConductance_S);
}

void filament(int a, int b, double rated_V, double rated_A, const Voltages& v, Sink& eq)
{
    const double u = v[a] - v[b];
    eq.branch(a, b, filamentCurrent_A(rated_V, rated_A, u), filamentSlope_S(rated_V, rated_A, u));
}

void limitedSwitch(int a, int b, double resistance_ohm, double limit_A, const Voltages& v, Sink& eq)
{
    const double u = v[a] - v[b];
    const double wanted = u / resistance_ohm;
    const bool inside = std::abs(wanted) < limit_A;
    const double idle = idleConductance_S * u;
    eq.branch(a, b, idle + std::clamp(wanted, -limit_A, limit_A),
              idleConductance_S + (inside ? 1.0 / resistance_ohm : 0.0));
}

}  // namespace ilvek::law
