// Two places of one signal's own wire, read in one set-up against one place: what they say of the wire between,
// whatever the sensor gives.
#pragma once

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

enum class WireEnds {
    NotCompared,  // of other wires, set-ups or black leads
    Differ,       // something lies between, or the sensor moved meanwhile
    Alike,        // the wire between is whole
    SayNothing,   // alike, but where an end that hangs free would stand too; or neither alike nor apart
};
WireEnds wireEndsOf(const Map& map, const Reading& one, const Reading& other);

}  // namespace ilvek
