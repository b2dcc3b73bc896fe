// Ohms of a place where by the map a voltage stands. A meter shows anything there; but a few ohms to a post of the
// battery say that none stands and the place is shorted to it, and kilohms that it is not.
#pragma once

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

enum class Short { Unknown, Yes, No };

// Of ohms between a place on the wire of a signal, a bus or a reference and a post of the battery, or a return of the
// module, on a machine of a sheet.
Short shortBy(const Map& map, const Reading& reading);

}  // namespace ilvek
