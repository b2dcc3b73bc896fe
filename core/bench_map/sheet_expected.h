// What is expected at the terminals of a pin sheet: what the sheet states, and for the rest what is customary for the
// role and can fail. Of what has neither it is said between which states its level must move.
#pragma once

#include <nlohmann/json_fwd.hpp>

#include "bench_map/sheet_row.h"

namespace ilvek {

struct FedBeside {
    bool elsewhere = false;  // a second source keeps the row's feed live, so that it need not be absent in any state
    bool bySwitch = false;   // of a switch that brings a feed from another terminal
    std::string byDriveIn = {};  // of a drive whose part another drive of the module feeds: the state in which it does
};
// REQUIRES: the states of the sheet are in the document, and the sources "assumed" and "customary".
void addExpected(SheetDocument& doc, const SheetRow& row, const FedBeside& fed, nlohmann::ordered_json& cavity);

}  // namespace ilvek
