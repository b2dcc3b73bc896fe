// Pulses of a winding against what they should look like, feature by feature, and what that names.
#pragma once

#include "trace/study/cylinders.h"
#include "trace/study/reference.h"

namespace ilvek {

enum class WindingFault {
    None,               // nothing that these features can tell
    NoCurrent,          // open, not fed or not driven: the voltages say which (W27)
    TooMuchResistance,  // in winding, feed, control wire or driver
    ShortedTurns,       // more current and a steeper rise
    TooLittleResistance,
    OtherInductance,  // another part, or iron that is saturated or stuck
    NoLift,           // the armature does not move, where a sound one's lift is seen
    CannotTell
};
std::string words(WindingFault fault);

struct WindingComparison {
    WindingFault fault = WindingFault::CannotTell;
    std::vector<TraceFinding> findings;  // worst first; cylinder 0
    double supplyRatio = 1;              // of the recording's supply to the reference's
    std::string verdict;
    // The mean pulse brought to the reference's supply and time base, and how far it lies off in units of tolerance;
    // empty where the reference has no shape. Lift and switching off are laid over each other; how far they had to be
    // moved is told by their own features.
    std::vector<double> current_A, deviation;
};

// Current scales with the supply, a lift comes the sooner the higher it is.
// ERRORS: the supply of the recording is not known.
Result<WindingComparison> compareWinding(const Recording& recording, const Channel& current, const Pulses& pulses,
                                         std::optional<double> supply_V, const WindingReference& reference);

}  // namespace ilvek
