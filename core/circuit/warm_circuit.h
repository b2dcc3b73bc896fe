// One condition of the machine solved again and again with other faults and other figures, each time from where it
// stood, and how its voltages move with the figures.
#pragma once

#include <memory>
#include <utility>
#include <vector>

#include "base/result.h"
#include "circuit/condition.h"
#include "machine/map.h"

namespace ilvek {

// For some faults with many figures changed at once; for many faults of few parts FaultSweep is faster.
class WarmCircuit {
public:
    // REQUIRES: the condition has neither faults nor a meter; `map` outlives this.
    // ERRORS: the healthy circuit has no solution.
    static Result<WarmCircuit> of(const Map& map, const Condition& healthy);
    ~WarmCircuit();
    WarmCircuit(WarmCircuit&&) noexcept;
    WarmCircuit& operator=(WarmCircuit&&) noexcept;

    // What follows answers for the circuit with these faults, until the next call. False when it has no solution: then
    // nothing may be asked.
    bool apply(const std::vector<Fault>& faults);

    // Forgets where it stood: what follows does not hang on what was asked before.
    void reset();

    // What a meter of the given input resistance between the nodes shows, V; infinite: no meter.
    double voltage(int red, int black, double inputResistance_ohm) const;
    // d voltage / d(battery's own voltage), V/V.
    double batterySlope(int red, int black) const;
    // Resistance seen between the nodes with every source at rest, Ω.
    double sourceResistance_ohm(int red, int black) const;
    // Current through an element's first two nodes, A, without a meter.
    double currentThrough(int element) const;
    // d open-circuit voltage / d ln x, V, of the figure x that OutOfValue multiplies, of each of the elements (of a
    // part with added resistance that is in it); by pair of nodes, by element. dv/d ln x = −J⁻¹ ∂F/∂ln x, in which the
    // logic stays as it is; by one solution with Jᵀ for each pair.
    std::vector<std::vector<double>> valueSlopes(const std::vector<std::pair<int, int>>& pairs,
                                                 const std::vector<int>& elements) const;

private:
    struct Part;
    WarmCircuit();
    std::vector<std::unique_ptr<Part>> parts_;  // by phase
};

}  // namespace ilvek
