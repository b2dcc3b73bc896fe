// A recording looked at as a whole: which channel is what, its pulses, its cylinders and a verdict in a sentence.
#pragma once

#include "trace/cylinders.h"

namespace ilvek {

struct StudyWishes {
    std::string current, control, sync;  // names of channels; empty: guessed, "-": none
    std::optional<double> supply_V;      // else the level of the control channel between pulses, where there is one
    FiringOrder order;
    std::optional<double> resistance_ohm;  // of one winding with its loop, as it should be at this temperature
};

struct Study {
    int current = -1, control = -1, sync = -1;  // channels
    std::optional<double> supply_V;
    Pulses pulses;
    std::optional<CylinderSet> cylinders;
    std::vector<TraceFinding> againstExpected;  // cylinder 0: all pulses together
    std::string verdict;
    std::string notCylinders;  // why they are not told apart, where a synchronising channel is given
};

// ERRORS: a channel that is not there, no channel of current, nothing in it.
Result<Study> study(const Recording& recording, const StudyWishes& wishes);

// The channel of that name or number ("2"), -1 when there is none.
int channelNamed(const Recording& recording, const std::string& name);

}  // namespace ilvek
