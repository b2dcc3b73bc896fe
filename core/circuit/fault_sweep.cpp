#include "circuit/fault_sweep.h"

#include <algorithm>
#include <cmath>

#include "base/expects.h"
#include "circuit/circuit_edit.h"
#include "circuit/exact_circuit.h"
#include "circuit/own_supply.h"

namespace ilvek {

namespace {

// To tell that a source resistance is far too small to matter: below the first a tenth more or less changes a meter of
// megohms by less than it shows.
constexpr double unseenSource_ohm = 2e4;
constexpr double smallSource_ohm = 200;
// A node that moves no further has no other slope either.
constexpr double mostShift_V = 1e-4;
constexpr double asHealthy_V = 1e-6;
// A circuit of which nothing but its leak leads to battery minus has an inverse of gigaohms. Differences of a few ohms
// in it are noise as soon as an edit magnifies them this much.
constexpr double floating_ohm = 1e7, firmPivot = 1e-2, moved = 1e-3;

}  // namespace

// One phase of the period: the healthy circuit, the edit of it and, where that would not do, the exact solution.
struct FaultSweep::Part {
    Part(const Map& m, Condition c, Phase p, Solution s)
        : map(m),
          condition(std::move(c)),
          phase(std::move(p)),
          healthy(m, std::move(s)),
          edit(healthy),
          exact(healthy.base)
    {
    }

    bool apply(const std::vector<Fault>& faults)
    {
        edit.clear();
        byBattery.clear();
        anew = nullptr;
        meterAsHealthy = meterByEdit = false;
        applied = faults;
        resistive = std::any_of(faults.begin(), faults.end(), [](const Fault& f) {
            return f.kind == Fault::Kind::Open || f.kind == Fault::Kind::Blown || f.kind == Fault::Kind::OutOfValue ||
                   f.resistance_ohm >= seenByMeter_ohm;
        });
        const bool fromRest = mayFeedItself(map, faults);
        if (!fromRest && edit.settle(faults)) {
            meterAsHealthy = !faults.empty() && edit.addsAtMost(smallSource_ohm, faults);
            return true;
        }
        ++refactorisations;
        const Solution* settled = fromRest ? nullptr : again();
        edit.clear();
        anew = settled ? settled : cold();
        if (!anew) return false;
        edit.stand(*anew);
        meterByEdit = settled && edit.findEdit();
        return true;
    }

    // From where the edit came to rest, else from the healthy circuit.
    const Solution* again()
    {
        return edit.isNear() ? exact.from(edit.network(), edit.v()) : exact.fromHealthy(applied);
    }

    const Solution* cold()
    {
        Condition faulty = condition;
        faulty.faults = applied;
        return exact.fromRest(map, faulty, phase);
    }

    double voltage(int red, int black) const
    {
        const law::Voltages at(edit.v());
        return at[red] - at[black];
    }

    // How far the faults move a node, V.
    double movedBy(int node) const { return law::Voltages(edit.v())[node] - law::Voltages(healthy.base.v)[node]; }

    // Where the faults moved nothing the healthy inverse still holds well enough for a meter's own current.
    bool standsAsHealthy(int red, int black) const
    {
        return std::abs(movedBy(red)) < asHealthy_V && std::abs(movedBy(black)) < asHealthy_V;
    }

    // NaN where more than that may have changed.
    double shift(int red, int black) const
    {
        const double byRed = movedBy(red), byBlack = movedBy(black);
        const bool little = std::abs(byRed) < mostShift_V && std::abs(byBlack) < mostShift_V;
        return little && (!resistive || edit.isFarFrom(red, black)) ? byRed - byBlack : std::nan("");
    }

    // (e_r − e_b)ᵀ J⁻¹ (e_r − e_b) with J the Jacobian with the faults.
    double transfer(int red, int black) const
    {
        if (!anew) return edit.transfer(red, black, red, black);
        std::vector<double> x(healthy.n, 0.0);
        if (red >= 0) x[static_cast<std::size_t>(red)] += 1;
        if (black >= 0) x[static_cast<std::size_t>(black)] -= 1;
        anew->equations->apply(x);
        return law::Voltages(x)[red] - law::Voltages(x)[black];
    }

    double sourceSeenByMeter_ohm(int red, int black) const
    {
        if (meterAsHealthy) {
            const double t0 = healthy.source_ohm(red, black);
            if (t0 < smallSource_ohm) return t0;
        }
        const bool asHealthy = anew && standsAsHealthy(red, black);
        if (anew && !meterByEdit && !asHealthy) return transfer(red, black);
        const double roughly = edit.transfer(red, black, red, black);
        const bool enough = !anew || asHealthy || std::abs(roughly) < unseenSource_ohm;
        return enough ? roughly : transfer(red, black);
    }

