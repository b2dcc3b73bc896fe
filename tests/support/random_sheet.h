// Machines of other kinds: pin sheets as a technician would have them, at random.
#pragma once

#include <random>

#include "machine/map.h"

namespace ilvek::test {

// Four to twelve terminals with supplies of every kind, returns and drives, at 12 to 48 V.
Map randomSheetMap(std::mt19937& random);

}  // namespace ilvek::test
