#include "circuit/solution.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

namespace {

constexpr int mostNewtonSteps = 200;
constexpr int freeNewtonSteps = 60;  // tried before the step is damped
constexpr double leastShare = 1e-7;
constexpr double settled_V = 1e-7;
constexpr double settled_A = 1e-8;
constexpr int mostRounds = 12;

class Newton {
public:
    explicit Newton(Solution& s) : s_(s) {}

    // Full steps, jumps of regulators limited. Should that not settle, the step is halved until Kirchhoff's error
    // falls, which always arrives because no law falls.
    bool arrive()
    {
        std::vector<double> step;
        keepLinear();
        assemble();
        for (int k = 0; k < mostNewtonSteps; ++k) {
            const bool damped = k >= freeNewtonSteps;
            const double before = damped ? residualNorm() : 0;
            if (!s_.equations->factorise() || !s_.equations->solve(step)) return false;
            const std::vector<double> start = s_.v;
            double largest = 0;
            for (const double x : step) {
                if (!std::isfinite(x)) return false;  // a figure that is none settles nothing
                largest = std::max(largest, std::abs(x));
            }
            moveBy(start, step, 1.0);
            if (largest < settled_V) return true;
            for (const Device* device : curved_) {
                if (!damped) limitJump(*device, start, s_.v);
            }
            assemble();
            for (double share = 0.5;
                 damped && share > leastShare && residualNorm() > before * (1.0 - 1e-4 * share) && before > settled_A;
                 share *= 0.5) {
                moveBy(start, step, share);
                assemble();
            }
        }
        return residualNorm() < 1e-6;  // false of what is no figure
    }

private:
    // Most devices are linear and stay so from step to step.
    void keepLinear()
    {
        const std::vector<double> zero(s_.v.size(), 0.0);
        const law::Voltages at0(zero);
        s_.equations->clear();
        for (int i = 0; i < static_cast<int>(zero.size()); ++i)
            s_.equations->branch(i, -1, 0, leak_S);
        for (const Device& device : s_.network.devices()) {
            if (device.isLinear()) stamp(device, at0, *s_.equations);
            if (!device.isLinear() && device.on) curved_.push_back(&device);
        }
        s_.equations->keep();
    }

    void assemble()
    {
        const law::Voltages v(s_.v);
        s_.equations->restart(s_.v);
        for (const Device* device : curved_)
            stamp(*device, v, *s_.equations);
    }

    double residualNorm() const
    {
        double sum = 0;
        for (const double f : s_.equations->residual())
            sum += f * f;
        return std::sqrt(sum);
    }

    void moveBy(const std::vector<double>& start, const std::vector<double>& step, double share)
    {
        for (std::size_t i = 0; i < s_.v.size(); ++i)
            s_.v[i] = start[i] + share * step[i];
    }

    Solution& s_;
    std::vector<const Device*> curved_;
};

}  // namespace

namespace {

// The voltage that decides where on its law a device stands, and the ends of the steep part between the two flats; the
// node that is moved to change it, and in which sense.
struct Steep {
    double at = 0, low = 0, high = 0;
    int node = -1;
    double sense = 1;
};

Steep steepPart(const Device& d, const law::Voltages& v)
{
    const auto& p = d.values;
    const double u = v[d.nodes[0]] - v[d.nodes[1]];
    switch (d.law) {
        case Device::Law::Regulator: {
            const double room = std::min(p[0], v[d.nodes[0]] - v[d.nodes[2]] - p[3]);
            return {room + v[d.nodes[2]] - v[d.nodes[1]], 0, p[1] * p[2], d.nodes[1], -1};
        }
        case Device::Law::ConstantDraw:
            return {u, law::drawWakesAtShare * p[1], p[1], d.nodes[0], 1};
        case Device::Law::LimitedSource:
            return {u, p[0] - p[1] * p[2], p[0], d.nodes[0], 1};
        case Device::Law::LimitedSwitch:
            return {u, -p[0] * p[1], p[0] * p[1], d.nodes[0], 1};
        default:
            return {};
    }
}

}  // namespace

void limitJump(const Device& d, const std::vector<double>& before, std::vector<double>& now)
{
    if (!d.on) return;
    const Steep is = steepPart(d, law::Voltages(now));
    if (is.node < 0) return;
    const Steep was = steepPart(d, law::Voltages(before));
    if ((was.at <= was.low && is.at >= is.high) || (was.at >= was.high && is.at <= is.low))
        now[static_cast<std::size_t>(is.node)] += is.sense * ((is.low + is.high) / 2 - is.at);
}

bool solveAgain(Solution& s)
{
    std::vector<int> touched;
    std::vector<std::vector<bool>> before;        // which devices were on, round by round
    std::vector<std::vector<double>> potentials;  // and what that gave
    for (int round = 0; round < mostRounds; ++round) {
        std::vector<bool> on;
        on.reserve(2 * s.network.devices().size());
        for (const Device& d : s.network.devices())
            on.push_back(d.on), on.push_back(d.forcedOff);
        const auto again = std::find(before.begin(), before.end(), on);
        if (again != before.end()) {
            potentials.erase(potentials.begin(), potentials.begin() + (again - before.begin()));
            break;
        }
        before.push_back(std::move(on));
        if (!Newton(s).arrive()) return false;
        potentials.push_back(s.v);
        const law::Voltages v(s.v);
        if (!s.network.follow(v, touched) && !s.network.trip(v, touched)) return true;
    }
    // It goes round and round: a meter shows the mean.
    s.chatters = true;
    for (std::size_t i = 0; i < s.v.size(); ++i) {
        double sum = 0;
        for (const auto& v : potentials)
            sum += v[i];
        s.v[i] = sum / static_cast<double>(potentials.size());
    }
    return true;
}

Result<Solution> solve(const Map& map, const Condition& condition, const Phase& phase)
{
    Solution s{Network(map, condition, phase), {}, {}, false};
    s.v.assign(static_cast<std::size_t>(s.network.equations()), 0.0);
    s.equations = std::make_unique<Equations>(s.network.equations(), s.network.couples());
    if (!solveAgain(s)) return fail(map.state(condition.state).name, "the circuit has no settled solution");
    return s;
}

}  // namespace ilvek
