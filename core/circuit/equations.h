// Kirchhoff's current law at every node, linearised at a point, and its sparse solution.
#pragma once

#include <memory>
#include <utility>
#include <vector>

#include "circuit/sink.h"

namespace ilvek {

// Filled by device laws at given node voltages: for each node the sum of the currents leaving it, F(v), A, and the
// Jacobian dF/dv, S. Node −1 is the reference and is left out.
class Equations final : public Sink {
public:
    // `couples` are the pairs of nodes that some device couples; slopes are written between those only. Without it any
    // two nodes may be coupled.
    Equations(int nodes, const std::vector<std::pair<int, int>>& couples);
    explicit Equations(int nodes);
    ~Equations() override;
    Equations(const Equations&) = delete;
    Equations& operator=(const Equations&) = delete;

    void clear();
    // What was written since clear() at zero voltages is linear and stays: restart() begins from it at voltages v.
    void keep();
    void restart(const std::vector<double>& v);
    void leave(int node, double current_A) override;
    void slope(int node, int byNode, double conductance_S) override;

    const std::vector<double>& residual() const { return residual_; }
    // Factorises J with KLU (SuiteSparse). False when the matrix is singular. The pattern is analysed once.
    // SOURCE: T. A. Davis, E. Palamadai Natarajan, ACM TOMS 37 (2010), algorithm 907. Eigen's SparseLU was set aside:
    // about twenty times slower on matrices of this kind.
    bool factorise();
    // J⁻¹ (−F) with the J of the last factorisation. REQUIRES: factorise() succeeded.
    bool solve(std::vector<double>& step);
    // J⁻¹ of the last factorisation, column by column; n × n, column-major. REQUIRES: as above.
    std::vector<double> inverse() const;
    // J⁻¹ b of the last factorisation; `b` is overwritten. REQUIRES: as above.
    void apply(std::vector<double>& b) const;
    // J⁻ᵀ b, likewise.
    void applyTransposed(std::vector<double>& b) const;

private:
    struct Factors;
    int nodes_;
    std::vector<double> residual_;
    std::unique_ptr<Factors> factors_;
};

}  // namespace ilvek
