// Device laws: the current through a part at given voltages. Every law is monotone: no current falls when the voltage
// that drives it rises, so the operating point is unique and damped Newton always arrives.
#pragma once

#include <vector>

#include "circuit/sink.h"
#include "circuit/substitute_load.h"

namespace ilvek::law {

// Voltages by node index; −1 is the reference, 0 V.
class Voltages {
public:
    explicit Voltages(const std::vector<double>& values) : values_(values) {}
    double operator[](int node) const { return node < 0 ? 0.0 : values_[static_cast<std::size_t>(node)]; }

private:
    const std::vector<double>& values_;
};

// I = (U − E) / R from a to b; E = 0 for a plain resistance.
void source(int a, int b, double emf_V, double resistance_ohm, const Voltages& v, Sink& eq);

// Electronics need about a volt before they draw at all: below this share of the brown-out voltage they take nothing.
constexpr double drawWakesAtShare = 0.2;
// Constant current I0 from a to b that folds back in a straight line below the brown-out voltage U_b:
// I = I0 (U − 0.2 U_b)/(0.8 U_b); none below and none backwards.
void constantDraw(int a, int b, double current_A, double brownOut_V, const Voltages& v, Sink& eq);

// A source that only gives: I = clamp((E − U)/R, 0, limit) out of a, returned at b.
void limitedSource(int a, int b, double emf_V, double resistance_ohm, double limit_A, const Voltages& v, Sink& eq);

// Series regulator: from supply to output, I = clamp((E' + U_return − U_output)/R, 0, limit) with E' the nominal
// voltage or what the supply leaves of it above the drop-out.
struct RegulatorValues {
    double voltage_V, resistance_ohm, limit_A, dropout_V;
};
void regulator(int supply, int output, int ret, const RegulatorValues& r, const Voltages& v, Sink& eq);

// An output tied through R to the share f of the span supply … return, as a divider does.
void divider(int supply, int output, int ret, double share, double resistance_ohm, const Voltages& v, Sink& eq);

// Conducts above its forward voltage.
void diode(int anode, int cathode, double forward_V, const Voltages& v, Sink& eq);

// A tungsten lamp of the given rating; see SubstituteLoad.
void filament(int a, int b, double rated_V, double rated_A, const Voltages& v, Sink& eq);

// A closed electronic switch that limits its current: I = clamp(U/R, −limit, limit).
void limitedSwitch(int a, int b, double resistance_ohm, double limit_A, const Voltages& v, Sink& eq);

}  // namespace ilvek::law
