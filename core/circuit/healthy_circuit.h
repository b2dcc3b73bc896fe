// A circuit without faults, solved and inverted once: what many small edits of it are told against.
#pragma once

#include <vector>

#include "circuit/linearised.h"
#include "circuit/solution.h"

namespace ilvek {

// J0 is the Jacobian at v0, where Kirchhoff's law holds; G = J0⁻¹, Ω. Nodes are those of the equations, −1 the
// reference.
struct HealthyCircuit {
    HealthyCircuit(const Map& map, Solution solution);

    double g(int row, int column) const
    {
        return row < 0 || column < 0 ? 0.0 : G[static_cast<std::size_t>(column) * n + static_cast<std::size_t>(row)];
    }
    // g(node, node), close together: of a large machine G is far beyond any cache.
    double own(int node) const { return node < 0 ? 0.0 : diagonal[static_cast<std::size_t>(node)]; }
    // (e_r − e_b)ᵀ G (e_p − e_q)
    double transfer(int red, int black, int p, int q) const
    {
        return g(red, p) - g(red, q) - g(black, p) + g(black, q);
    }
    // Between two nodes, Ω.
    double source_ohm(int red, int black) const { return own(red) + own(black) - g(red, black) - g(black, red); }
    void addColumn(std::vector<double>& to, int column, double times) const;
    const Device* device(int index) const;  // null for one that was added since

    Solution base;
    std::size_t n = 0;
    std::vector<double> G;  // column-major
    std::vector<double> diagonal;
    std::vector<Linearised> lines;  // by device: its law at v0
    std::vector<int> curved;        // devices whose law is no straight line
    const Device* battery = nullptr;
    int batteryPlus = -1;
};

}  // namespace ilvek
