// Recordings of things that are driven: a winding on pulse width, a motor, a coil that is charged, a charging field.
#pragma once

#include <optional>

#include "practice/recorder.h"

namespace ilvek::practice {

// A winding driven by pulse width on the low side, freewheeling through a diode.
// SOURCE: L di/dt = U − (R + r) i while on, −U_d − R i while off.
struct PulseWidthDrive {
    double supply_V = 13.2, frequency_Hz = 180, duty = 0.4;
    double resistance_ohm = 5.3, inductance_H = 0.02;
    double switch_ohm = 0.1;
};
Recording makePulseWidth(const PulseWidthDrive& drive, const Recorder& recorder, double length_s);

// A motor with brushes, from standing.
// SOURCE: L di/dt = U − R i − k ω e(θ), J dω/dt = k i − M; e is that of the coil between the brushes, which changes at
// every bar, twice a turn for each bar of an odd number. A bad bar adds to R while a brush is on it.
struct BrushedMotor {
    int bars = 8;
    double supply_V = 13.2, resistance_ohm = 0.9, inductance_H = 3e-4;
    double constant_Vs = 0.035, inertia_kgm2 = 4e-5, load_Nm = 0.09;
    double badBar = 0;  // times R more on one bar
    bool stalled = false;
    double fedAt_s = 5e-3;
};
struct MadeMotor {
    Recording recording;   // "current"
    double ripple_Hz = 0;  // over the last quarter
    double turn_s = 0;
};
MadeMotor makeMotor(const BrushedMotor& motor, const Recorder& recorder, double length_s);

// A coil that is charged for `dwell_s` and let go, over and over. SOURCE: L(i) di/dt = U − R i, held at the limit;
// L(i) = L / (1 + (i/i_s)²) where its iron fills.
struct ChargedCoil {
    double supply_V = 13.2, resistance_ohm = 0.6, inductance_H = 4e-3;
    double dwell_s = 3.5e-3, period_s = 0.02;
    std::optional<double> limit_A, saturation_A;
    double shorted_A = 0;  // what shorted turns let through at once
    int missing = -1;      // a charge that does not come
};
Recording makeCoil(const ChargedCoil& coil, const Recorder& recorder, double length_s);

// A charging field driven by pulse width while the electrical load steps up and down.
enum class FieldFault { None, DoesNotAnswer, FullField, NoDrive };
struct ChargingField {
    double frequency_Hz = 125, voltage_V = 14.1, leastDuty = 0.15, dutyPerA = 0.008;
    FieldFault fault = FieldFault::None;
};
Recording makeField(const ChargingField& field, const Recorder& recorder, double length_s);

}  // namespace ilvek::practice
