#include "trace/signal/period.h"

#include <unsupported/Eigen/FFT>

#include <algorithm>
#include <cmath>

#include "base/stop.h"

namespace ilvek {

namespace {

constexpr std::size_t most = 1U << 17U;  // samples that are looked at
constexpr double repeatsWell = 0.9;      // of the best repetition
constexpr double repeatsAtAll = 0.5;     // of the power that is not noise

// From the middle, less their line.
std::vector<double> levelled(const std::vector<double>& x, std::size_t n)
{
    const std::size_t first = (x.size() - n) / 2;
    const double count = static_cast<double>(n), centre = 0.5 * (count - 1);
    double sum = 0, moment = 0;
    for (std::size_t i = 0; i < n; ++i) {
        stopPointAt(i);
        sum += x[first + i];
        moment += (static_cast<double>(i) - centre) * x[first + i];
    }
    const double mean = sum / count, slope = 12 * moment / (count * (count * count - 1));
    std::vector<double> out(n);
    for (std::size_t i = 0; i < n; ++i)
        out[i] = x[first + i] - mean - slope * (static_cast<double>(i) - centre);
    return out;
}

std::size_t powerOfTwoWithin(std::size_t n)
{
    std::size_t p = 1;
    while (2 * p <= n)
        p *= 2;
    return p;
}

// The place of the maximum of a parabola through the sample at k and its neighbours.
double summit(const std::vector<double>& r, std::size_t k)
{
    const double a = r[k - 1], b = r[k], c = r[k + 1], bend = a - 2 * b + c;
    return static_cast<double>(k) + (bend < 0 ? std::clamp(0.5 * (a - c) / bend, -1.0, 1.0) : 0.0);
}

std::vector<double> autocorrelation(std::vector<double> x)
{
    const std::size_t n = x.size();
    x.resize(2 * powerOfTwoWithin(2 * n - 1), 0.0);
    Eigen::FFT<double> fft;
    std::vector<std::complex<double>> f;
    fft.fwd(f, x);
    for (auto& v : f)
        v = std::norm(v);
    std::vector<double> r;
    fft.inv(r, f);
    r.resize(n);
    for (std::size_t k = 0; k < n; ++k)
        r[k] /= static_cast<double>(n - k);
    return r;
}

}  // namespace

Spectrum spectrumOf(const std::vector<double>& x, double interval_s)
{
    const std::size_t n = std::min(most, powerOfTwoWithin(x.size()));
    std::vector<double> y = levelled(x, n);
    for (std::size_t i = 0; i < n; ++i)
        y[i] *= 0.5 - 0.5 * std::cos(2 * M_PI * static_cast<double>(i) / static_cast<double>(n));
    Eigen::FFT<double> fft;
    std::vector<std::complex<double>> f;
    fft.fwd(f, y);
    Spectrum out;
    out.step_Hz = 1 / (static_cast<double>(n) * interval_s);
    out.power.resize(n / 2 + 1);
    for (std::size_t k = 0; k <= n / 2; ++k)
        out.power[k] = std::norm(f[k]);
    return out;
}

std::optional<double> periodOf(const std::vector<double>& x, double noise)
{
    const std::size_t n = std::min(most, x.size());
    if (n < 64) return std::nullopt;
    const std::vector<double> r = autocorrelation(levelled(x, n));
    const double power = r[0] - noise * noise;
    if (!(power > 0)) return std::nullopt;
    const std::size_t last = n / 3;
    std::size_t k = 1;
    while (k < last && r[k] > 0)
        ++k;
    if (k == last) return std::nullopt;
    const double best =
        *std::max_element(r.begin() + static_cast<std::ptrdiff_t>(k), r.begin() + static_cast<std::ptrdiff_t>(last));
    if (best < repeatsAtAll * power) return std::nullopt;
    // Noise alone gives every repetition an error of σ²/√n.
    const double error = noise * noise / std::sqrt(static_cast<double>(n));
    const double enough = repeatsWell * best - 5 * error;
    if (enough < repeatsAtAll * best) return std::nullopt;
    while (k < last && !(r[k] >= enough && r[k] >= r[k - 1] && r[k] >= r[k + 1]))
        ++k;
    if (k == last) return std::nullopt;
    // Noise makes small summits beside the great one: the highest within a tenth of a period.
    const auto highest = [&](double about, double reach) {
        const auto a = static_cast<std::size_t>(std::max(1.0, about - reach)),
                   b = std::min(n - 2, static_cast<std::size_t>(about + reach) + 1);
        return static_cast<std::size_t>(
            std::max_element(r.begin() + static_cast<std::ptrdiff_t>(a), r.begin() + static_cast<std::ptrdiff_t>(b)) -
            r.begin());
    };
    const std::size_t first = highest(static_cast<double>(k), 0.1 * static_cast<double>(k));
    double period = summit(r, std::clamp<std::size_t>(first, 1, n - 2));
    for (double times = 2; times * period < 0.5 * static_cast<double>(n); times *= 2) {
        const std::size_t at = highest(times * period, 0.15 * period + 1);
        period = summit(r, std::clamp<std::size_t>(at, 1, n - 2)) / times;
    }
    return period;
}

Folded fold(const std::vector<double>& x, double period, std::size_t bins)
{
    const std::size_t n = std::min(most, x.size()), first = (x.size() - n) / 2;
    std::vector<double> sum(bins, 0.0), count(bins, 0.0);
    std::vector<std::size_t> binOf(n);
    for (std::size_t i = 0; i < n; ++i) {
        stopPointAt(i);
        const double turns = static_cast<double>(i) / period;
        binOf[i] =
            std::min(bins - 1, static_cast<std::size_t>((turns - std::floor(turns)) * static_cast<double>(bins)));
        sum[binOf[i]] += x[first + i];
        count[binOf[i]] += 1;
    }
    Folded out;
    out.mean.resize(bins);
    for (std::size_t b = 0; b < bins; ++b)
        out.mean[b] = count[b] > 0 ? sum[b] / count[b] : b > 0 ? out.mean[b - 1] : 0;
    out.perBin = *std::min_element(count.begin(), count.end());
    double square = 0;
    for (std::size_t i = 0; i < n; ++i)
        square += std::pow(x[first + i] - out.mean[binOf[i]], 2);
    out.scatter = std::sqrt(square / static_cast<double>(n));
    return out;
}

}  // namespace ilvek
