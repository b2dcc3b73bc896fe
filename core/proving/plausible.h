// Whether a figure can be meant at all. What cannot is kept as it was read, and is evidence of nothing.
#pragma once

#include <optional>
#include <string>

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

// Why the reading cannot be meant on this machine, in words; nullopt when it can.
// SOURCE of the bounds: no direct voltage of a machine reaches three times that of its system, not even with a battery
// charger's boost; a cranking motor of a heavy engine takes below 3 kA; meters end at some 10 GΩ. Ohms below nothing
// are what a meter shows of a circuit that is live after all: they are evidence.
std::optional<std::string> implausible(const Map& map, const Reading& reading);

// The same of a voltage by itself.
bool isPossibleVoltage(const Map& map, double volts);

}  // namespace ilvek
