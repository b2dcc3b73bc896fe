// Kirchhoff's current law at every node, linearised at a point, and its sparse solution.
#pragma once

#include <memory>
#include <vector>

namespace ilvek {

// Filled by device laws at given node voltages: for each node the sum of the currents leaving it, F(v), A, and the
// Jacobian dF/dv, S. Node −1 is the reference and is left out.
class Equations {
public:
    explicit Equations(int nodes);
    ~Equations();
    Equations(const Equations&) = delete;
    Equations& operator=(const Equations&) = delete;

    void clear();
    void leave(int node, double current_A);
    void slope(int node, int byNode, double conductance_S);
    // Current i from a to b with slope g against v_a − v_b.
    void branch(int a, int b, double current_A, double conductance_S);

    const std::vector<double>& residual() const { return residual_; }
    // Solves J x = −F with KLU (SuiteSparse). False when the matrix is singular. The pattern is analysed once as long
    // as it does not change.
    // SOURCE: T. A. Davis, E. Palamadai Natarajan, ACM TOMS 37 (2010), algorithm 907. Eigen's SparseLU was set aside:
    // about twenty times slower on matrices of this kind.
    bool solve(std::vector<double>& step);

private:
    struct Entry {
        int row, column;
        double value;
    };
    struct Factors;
    void arrange();
    int nodes_;
    std::vector<double> residual_;
    std::vector<Entry> entries_;
    std::unique_ptr<Factors> factors_;
};

}  // namespace ilvek
