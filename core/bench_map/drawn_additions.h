// A function or a code that somebody tells of a map that was drawn and keeps no sheet.
#pragma once

#include <string>

#include "base/result.h"
#include "bench_map/pin_sheet.h"

namespace ilvek {

// The document with the function (circuit: its name, far end: the terminals it needs) or the code (far end: “B6 low” or
// “B6 high”) of the row added; one of the same name is replaced, one with the role “empty” is taken out. What a
// terminal needs follows from its role: supplies their port, drives the current of what they move, all else its level.
// ERRORS: a terminal that is not on the map; a code without its level; another kind of row.
Result<std::string, Problems> withLooseRow(const std::string& document, const PinRow& row);

}  // namespace ilvek
