#include "trace/subjects/pulse_width.h"

#include <fmt/format.h>

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/stop.h"
#include "trace/signal/noise.h"
#include "trace/signal/period.h"

namespace ilvek {

namespace {

constexpr double diodeSigma_V = 0.3, supplySigma_V = 0.1, clampSigma = 0.01;
constexpr double fewestPerPeriod = 16, mostBins = 200;
constexpr double rippleClear = 6;    // standard errors of a bin
constexpr double diodeShare = 0.06;  // of the supply, in a freewheeling diode
constexpr double worstDuty = 3;      // points, one sigma, beyond which no figure is given
constexpr double worstTime = 0.25;   // of a time constant
constexpr double steadyShare = 0.5;  // of the ripple, by which single periods may stray beyond the noise

// One period of the current, from 0 to 1 of what it would reach: u from its switching on, D the share driven, k the
// period over the winding's time L/R.
// rise  s = 1 − (1 − s₀) e^(−k u);  fall  s = s_D e^(−k (u − D));  and s₀ as it comes round.
// Where it dies: s₀ = 0 and it falls towards −δ, the diode's share, as far as nothing.
struct Shape {
    double duty = 0.5, k = 1;
    bool dies = false;
    double at(double u) const
    {
        const double d = (1 - std::exp(-k * duty)) / (dies ? 1 : 1 - std::exp(-k));
        const double s0 = dies ? 0 : d * std::exp(-k * (1 - duty));
        if (u < duty) return 1 - (1 - s0) * std::exp(-k * u);
        if (!dies) return d * std::exp(-k * (u - duty));
        return std::max(0.0, (d + diodeShare) * std::exp(-k * (u - duty)) - diodeShare);
    }
};

// y = a + b s(u − φ) for bins in the middle of their stretch.
struct Fit {
    Shape shape;
    double phase = 0, a = 0, b = 0, rest = 1e300;
    double dutySigma = 0, kSigma = 0;  // for a bin's error of 1
};

void solveLinear(const std::vector<double>& y, Fit& f)
{
    const double m = static_cast<double>(y.size());
    double s1 = 0, s2 = 0, y1 = 0, ys = 0, y2 = 0;
    for (std::size_t i = 0; i < y.size(); ++i) {
        stopPointAt(i);
        const double u = (static_cast<double>(i) + 0.5) / m - f.phase;
        const double s = f.shape.at(u - std::floor(u));
        s1 += s, s2 += s * s, y1 += y[i], ys += y[i] * s, y2 += y[i] * y[i];
    }
    const double det = m * s2 - s1 * s1;
    if (!(det > 0)) return;
    f.b = (m * ys - s1 * y1) / det;
    f.a = (y1 - f.b * s1) / m;
    f.rest = f.b > 0 ? std::max(0.0, y2 - f.a * y1 - f.b * ys) : 1e300;
}

// Steps of Gauss and Newton on φ, D and ln k, damped.
void sharpen(const std::vector<double>& y, Fit& f)
{
    const auto count = static_cast<Eigen::Index>(y.size());
    double damping = 1e-3;
    Eigen::Matrix<double, 5, 5> g;
    const auto valueAt = [&](const Fit& x, Eigen::Index i) {
        const double u = (static_cast<double>(i) + 0.5) / static_cast<double>(y.size()) - x.phase;
        return x.a + x.b * x.shape.at(u - std::floor(u));
    };
    for (int turn = 0; turn < 40; ++turn) {
        g.setZero();
        Eigen::Matrix<double, 5, 1> h = Eigen::Matrix<double, 5, 1>::Zero();
        Fit moved[3] = {f, f, f};
        const double step = 1e-4;
        moved[0].phase += step, moved[1].shape.duty += step, moved[2].shape.k *= std::exp(step);
        for (Eigen::Index i = 0; i < count; ++i) {
            const double now = valueAt(f, i);
            Eigen::Matrix<double, 5, 1> row;
            for (int p = 0; p < 3; ++p)
                row(p) = (valueAt(moved[p], i) - now) / step;
            row(3) = 1, row(4) = (now - f.a) / f.b;
            g += row * row.transpose();
            h += row * (y[static_cast<std::size_t>(i)] - now);
        }
        Eigen::Matrix<double, 5, 5> damped = g;
        damped.diagonal() *= 1 + damping;
        const Eigen::Matrix<double, 5, 1> d = damped.ldlt().solve(h);
        Fit next = f;
        next.phase += std::clamp(d(0), -0.05, 0.05);
        next.shape.duty = std::clamp(f.shape.duty + std::clamp(d(1), -0.05, 0.05), 0.01, 0.99);
        next.shape.k = std::clamp(f.shape.k * std::exp(std::clamp(d(2), -0.5, 0.5)), 0.02, 60.0);
        solveLinear(y, next);
        const bool better = next.rest < f.rest;
        const bool still = better && f.rest - next.rest < 1e-9 * f.rest;
        if (better) f = next;
        damping = better ? damping / 4 : damping * 6;
        if (still || damping > 1e9) break;
    }
    const Eigen::Matrix<double, 5, 5> inverse =
        (g + 1e-12 * Eigen::Matrix<double, 5, 5>::Identity()).ldlt().solve(Eigen::Matrix<double, 5, 5>::Identity());
    f.dutySigma = std::sqrt(std::max(0.0, inverse(1, 1)));
    f.kSigma = std::sqrt(std::max(0.0, inverse(2, 2)));
}

// Every share and time of a grid at its best phase, then the best of them sharpened.
Fit fitOf(const std::vector<double>& y, bool dies)
{
    const std::size_t m = y.size();
    std::vector<Fit> tried;
    for (double duty = 0.08; duty < 0.95; duty += 0.12) {
        for (const double k : {0.3, 1.2, 4.0}) {
            Fit best;
            for (std::size_t p = 0; p < m; p += std::max<std::size_t>(1, m / 50)) {
                Fit f;
                f.shape = {duty, k, dies};
                f.phase = static_cast<double>(p) / static_cast<double>(m);
                solveLinear(y, f);
                if (f.rest < best.rest) best = f;
            }
            if (best.rest < 1e300) tried.push_back(best);
        }
    }
    std::sort(tried.begin(), tried.end(), [](const Fit& a, const Fit& b) { return a.rest < b.rest; });
    Fit out;
    for (std::size_t t = 0; t < std::min<std::size_t>(3, tried.size()); ++t) {
        sharpen(y, tried[t]);
        if (tried[t].rest < out.rest) out = tried[t];
    }
    return out;
}

void resistance(TraceTold& out, double duty, double dutySigma, double mean, double meanSigma,
                std::optional<double> supply_V, bool dies)
{
    const auto cannot = [&](const char* why) {
        out.measures.push_back(notMeasurable("resistance", "Resistance of the loop", Unit::Ohm, why));
    };
    if (!supply_V) return cannot("the supply voltage is not known");
    if (dies) return cannot("the current dies in each period");
    // R = (D (U + U_d) − U_d) / Ī
    const double u = duty * (*supply_V + freewheel_V) - freewheel_V;
    const double sigma =
        std::sqrt(std::pow(dutySigma * (*supply_V + freewheel_V), 2) + std::pow(duty * supplySigma_V, 2) +
                  std::pow((1 - duty) * diodeSigma_V, 2) + std::pow(u * std::hypot(clampSigma, meanSigma / mean), 2));
    if (!(u > 3 * sigma)) return cannot("it is driven too little of the time");
    out.measures.push_back(measured("resistance", "Resistance of the loop", Unit::Ohm, u / mean, sigma / mean));
}

}  // namespace

Result<TraceTold> measurePulseWidth(const Recording& r, const Channel& current, std::optional<double> supply_V)
{
    const std::vector<double> x = current.samples.read(0, current.samples.size());
    if (x.size() < 64) return fail(current.name, "has too few samples");
    const double noise = noiseOf(x, current.samples.resolution());
    const double mean = std::accumulate(x.begin(), x.end(), 0.0) / static_cast<double>(x.size());
    const double meanSigma = noise / std::sqrt(static_cast<double>(x.size()));
    TraceTold out;
    const auto none = [&](const std::string& why) {
        for (const auto& [id, name, unit] : {std::tuple{"frequency", "Frequency", Unit::Hertz},
                                             {"duty", "Share of the time that it is driven", Unit::Percent},
                                             {"ripple", "Ripple, lowest to highest", Unit::Ampere}})
            out.measures.push_back(notMeasurable(id, name, unit, why));
        out.measures.push_back(
            measured("average", "Average", Unit::Ampere, mean, std::hypot(meanSigma, clampSigma * mean)));
        out.verdict =
            fmt::format("No ripple can be told in it: {}. The average is {}.", why, formatQuantity(amperes(mean)));
        return out;
    };
    const auto period = periodOf(x, noise);
    if (!period) return none("it does not repeat, or the noise hides that it does");
    if (*period < fewestPerPeriod) return none("a period has fewer than 16 samples");
    const auto bins = static_cast<std::size_t>(std::min(mostBins, std::floor(*period)));
    const Folded folded = fold(x, *period, bins);
    const double binSigma = noise / std::sqrt(std::max(1.0, folded.perBin));
    const auto [low, high] = std::minmax_element(folded.mean.begin(), folded.mean.end());
    const double span = *high - *low;
    if (span < rippleClear * binSigma) return none("the noise is as large as the ripple");
    const double stray = std::sqrt(std::max(0.0, folded.scatter * folded.scatter - 1.3 * noise * noise));
    if (stray > steadyShare * span) return none("its periods are not alike: it changes within the recording");
    const double dt = r.interval_s, f = 1 / (*period * dt);
    const double nothing = *low < 0.15 * *high ? *low + std::max(0.03 * span, 3 * binSigma) : -1e300;
    const bool dies = nothing > -1e299;
    const Fit fit = fitOf(folded.mean, dies);
    const double m = static_cast<double>(bins);
    // What single bins miss it by, or their noise, whichever is more; edges lie within a sample.
    const double miss = std::max(binSigma, std::sqrt(fit.rest / std::max(1.0, m - 5)));
    const double duty = fit.shape.duty;
    // The fit's own error is larger than its slope at the best place says; where it dies the diode's share is a guess.
    const double dutySigma = std::hypot(1.4 * miss * fit.dutySigma, 0.3 / *period, dies ? 0.01 : 0.0);
    out.measures.push_back(measured("frequency", "Frequency", Unit::Hertz, f, f * 0.5 / static_cast<double>(x.size())));
    if (fit.rest >= 1e300 || 100 * dutySigma > worstDuty) {
        out.measures.push_back(notMeasurable("duty", "Share of the time that it is driven", Unit::Percent,
                                             "the noise would hide where it is switched"));
        out.verdict = fmt::format("It repeats at {}; how much of the time it is driven cannot be told.",
                                  formatQuantity({f, Unit::Hertz}));
        return out;
    }
    out.measures.push_back(
        measured("duty", "Share of the time that it is driven", Unit::Percent, 100 * duty, 100 * dutySigma));
    if (miss * fit.kSigma < worstTime)
        out.measures.push_back(measured("time constant", "Inductance over resistance", Unit::Second,
                                        *period * dt / fit.shape.k, *period * dt / fit.shape.k * miss * fit.kSigma));
    else
        out.measures.push_back(notMeasurable("time constant", "Inductance over resistance", Unit::Second,
                                             "the ripple bends too little for its noise"));
    out.measures.push_back(measured("ripple", "Ripple, lowest to highest", Unit::Ampere, span,
                                    std::hypot(2 * binSigma, clampSigma * span)));
    out.measures.push_back(
        measured("average", "Average", Unit::Ampere, mean, std::hypot(meanSigma, clampSigma * mean)));
    resistance(out, duty, dutySigma, mean, meanSigma, supply_V, dies);
    out.verdict = fmt::format("Driven {:.1f} % of the time at {}, {} on average.", 100 * duty,
                              formatQuantity({f, Unit::Hertz}), formatQuantity(amperes(mean)));
    return out;
}

}  // namespace ilvek
