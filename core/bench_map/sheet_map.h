// A working map from pin rows: paths, shared fuses and grounds, and figures by role, all marked as assumed.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "bench_map/pin_sheet.h"
#include "machine/map.h"

namespace ilvek {

struct NewMachine {
    std::string maker = "unknown maker";
    std::string model = "unknown model";
    std::string module = "module";
    double systemVoltage_V = 12;
    std::string variant = {};
};

// The map document (JSON text) of a sheet, which it keeps; reading it gives the map. ERRORS: words that are not
// understood, each with its row and column.
Result<std::string, Problems> mapFromSheet(const std::vector<PinRow>& rows, const NewMachine& machine);

// The machine that a map document is of.
NewMachine machineNamedIn(const std::string& document);
// Maker, model, variant and module, as far as somebody named them: "MAC-2" alone where nobody did.
std::string knownWords(const NewMachine& machine);

// The document with one row corrected or added: made anew where it keeps its sheet; in a map made by hand the row takes
// the place of what its cavity held. ERRORS: as above.
Result<std::string, Problems> withRow(const std::string& document, const PinRow& row);

}  // namespace ilvek
