// The current of a motor with brushes: each bar that passes leaves a ripple.
#pragma once

#include "trace/formats/recording.h"
#include "trace/signal/measure.h"

namespace ilvek {

struct MotorBeside {
    std::optional<int> bars;  // of the commutator: asked, since no recording tells it
    std::optional<double> supply_V;
};

// Running current, bar rate and speed, bars that differ, the current of starting, stalling.
// SOURCE: the brushes change coils once a turn for each bar when their number is even, twice when it is odd. A bad bar
// passes both brushes in each turn and makes lines below the bar rate, so the spectrum is weighted by f².
// ERRORS: too few samples, nothing in it.
Result<TraceTold> measureMotor(const Recording& recording, const Channel& current, const MotorBeside& beside = {});

}  // namespace ilvek
