// The current of a driven winding, pulse by pulse: when it is switched, how it rises, when the armature lands, where it
// ends and how it dies.
#pragma once

#include <vector>

#include "trace/formats/recording.h"
#include "trace/signal/measure.h"

namespace ilvek {

// What stands beside the current when a pulse is measured.
struct WindingBeside {
    std::optional<double> supply_V;    // at the feed while it is driven
    const Channel* control = nullptr;  // voltage at the drive's terminal, on the same time base
    bool moves = true;                 // an armature may be in it: its lift is looked for
};

struct Pulse {
    std::size_t first = 0, last = 0;  // samples, with some before and behind
    double on_s = 0, off_s = 0;       // from the recording's first sample
    bool holds = false;               // limited, then held: peak and hold
    bool cut = false;                 // the recording begins or ends within it
    std::vector<TraceMeasure> measures;

    const TraceMeasure* find(const std::string& id) const;
    std::optional<double> value(const std::string& id) const;
};

struct Pulses {
    double noise_A = 0, zero_A = 0;
    std::vector<Pulse> pulses;
};

// Every pulse of a current channel, without a trigger. Measures of each, where it can bear them: peak, end current, end
// current over supply and resistance (on a plateau only), turn-on slope and inductance, lift, turn-off time; with a
// control voltage: battery level, switch-on level, spike, closing hump.
// SOURCE: kinks in sliding least squares at several widths. On the concave rise of a winding a sharp positive kink is
// the armature reaching its stop; a smooth one, which grows with the width it is looked at with, is saturation. In a
// recording of few pulses the law of the armature (armature.h) is asked too where noise leaves the kink unsure.
// ERRORS: nothing in it rises out of the noise.
Result<Pulses> measureWinding(const Recording& recording, const Channel& current, const WindingBeside& beside = {});

}  // namespace ilvek
