#include "practice/bus_pair.h"

#include <Eigen/Dense>

#include <cmath>
#include <random>

namespace ilvek::practice {

namespace {

struct Lines {
    double high = 0, low = 0;
};

// The two node equations, with whichever drivers do not block.
Lines resting(const BusPairLines& b, bool dominant)
{
    const double between = b.fault == PairFault::OneTermination ? 1 / b.termination_ohm : 2 / b.termination_ohm;
    const double rest = 1 / b.rest_ohm, drive = 1 / b.driver_ohm, shorted = 1 / b.short_ohm;
    const double source_V = b.module_V - 0.5, sink_V = 0.5;
    Lines out;
    bool highDrives = dominant, lowDrives = dominant;
    for (int k = 0; k < 4; ++k) {
        Eigen::Matrix2d g;
        g << rest + between, -between, -between, rest + between;
        Eigen::Vector2d i(rest * b.module_V / 2, rest * b.module_V / 2);
        if (highDrives) g(0, 0) += drive, i(0) += drive * source_V;
        if (lowDrives) g(1, 1) += drive, i(1) += drive * sink_V;
        const auto tie = [&](int line, double to_V) { g(line, line) += shorted, i(line) += shorted * to_V; };
        if (b.fault == PairFault::HighToGround) tie(0, 0);
        if (b.fault == PairFault::HighToSupply) tie(0, b.battery_V);
        if (b.fault == PairFault::LowToGround) tie(1, 0);
        if (b.fault == PairFault::LowToSupply) tie(1, b.battery_V);
        if (b.fault == PairFault::Together) {
            g(0, 0) += shorted, g(1, 1) += shorted;
            g(0, 1) -= shorted, g(1, 0) -= shorted;
        }
        const Eigen::Vector2d v = g.ldlt().solve(i);
        out = {v(0), v(1)};
        const bool highCan = dominant && out.high < source_V, lowCan = dominant && out.low > sink_V;
        if (highCan == highDrives && lowCan == lowDrives) break;
        highDrives = highCan, lowDrives = lowCan;
    }
    // Behind the break a line follows the other one through the termination there.
    if (b.fault == PairFault::HighOpen) out.high = out.low + (b.module_V / 2 - out.low) * b.termination_ohm * rest;
    if (b.fault == PairFault::LowOpen) out.low = out.high + (b.module_V / 2 - out.high) * b.termination_ohm * rest;
    return out;
}

// Bits as they stand on the lines, true for dominant: frames without more than five alike, and pauses.
std::vector<bool> traffic(std::size_t bits, std::mt19937& random)
{
    std::vector<bool> out;
    while (out.size() < bits) {
        const auto pause = 11 + random() % 40;
        out.insert(out.end(), pause, false);
        int alike = 0;
        bool last = true;
        out.push_back(true);
        for (int k = 0; k < 100; ++k) {
            bool next = random() % 2 == 0;
            if (alike >= 4) next = !last;
            alike = next == last ? alike + 1 : 0;
            last = next;
            out.push_back(next);
        }
    }
    return out;
}

}  // namespace

Recording makeBusPair(const BusPairLines& b, const Recorder& r, double length_s)
{
    const auto n = static_cast<std::size_t>(length_s / r.interval_s);
    std::mt19937 random(r.seed + 77);
    const auto bits = traffic(static_cast<std::size_t>(length_s / b.bit_s) + 2, random);
    const Lines rest = resting(b, false), driven = resting(b, true);
    std::vector<double> high(n), low(n);
    Lines now = rest;
    const double quick_s = 6e-8, slow_s = b.fault == PairFault::OneTermination ? 3e-7 : 1.5e-7;
    const double offset = std::uniform_real_distribution<double>(0, 1)(random);
    for (std::size_t k = 0; k < n; ++k) {
        const double t = r.interval_s * static_cast<double>(k) / b.bit_s + offset;
        bool dominant = bits[static_cast<std::size_t>(t)];
        if (b.fault == PairFault::Silent) dominant = false;
        if (b.fault == PairFault::HeldDominant) dominant = true;
        const Lines& to = dominant ? driven : rest;
        const double share = 1 - std::exp(-r.interval_s / (dominant ? quick_s : slow_s));
        now.high += share * (to.high - now.high);
        now.low += share * (to.low - now.low);
        high[k] = now.high, low[k] = now.low;
    }
    return recorded({{"bus high", Unit::Volt, std::move(high), r.voltage_V, r.noise},
                     {"bus low", Unit::Volt, std::move(low), r.voltage_V, r.noise}},
                    r);
}

}  // namespace ilvek::practice
