// The reading that would exclude a suspect: what it could not read if that were the fault.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "choice/groups.h"
#include "choice/test_cost.h"

namespace ilvek {

struct Exclusion {
    double chance = 0;   // that it does exclude the group, if the fault is another one
    double minutes = 0;  // to take it
    // What it reads if the group is the fault, V or decades of ohms, whatever the severity; beyond, it is not. A look
    // has none: as drawn excludes.
    double low = 0, high = 0;
    bool ohms = false, look = false;
    Step step;
    std::string words;  // one sentence
};

// By group, at most so many; nullopt where no test of the map excludes it, and for what is left over. A group is
// excluded by a reading more than four sigma beyond all that its members at their likely severities make of it; the
// test chosen is the one that most probably does so per minute, of those that do more often than not.
std::vector<std::optional<Exclusion>> exclusionsOf(const Map& map, const std::vector<Suspect>& suspects,
                                                   const Belief& belief, const std::vector<SuspectGroup>& groups,
                                                   const PredictionTable& table,
                                                   const std::vector<Candidate>& candidates,
                                                   const WayOfWorking& working, const Standing& standing,
                                                   std::size_t most);

}  // namespace ilvek
