// What the case against the likeliest rests on.
#pragma once

#include <cstddef>
#include <vector>

#include "choice/candidates.h"
#include "choice/groups.h"

namespace ilvek {

// Readings, by their place in belief.taken(), without one of which there is no case against the likeliest group: a lead
// in the wrong cavity, or a fault that was just absent, would make it or break it. Only those of which `candidates` has
// the test, and that were taken once. None on a machine whose figures are known: another place tells more there.
std::vector<std::size_t> caseRestsOn(const Map& map, const std::vector<Suspect>& suspects, const Belief& belief,
                                     const std::vector<SuspectGroup>& groups, const std::vector<Candidate>& candidates);

}  // namespace ilvek
