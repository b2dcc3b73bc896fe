// What came back with fused power at one terminal of the module, all else as built (W17).
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

struct Substituted {
    std::int64_t entry = 0;
    int works = 0, fails = 0;  // functions that were tried
    // All that failed came back and nothing that was tried fails: the module and all else that those functions need is
    // sound, and only the conductor of the terminal is not.
    bool provesModule = false;
};

// Of the functions that were tried last with that one lead and nothing else changed, before any later repair. `dead`:
// ids of the functions that fail by the complaint. nullopt: none were tried.
std::optional<Substituted> substituted(const Map& map, const Evidence& evidence, const std::vector<std::string>& dead,
                                       int terminal);

}  // namespace ilvek
