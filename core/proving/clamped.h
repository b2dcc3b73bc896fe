// What a clamp says of the way that a current flows.
#pragma once

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

// The current through the reading's conductor, A, from its first node to the second. On a sheet a figure without a
// minus is an amount: it flows the way that it flows on the sound machine.
double clampedCurrent_A(const Map& map, const Reading& reading);

}  // namespace ilvek
