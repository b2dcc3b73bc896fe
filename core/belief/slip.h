// How a reading may have been taken wrongly.
#pragma once

#include "belief/observations.h"

namespace ilvek {

// Sets the chance that a reading was taken wrongly and how densely what is read then lies about its value. `alone`: it
// is of a part by itself, where no lead can be misplaced.
void expectSlips(const Map& map, const Assessment& assessment, const Reading& reading, bool alone, Observation& o);

}  // namespace ilvek
