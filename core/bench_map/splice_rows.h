// Rows that say what a splice is fed from or grounded by: "S3; feed; F5 30 A > K2".
#pragma once

#include <vector>

#include "bench_map/pin_sheet.h"

namespace ilvek {

// Whether a name is that of a splice: "S3", "SP12".
bool isSpliceName(std::string_view name);

// A row in whose first column stands a splice that other rows' wires lead over lists no terminal, but that splice.
void findSpliceRows(std::vector<PinRow>& rows);

// The rows of splices to which no other row leads, by index.
std::vector<std::size_t> splicesOfNoRow(const std::vector<PinRow>& rows);

// The rows without those of splices: the way on from each stands behind it in the first row that leads to it and says
// no more. A splice that no row leads to is left out.
std::vector<PinRow> withSplicesRouted(const std::vector<PinRow>& rows);

}  // namespace ilvek
