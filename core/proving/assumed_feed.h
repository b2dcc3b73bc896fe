// Where a fuse is fed from that no row of a sheet tells: always, or with the key.
#pragma once

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

// Volts with the key off that stand where they would if a fuse were fed always, of which the sheet does not say that it
// is fed with the key: neither right nor wrong.
bool mayBeFedAlways(const Map& map, const Reading& reading);

}  // namespace ilvek
