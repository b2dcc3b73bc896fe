// Places on the wires of a sheet that it does not name itself.
#pragma once

#include <string>

#include "machine/map.h"

namespace ilvek {

// The terminal whose wire ends at the node, inside the loom, while others go on to several parts; empty: none does.
std::string partedEndOf(const Map& map, int node);

// "X13 (wire of 10)" of "X13-?10", a cavity of which only the connector and the wire are known; others by their name.
std::string cavityWords(const std::string& id);

}  // namespace ilvek
