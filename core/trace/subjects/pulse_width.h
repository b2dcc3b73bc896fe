// The current of a winding that is driven by pulse width and freewheels in between.
#pragma once

#include "trace/formats/recording.h"
#include "trace/signal/measure.h"

namespace ilvek {

// Across the diode that a winding freewheels through.
constexpr double freewheel_V = 0.8;

// Frequency, duty, ripple and average from the current alone; the resistance from the average where the supply is
// known. SOURCE: the mean of all periods bends where the drive switches: up at on, down at off; in the mean over a
// period L di/dt vanishes, so D (U + U_d) − U_d = R Ī.
// ERRORS: too few samples, nothing in it.
Result<TraceTold> measurePulseWidth(const Recording& recording, const Channel& current, std::optional<double> supply_V);

}  // namespace ilvek
