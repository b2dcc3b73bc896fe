// What must hold in a map beyond the shape of its file.
#pragma once

#include <string>

#include "machine/map.h"

namespace ilvek {

// Appends one problem for each: node with a single element end, wired cavity that no conductor reaches, supply or
// return with no path to its battery post, supply that is never needed, more than one main module.
void checkMap(Map& map, const std::string& fileName, Problems& problems);

}  // namespace ilvek
