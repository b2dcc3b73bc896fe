// Machines in the bay: random bench maps as a technician fills them in, half of the figures missing and some of them
// wrong, and the true machine behind each.
#pragma once

#include <cstdint>
#include <random>
#include <string>
#include <vector>

#include "base/result.h"
#include "circuit/condition.h"
#include "machine/map.h"
#include "practice/field_sheets.h"

namespace ilvek::practice {

struct FieldMachine {
    std::string sheet;         // CSV, as the technician has it
    Map map;                   // made of it
    std::vector<Fault> truth;  // what every part of the machine really is: factors on its figures
    // As it is made where the trade has several ways and no sheet tells which: pull-ups of switches on the battery,
    // sensor supplies of more than 5 V. Its elements are those of the map.
    Map made;
};

// The same for the same seed. The machine is sound: no supply or return of it loses more than custom allows.
FieldMachine fieldMachine(std::uint32_t seed, const FieldSpread& spread);

// A machine behind a sheet that somebody wrote: each figure that it leaves open drawn anew. ERRORS: what the sheet does
// not say clearly; a sheet of which no sound machine comes in a hundred draws.
Result<FieldMachine, Problems> machineBehind(const std::string& sheet, const std::string& name, double systemVoltage_V,
                                             std::uint32_t seed, const FieldSpread& spread);

}  // namespace ilvek::practice
