// Recordings made by physical models, with the truth beside them.
#pragma once

#include <optional>
#include <vector>

#include "practice/recorder.h"

namespace ilvek::practice {

// A winding that saturates, with an armature that is pulled against a spring and lands on a stop.
// SOURCE: flux λ = L(x) i_s tanh(i/i_s), dλ/dt = U − R i, L(x) = L₀ (1 + a x); armature ẍ = ((i/i_pull)² − 1 − c x)/τ².
struct Winding {
    double resistance_ohm = 14.5, inductance_H = 0.012, saturation_A = 3;
    double gain = 0.3;       // a: inductance won by the armature's travel
    double pull_A = 0.28;    // current at which it begins to move; beyond all reach: stuck
    double travel_s = 4e-4;  // τ
    double spring = 0.3;     // c
    double hump_V = 0.004;   // per unit of travel and second, of what is left of the flux when it closes
};

struct Drive {
    double supply_V = 13.2, switch_ohm = 0.15;
    double clamp_V = 60;                   // at the drive's terminal when it lets go; 0: freewheels through a diode
    std::optional<double> peak_A, hold_A;  // limits the current, then holds it
};

struct Fired {  // one pulse
    double on_s = 0, off_s = 0;
    Winding winding;
    bool fires = true;  // else its winding is open, or its
    bool driverDead = false;
    int cylinder = 1;
};

struct Truth {
    double on_s = 0, off_s = 0, peak_A = 0, end_A = 0;
    std::optional<double> lift_s, close_s;
    int cylinder = 1;
    bool fires = true;
};

struct Made {
    Recording recording;  // "current" and "control", and "sync" where a cylinder was named
    std::vector<Truth> truth;
};

// All pulses on one feed with one clamp; the control voltage is that of `shown`, whose pulses also make the sync
// channel. REQUIRES: pulses in the order of time that do not overlap.
Made makeWinding(const std::vector<Fired>& pulses, const Drive& drive, const Recorder& recorder, double length_s,
                 std::optional<int> shown = {});

// An engine's set: `order` repeated for `cycles`, each cylinder with its own winding.
std::vector<Fired> firedInOrder(const std::vector<int>& order, const std::vector<Winding>& windings, double cycle_s,
                                double pulse_s, int cycles, const std::vector<int>& missing = {});

}  // namespace ilvek::practice
