// One line for people of any entry.
#pragma once

#include <string>

#include "job/event.h"
#include "machine/map.h"

namespace ilvek {

// Of those that procedures make with the procedure's own name.
std::string entryWords(const Map& map, const Event& event);

}  // namespace ilvek
