// A faulty circuit solved from its own factorisation, where an edit of the healthy one would not do.
#pragma once

#include <memory>
#include <utility>
#include <vector>

#include "circuit/solution.h"

namespace ilvek {

class ExactCircuit {
public:
    // `base` outlives this.
    explicit ExactCircuit(const Solution& base) : base_(base) {}

    // The network, which has the faults in it, from voltages near to the answer. Null when a relay hangs on its history
    // or nothing settles. Stands until the next call.
    const Solution* from(const Network& network, const std::vector<double>& v);
    // The same from where the healthy circuit stands.
    const Solution* fromHealthy(const std::vector<Fault>& faults);
    // From everything off. Null when it has no solution.
    const Solution* fromRest(const Map& map, const Condition& faulty, const Phase& phase);

private:
    Solution& patterned(const Network& network);

    const Solution& base_;
    std::unique_ptr<Solution> spare_, grown_, cold_;
    std::vector<std::pair<int, int>> grownCouples_;
};

}  // namespace ilvek
