#include "circuit/fault_sweep.h"

#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <limits>

#include "base/expects.h"
#include "circuit/linearised.h"
#include "circuit/own_supply.h"
#include "circuit/solution.h"

namespace ilvek {

namespace {

constexpr int mostSteps = 40;
constexpr int mostRounds = 6;
constexpr int mostNodes = 60;  // beyond this a new factorisation is as cheap

// Nearly all edits are of two or three nodes: nothing is allocated for them.
using Matrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::ColMajor, mostNodes, mostNodes>;
using Vector = Eigen::Matrix<double, Eigen::Dynamic, 1, Eigen::ColMajor, mostNodes, 1>;

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
// Below it a tenth more or less changes a meter of megohms by less than it shows.
constexpr double unseenSource_ohm = 2e4;
constexpr double smallSource_ohm = 200;
// Above this an added resistance shows through the meter's own current even where none flowed.
constexpr double seenByMeter_ohm = 2e4;
// A node that moves no further has no other slope either.
constexpr double mostShift_V = 1e-4;
// Nodes that share no more than this with a meter's way do not tell it anything.
constexpr double far_ohm = 0.05;
// A circuit of which nothing but its leak leads to battery minus has an inverse of gigaohms. Differences of a few ohms
// in it are noise as soon as an edit magnifies them this much.
constexpr double floating_ohm = 1e7, firmPivot = 1e-2, moved = 1e-3;
// So are they where all but one part in so many of the edit's terms cancels.
constexpr double mostCancelled = 1e7;

}  // namespace

// One phase of the period. Kirchhoff at every node, with J0 the healthy Jacobian at v0, G = J0⁻¹ and δ(v) what the
// devices pass beyond their healthy laws' straight lines:  J0 (v − v0) + δ(v) = 0,  so  v = v0 − G δ(v).
// δ is zero but at the few nodes U of the devices in `edited`; Newton on those:
//   (I + G_UU D) Δw = −(w − v0_U + G_UU δ),  D = dδ/dv_U,  w = v_U.
struct FaultSweep::Part {
    Part(const Map& m, Condition condition, Phase p, Solution s)
        : map(m), healthy(std::move(condition)), phase(std::move(p)), base(std::move(s)), now(base.network)
    {
        G = base.equations->inverse();
        n = base.v.size();
        for (std::size_t i = 0; i < n; ++i)
            diagonal.push_back(G[i * n + i]);
        const law::Voltages at(base.v);
        for (const Device& d : base.network.devices()) {
            lines.push_back(linearised(d, at));
            if (!d.isLinear()) curved.push_back(static_cast<int>(lines.size()) - 1);
        }
        battery = &base.network.deviceOf(map.battery);
        batteryPlus = base.network.equationOf(map.batteryPlus());
        local.assign(n, -1);
        reset();
    }

    // g(node, node), close together: of a large machine G is far beyond any cache.
    double own(int node) const { return node < 0 ? 0.0 : diagonal[static_cast<std::size_t>(node)]; }

    double g(int row, int column) const
    {
        return row < 0 || column < 0 ? 0.0 : G[static_cast<std::size_t>(column) * n + static_cast<std::size_t>(row)];
    }

    void reset()
    {
        for (const int node : nodes)
            local[static_cast<std::size_t>(node)] = -1;
        nodes.clear();
        edited.clear();
        v = base.v;
        K.resize(0, 0);
        byBattery.clear();
        anew = nullptr;
        meterAsHealthy = meterByEdit = rough = near = false;
        pivot = 1;
    }

    void restore()
    {
        if (anew)
            now = base.network;
        else
            now.restore(base.network, changed);
        changed.clear();
    }

    void touch(int device)
    {
        if (std::find(edited.begin(), edited.end(), device) != edited.end()) return;
        edited.push_back(device);
        const Device& d = now.devices()[static_cast<std::size_t>(device)];
        for (std::size_t i = 0; i < d.nodeCount; ++i) {
            const int node = d.nodes[i];
            if (node < 0 || local[static_cast<std::size_t>(node)] >= 0) continue;
            local[static_cast<std::size_t>(node)] = static_cast<int>(nodes.size());
            nodes.push_back(node);
        }
    }

    const Device* baseDevice(int index) const
    {
        const auto& devices = base.network.devices();
        return index < static_cast<int>(devices.size()) ? &devices[static_cast<std::size_t>(index)] : nullptr;
    }

