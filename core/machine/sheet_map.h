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

// A map document with one row added to it, or with one of its cavities corrected: circuit, role, colour, as-found.
// The wiring of a cavity that has one is kept. ERRORS: as above, or not a row.
Result<std::string, Problems> withCorrection(const std::string& document, const std::string& rowJson);
// "J2-28 found empty", "J1-4 colour black with yellow".
std::string correctionWords(const std::string& rowJson);

// W4: what a module of this kind should have and this map lacks; each in words of the bay.
std::vector<std::string> scheduleGaps(const Map& map);

}  // namespace ilvek
