// Fuses that a fault has blown before anyone looks (W14): such a fuse stays open, whatever is unplugged behind it,
// until a whole one is put in.
#pragma once

#include <vector>

#include "circuit/condition.h"
#include "machine/map.h"

namespace ilvek {

// The faults with each fuse that they blow in some state of the machine, as Fault::Kind::Blown behind them; such as are
// in them already are found anew. `figures`: what else differs on this machine; it is not part of the answer.
std::vector<Fault> withBlownFuses(const Map& map, const std::vector<Fault>& faults,
                                  const std::vector<Fault>& figures = {});

// How many of them are faults of their own: what they blew stands behind those.
std::size_t ownFaults(const std::vector<Fault>& faults);

// Both, the own faults of the first in front, then those of the second, and what both have blown.
std::vector<Fault> bothFaults(const std::vector<Fault>& first, const std::vector<Fault>& second);

}  // namespace ilvek
