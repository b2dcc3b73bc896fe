// What a test costs and how finely it reads.
#pragma once

#include "belief/belief.h"
#include "choice/candidates.h"
#include "proving/plan.h"

namespace ilvek {

// What stands now: counts for the cost of a test.
struct Standing {
    int state = 0;
    std::vector<int> unplugged;
    std::string load;
};

// Change of state, unplugging, load and reach, counted from where the machine stands.
double minutesOf(const Map& map, const Candidate& candidate, const Standing& standing);

// The observations that it gave already under the same set-up, by their place in belief.taken(). Once more would tell
// nothing new, unless what it read is doubted.
std::vector<std::size_t> takenBefore(const Belief& belief, const Candidate& candidate);

// One sigma of a usual meter about what the sound circuit reads: V, or decades of ohms.
double meterSigma(const Column& column);

}  // namespace ilvek
