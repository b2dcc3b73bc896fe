// Recordings of two lines that are driven against each other.
#pragma once

#include "practice/recorder.h"

namespace ilvek::practice {

enum class PairFault {
    None,
    Silent,
    Together,
    HighToGround,
    HighToSupply,
    LowToGround,
    LowToSupply,
    HighOpen,
    LowOpen,
    OneTermination,
    HeldDominant
};

// SOURCE: dominant, the high line is lifted from 4.5 V and the low one pulled to 0.5 V, each through 30 Ω and a diode,
// against the terminations between them; at rest both return to half the module's supply. An open line is seen from
// the end that is not driven, with a termination to the other line.
struct BusPairLines {
    double bit_s = 4e-6;
    double module_V = 5, battery_V = 13.2;
    double driver_ohm = 30, termination_ohm = 120, rest_ohm = 7500;
    double short_ohm = 1;
    PairFault fault = PairFault::None;
};

Recording makeBusPair(const BusPairLines& lines, const Recorder& recorder, double length_s);

}  // namespace ilvek::practice
