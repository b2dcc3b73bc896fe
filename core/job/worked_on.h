// What was replaced or repaired before this job (W1): old repairs and what was added come first (W24).
#pragma once

#include <string>
#include <vector>

#include "machine/map.h"

namespace ilvek {

// How much likelier a place is to fail that somebody has worked on.
constexpr double workedOnFactor = 4;

// Makes the parts, terminals and connectors that a text names likelier to fail, once each; names are taken as whole
// words, in any letters. Returns the texts that name
// nothing: they are kept, and weigh nothing.
std::vector<std::string> raiseWorkedOn(Map& map, const std::vector<std::string>& texts);

}  // namespace ilvek
