// What a studied recording becomes in the journal: verdict, figures, a picture, and what it says of parts of the map.
#pragma once

#include "proving/reading.h"
#include "trace/signal/pyramid.h"
#include "trace/study/study.h"

namespace ilvek {

// Where the lead of the control channel sat; without it its levels are no evidence.
enum class LeadAt { NotSaid, Module, Part };

// Verdict, figures, and the picture of the main channel from `from_s` to `to_s`.
TraceSeen seenOf(const Recording& recording, const Study& study, const Pyramid& main, double from_s, double to_s);

// What the pulses of one winding say of it: the current that its drive lets flow, where it came to rest or none flows,
// and the levels at the lead. The drive is the one that switches it in `state`, else in the state in which most flows.
void addEvidence(const Map& map, const Study& study, const std::string& part, const std::string& state, LeadAt lead,
                 TraceSeen& seen);

// One entry for each cylinder whose winding the map names ("injector 3"): what flows in the sound ones takes what all
// share out of suspicion. One without a pulse counts as called, since its siblings are. A cylinder that comes only now
// and then is left out: its current is none of now.
std::vector<TraceSeen> seenOfCylinders(const Map& map, const Study& study, const std::string& state,
                                       const TraceSeen& whole);

}  // namespace ilvek
