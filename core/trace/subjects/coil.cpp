#include "trace/subjects/coil.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/stop.h"
#include "trace/signal/noise.h"

namespace ilvek {

namespace {

constexpr double flatShare = 0.04;                      // of the peak, within which a limited current stays
constexpr double longFlat = 0.08;                       // of the dwell, that it must stay there
constexpr double jumpShare = 0.12, jumpOfNoisy = 0.25;  // of the peak, at the beginning of a charge
constexpr double leastBend = -4, mostBend = 16;         // of a rise, over its length
constexpr int bendSteps = 40;
constexpr double ofRise = 0.7;            // of a charge, in which it is fitted: its iron fills towards the end
constexpr std::size_t fewestOfRise = 16;  // samples
constexpr double lawHolds = 1.5;          // squares of the noise that may be left, and a share of the peak
constexpr double lawlessShare = 0.004;
constexpr double brokenGains = 25, brokenShare = 1.02;  // squares of the noise; and of what is left
constexpr double gapRatio = 1.6;                        // of the usual distance, between which a charge is missing
constexpr double clampSigma = 0.01;
constexpr double noiseHides = 0.03;  // of the peak: a limit lies no further from a ramp
constexpr double edgeNoise = 3;      // sigma by which the ramp's own beginning may be misplaced

struct Charge {
    double on_s = 0, dwell_s = 0, peak_A = 0;
    std::optional<double> limited_s;  // after switching on
    std::optional<double> slope_AperS;
    double jump_A = 0, jumpSigma_A = 0;  // where there is a slope
};

// i = j + s φ(t), φ(t) = (1 − e^(−κ t)) / κ: what flows at once, and a rise that bends over as its resistance takes the
// supply (κ > 0) or upwards as its iron is full (κ < 0). At κ = 0 a line.
struct Rise {
    double jump = 0, slope = 0, bend = 0;  // per sample
    double jumpSigma = 0;                  // for noise of σ = 1
    double rest = 1e300;                   // mean square of what is left
};

double phi(double bend, double t)
{
    return std::abs(bend * t) < 1e-6 ? t : -std::expm1(-bend * t) / bend;
}

// Of the samples from a up to b, counted from where it is switched on.
Rise riseAt(const std::vector<double>& y, std::size_t a, std::size_t b, double bend)
{
    double n = 0, f = 0, ff = 0, v = 0, fv = 0, vv = 0;
    for (std::size_t k = a; k < b; ++k) {
        const double p = phi(bend, static_cast<double>(k));
        n += 1, f += p, ff += p * p, v += y[k], fv += p * y[k], vv += y[k] * y[k];
    }
    Rise out;
    const double under = n * ff - f * f;
    if (!(under > 0)) return out;
    out.bend = bend;
    out.slope = (n * fv - f * v) / under;
    out.jump = (v - out.slope * f) / n;
    out.rest = std::max(0.0, vv - out.jump * v - out.slope * fv) / n;
    return out;
}

// The bend that leaves least, sought over a grid and then between its neighbours; the jump's error with it free.
Rise riseOf(const std::vector<double>& y, std::size_t a, std::size_t b, double noise)
{
    const double length = static_cast<double>(b);
    Rise best;
    for (int k = 0; k <= bendSteps; ++k) {
        stopPoint();
        const Rise r = riseAt(y, a, b, (leastBend + (mostBend - leastBend) * k / bendSteps) / length);
        if (r.rest < best.rest) best = r;
    }
    double step = (mostBend - leastBend) / bendSteps / length;
    for (int round = 0; round < 12; ++round, step /= 2) {
        for (const double bend : {best.bend - step, best.bend + step}) {
            const Rise r = riseAt(y, a, b, bend);
            if (r.rest < best.rest) best = r;
        }
    }
    // How far the jump moves with the bends that fit one sigma worse.
    const double open = best.rest + noise * noise / static_cast<double>(b - a);
    for (const double side : {-1.0, 1.0}) {
        double far = 0.02 / length;
        while (far < 2 * mostBend / length && riseAt(y, a, b, best.bend + side * far).rest < open)
            far *= 1.5;
        best.jumpSigma = std::max(best.jumpSigma, std::abs(riseAt(y, a, b, best.bend + side * far).jump - best.jump));
    }
    return best;
}

// Where it begins to stay at the level that it ends with.
std::size_t flatFrom(const Kinks& k, std::size_t size, double noise)
{
    const std::size_t tail = std::max<std::size_t>(4, size / 40);
    const double end = k.mean(size - tail - 1, tail);
    const double within = std::max(flatShare * end, 3 * noise / std::sqrt(static_cast<double>(tail)));
    std::size_t flat = size - tail - 1;
    while (flat > tail && std::abs(k.mean(flat - tail, tail) - end) < within)
        flat -= 1;
    return flat;
}

// Whether a rise and then a level hold better than one law in all of it: what its own resistance ends bends over from
// the beginning.
bool isBroken(const std::vector<double>& y, std::size_t first, std::size_t flat, double noise)
{
    const std::size_t end = y.size() - 2;
    const double whole = riseOf(y, first, end, noise).rest * static_cast<double>(end - first);
    const double level = std::accumulate(y.begin() + static_cast<std::ptrdiff_t>(flat),
                                         y.begin() + static_cast<std::ptrdiff_t>(end), 0.0) /
                         static_cast<double>(end - flat);
    double split = riseOf(y, first, flat, noise).rest * static_cast<double>(flat - first);
    for (std::size_t k = flat; k < end; ++k)
        split += (y[k] - level) * (y[k] - level);
    return whole - split > brokenGains * noise * noise && whole > brokenShare * split;
}

Charge chargeOf(const Recording& r, const Channel& current, const Pulses& all, const Pulse& p)
{
    Charge c{p.on_s, p.off_s - p.on_s, p.value("peak").value_or(0), {}, {}};
    const auto on = static_cast<std::size_t>(p.on_s / r.interval_s),
               off = static_cast<std::size_t>(p.off_s / r.interval_s);
    if (off < on + 24) return c;
    auto y = current.samples.read(on, off - on);
    for (double& v : y)
        v -= all.zero_A;
    const Kinks k(y);
    const std::size_t tail = std::max<std::size_t>(4, y.size() / 40), flat = flatFrom(k, y.size(), all.noise_A);
    const double slopeBefore = flat > 2 * tail ? k.slope(flat - 2 * tail, 2 * tail) : 0;
    const double slopeWithin = k.slope(flat, y.size() - flat - 1);
    const std::size_t first = std::max<std::size_t>(8, y.size() / 50);
    // A ramp stays near its end for as long as its slope takes; a limit for longer, and with hardly a slope.
    if (static_cast<double>(y.size() - flat) > longFlat * static_cast<double>(y.size()) &&
        slopeWithin < 0.15 * slopeBefore && flat > first + fewestOfRise && isBroken(y, first, flat, all.noise_A))
        c.limited_s = static_cast<double>(flat) * r.interval_s;
    const auto last = static_cast<std::size_t>(ofRise * static_cast<double>(c.limited_s ? flat : y.size() - 1));
    if (last < first + fewestOfRise) return c;
    const Rise rise = riseOf(y, first, last, all.noise_A);
    // Iron that fills before it is let go follows no such law: nothing is told of its beginning.
    const double allowed = lawlessShare * c.peak_A;
    if (rise.rest > lawHolds * all.noise_A * all.noise_A + allowed * allowed) return c;
    c.slope_AperS = rise.slope / r.interval_s;
    c.jump_A = rise.jump, c.jumpSigma_A = rise.jumpSigma;
    return c;
}

template <class Of>
std::optional<TraceMeasure> middleOf(const std::vector<Charge>& charges, const char* id, const char* name, Unit unit,
                                     double scale, double least, Of of)
{
    std::vector<double> x;
    for (const Charge& c : charges) {
        if (const std::optional<double> v = of(c)) x.push_back(*v);
    }
    if (2 * x.size() < charges.size() || x.empty()) return std::nullopt;
    const double middle = medianOf(x);
    std::vector<double> off;
    for (const double v : x)
        off.push_back(std::abs(v - middle));
    return measured(id, name, unit, middle, std::hypot(1.4826 * medianOf(off), scale * middle, least));
}

// What flows at once, of all charges together: each by itself is unsure where its rise bends.
std::optional<TraceMeasure> jumpOf(const std::vector<Charge>& charges, double noise)
{
    std::vector<double> jumps, sigmas;
    for (const Charge& c : charges) {
        if (c.slope_AperS) jumps.push_back(c.jump_A), sigmas.push_back(c.jumpSigma_A);
    }
    if (jumps.empty()) return std::nullopt;
    const double n = static_cast<double>(jumps.size()), jump = medianOf(jumps);
    // 1.25: of a median against a mean. That an edge lies a little off is alike in all of them.
    const double sigma = 1.25 * medianOf(sigmas) / std::sqrt(n);
    if (std::abs(jump) < 4 * sigma + edgeNoise * noise) return std::nullopt;
    return measured("jump", "Jump at the beginning", Unit::Ampere, jump, std::hypot(sigma, 0.1 * jump));
}

void missing(const std::vector<Charge>& charges, TraceTold& out)
{
    std::vector<double> apart;
    for (std::size_t i = 1; i < charges.size(); ++i)
        apart.push_back(charges[i].on_s - charges[i - 1].on_s);
    if (apart.size() < 3) return;
    const double usual = medianOf(apart);
    for (std::size_t i = 0; i < apart.size(); ++i) {
        if (apart[i] < gapRatio * usual) continue;
        const int gone = static_cast<int>(std::lround(apart[i] / usual)) - 1;
        out.events.push_back({charges[i].on_s + usual, apart[i] - usual, apart[i] / usual / gapRatio,
                              gone == 1 ? "a charge is missing" : fmt::format("{} charges are missing", gone)});
    }
}

}  // namespace

Result<TraceTold> measureCoil(const Recording& r, const Channel& current, std::optional<double> supply_V)
{
    const auto pulses = measureWinding(r, current, {supply_V, nullptr, false});
    if (!pulses) return tl::unexpected(pulses.error());
    std::vector<Charge> charges;
    for (const Pulse& p : pulses->pulses) {
        if (!p.cut) charges.push_back(chargeOf(r, current, *pulses, p));
    }
    if (charges.empty()) return fail(current.name, "no whole charge is in the recording");
    TraceTold out;
    const double dt = r.interval_s;
    const auto take = [&](std::optional<TraceMeasure> m, const char* id, const char* name, Unit unit, const char* why) {
        out.measures.push_back(m ? *m : notMeasurable(id, name, unit, why));
        return m ? m->value : std::nullopt;
    };
    const auto dwell = take(middleOf(charges, "dwell", "Dwell", Unit::Second, 0, dt,
                                     [](const Charge& c) { return std::optional(c.dwell_s); }),
                            "dwell", "Dwell", Unit::Second, "");
    const auto peak = take(middleOf(charges, "peak", "Current when it is let go", Unit::Ampere, clampSigma, 0,
                                    [](const Charge& c) { return std::optional(c.peak_A); }),
                           "peak", "Current when it is let go", Unit::Ampere, "");
    const bool noisy = pulses->noise_A > noiseHides * peak.value_or(0);
    const auto limited = take(middleOf(charges, "limited after", "Limited after", Unit::Second, 0.02, dt,
                                       [](const Charge& c) { return c.limited_s; }),
                              "limited after", "Limited after", Unit::Second,
                              noisy ? "the noise would hide a limit" : "the current still rises when it is let go");
    const auto slope = take(middleOf(charges, "slope", "Slope, A/s", Unit::None, clampSigma, 0,
                                     [](const Charge& c) { return c.slope_AperS; }),
                            "slope", "Slope, A/s", Unit::None, "a charge has too few samples, or its iron fills");
    if (slope && supply_V && *slope > 0 && !noisy)
        out.measures.push_back(
            measured("inductance", "Inductance, mH", Unit::None, 1e3 * *supply_V / *slope, 0.1e3 * *supply_V / *slope));
    auto seenJump = jumpOf(charges, pulses->noise_A);
    if (noisy && seenJump && *seenJump->value < jumpOfNoisy * peak.value_or(0)) seenJump.reset();
    const auto jump =
        take(std::move(seenJump), "jump", "Jump at the beginning", Unit::Ampere, "none stands out of the noise");
    missing(charges, out);
    out.verdict =
        fmt::format("{} charges of {}, {} when let go{}.", charges.size(),
                    formatQuantity({dwell.value_or(0), Unit::Second}), formatQuantity(amperes(peak.value_or(0))),
                    limited ? fmt::format(", limited after {}", formatQuantity({*limited, Unit::Second}))
                    : noisy ? ""
                            : ", not limited");
    if (jump && peak && *jump > jumpShare * *peak) {
        out.odd = true;
        out.verdict +=
            fmt::format(" It jumps to {} at once: turns of the coil are shorted.", formatQuantity(amperes(*jump)));
    }
    if (!out.events.empty()) {
        out.odd = true;
        out.verdict +=
            fmt::format(" {} time{} a charge does not come.", out.events.size(), out.events.size() == 1 ? "" : "s");
    }
    return out;
}

}  // namespace ilvek
