#include "circuit/circuit_edit.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

namespace {

constexpr int mostSteps = 40;
constexpr int mostRounds = 6;

constexpr double settled_V = 1e-9;
constexpr double still_V = 1e-13;  // rounding
// A straight law settles in the first step but for rounding, which the next ones take away.
constexpr int mostStraightSteps = 4;
constexpr double mostNoise_V = 1e-3, unseenNoise_V = 5e-6;
constexpr double departs_A = 1e-10;  // a device further from its healthy law than this joins the edit
// Of I + G ΔJ. Below it, as where a part opens and leaves others on their leak alone, rounding is magnified too much.
constexpr double leastPivot = 1e-8;
// Good enough to begin the exact solution from; and to tell that a source resistance is far too small to matter.
constexpr double leastPivotNear = 3e-12, leastPivotForMeter = 3e-11;
// Where all but one part in so many of the edit's terms cancels, what is left is noise.
constexpr double mostCancelled = 1e7;
// Nodes that share no more than this with a meter's way do not tell it anything.
constexpr double far_ohm = 0.05;

}  // namespace

CircuitEdit::CircuitEdit(const HealthyCircuit& healthy) : healthy_(healthy), now_(healthy.base.network)
{
    local_.assign(healthy.n, -1);
    v_ = healthy.base.v;
}

void CircuitEdit::clear()
{
    if (replaced_)
        now_ = healthy_.base.network;
    else
        now_.restore(healthy_.base.network, changed_);
    replaced_ = false;
    changed_.clear();
    for (const int node : nodes_)
        local_[static_cast<std::size_t>(node)] = -1;
    nodes_.clear();
    edited_.clear();
    v_ = healthy_.base.v;
    K_.resize(0, 0);
    rough_ = near_ = false;
    pivot_ = 1;
}

void CircuitEdit::touch(int device)
{
    if (std::find(edited_.begin(), edited_.end(), device) != edited_.end()) return;
    edited_.push_back(device);
    const Device& d = now_.devices()[static_cast<std::size_t>(device)];
    for (std::size_t i = 0; i < d.nodeCount; ++i) {
        const int node = d.nodes[i];
        if (node < 0 || local_[static_cast<std::size_t>(node)] >= 0) continue;
        local_[static_cast<std::size_t>(node)] = static_cast<int>(nodes_.size());
        nodes_.push_back(node);
    }
}

// Its law is a straight line, with the fault and without.
bool CircuitEdit::isStraight(int device) const
{
    const Device* was = healthy_.device(device);
    return now_.devices()[static_cast<std::size_t>(device)].isLinear() && (!was || was->isLinear());
}

// δ and D of the edited devices at v.
void CircuitEdit::departures()
{
    const auto m = static_cast<Eigen::Index>(nodes_.size());
    delta_ = Vector::Zero(m);
    D_ = Matrix::Zero(m, m);
    const law::Voltages at(v_), at0(healthy_.base.v);
    for (const int index : edited_) {
        const Device& d = now_.devices()[static_cast<std::size_t>(index)];
        const Linearised is = linearised(d, at);
        const Linearised* line = healthy_.device(index) ? &healthy_.lines[static_cast<std::size_t>(index)] : nullptr;
        for (std::size_t i = 0; i < d.nodeCount; ++i) {
            if (d.nodes[i] < 0) continue;
            const int row = local_[static_cast<std::size_t>(d.nodes[i])];
            double healthyCurrent = line ? line->current[i] : 0;
            for (std::size_t k = 0; k < d.nodeCount; ++k) {
                if (d.nodes[k] < 0) continue;
                const double slope0 = line ? line->slope[i][k] : 0;
                healthyCurrent += slope0 * (at[d.nodes[k]] - at0[d.nodes[k]]);
                D_(row, local_[static_cast<std::size_t>(d.nodes[k])]) += is.slope[i][k] - slope0;
            }
            delta_(row) += is.current[i] - healthyCurrent;
        }
    }
}

