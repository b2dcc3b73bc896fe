#include "circuit/exact_circuit.h"

namespace ilvek {

namespace {

std::unique_ptr<Solution> patternFor(const Network& network, const std::vector<std::pair<int, int>>& couples)
{
    auto solution = std::make_unique<Solution>(Solution{network, {}, nullptr, false});
    solution->equations = std::make_unique<Equations>(network.equations(), couples);
    return solution;
}

}  // namespace

// Where a part was added the pattern of the matrix may have no place for it. The next severity adds the same one.
Solution& ExactCircuit::patterned(const Network& network)
{
    if (network.devices().size() == base_.network.devices().size()) {
        if (!spare_) spare_ = patternFor(network, base_.network.couples());
        return *spare_;
    }
    auto couples = network.couples();
    if (!grown_ || couples != grownCouples_) {
        grown_ = patternFor(network, couples);
        grownCouples_ = std::move(couples);
    }
    return *grown_;
}

const Solution* ExactCircuit::from(const Network& network, const std::vector<double>& v)
{
    Solution& next = patterned(network);
    next.network = network;
    next.v = v;
    next.chatters = false;
    return solveAgain(next) && !next.network.hangsOnHistory(law::Voltages(next.v)) ? &next : nullptr;
}

const Solution* ExactCircuit::fromHealthy(const std::vector<Fault>& faults)
{
    Network network = base_.network;
    std::vector<int> touched;
    for (const Fault& fault : faults)
        network.apply(fault, touched);
    return from(network, base_.v);
}

const Solution* ExactCircuit::fromRest(const Map& map, const Condition& faulty, const Phase& phase)
{
    auto solved = solve(map, faulty, phase);
    if (!solved) return nullptr;
    cold_ = std::make_unique<Solution>(std::move(*solved));
    return cold_.get();
}

}  // namespace ilvek
