#include "circuit/warm_circuit.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/expects.h"
#include "circuit/linearised.h"
#include "circuit/own_supply.h"
#include "circuit/solution.h"

namespace ilvek {

namespace {

// d of what leaves the nodes of a device / d ln of its figure, A.
std::array<double, 4> growth(const Device& d, const law::Voltages& v)
{
    constexpr double step = 1e-4;
    Device more = d;
    scaleValue(more, 1 + step);
    const Linearised is = linearised(d, v), after = linearised(more, v);
    std::array<double, 4> out{};
    for (std::size_t i = 0; i < d.nodeCount; ++i)
        out[i] = (after.current[i] - is.current[i]) / step;
    return out;
}

}  // namespace

// One phase of the period.
struct WarmCircuit::Part {
    Part(const Map& m, Condition condition, Phase p, Solution s)
        : map(m), healthy(std::move(condition)), phase(std::move(p)), base(std::move(s))
    {
        batteryPlus = base.network.equationOf(map.batteryPlus());
    }

    bool apply(const std::vector<Fault>& faults)
    {
        byBattery.clear(), byPair.clear();
        const bool fromRest = mayFeedItself(map, faults);
        if (!fromRest && again(faults)) return true;
        Condition condition = healthy;
        condition.faults = faults;
        auto solved = solve(map, condition, phase);
        if (!solved) return false;
        cold = std::make_unique<Solution>(std::move(*solved));
        now = cold.get();
        return true;
    }

    // From where it stood; with the logic of the healthy circuit. False when it hangs on its history or settles
    // nowhere.
    bool again(const std::vector<Fault>& faults)
    {
        Network network = base.network;
        std::vector<int> touched;
        for (const Fault& fault : faults)
            network.apply(fault, touched);
        // Where a part is added the pattern of the matrix has another place.
        const std::size_t count = network.devices().size();
        if (!warm || pattern != count || !sameAdded(network)) {
            warm = std::make_unique<Solution>(Solution{network, base.v, nullptr, false});
            warm->equations = std::make_unique<Equations>(network.equations(), network.couples());
            pattern = count;
        } else {
            if (!stands) warm->v = base.v;
            warm->network = std::move(network);
            warm->chatters = false;
        }
        stands = solveAgain(*warm) && !warm->network.hangsOnHistory(law::Voltages(warm->v));
        now = warm.get();
        return stands;
    }

    bool sameAdded(const Network& network) const
    {
        const auto& is = warm->network.devices();
        const auto& wanted = network.devices();
        for (std::size_t i = base.network.devices().size(); i < wanted.size(); ++i) {
            if (is[i].nodes != wanted[i].nodes) return false;
        }
        return true;
    }

    int node(int ofMap) const { return now->network.equationOf(ofMap); }

    double open(int red, int black) const
    {
        const law::Voltages at(now->v);
        return at[red] - at[black];
    }

    // (e_p − e_q)ᵀ J⁻¹ (e_p − e_q)
    double source_ohm(int red, int black) const
    {
        const law::Voltages at(rowOf(red, black));
        return at[red] - at[black];
    }

    // J⁻ᵀ (e_p − e_q)
    const std::vector<double>& rowOf(int p, int q) const
    {
        const auto [at, isNew] = byPair.try_emplace({p, q});
        if (isNew) at->second = solved(p, q, true);
        return at->second;
    }

    // J⁻¹ (e_p − e_q), or the same with Jᵀ.
    std::vector<double> solved(int p, int q, bool transposed) const
    {
        std::vector<double> x(now->v.size(), 0.0);
        if (p >= 0) x[static_cast<std::size_t>(p)] += 1;
        if (q >= 0) x[static_cast<std::size_t>(q)] -= 1;
        transposed ? now->equations->applyTransposed(x) : now->equations->apply(x);
        return x;
    }

    // dv/dE = J⁻¹ b with b = 1/R of the battery at its plus node.
    double batterySlope(int red, int black) const
    {
        if (byBattery.empty()) byBattery = solved(batteryPlus, -1, false);
        const Device& battery = now->network.deviceOf(map.battery);
        const law::Voltages at(now->v), column(byBattery);
        const bool charging = at[battery.nodes[0]] - at[battery.nodes[1]] > battery.values[0];
        return (column[red] - column[black]) / battery.values[charging ? 2 : 1];
    }

