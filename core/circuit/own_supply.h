// Feeds of a module that may hang on what the module itself switches on.
#pragma once

#include <vector>

#include "circuit/condition.h"
#include "machine/map.h"

namespace ilvek {

// Whether the faults take the wire of a module's feed away and join two conductors. From where the sound machine stands
// a module that then feeds itself would stay awake; from rest it never wakes.
bool mayFeedItself(const Map& map, const std::vector<Fault>& faults);

}  // namespace ilvek
