// Channels that switch between two levels: pulse-width drives, Hall pick-ups, stuck lines.
#pragma once

#include "trace/formats/recording.h"
#include "trace/signal/measure.h"

namespace ilvek {

struct Switching {
    std::vector<double> rises_s, falls_s;  // from the first sample
    std::vector<TraceMeasure> measures;    // low level, high level, frequency, duty, average, slowest change
    const TraceMeasure* find(const std::string& id) const;
};

// Levels, frequency, duty and average of a channel that switches; duty and frequency over whole periods only. An edge
// is where a line between two samples crosses the middle, with a tenth of the swing on both sides that it must leave.
// ERRORS: too few samples. A channel that never moves, or only ripples about one level, gives its level and its ripple,
// and says that it does not switch.
Result<Switching> measureSwitching(const Recording& recording, const Channel& channel);

// A toothed wheel seen through its pulses.
struct Wheel {
    int teeth = 0;                       // pulses from gap to gap
    int missing = 0;                     // teeth that the gap is wide
    std::vector<TraceMeasure> measures;  // speed, eccentricity, uneven teeth
    std::string verdict;
    bool odd = false;  // it runs out of true, or a tooth is off its place
};

// From the rising edges of a wheel with a gap: a gap is a period of more than one and a half times its neighbours'.
// REQUIRES: `edges_s` ascend. ERRORS: fewer than two gaps: a turn is not known.
Result<Wheel> measureWheel(const std::vector<double>& edges_s);

}  // namespace ilvek
