// An intermittent in a long recording: the whole of it is searched for what differs from the rest.
#pragma once

#include "trace/subjects/winding.h"

namespace ilvek {

// A level that should be steady, or change slowly: its resting level, least and most, and every stretch that leaves the
// level about it by more than `allowed` (none: six sigma of its noise and a fiftieth of the level), with the channels
// that switched just before (W24: what was being touched, or commanded).
// SOURCE: the level about a place is the median of blocks, itself smoothed by medians, so that an event of less than a
// tenth of the recording does not move it. ERRORS: too few samples.
Result<TraceTold> measureLevel(const Recording& recording, const Channel& channel, std::optional<double> allowed = {});

// Pulses of a winding that differ from the middle of them all, and places where one is missing.
std::vector<TraceEvent> pulsesThatDiffer(const Pulses& pulses);

// Periods of something that repeats which do not look like the mean of them.
// REQUIRES: period in samples, more than four.
std::vector<TraceEvent> periodsThatDiffer(const std::vector<double>& x, double interval_s, double period, double noise);

}  // namespace ilvek