// Newton on the edited nodes.
bool CircuitEdit::settleNodes()
{
    findGUU();
    const auto m = static_cast<Eigen::Index>(nodes_.size());
    const bool straight = std::all_of(edited_.begin(), edited_.end(), [&](int index) { return isStraight(index); });
    for (int step = 0; step < mostSteps; ++step) {
        departures();
        Vector r = GUU_.lazyProduct(delta_);
        for (Eigen::Index i = 0; i < m; ++i) {
            const auto node = static_cast<std::size_t>(nodes_[static_cast<std::size_t>(i)]);
            r(i) += v_[node] - healthy_.base.v[node];
        }
        // Straight laws have the same slopes from step to step.
        if (step == 0 || !straight) {
            A_ = Matrix::Identity(m, m);
            A_ += GUU_.lazyProduct(D_);
            lu_.compute(A_);
            pivot_ = std::min(pivot_, lu_.matrixLU().diagonal().cwiseAbs().minCoeff());
            if (!(pivot_ > leastPivotNear)) return false;
            rough_ = rough_ || !(pivot_ > leastPivot);
        }
        const Vector back = lu_.solve(r);
        const double share = step < mostSteps / 2 ? 1.0 : 0.5;
        if (!straight) before_ = v_;
        for (Eigen::Index i = 0; i < m; ++i)
            v_[static_cast<std::size_t>(nodes_[static_cast<std::size_t>(i)])] -= share * back(i);
        const double moved_V = back.cwiseAbs().maxCoeff();
        if (!(moved_V < 1e6)) return false;
        for (const int index : edited_) {
            if (!straight) limitJump(now_.devices()[static_cast<std::size_t>(index)], before_, v_);
        }
        // What a straight law still moves after so many steps is rounding.
        const bool noise = straight && step >= mostStraightSteps && moved_V < mostNoise_V;
        rough_ = rough_ || (noise && moved_V >= unseenNoise_V);
        if (noise || moved_V < settled_V) {
            departures();
            return true;
        }
    }
    return false;
}

// v = v0 − G_:U δ
void CircuitEdit::spread()
{
    v_ = healthy_.base.v;
    for (std::size_t i = 0; i < nodes_.size(); ++i)
        healthy_.addColumn(v_, nodes_[i], -delta_(static_cast<Eigen::Index>(i)));
}

void CircuitEdit::findGUU()
{
    const auto m = static_cast<Eigen::Index>(nodes_.size());
    GUU_.resize(m, m);
    for (Eigen::Index i = 0; i < m; ++i) {
        for (Eigen::Index k = 0; k < m; ++k)
            GUU_(i, k) = healthy_.g(nodes_[static_cast<std::size_t>(i)], nodes_[static_cast<std::size_t>(k)]);
    }
}

// K = (I + D G_UU)⁻¹ D = D (I + G_UU D)⁻¹, so that the edited inverse is G − G_:U K G_U:.
// False where parts that hang on their leak alone make it singular to rounding.
bool CircuitEdit::invert()
{
    const Matrix slopes = D_.transpose();
    K_.resize(D_.rows(), D_.cols());
    K_ = lu_.transpose().solve(slopes);
    K_.transposeInPlace();
    return K_.allFinite();
}

void CircuitEdit::stand(const Solution& exact)
{
    now_ = exact.network;
    v_ = exact.v;
    replaced_ = true;
}

bool CircuitEdit::findEdit()
{
    const auto& devices = now_.devices();
    for (std::size_t i = 0; i < devices.size(); ++i) {
        const Device* was = healthy_.device(static_cast<int>(i));
        if (!was || !(devices[i] == *was)) touch(static_cast<int>(i));
    }
    gatherDepartures();
    if (isTooLarge()) return false;
    findGUU();
    departures();
    const auto m = static_cast<Eigen::Index>(nodes_.size());
    lu_.compute(Matrix::Identity(m, m) + D_ * GUU_);
    const bool firm = lu_.matrixLU().diagonal().cwiseAbs().minCoeff() > leastPivotForMeter;
    if (firm) K_ = lu_.solve(D_);
    return firm;
}

bool CircuitEdit::standsStill(const Device& d) const
{
    const law::Voltages at(v_), at0(healthy_.base.v);
    return std::all_of(d.nodes.begin(), d.nodes.begin() + d.nodeCount,
                       [&](int node) { return std::abs(at[node] - at0[node]) < still_V; });
}

