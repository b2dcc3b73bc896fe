// The role of a row, from all of it: its own words, its name where no role is written, its way and its far end.
#pragma once

#include "base/result.h"
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_words.h"

namespace ilvek {

// ERRORS: no role that is known, or one that may be two things, with what to write.
Result<SheetRole> roleOf(const PinRow& row);

}  // namespace ilvek