    // Its law is a straight line, with the fault and without.
    bool isStraight(int index) const
    {
        const Device* was = baseDevice(index);
        return now.devices()[static_cast<std::size_t>(index)].isLinear() && (!was || was->isLinear());
    }

    // δ and D of the edited devices at v.
    void departures()
    {
        const auto m = static_cast<Eigen::Index>(nodes.size());
        delta = Vector::Zero(m);
        D = Matrix::Zero(m, m);
        const law::Voltages at(v), at0(base.v);
        for (const int index : edited) {
            const Device& d = now.devices()[static_cast<std::size_t>(index)];
            const Linearised is = linearised(d, at);
            const Device* was = baseDevice(index);
            const Linearised* line = was ? &lines[static_cast<std::size_t>(index)] : nullptr;
            for (std::size_t i = 0; i < d.nodeCount; ++i) {
                if (d.nodes[i] < 0) continue;
                const int row = local[static_cast<std::size_t>(d.nodes[i])];
                double healthyCurrent = line ? line->current[i] : 0;
                for (std::size_t k = 0; k < d.nodeCount; ++k) {
                    if (d.nodes[k] < 0) continue;
                    const double slope0 = line ? line->slope[i][k] : 0;
                    healthyCurrent += slope0 * (at[d.nodes[k]] - at0[d.nodes[k]]);
                    D(row, local[static_cast<std::size_t>(d.nodes[k])]) += is.slope[i][k] - slope0;
                }
                delta(row) += is.current[i] - healthyCurrent;
            }
        }
    }

    // Newton on the edited nodes. False when the guard calls for a new factorisation.
    bool settleEdit()
    {
        findGUU();
        const auto m = static_cast<Eigen::Index>(nodes.size());
        const bool straight = std::all_of(edited.begin(), edited.end(), [&](int index) { return isStraight(index); });
        for (int step = 0; step < mostSteps; ++step) {
            departures();
            Vector r = GUU.lazyProduct(delta);
            for (Eigen::Index i = 0; i < m; ++i) {
                const auto node = static_cast<std::size_t>(nodes[static_cast<std::size_t>(i)]);
                r(i) += v[node] - base.v[node];
            }
            // Straight laws have the same slopes from step to step.
            if (step == 0 || !straight) {
                A = Matrix::Identity(m, m);
                A += GUU.lazyProduct(D);
                lu.compute(A);
                pivot = std::min(pivot, lu.matrixLU().diagonal().cwiseAbs().minCoeff());
                if (!(pivot > leastPivotNear)) return false;
                rough = rough || !(pivot > leastPivot);
            }
            const Vector back = lu.solve(r);
            const double share = step < mostSteps / 2 ? 1.0 : 0.5;
            if (!straight) before = v;
            for (Eigen::Index i = 0; i < m; ++i)
                v[static_cast<std::size_t>(nodes[static_cast<std::size_t>(i)])] -= share * back(i);
            if (!(back.cwiseAbs().maxCoeff() < 1e6)) return false;
            for (const int index : edited) {
                if (!straight) limitJump(now.devices()[static_cast<std::size_t>(index)], before, v);
            }
            const double moved_V = back.cwiseAbs().maxCoeff();
            // What a straight law still moves after that is rounding.
            const bool noise = straight && step >= mostStraightSteps && moved_V < mostNoise_V;
            rough = rough || (noise && moved_V >= unseenNoise_V);
            if (noise || moved_V < settled_V) {
                departures();
                return true;
            }
        }
        return false;
    }

    // v = v0 − G_:U δ
    void spread()
    {
        v = base.v;
        for (std::size_t i = 0; i < nodes.size(); ++i)
            addColumn(v, static_cast<std::size_t>(nodes[i]), -delta(static_cast<Eigen::Index>(i)));
    }

    void findGUU()
    {
        const auto m = static_cast<Eigen::Index>(nodes.size());
        GUU.resize(m, m);
        for (Eigen::Index i = 0; i < m; ++i) {
            for (Eigen::Index k = 0; k < m; ++k)
                GUU(i, k) = g(nodes[static_cast<std::size_t>(i)], nodes[static_cast<std::size_t>(k)]);
        }
    }

