// What a circuit carries at full work, as it was measured on this machine.
#pragma once

#include <optional>

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

// The last clamp reading on a terminal's conductor while its circuit works and nothing is loaded, bridged or apart, A;
// nullopt: none.
std::optional<double> measuredCurrent_A(const Map& map, const Evidence& evidence, int terminal);

}  // namespace ilvek
