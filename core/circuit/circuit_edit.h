// A few devices of a solved circuit changed: Newton's method on the nodes that they touch.
#pragma once

#include <Eigen/LU>
#include <vector>

#include "circuit/healthy_circuit.h"

namespace ilvek {

// Kirchhoff at every node, with J0 the healthy Jacobian at v0, G = J0⁻¹ and δ(v) what the devices pass beyond their
// healthy laws' straight lines:  J0 (v − v0) + δ(v) = 0,  so  v = v0 − G δ(v).
// δ is zero but at the few nodes U of the devices in the edit; Newton on those:
//   (I + G_UU D) Δw = −(w − v0_U + G_UU δ),  D = dδ/dv_U,  w = v_U.
// SOURCE: W. W. Hager, "Updating the inverse of a matrix", SIAM Review 31 (1989).
class CircuitEdit {
public:
    explicit CircuitEdit(const HealthyCircuit& healthy);

    // Back to the healthy circuit.
    void clear();
    // The circuit with these faults. False where the edit magnifies rounding too much, the steps do not settle or a
    // relay hangs on its history: it is to be solved from its own factorisation.
    bool settle(const std::vector<Fault>& faults);
    // Not good enough to be the answer, but to begin the exact solution from.
    bool isNear() const { return near_; }
    // From the healthy circuit to one that was solved exactly: its network and voltages,
    void stand(const Solution& exact);
    // and the edit that leads there. False where that is singular to rounding: what a meter meets is then to be solved
    // too.
    bool findEdit();

    const Network& network() const { return now_; }
    const std::vector<double>& v() const { return v_; }
    // (e_r − e_b)ᵀ J⁻¹ (e_p − e_q), J the Jacobian of the edited circuit.
    double transfer(int red, int black, int p, int q) const;
    // Whether next to nothing is left of the terms of the last transfer(), which gave t.
    bool cancels(double t) const;
    // All nodes of J⁻¹ e_node.
    std::vector<double> column(int node) const;
    // Of I + G ΔJ on the way, the least.
    double pivot() const { return pivot_; }
    // The edit only adds so much resistance to straight laws, or joins nodes: what a meter meets grows by no more.
    // SOURCE: Rayleigh's law of monotonicity.
    bool addsAtMost(double most_ohm, const std::vector<Fault>& faults) const;
    // A current between the nodes moves none of the edited ones, so that no edit of them changes what it meets.
    bool isFarFrom(int red, int black) const;

private:
    static constexpr int mostNodes = 60;  // beyond this a new factorisation is as cheap
    // Nearly all edits are of two or three nodes: nothing is allocated for them.
    using Matrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::ColMajor, mostNodes, mostNodes>;
    using Vector = Eigen::Matrix<double, Eigen::Dynamic, 1, Eigen::ColMajor, mostNodes, 1>;

    bool isTooLarge() const { return nodes_.size() > static_cast<std::size_t>(mostNodes); }
    void touch(int device);
    bool isStraight(int device) const;
    void departures();
    bool settleNodes();
    void spread();
    void findGUU();
    bool invert();
    bool standsStill(const Device& device) const;
    double leavesItsLine(int device) const;
    bool gatherDepartures();

    const HealthyCircuit& healthy_;
    Network now_;
    bool replaced_ = false;            // `now_` is no edit of the healthy network
    std::vector<int> changed_;         // devices of `now_` that are not as in the healthy network
    std::vector<int> edited_, nodes_;  // devices in the edit, and their nodes
    std::vector<int> local_;           // by node of the equations: which of `nodes_`, or −1
    std::vector<double> v_, before_;   // before: the last step
    Vector delta_;
    Matrix D_, K_, GUU_, A_;  // K = (I + D G_UU)⁻¹ D
    Eigen::PartialPivLU<Matrix> lu_;
    mutable Vector left_, right_;
    bool rough_ = false;  // it magnifies rounding too much to be the answer
    bool near_ = false;   // but it came to rest
    double pivot_ = 1;
};

}  // namespace ilvek
