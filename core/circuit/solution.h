// A network solved: voltages at which Kirchhoff's current law holds at every node and the logic is at rest.
#pragma once

#include <memory>
#include <vector>

#include "base/result.h"
#include "circuit/equations.h"
#include "circuit/network.h"

namespace ilvek {

// Every node leaks this to battery minus, so that a floating terminal has a (meaningless) potential and the matrix is
// never singular.
constexpr double leak_S = 1e-9;

struct Solution {
    Network network;
    std::vector<double> v;                 // by equation node, V
    std::unique_ptr<Equations> equations;  // factorised at v
    bool chatters = false;
};

// From everything off. ERRORS: it did not converge (names the state); does not happen with the laws of laws.h.
Result<Solution> solve(const Map& map, const Condition& condition, const Phase& phase);

// The same after devices of `solution.network` were changed, from where it stands. False when it did not converge.
bool solveAgain(Solution& solution);

// Some laws are steep between two flats, where a full step of Newton's method jumps over the steep part and back. A
// device that jumped from one flat to the other is set to the middle of the steep part, from where the next step is
// exact. Laws of another shape are left alone.
void limitJump(const Device& device, const std::vector<double>& before, std::vector<double>& now);

}  // namespace ilvek
