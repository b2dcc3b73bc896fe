// Tests that are worth their trouble only once a certain fault is likely: the step-by-step hunt of a short with a lamp
// in place of the fuse (W22), and a wire taken on its own under load (W25).
#pragma once

#include <optional>
#include <vector>

#include "choice/candidates.h"
#include "proving/step.h"

namespace ilvek {

// The lamp in place of this fuse in this state, with all mated and with each connector of its branch apart. Empty when
// the branch leads to a circuit that is not to be probed.
std::vector<Candidate> shortHunt(const Map& map, int fuse, int state);

// nullopt when an end of the wire cannot be freed by unplugging (a splice, a stud), or leads to a circuit that is not
// to be probed.
std::optional<Candidate> isolatedWire(const Map& map, int wire);

// What the likeliest fault calls for: the hunt behind each fuse that it blows, the wire that it is in.
std::vector<Candidate> huntFor(const Map& map, const std::vector<Fault>& faults);

}  // namespace ilvek