    // What a meter sees of a circuit that was solved anew: the edit from the healthy one, at the voltages found.
    void editForMeter()
    {
        const auto& devices = now.devices();
        for (std::size_t i = 0; i < devices.size(); ++i) {
            if (i >= base.network.devices().size() || !(devices[i] == base.network.devices()[i]))
                touch(static_cast<int>(i));
        }
        gatherDepartures();
        if (nodes.size() > static_cast<std::size_t>(mostNodes)) return;
        findGUU();
        departures();
        const auto m = static_cast<Eigen::Index>(nodes.size());
        lu.compute(Matrix::Identity(m, m) + D * GUU);
        meterByEdit = lu.matrixLU().diagonal().cwiseAbs().minCoeff() > leastPivotForMeter;
        if (meterByEdit) K = lu.solve(D);
    }

    // K = (I + D G_UU)⁻¹ D = D (I + G_UU D)⁻¹, so that the edited inverse is G − G_:U K G_U:.
    // False where parts that hang on their leak alone make it singular to rounding.
    bool invertEdit()
    {
        const Matrix slopes = D.transpose();
        K.resize(D.rows(), D.cols());
        K = lu.transpose().solve(slopes);
        K.transposeInPlace();
        return K.allFinite();
    }

    void addColumn(std::vector<double>& to, std::size_t column, double times) const
    {
        if (times == 0) return;
        const double* from = G.data() + column * n;
        for (std::size_t k = 0; k < n; ++k)
            to[k] += from[k] * times;
    }

    bool standsStill(const Device& d) const
    {
        const law::Voltages at(v), at0(base.v);
        return std::all_of(d.nodes.begin(), d.nodes.begin() + d.nodeCount,
                           [&](int node) { return std::abs(at[node] - at0[node]) < still_V; });
    }

    // Devices with curved laws that left their straight line join the edit. True when one did.
    bool gatherDepartures()
    {
        bool more = false;
        const law::Voltages at(v), at0(base.v);
        for (const int index : curved) {
            const Device& d = now.devices()[static_cast<std::size_t>(index)];
            if (!d.on || standsStill(d)) continue;
            if (std::find(edited.begin(), edited.end(), index) != edited.end()) continue;
            const Linearised is = linearised(d, at);
            const Linearised& line = lines[static_cast<std::size_t>(index)];
            double off = 0;
            for (std::size_t i = 0; i < d.nodeCount; ++i) {
                if (d.nodes[i] < 0) continue;
                double straight = line.current[i];
                for (std::size_t k = 0; k < d.nodeCount; ++k)
                    straight += line.slope[i][k] * (at[d.nodes[k]] - at0[d.nodes[k]]);
                off = std::max(off, std::abs(is.current[i] - straight));
            }
            if (off <= departs_A) continue;
            touch(index);
            more = true;
        }
        return more;
    }

    bool byEdit(const std::vector<Fault>& faults)
    {
        if (faults.empty()) return true;
        std::vector<int> touched;
        for (const Fault& fault : faults)
            now.apply(fault, touched);
        if (touched.empty()) return true;  // inside a part that is taken out
        for (int round = 0; round < mostRounds; ++round) {
            changed.insert(changed.end(), touched.begin(), touched.end());
            for (const int index : touched)
                touch(index);
            touched.clear();
            do {
                if (nodes.size() > static_cast<std::size_t>(mostNodes) || !settleEdit()) return false;
                spread();
            } while (gatherDepartures());
            const law::Voltages at(v);
            if (now.hangsOnHistory(at)) return false;
            if (now.follow(at, touched) || now.trip(at, touched)) continue;
            // Near enough to begin the exact solution from.
            near = rough || !invertEdit();
            meterAsHealthy = !near && leavesMeter(faults);
            return !near;
        }
        changed.insert(changed.end(), touched.begin(), touched.end());
        return false;
    }