    double sourceResistance_ohm(int red, int black)
    {
        if (anew) return transfer(red, black);
        const double t = edit.transfer(red, black, red, black), t0 = healthy.transfer(red, black, red, black);
        const bool floats = std::max(healthy.own(red), healthy.own(black)) > floating_ohm;
        const bool firm =
            !edit.cancels(t) && (!floats || edit.pivot() > firmPivot || std::abs(t - t0) <= moved * std::abs(t0));
        const Solution* solved = firm ? nullptr : exact.fromHealthy(applied);
        if (!solved) return t;
        anew = solved;
        edit.stand(*anew);
        return transfer(red, black);
    }

    // dv/dE = J⁻¹ b with b = 1/R of the battery at its plus node.
    double batterySlope(int red, int black) const
    {
        if (byBattery.empty()) findByBattery();
        const law::Voltages at(edit.v()), column(byBattery);
        const Device& battery = *healthy.battery;
        const bool charging = at[battery.nodes[0]] - at[battery.nodes[1]] > battery.values[0];
        return (column[red] - column[black]) / battery.values[charging ? 2 : 1];
    }

    // J⁻¹ e_plus.
    void findByBattery() const
    {
        if (!anew) {
            byBattery = edit.column(healthy.batteryPlus);
            return;
        }
        byBattery.assign(healthy.n, 0.0);
        byBattery[static_cast<std::size_t>(healthy.batteryPlus)] = 1;
        anew->equations->apply(byBattery);
    }

    int equationOf(int node) const { return edit.network().equationOf(node); }

    const Map& map;
    Condition condition;
    Phase phase;
    HealthyCircuit healthy;
    CircuitEdit edit;
    ExactCircuit exact;
    std::vector<Fault> applied;
    const Solution* anew = nullptr;         // of `exact`, when the edit would not do
    bool resistive = false;                 // a part may have become so resistive that a meter's own current shows it
    bool meterAsHealthy = false;            // the edit adds nothing that a meter's own current would find
    bool meterByEdit = false;               // the edit leads to the exact solution
    mutable std::vector<double> byBattery;  // the column of J⁻¹ for the battery's plus, once asked for
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

std::vector<int> FaultSweep::blownFuses() const
{
    std::vector<int> fuses;
    for (const auto& part : parts_) {
        for (const int fuse : part->edit.network().blownFuses())
            if (std::find(fuses.begin(), fuses.end(), fuse) == fuses.end()) fuses.push_back(fuse);
    }
    return fuses;
}

double FaultSweep::voltage(int red, int black, double inputResistance_ohm) const
{
    // U = U_open R_meter / (R_meter + R_source)
    double sum = 0;
    for (const auto& part : parts_) {
        const int r = part->equationOf(red), b = part->equationOf(black);
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
        sum += part->phase.share * part->batterySlope(part->equationOf(red), part->equationOf(black));
    return sum;
}

double FaultSweep::shift(int red, int black) const
{
    double sum = 0;
    for (const auto& part : parts_)
        sum += part->phase.share * part->shift(part->equationOf(red), part->equationOf(black));
    return sum;
}

double FaultSweep::sourceResistance_ohm(int red, int black)
{
    double largest = 0;
    for (const auto& part : parts_) {
        const int r = part->equationOf(red), b = part->equationOf(black);
        largest = std::max(largest, part->sourceResistance_ohm(r, b));
    }
    return largest;
}

double FaultSweep::currentThrough(int element) const
{
    double sum = 0;
    for (const auto& part : parts_)
        sum += part->phase.share * currentOf(part->edit.network().deviceOf(element), law::Voltages(part->edit.v()));
    return sum;
}

std::vector<double> FaultSweep::resistanceSlopes(int red, int black) const
{
    // dv/d ln R = −J⁻¹ (dF/d ln R), dF/d ln R = −I at a and +I at b:  (v_a − v_b)/R · (J⁻¹)(e_a − e_b).
    std::vector<double> slopes(map_->elements.size(), 0.0);
    for (const auto& part : parts_) {
        const Network& network = part->healthy.base.network;
        const int r = network.equationOf(red), b = network.equationOf(black);
        for (std::size_t e = 0; e < slopes.size(); ++e) {
            const Device& d = network.deviceOf(static_cast<int>(e));
            if (!d.on || d.law != Device::Law::Resistance) continue;
            const double current = currentOf(d, law::Voltages(part->healthy.base.v));
            const double through = part->healthy.transfer(r, b, d.nodes[0], d.nodes[1]);
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
