// What can hurt where a circuit of this name is worked on; a sheet has no other word for it. Internal to procedures.
#pragma once

#include "procedures/flow.h"

namespace ilvek {

// By the words in the terminal's circuit and in the names of its part: ignition, fuel, brakes and transmission, what
// turns or moves, heat.
void addWorkCautions(Flow& flow, int terminal, int part);

}  // namespace ilvek
