#include "trace/subjects/motor.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <complex>
#include <numeric>

#include "base/stop.h"
#include "trace/signal/noise.h"
#include "trace/signal/period.h"

namespace ilvek {

namespace {

constexpr double rippleClear = 8;      // standard errors of a bin of the mean period
constexpr double fewestPerRipple = 6;  // samples
constexpr double clampSigma = 0.01;
constexpr double unevenShare = 0.05;  // of the current, by which a bar is named
constexpr double unevenZ = 6;
constexpr double stillStalled = 0.9;  // of the current of starting, still flowing at the end
constexpr double notchOverRest = 3;   // a dip this much deeper than the rest is high
constexpr int longestPattern = 60;

// Of one period of a pattern: how many ripples are in it. Where it dips below the rest is left out, since a dip has
// lines of its own; what remains is weighted by f², which favours the ripple over what is slower.
int ripplesWithin(const std::vector<double>& shape)
{
    const std::size_t m = shape.size();
    const double middle = medianOf(shape);
    std::vector<double> above;
    for (const double v : shape) {
        if (v > middle) above.push_back(v - middle);
    }
    const double deep = above.empty() ? 0 : 3 * medianOf(above);
    std::vector<char> dip(m, 0);
    const std::size_t beside = std::max<std::size_t>(1, m / 40);
    for (std::size_t i = 0; i < m; ++i) {
        stopPointAt(i);
        if (shape[i] > middle - deep) continue;
        for (std::size_t k = 0; k <= 2 * beside; ++k)
            dip[(i + m + k - beside) % m] = 1;
    }
    double best = 0;
    int at = 1;
    const int most = static_cast<int>(std::min<std::size_t>(longestPattern, m / 6));
    for (int h = 1; h <= most; ++h) {
        // Of slopes, so that the f² is in it; a slope into a dip is none.
        std::complex<double> line = 0;
        for (std::size_t i = 0; i < m; ++i) {
            const std::size_t next = (i + 1) % m;
            if (dip[i] || dip[next]) continue;
            line += (shape[next] - shape[i]) *
                    std::polar(1.0, -2 * M_PI * h * (static_cast<double>(i) + 0.5) / static_cast<double>(m));
        }
        if (std::norm(line) > best) best = std::norm(line), at = h;
    }
    return at;
}

// How often a bar passes, per sample, and the pattern that comes round.
struct Bars {
    double perSample = 0;
    int every = 0;         // ripples, after which one comes round that differs
    double share = 0;      // of the current, how far it lies below the others
    double sigma = 0;      // of the share
    double place = 0;      // of it in the pattern, from 0 to 1
    double period = 0;     // of the pattern, samples
    bool counted = false;  // the ripples of a pattern were counted, not given: one may be missed in its dip
};

// The mean of each of `q` ripples of a pattern so long.
std::vector<double> ripplesOf(const std::vector<double>& late, double period, int q, double& sigma, double noise)
{
    const auto bins = static_cast<std::size_t>(q) * static_cast<std::size_t>(std::clamp(period / q, 2.0, 40.0));
    const Folded folded = fold(late, period, bins);
    const std::size_t each = bins / static_cast<std::size_t>(q);
    std::vector<double> out;
    for (std::size_t a = 0; a + each <= bins; a += each)
        out.push_back(std::accumulate(folded.mean.begin() + static_cast<std::ptrdiff_t>(a),
                                      folded.mean.begin() + static_cast<std::ptrdiff_t>(a + each), 0.0) /
                      static_cast<double>(each));
    sigma = noise / std::sqrt(std::max(1.0, folded.perBin * static_cast<double>(each)));
    return out;
}

void findPattern(const std::vector<double>& late, double noise, double running, double period, int q, Bars& bars)
{
    if (q < 2 || 3 * period > static_cast<double>(late.size())) return;
    double sigma = 0;
    const auto levels = ripplesOf(late, period, q, sigma, noise);
    const auto worst = std::min_element(levels.begin(), levels.end());
    const double share = (medianOf(levels) - *worst) / running;
    if (share < 1.5 * bars.share || share < unevenZ * sigma / running) return;
    bars.every = q, bars.share = share, bars.sigma = sigma / running, bars.period = period;
    bars.place = (static_cast<double>(worst - levels.begin()) + 0.5) / q;
}

// What repeats is a bar, or a turn or its half when a bar differs. A turn holds as many ripples as is asked, or as are
// seen in it.
std::optional<Bars> barsOf(const std::vector<double>& late, double noise, double running, std::optional<int> perPattern)
{
    const auto period = periodOf(late, noise);
    if (!period || *period < fewestPerRipple) return std::nullopt;
    const auto bins = static_cast<std::size_t>(std::min(2000.0, std::floor(*period)));
    const Folded folded = fold(late, *period, bins);
    const auto [low, high] = std::minmax_element(folded.mean.begin(), folded.mean.end());
    if (*high - *low < rippleClear * noise / std::sqrt(std::max(1.0, folded.perBin))) return std::nullopt;
    const int seen = bins < 4 * static_cast<std::size_t>(fewestPerRipple) ? 1 : ripplesWithin(folded.mean);
    Bars out;
    // A notch and all the rest: where the number of bars is given there is no doubt how many ripples that are.
    const double middle = medianOf(folded.mean);
    const bool notched = middle - *low > notchOverRest * (*high - middle);
    const int within = (seen > 1 || notched) && perPattern ? *perPattern : seen;
    out.perSample = within / *period;
    out.counted = (within > 1 || notched) && !perPattern;
    out.every = within;
    out.sigma = noise / running / std::sqrt(std::max(1.0, folded.perBin));
    if (notched && within == 1) {
        // Its ripple cannot be seen: only that something comes round.
        out.share = (middle - *low) / running, out.period = *period;
        out.place = static_cast<double>(low - folded.mean.begin()) / static_cast<double>(bins);
    } else if (within > 1) {
        findPattern(late, noise, running, *period, within, out);
    } else {
        for (int q = perPattern.value_or(2); q <= perPattern.value_or(longestPattern); ++q)
            findPattern(late, noise, running, *period * q, q, out);
    }
    return out;
}

}  // namespace

Result<TraceTold> measureMotor(const Recording& r, const Channel& current, const MotorBeside& beside)
{
    const std::vector<double> x = current.samples.read(0, current.samples.size());
    if (x.size() < 256) return fail(current.name, "has too few samples");
    const double dt = r.interval_s, noise = noiseOf(x, current.samples.resolution());
    const std::size_t n = x.size(), half = n / 2;
    const std::vector<double> late(x.begin() + static_cast<std::ptrdiff_t>(half), x.end());
    const double running = medianOf(late);
    if (!(running > 6 * noise / std::sqrt(static_cast<double>(late.size())) && running > 0))
        return fail(current.name, "nothing flows in its second half: the motor's circuit is open or not driven");
    TraceTold out;
    out.measures.push_back(
        measured("running", "Current while it runs", Unit::Ampere, running,
                 std::hypot(noise / std::sqrt(static_cast<double>(late.size())), clampSigma * running)));
    // Starting: the recording begins with nothing.
    const std::size_t few = std::max<std::size_t>(8, n / 500);
    const double begins = medianOf({x.begin(), x.begin() + static_cast<std::ptrdiff_t>(few)});
    std::optional<double> starting;
    if (begins < 0.2 * running) {
        std::vector<double> calm;
        for (std::size_t i = 0; i + 5 <= half; ++i)
            calm.push_back(medianOf({x[i], x[i + 1], x[i + 2], x[i + 3], x[i + 4]}));
        const auto top = std::max_element(calm.begin(), calm.end());
        starting = *top;
        out.measures.push_back(measured("starting", "Current of starting", Unit::Ampere, *top,
                                        std::hypot(noise, clampSigma * *top),
                                        static_cast<double>(top - calm.begin()) * dt));
        if (beside.supply_V)
            out.measures.push_back(measured("resistance", "Resistance of the loop, at most", Unit::Ohm,
                                            *beside.supply_V / *top, 0.03 * *beside.supply_V / *top));
    } else {
        out.measures.push_back(
            notMeasurable("starting", "Current of starting", Unit::Ampere, "the recording begins while it is fed"));
    }
    // A bad bar comes round twice a turn: with an even number every half of it, with an odd one every full number.
    std::optional<int> every;
    if (beside.bars) every = *beside.bars % 2 == 0 ? *beside.bars / 2 : *beside.bars;
    const auto bars = barsOf(late, noise, running, every);
    const auto noRate = [&](const std::string& why) {
        out.measures.push_back(notMeasurable("bar rate", "Bar rate", Unit::Hertz, why));
        out.measures.push_back(notMeasurable("speed", "Turns a minute", Unit::None, why));
        out.measures.push_back(notMeasurable("uneven", "Bar most below the others", Unit::Percent, why));
    };
    if (!bars || bars->perSample * fewestPerRipple > 1) {
        noRate(bars ? "a bar has fewer than six samples" : "no ripple of bars stands out of the noise");
        // Once fed, a current that does not fall from where it started says that nothing turns.
        if (starting && !bars && running > stillStalled * *starting) {
            out.odd = true;
            out.verdict = fmt::format("It does not turn: {} flows and stays there. Stalled, or it does not commutate.",
                                      formatQuantity(amperes(running)));
        } else {
            out.verdict = fmt::format("{} flows; whether it turns cannot be told.", formatQuantity(amperes(running)));
        }
        return out;
    }
    const double rate = bars->perSample / dt,
                 rateSigma = bars->counted ? rate / bars->every : 0.3 / (static_cast<double>(late.size()) * dt);
    out.measures.push_back(measured("bar rate", "Bar rate", Unit::Hertz, rate, rateSigma));
    if (beside.bars) {
        const int perTurn = *beside.bars % 2 == 0 ? *beside.bars : 2 * *beside.bars;
        out.measures.push_back(
            measured("speed", "Turns a minute", Unit::None, 60 * rate / perTurn, 60 * rateSigma / perTurn));
    } else {
        out.measures.push_back(notMeasurable("speed", "Turns a minute", Unit::None,
                                             "the number of commutator bars is not given, and no recording tells it"));
    }
    out.verdict = fmt::format("It turns: {} of bars, {} flows.", formatQuantity({rate, Unit::Hertz}),
                              formatQuantity(amperes(running)));
    out.measures.push_back(measured("uneven", "Bar most below the others", Unit::Percent, 100 * bars->share,
                                    100 * std::max(bars->sigma, 0.02 * bars->share)));
    if (bars->share <= unevenShare) return out;
    out.odd = true;
    out.verdict +=
        fmt::format(" One commutation in {}{} is {:.0f} % low: a bad bar or its coil{}.", bars->counted ? "about " : "",
                    bars->every, 100 * bars->share, beside.bars ? ", seen by both brushes in each turn" : "");
    for (double at = bars->place * bars->period; at < static_cast<double>(late.size()); at += bars->period)
        out.events.push_back({(at + static_cast<double>(half)) * dt, 1 / rate, bars->share / unevenShare, "low bar"});
    return out;
}

}  // namespace ilvek
