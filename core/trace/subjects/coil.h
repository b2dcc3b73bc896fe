// A coil that is charged and let go: dwell, limiting, charges that differ.
#pragma once

#include "trace/subjects/winding.h"

namespace ilvek {

// Of all charges in a current: dwell, peak, slope, the current that the drive limits to and since when, the jump at the
// beginning that shorted turns make, the time of letting go, charges that are missing.
// ERRORS: nothing in it rises out of the noise.
Result<TraceTold> measureCoil(const Recording& recording, const Channel& current, std::optional<double> supply_V);

}  // namespace ilvek
