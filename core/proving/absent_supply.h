// A supply that is absent: its fuses and relays one after the other, powered (W14), then the coil of the relay whose
// contact passes nothing (W15).
#pragma once

#include <optional>
#include <string>

#include "proving/step.h"

namespace ilvek {

// The next place to read; what was read of the same circuit for another terminal is not read again. Where the module
// does not drive the coil a fused lead stands in for it, so that the supply can be proven all the same. nullopt when a
// part is found, or when nothing that can be reached is left between what is live and what is dead.
std::optional<Step> absentSupplyStep(const Map& map, const Assessment& assessment, int terminal, int state);

// The same step with the leads that stand in for the module, as in the reading that first had them.
Step withStandIn(const Map& map, Step step, const std::vector<FusedLead>& leads);

// The relay that is driven and does not pass its supply on, or the conductor by which it is not driven, as one sentence
// with its figures.
std::optional<std::string> relayFault(const Map& map, const Assessment& assessment, int terminal, int state);

}  // namespace ilvek