    void addSlopes(const std::vector<std::pair<int, int>>& pairs, const std::vector<int>& elements,
                   std::vector<std::vector<double>>& slopes) const
    {
        std::vector<law::Voltages> rows;
        for (const auto& [red, black] : pairs)
            rows.emplace_back(rowOf(node(red), node(black)));
        const law::Voltages v(now->v);
        for (std::size_t e = 0; e < elements.size(); ++e) {
            const Device& d = now->network.deviceOf(elements[e]);
            if (!d.on) continue;
            const std::array<double, 4> more = growth(d, v);
            for (std::size_t p = 0; p < rows.size(); ++p) {
                double by = 0;
                for (std::size_t i = 0; i < d.nodeCount; ++i)
                    by += rows[p][d.nodes[i]] * more[i];
                slopes[p][e] -= phase.share * by;
            }
        }
    }

    const Map& map;
    Condition healthy;
    Phase phase;
    Solution base;
    int batteryPlus = -1;
    std::unique_ptr<Solution> warm, cold;
    std::size_t pattern = 0;
    bool stands = false;  // the last solution is a place to begin from
    const Solution* now = nullptr;
    mutable std::vector<double> byBattery;  // the column of J⁻¹ for the battery's plus, once asked for
    mutable std::map<std::pair<int, int>, std::vector<double>> byPair;  // rows of it, likewise
};

WarmCircuit::WarmCircuit() = default;
WarmCircuit::~WarmCircuit() = default;
WarmCircuit::WarmCircuit(WarmCircuit&&) noexcept = default;
WarmCircuit& WarmCircuit::operator=(WarmCircuit&&) noexcept = default;

Result<WarmCircuit> WarmCircuit::of(const Map& map, const Condition& healthy)
{
    EXPECTS(healthy.faults.empty() && !healthy.meter);
    WarmCircuit circuit;
    for (const Phase& phase : phasesOf(map, healthy)) {
        auto solved = solve(map, healthy, phase);
        if (!solved) return tl::unexpected(solved.error());
        circuit.parts_.push_back(std::make_unique<Part>(map, healthy, phase, std::move(*solved)));
        circuit.parts_.back()->apply({});
    }
    return circuit;
}

bool WarmCircuit::apply(const std::vector<Fault>& faults)
{
    return std::all_of(parts_.begin(), parts_.end(), [&](const auto& part) { return part->apply(faults); });
}

void WarmCircuit::reset()
{
    for (const auto& part : parts_) {
        part->warm.reset();
        part->stands = false;
    }
}

double WarmCircuit::voltage(int red, int black, double inputResistance_ohm) const
{
    // U = U_open R_meter / (R_meter + R_source)
    double sum = 0;
    for (const auto& part : parts_) {
        const int r = part->node(red), b = part->node(black);
        const double open = part->open(r, b);
        const bool metered = std::isfinite(inputResistance_ohm) && std::abs(open) > 1e-6;
        sum += part->phase.share *
               (metered ? open * inputResistance_ohm / (inputResistance_ohm + part->source_ohm(r, b)) : open);
    }
    return sum;
}

double WarmCircuit::batterySlope(int red, int black) const
{
    double sum = 0;
    for (const auto& part : parts_)
        sum += part->phase.share * part->batterySlope(part->node(red), part->node(black));
    return sum;
}

double WarmCircuit::sourceResistance_ohm(int red, int black) const
{
    double largest = 0;
    for (const auto& part : parts_)
        largest = std::max(largest, part->source_ohm(part->node(red), part->node(black)));
    return largest;
}

double WarmCircuit::currentThrough(int element) const
{
    double sum = 0;
    for (const auto& part : parts_)
        sum += part->phase.share * currentOf(part->now->network.deviceOf(element), law::Voltages(part->now->v));
    return sum;
}

std::vector<std::vector<double>> WarmCircuit::valueSlopes(const std::vector<std::pair<int, int>>& pairs,
                                                          const std::vector<int>& elements) const
{
    std::vector<std::vector<double>> slopes(pairs.size(), std::vector<double>(elements.size(), 0.0));
    for (const auto& part : parts_)
        part->addSlopes(pairs, elements, slopes);
    return slopes;
}

}  // namespace ilvek
