// The system voltage that a sheet speaks of without being asked: "24 V" where a coil, a lamp or a normal reading is
// told.
#pragma once

#include <optional>
#include <vector>

#include "bench_map/pin_sheet.h"

namespace ilvek {

// V; nullopt where it names none of the usual ones, or several.
std::optional<double> spokenSystemVoltage_V(const std::vector<PinRow>& rows);

}  // namespace ilvek
