// W4: what a module of this kind should have and its map lacks.
#pragma once

#include <string>
#include <vector>

#include "machine/map.h"

namespace ilvek {

// Each in words of the bay.
std::vector<std::string> scheduleGaps(const Map& map);

}  // namespace ilvek
