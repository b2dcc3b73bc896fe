// The rows that a map was made of, kept in its document, so that a row can be added or corrected later and the map
// made anew.
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <vector>

#include "base/result.h"
#include "bench_map/pin_sheet.h"

namespace ilvek {

// Writes them into a map document.
void keepSheet(const std::vector<PinRow>& rows, nlohmann::ordered_json& document);

// The rows in the order in which they were typed, each with the number that stands beside it in a spreadsheet; nullopt
// for a map that was made by hand. ERRORS: a row that cannot be read.
std::optional<Result<std::vector<PinRow>, Problems>> sheetOf(const nlohmann::ordered_json& document);
std::optional<Result<std::vector<PinRow>, Problems>> sheetOf(const std::string& document);

// The rows with one of them corrected, or with one more: what the correction says of its cavity holds, the rest stays;
// a `whole` row takes the other's place.
std::vector<PinRow> withRow(std::vector<PinRow> rows, const PinRow& correction);

// What differs between two sheets, as corrections that turn the one into the other. A row that is gone has the role
// “empty”: of a cavity that stays, of what is outside the module it is taken out.
std::vector<PinRow> correctionsBetween(const std::vector<PinRow>& before, const std::vector<PinRow>& after);

}  // namespace ilvek
