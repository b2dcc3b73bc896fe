// Reading and checking a map file (docs/formats.md). All faults are reported at once; a map with a fault is not loaded.
#pragma once

#include <string>
#include <string_view>

#include "machine/map.h"

namespace ilvek {

// `fileName` is used in messages only. ERRORS: each names file, element or cavity, field and reason.
Result<Map, Problems> readMap(std::string_view text, const std::string& fileName);

// The same from disk.
Result<Map, Problems> readMapFile(const std::string& path);

}  // namespace ilvek
