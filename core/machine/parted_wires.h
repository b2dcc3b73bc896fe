// Where the wire of a terminal of a sheet ends inside the loom, and others go on from there to several parts.
#pragma once

#include <string>

#include "machine/map.h"

namespace ilvek {

// The terminal whose wire ends at the node while others go on; empty: none does.
std::string partedEndOf(const Map& map, int node);

}  // namespace ilvek
