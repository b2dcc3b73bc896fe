// Suspects that the table does not know, tried on what was observed before the whole table is computed for them.
#pragma once

#include <vector>

#include "belief/further.h"

namespace ilvek {

class Trial {
public:
    // Only what was observed in the set-ups of `wanted` counts. What sound parts may move a reading by is taken from
    // the search's table.
    Trial(const Search& search, const std::vector<Suspect>& suspects, const std::vector<Wanted>& wanted);
    Trial(const Trial&) = delete;
    Trial& operator=(const Trial&) = delete;

    // Of the i-th of the suspects: as in Belief.
    double severity(std::size_t i) const { return belief_.severity(static_cast<int>(i) + 1); }
    double logLikelihood(std::size_t i) const { return belief_.logLikelihood(static_cast<int>(i) + 1); }

private:
    std::vector<Suspect> suspects_;  // behind the sound machine
    PredictionTable table_;
    Belief belief_;
};

}  // namespace ilvek
