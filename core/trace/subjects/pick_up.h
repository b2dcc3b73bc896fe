// A pick-up that looks at a toothed wheel: Hall (two levels) or variable reluctance (a voltage that grows with speed).
#pragma once

#include "trace/formats/recording.h"
#include "trace/signal/measure.h"

namespace ilvek {

struct PickUpBeside {
    std::optional<int> teeth, missing;  // of the wheel, where the map or the technician says
};

// Kind, levels or swing, speed, teeth and gap, eccentricity, teeth off their place; for a variable-reluctance pick-up
// both polarities are tried and the one whose crossings fit a wheel is told, with the voltage at 1000 turns a minute.
// ERRORS: too few samples.
Result<TraceTold> measurePickUp(const Recording& recording, const Channel& channel, const PickUpBeside& beside = {});

// Where an alternating voltage passes nothing, upwards or downwards, after it stood clear on the other side.
// SOURCE: armed at a share of the swing about it, so that noise in the gap of a wheel makes no crossing.
std::vector<double> crossings(const std::vector<double>& x, double interval_s, bool falling, double noise);

}  // namespace ilvek