    // From where the healthy circuit stands, factorised anew; null when a relay hangs on its history or nothing
    // settles.
    const Solution* again(const std::vector<Fault>& faults)
    {
        if (!spare) {
            spare = std::make_unique<Solution>(Solution{base.network, base.v, nullptr, false});
            spare->equations = std::make_unique<Equations>(base.network.equations(), base.network.couples());
        }
        spare->network = near ? now : base.network;
        spare->v = near ? v : base.v;
        spare->chatters = false;
        std::vector<int> touched;
        for (const Fault& fault : faults) {
            if (!near) spare->network.apply(fault, touched);
        }
        Solution* next = spare.get();
        if (spare->network.devices().size() != base.network.devices().size()) {
            // A part was added, where the pattern of the matrix may have no place for it. The next severity adds the
            // same one.
            auto couples = spare->network.couples();
            if (!grown || couples != grownCouples) {
                grown = std::make_unique<Solution>(Solution{spare->network, spare->v, nullptr, false});
                grown->equations = std::make_unique<Equations>(grown->network.equations(), couples);
                grownCouples = std::move(couples);
            } else {
                grown->network = spare->network;
                grown->v = spare->v;
                grown->chatters = false;
            }
            next = grown.get();
        }
        return solveAgain(*next) && !next->network.hangsOnHistory(law::Voltages(next->v)) ? next : nullptr;
    }

    bool apply(const std::vector<Fault>& faults)
    {
        restore();
        reset();
        applied = faults;
        resistive = std::any_of(faults.begin(), faults.end(), [](const Fault& f) {
            return f.kind == Fault::Kind::Open || f.kind == Fault::Kind::OutOfValue ||
                   f.resistance_ohm >= seenByMeter_ohm;
        });
        const bool fromRest = mayFeedItself(map, faults);
        if (!fromRest && byEdit(faults)) return true;
        ++refactorisations;
        const Solution* settled = fromRest ? nullptr : again(faults);
        reset();
        if (settled) {
            anew = settled;
        } else {
            Condition condition = healthy;
            condition.faults = faults;
            auto solved = solve(map, condition, phase);
            if (!solved) return false;
            cold = std::make_unique<Solution>(std::move(*solved));
            anew = cold.get();
        }
        v = anew->v;
        now = anew->network;
        if (settled) editForMeter();
        return true;
    }

    double voltage(int red, int black) const { return law::Voltages(v)[red] - law::Voltages(v)[black]; }

    bool standsAsHealthy(int red, int black) const
    {
        const law::Voltages at(v), at0(base.v);
        return std::abs(at[red] - at0[red]) < 1e-6 && std::abs(at[black] - at0[black]) < 1e-6;
    }

    // NaN where more than that may have changed.
    double shift(int red, int black) const
    {
        const law::Voltages at(v), at0(base.v);
        const double byRed = at[red] - at0[red], byBlack = at[black] - at0[black];
        const bool little = std::abs(byRed) < mostShift_V && std::abs(byBlack) < mostShift_V;
        return little && (!resistive || isFar(red, black)) ? byRed - byBlack : std::nan("");
    }

    // A current through the meter moves none of the edited nodes, so that no edit of them changes what it meets.
    bool isFar(int red, int black) const
    {
        return !nodes.empty() && std::all_of(nodes.begin(), nodes.end(), [&](int node) {
            return std::abs(g(red, node) - g(black, node)) < far_ohm;
        });
    }

    // (e_r − e_b)ᵀ J⁻¹ x with J the edited Jacobian, for x = e_p − e_q.
    double transfer(int red, int black, int p, int q) const
    {
        if (!anew) return transferByEdit(red, black, p, q);
        std::vector<double> x(n, 0.0);
        if (p >= 0) x[static_cast<std::size_t>(p)] += 1;
        if (q >= 0) x[static_cast<std::size_t>(q)] -= 1;
        anew->equations->apply(x);
        return law::Voltages(x)[red] - law::Voltages(x)[black];
    }

    double transferByEdit(int red, int black, int p, int q) const
    {
        double t = g(red, p) - g(red, q) - g(black, p) + g(black, q);
        const auto m = K.rows();
        if (m == 0) return t;
        left.resize(m);
        right.resize(m);
        for (Eigen::Index i = 0; i < m; ++i) {
            const int node = nodes[static_cast<std::size_t>(i)];
            left(i) = g(red, node) - g(black, node);
            right(i) = g(node, p) - g(node, q);
        }
        t -= left.dot(K.lazyProduct(right));
        return t;
    }

    // Whether next to nothing is left of the terms of the last transferByEdit(), which gave t.
    bool cancels(double t) const
    {
        if (K.rows() == 0) return false;
        const double terms = left.cwiseAbs().dot(K.cwiseAbs() * right.cwiseAbs());
        return terms > mostCancelled * std::abs(t);
    }

