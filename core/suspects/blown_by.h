// What suspects have blown by the time anyone looks: one cause, two findings.
#pragma once

#include <vector>

#include "suspects/suspects.h"

namespace ilvek {

// Behind the severities of each suspect those that blow a fuse in some state of the map once more, with that fuse blown
// (withBlownFuses()): a technician may have put a whole one in before he reads, or not. A short of which the same
// current would flow as in a state before is not tried there again. What says that the map is wrong blows nothing, for
// such a machine ran; a wrong figure that would is left out. Can be stopped (base/stop.h).
void blowFuses(const Map& map, std::vector<Suspect>& suspects);

}  // namespace ilvek
