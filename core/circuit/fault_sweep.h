// Many faults tried on one condition of the machine: the healthy circuit is solved and inverted once, each fault is a
// small edit of it.
#pragma once

#include <memory>
#include <vector>

#include "base/result.h"
#include "circuit/condition.h"
#include "machine/map.h"

namespace ilvek {

// Above this an added resistance shows through the meter's own current even where none flowed.
constexpr double seenByMeter_ohm = 2e4;

// SOURCE: W. W. Hager, "Updating the inverse of a matrix", SIAM Review 31 (1989): the Sherman–Morrison–Woodbury
// formula, applied at every step of Newton's method to the few nodes at which some device departs from its healthy law.
// Guard: where the small matrix is nearly singular, the steps do not settle, or a relay hangs on its history, the
// edited circuit is solved anew from its own factorisation; from rest where a module may feed itself.
class FaultSweep {
public:
    // REQUIRES: the condition has neither faults nor a meter; `map` outlives this.
    // ERRORS: the healthy circuit has no solution.
    static Result<FaultSweep> of(const Map& map, const Condition& healthy);
    ~FaultSweep();
    FaultSweep(FaultSweep&&) noexcept;
    FaultSweep& operator=(FaultSweep&&) noexcept;

    // What follows answers for the circuit with these faults, until the next call. False when it has no solution: then
    // nothing may be asked.
    bool apply(const std::vector<Fault>& faults);

    // The logic of the circuit with these faults never comes to rest; no figure of it means anything.
    bool chatters() const;

    // Fuses that carry too much with these faults.
    std::vector<int> blownFuses() const;

    // What a meter of the given input resistance between the nodes shows, V; infinite: no meter.
    double voltage(int red, int black, double inputResistance_ohm) const;
    // d voltage / d(battery's own voltage), V/V.
    double batterySlope(int red, int black) const;
    // What a meter between the nodes shows more than in the healthy circuit, V, where the faults hardly move either
    // node: its slopes are those of the healthy circuit then, and so is what its own current meets. Else NaN.
    double shift(int red, int black) const;
    // Resistance seen between the nodes with every source at rest, Ω.
    double sourceResistance_ohm(int red, int black);
    // Current through an element's first two nodes, A, without a meter.
    double currentThrough(int element) const;
    // d voltage / d ln R of each element's first device, V, in the healthy circuit; 0 for those that are no resistance.
    // By element of the map.
    std::vector<double> resistanceSlopes(int red, int black) const;

    // How often the guard called for a new factorisation.
    long refactorisations() const;

private:
    struct Part;
    FaultSweep();
    const Map* map_ = nullptr;
    std::vector<std::unique_ptr<Part>> parts_;  // by phase
};

}  // namespace ilvek
