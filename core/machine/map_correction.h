// One cavity of a map corrected or added by hand, as the journal keeps it.
#pragma once

#include <string>

#include "base/result.h"

namespace ilvek {

// A map document with one row added to it, or with one of its cavities corrected: circuit, role, colour, as-found, and
// the source whose expected values hold. The wiring of a cavity that has one is kept. `rowJson` is a pin row as
// writePinRow() gives it. ERRORS: as mapFromSheet(); not a row; a source that expects nothing there.
Result<std::string, Problems> withCorrection(const std::string& document, const std::string& rowJson);
// "J2-28 found empty", "J1-4 colour black with yellow".
std::string correctionWords(const std::string& rowJson);

}  // namespace ilvek
