// Recordings of pick-ups that look at a toothed wheel.
#pragma once

#include "practice/recorder.h"

namespace ilvek::practice {

struct ToothedWheel {
    int teeth = 35, missing = 1;  // that stand, and the gap behind them
    double turn_s = 0.05;
    double gains = 0;      // share by which the speed grows over the recording
    double eccentric = 0;  // share by which the wheel runs out of true
    int broken = -1;       // a tooth more that is gone
};

// Two levels, high over a tooth for half of its pitch.
Recording makeHall(const ToothedWheel& wheel, const Recorder& recorder, double length_s, double low_V = 0.2,
                   double high_V = 5);

// SOURCE: e = −dΦ/dt with Φ a bell over each tooth: grows with the speed, falls through nothing at each tooth's middle,
// rises through it there when the leads are exchanged.
Recording makeReluctance(const ToothedWheel& wheel, const Recorder& recorder, double length_s, bool exchanged = false,
                         double volts_at_1000 = 4);

}  // namespace ilvek::practice
