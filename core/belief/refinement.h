// The few suspects that matter, weighed with computed readings where the table only has neighbours to interpolate from.
#pragma once

#include <map>
#include <memory>
#include <vector>

#include "belief/belief.h"

namespace ilvek {

class Refinement {
public:
    // Refines whatever could still be likely; what was computed for earlier readings is kept. False where
    // something cannot be computed: the belief is then sound but coarse.
    bool refine(const Map& map, Belief& belief);
    // The belief was begun anew.
    void forget();

private:
    bool provide(const Map& map, const Belief& belief, const std::vector<int>& suspects);
    const Prediction* computed(const Map& map, const std::vector<Suspect>& list, const Condition& setup,
                               const std::vector<Probe>& probes);

    struct Known {
        std::vector<std::size_t> severities;
        std::vector<Exact> exact;  // by observation
    };
    std::map<int, Known> known_;  // by suspect
    std::vector<std::unique_ptr<const Prediction>> computed_;
};

}  // namespace ilvek
