// What gives current beside the battery.
#pragma once

#include "machine/map.h"

namespace ilvek {

// An alternator of the map runs in that state.
bool isChargedIn(const Map& map, int state);

}  // namespace ilvek