// How far a device has left the straight line of its healthy law, A.
double CircuitEdit::leavesItsLine(int device) const
{
    const law::Voltages at(v_), at0(healthy_.base.v);
    const Device& d = now_.devices()[static_cast<std::size_t>(device)];
    const Linearised is = linearised(d, at);
    const Linearised& line = healthy_.lines[static_cast<std::size_t>(device)];
    double off = 0;
    for (std::size_t i = 0; i < d.nodeCount; ++i) {
        if (d.nodes[i] < 0) continue;
        double straight = line.current[i];
        for (std::size_t k = 0; k < d.nodeCount; ++k)
            straight += line.slope[i][k] * (at[d.nodes[k]] - at0[d.nodes[k]]);
        off = std::max(off, std::abs(is.current[i] - straight));
    }
    return off;
}

// Devices with curved laws that left their straight line join the edit. True when one did.
bool CircuitEdit::gatherDepartures()
{
    bool more = false;
    for (const int index : healthy_.curved) {
        const Device& d = now_.devices()[static_cast<std::size_t>(index)];
        if (!d.on || standsStill(d)) continue;
        if (std::find(edited_.begin(), edited_.end(), index) != edited_.end()) continue;
        if (leavesItsLine(index) <= departs_A) continue;
        touch(index);
        more = true;
    }
    return more;
}

bool CircuitEdit::settle(const std::vector<Fault>& faults)
{
    if (faults.empty()) return true;
    std::vector<int> touched;
    for (const Fault& fault : faults)
        now_.apply(fault, touched);
    if (touched.empty()) return true;  // inside a part that is taken out
    for (int round = 0; round < mostRounds; ++round) {
        changed_.insert(changed_.end(), touched.begin(), touched.end());
        for (const int index : touched)
            touch(index);
        touched.clear();
        do {
            if (isTooLarge() || !settleNodes()) return false;
            spread();
        } while (gatherDepartures());
        const law::Voltages at(v_);
        if (now_.hangsOnHistory(at)) return false;
        if (now_.follow(at, touched) || now_.trip(at, touched)) continue;
        near_ = rough_ || !invert();
        return !near_;
    }
    changed_.insert(changed_.end(), touched.begin(), touched.end());
    return false;
}

double CircuitEdit::transfer(int red, int black, int p, int q) const
{
    const double t = healthy_.transfer(red, black, p, q);
    const auto m = K_.rows();
    if (m == 0) return t;
    left_.resize(m);
    right_.resize(m);
    for (Eigen::Index i = 0; i < m; ++i) {
        const int node = nodes_[static_cast<std::size_t>(i)];
        left_(i) = healthy_.g(red, node) - healthy_.g(black, node);
        right_(i) = healthy_.g(node, p) - healthy_.g(node, q);
    }
    return t - left_.dot(K_.lazyProduct(right_));
}

bool CircuitEdit::cancels(double t) const
{
    if (K_.rows() == 0) return false;
    const double terms = left_.cwiseAbs().dot(K_.cwiseAbs() * right_.cwiseAbs());
    return terms > mostCancelled * std::abs(t);
}

std::vector<double> CircuitEdit::column(int node) const
{
    std::vector<double> out(healthy_.n, 0.0);
    healthy_.addColumn(out, node, 1.0);
    Vector atU(K_.rows());
    for (Eigen::Index i = 0; i < atU.size(); ++i)
        atU(i) = out[static_cast<std::size_t>(nodes_[static_cast<std::size_t>(i)])];
    const Vector back = K_ * atU;
    for (Eigen::Index i = 0; i < back.size(); ++i)
        healthy_.addColumn(out, nodes_[static_cast<std::size_t>(i)], -back(i));
    return out;
}

// R_ab of a network of resistances grows by at most what is added to one of them, and only falls when two nodes are
// joined.
bool CircuitEdit::addsAtMost(double most_ohm, const std::vector<Fault>& faults) const
{
    double added = 0;
    for (const Fault& f : faults) {
        if (f.kind == Fault::Kind::AddedResistance) added += f.resistance_ohm;
        if (f.kind != Fault::Kind::AddedResistance && f.kind != Fault::Kind::ShortBetween) return false;
    }
    return added <= most_ohm && std::all_of(edited_.begin(), edited_.end(), [&](int i) { return isStraight(i); });
}

bool CircuitEdit::isFarFrom(int red, int black) const
{
    return !nodes_.empty() && std::all_of(nodes_.begin(), nodes_.end(), [&](int node) {
        return std::abs(healthy_.g(red, node) - healthy_.g(black, node)) < far_ohm;
    });
}

}  // namespace ilvek