    // R_ab of a network of resistances grows by at most what is added to one of them, and only falls when two nodes are
    // joined. SOURCE: Rayleigh's law of monotonicity.
    bool leavesMeter(const std::vector<Fault>& faults) const
    {
        double added = 0;
        for (const Fault& f : faults) {
            if (f.kind == Fault::Kind::AddedResistance) added += f.resistance_ohm;
            if (f.kind != Fault::Kind::AddedResistance && f.kind != Fault::Kind::ShortBetween) return false;
        }
        return added <= smallSource_ohm &&
               std::all_of(edited.begin(), edited.end(), [&](int i) { return isStraight(i); });
    }

    double sourceSeenByMeter_ohm(int red, int black) const
    {
        if (meterAsHealthy) {
            const double t0 = own(red) + own(black) - g(red, black) - g(black, red);
            if (t0 < smallSource_ohm) return t0;
        }
        if (anew && !meterByEdit && !standsAsHealthy(red, black)) return transfer(red, black, red, black);
        const double roughly = transferByEdit(red, black, red, black);
        const bool enough = !anew || standsAsHealthy(red, black) || std::abs(roughly) < unseenSource_ohm;
        return enough ? roughly : transfer(red, black, red, black);
    }

    double sourceResistance_ohm(int red, int black)
    {
        if (!anew) {
            const double t = transferByEdit(red, black, red, black);
            const double t0 = g(red, red) - g(red, black) - g(black, red) + g(black, black);
            const bool floats = std::max(g(red, red), g(black, black)) > floating_ohm;
            const bool firm = !cancels(t) && (!floats || pivot > firmPivot || std::abs(t - t0) <= moved * std::abs(t0));
            const Solution* exact = firm ? nullptr : again(applied);
            if (!exact) return t;
            anew = exact;
            v = anew->v;
            now = anew->network;
        }
        return transfer(red, black, red, black);
    }

    // dv/dE = J⁻¹ b with b = 1/R of the battery at its plus node.
    double batterySlope(int red, int black) const
    {
        if (byBattery.empty()) findByBattery();
        const law::Voltages at(v), column(byBattery);
        const bool charging = at[battery->nodes[0]] - at[battery->nodes[1]] > battery->values[0];
        return (column[red] - column[black]) / battery->values[charging ? 2 : 1];
    }

    // J⁻¹ e_plus of the edited circuit.
    void findByBattery() const
    {
        byBattery.assign(n, 0.0);
        if (anew) {
            byBattery[static_cast<std::size_t>(batteryPlus)] = 1;
            anew->equations->apply(byBattery);
            return;
        }
        addColumn(byBattery, static_cast<std::size_t>(batteryPlus), 1.0);
        Vector atU(static_cast<Eigen::Index>(K.rows()));
        for (Eigen::Index i = 0; i < atU.size(); ++i)
            atU(i) = byBattery[static_cast<std::size_t>(nodes[static_cast<std::size_t>(i)])];
        const Vector back = K * atU;
        for (Eigen::Index i = 0; i < back.size(); ++i)
            addColumn(byBattery, static_cast<std::size_t>(nodes[static_cast<std::size_t>(i)]), -back(i));
    }

    const Map& map;
    Condition healthy;
    Phase phase;
    Solution base;
    Network now;
    std::size_t n = 0;
    std::vector<double> G;  // column-major
    std::vector<double> diagonal;
    std::vector<Linearised> lines;
    std::vector<int> curved;
    const Device* battery = nullptr;
    int batteryPlus = -1;

