// The map in one condition as equations, solved: what every node reads.
#pragma once

#include <vector>

#include "base/result.h"
#include "circuit/condition.h"
#include "machine/map.h"

namespace ilvek {

// Potentials against battery minus, V, and the currents that belong to them.
class OperatingPoint {
public:
    // What a meter between the nodes would show, V.
    double voltage(int red, int black) const;
    // Potential against battery minus, V.
    double potential(int node) const;
    // Current through a conducting element or load from its first node to its second, A; 0 for other kinds and for
    // elements that are open.
    double currentThrough(int element) const;
    // Current through the substitute load, A; 0 without one.
    double loadCurrent() const { return loadCurrent_; }
    // Whether a switch, a relay's contact or a driver is closed; true for all other kinds that are not open.
    bool isClosed(int element) const;
    // A node that nothing but its leak holds: a reading there is no reading.
    bool isFloating(int node) const;
    // Relays never came to rest; the potentials are those of the last round.
    bool chatters() const { return chatters_; }

private:
    friend class Solver;
    std::vector<double> potentials_;
    std::vector<double> currents_;
    std::vector<bool> floating_;
    std::vector<bool> closed_;
    double loadCurrent_ = 0;
    bool chatters_ = false;
};

// REQUIRES: indices of the condition exist in the map.
// ERRORS: the solution did not converge (names the state); does not happen with the laws of laws.h.
Result<OperatingPoint> operatingPoint(const Map& map, const Condition& condition);

}  // namespace ilvek
