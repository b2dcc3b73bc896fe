// Machines and known-good figures of a bench and of its shop, brought together.
#pragma once

#include <filesystem>

#include "shop/shop.h"

namespace ilvek {

// Machines that one side lacks go there; where both have one of a name each keeps its own. Known-good figures of both
// are put together on both sides. How many files came or changed here. Can be stopped between two files
// (base/stop.h). ERRORS: connection lost; a file that cannot be read or written, by its name.
Result<int> shareFiles(Shop& shop, const std::filesystem::path& machines, const std::filesystem::path& knownGood);

}  // namespace ilvek
