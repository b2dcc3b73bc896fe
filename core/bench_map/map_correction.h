// One cavity of a map corrected or added by hand, as the journal keeps it.
#pragma once

#include <string>

#include "base/result.h"

namespace ilvek {

// A map document with one row added to it, or corrected. Where it keeps its sheet all of a row can be corrected, and
// the map is made anew; in one made by hand circuit, role, colour, as-found, and the source whose expected values hold,
// and the wiring of a cavity that has one stays. `rowJson` is a pin row as writePinRow() gives it. ERRORS: as
// mapFromSheet(); not a row; a source that expects nothing there.
Result<std::string, Problems> withCorrection(const std::string& document, const std::string& rowJson);
// Whether it only says what was not known of a circuit, a current or what is expected, or a function, a code or a weak
// place, and leaves the wiring as it was.
bool onlyStatesFigures(const std::string& rowJson);
// "J2-28 found empty", "J1-4 colour black with yellow".
std::string correctionWords(const std::string& rowJson);

}  // namespace ilvek
