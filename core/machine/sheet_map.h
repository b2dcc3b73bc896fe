// A working map from pin rows: paths, shared fuses and grounds, and figures by role, all marked as assumed.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "machine/map.h"
#include "machine/pin_sheet.h"

namespace ilvek {

struct NewMachine {
    std::string maker = "unknown maker";
    std::string model = "unknown model";
    std::string module = "module";
    double systemVoltage_V = 12;
};

// The map document (JSON text) of a sheet; reading it gives the map. ERRORS: a fuse rating that is no figure (row
// named).
Result<std::string, Problems> mapFromSheet(const std::vector<PinRow>& rows, const NewMachine& machine);

// A map document with one row added to it, in place of what its cavity held. ERRORS: as above.
Result<std::string, Problems> withRow(const std::string& document, const PinRow& row);

}  // namespace ilvek