    std::vector<int> edited, nodes, local;
    std::vector<int> changed;       // devices of `now` that are not as in the healthy network
    std::vector<double> v, before;  // before: the last step
    Vector delta;
    Matrix D, K, GUU, A;
    mutable Vector left, right;
    Eigen::PartialPivLU<Matrix> lu;
    mutable std::vector<double> byBattery;  // the column of J⁻¹ for the battery's plus, once asked for
    std::unique_ptr<Solution> spare, grown, cold;
    std::vector<std::pair<int, int>> grownCouples;
    const Solution* anew = nullptr;  // one of these, when the edit would not do
    bool meterAsHealthy = false;     // the edit adds nothing that a meter's own current would find
    bool meterByEdit = false;        // K holds for it nonetheless
    bool rough = false;              // the edit magnifies rounding too much to be the answer
    bool near = false;               // but it came to rest
    double pivot = 1;                // the least one on the way
    bool resistive = false;          // a part may have become so resistive that a meter's own current shows it
    std::vector<Fault> applied;
    long refactorisations = 0;
};

FaultSweep::FaultSweep() = default;
FaultSweep::~FaultSweep() = default;
FaultSweep::FaultSweep(FaultSweep&&) noexcept = default;
FaultSweep& FaultSweep::operator=(FaultSweep&&) noexcept = default;

Result<FaultSweep> FaultSweep::of(const Map& map, const Condition& healthy)
{
    EXPECTS(healthy.faults.empty() && !healthy.meter);
    FaultSweep sweep;
    sweep.map_ = &map;
    for (const Phase& phase : phasesOf(map, healthy)) {
        auto solved = solve(map, healthy, phase);
        if (!solved) return tl::unexpected(solved.error());
        sweep.parts_.push_back(std::make_unique<Part>(map, healthy, phase, std::move(*solved)));
    }
    return sweep;
}

bool FaultSweep::apply(const std::vector<Fault>& faults)
{
    return std::all_of(parts_.begin(), parts_.end(), [&](const auto& part) { return part->apply(faults); });
}

bool FaultSweep::chatters() const
{
    return std::any_of(parts_.begin(), parts_.end(), [](const auto& p) { return p->anew && p->anew->chatters; });
}

double FaultSweep::voltage(int red, int black, double inputResistance_ohm) const
{
    // U = U_open R_meter / (R_meter + R_source)
    double sum = 0;
    for (const auto& part : parts_) {
        const int r = part->now.equationOf(red), b = part->now.equationOf(black);
        const double open = part->voltage(r, b);
        const bool metered = std::isfinite(inputResistance_ohm);
        // On nothing but noise the meter shows nothing either.
        const double source = metered && std::abs(open) > 1e-6 ? part->sourceSeenByMeter_ohm(r, b) : 0.0;
        sum += part->phase.share * (metered ? open * inputResistance_ohm / (inputResistance_ohm + source) : open);
    }
    return sum;
}

double FaultSweep::batterySlope(int red, int black) const
{
    double sum = 0;
    for (const auto& part : parts_)
        sum += part->phase.share * part->batterySlope(part->now.equationOf(red), part->now.equationOf(black));
    return sum;
}

double FaultSweep::shift(int red, int black) const
{
    double sum = 0;
    for (const auto& part : parts_)
        sum += part->phase.share * part->shift(part->now.equationOf(red), part->now.equationOf(black));
    return sum;
}

double FaultSweep::sourceResistance_ohm(int red, int black)
{
    double largest = 0;
    for (const auto& part : parts_) {
        const int r = part->now.equationOf(red), b = part->now.equationOf(black);
        largest = std::max(largest, part->sourceResistance_ohm(r, b));
    }
    return largest;
}

double FaultSweep::currentThrough(int element) const
{
    double sum = 0;
    for (const auto& part : parts_)
        sum += part->phase.share * currentOf(part->now.deviceOf(element), law::Voltages(part->v));
    return sum;
}

std::vector<double> FaultSweep::resistanceSlopes(int red, int black) const
{
    // dv/d ln R = −J⁻¹ (dF/d ln R), dF/d ln R = −I at a and +I at b:  (v_a − v_b)/R · (J⁻¹)(e_a − e_b).
    std::vector<double> slopes(map_->elements.size(), 0.0);
    for (const auto& part : parts_) {
        const Network& network = part->base.network;
        const int r = network.equationOf(red), b = network.equationOf(black);
        for (std::size_t e = 0; e < slopes.size(); ++e) {
            const Device& d = network.deviceOf(static_cast<int>(e));
            if (!d.on || d.law != Device::Law::Resistance) continue;
            const double current = currentOf(d, law::Voltages(part->base.v));
            const double through =
                part->g(r, d.nodes[0]) - part->g(r, d.nodes[1]) - part->g(b, d.nodes[0]) + part->g(b, d.nodes[1]);
            slopes[e] += part->phase.share * current * through;
        }
    }
    return slopes;
}

long FaultSweep::refactorisations() const
{
    long sum = 0;
    for (const auto& part : parts_)
        sum += part->refactorisations;
    return sum;
}

}  // namespace ilvek
