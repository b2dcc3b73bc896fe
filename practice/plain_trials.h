// Windings without an armature and coils of other families than those that the measuring was tuned on: from a fraction
// of an ohm to sixty, iron that fills or not, charged until their resistance ends it. Fixed seeds.
#pragma once

#include "practice/trace_trials.h"

namespace ilvek::practice {

// Sound coils, half of them with iron that fills. Right: nothing odd is said, no limit, and the inductance within 15 %
// where it is given.
Trial trialPlainCoil(int draws, double noise);
// The same with turns that are shorted: that is what must be named. Of plain iron only.
Trial trialShortedCoil(int draws, double noise);
// A winding that moves nothing, of `ratio` times its resistance. Right: flagged, or left alone where the ratio is 1; no
// lift is seen.
Trial trialPlainWinding(int draws, double noise, double ratio);
// Duty at a drive whose turn-off spike stands over the supply, within half a point.
Trial trialSpikedDuty(int draws, double noise);
// A terminal that stands at a level and ripples. Right: it is said not to switch.
Trial trialRipple(int draws, double noise);

}  // namespace ilvek::practice
