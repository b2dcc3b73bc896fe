#include "trace/signal/switching.h"

#include <fmt/format.h>

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/stop.h"
#include "trace/signal/noise.h"

namespace ilvek {

namespace {

constexpr double clearLevels = 8;     // sigma between two levels
constexpr double rippleShare = 0.15;  // of the higher level: less is a ripple
constexpr double rippleAtMost_V = 0.5;
constexpr double leaveShare = 0.1;  // of the swing, on both sides of the middle
constexpr double gapRatio = 1.5;
constexpr double unevenShare = 0.08;  // of a tooth, after the wheel's own swing is taken out
constexpr double eccentricShare = 0.02;

// Where it crosses the middle on its way from one side to the other.
void findEdges(const std::vector<double>& x, const LevelPair& levels, double dt, Switching& out)
{
    const double middle = 0.5 * (levels.low + levels.high), leave = leaveShare * (levels.high - levels.low);
    int side = x.front() > middle ? 1 : -1;
    double crossed = 0;
    for (std::size_t i = 1; i < x.size(); ++i) {
        stopPointAt(i);
        if ((x[i - 1] - middle) * (x[i] - middle) <= 0 && x[i] != x[i - 1])
            crossed = static_cast<double>(i - 1) + (middle - x[i - 1]) / (x[i] - x[i - 1]);
        if (side < 0 && x[i] > middle + leave) side = 1, out.rises_s.push_back(crossed * dt);
        if (side > 0 && x[i] < middle - leave) side = -1, out.falls_s.push_back(crossed * dt);
    }
}

void measurePeriods(const std::vector<double>& x, double noise, double dt, Switching& out)
{
    if (out.rises_s.size() < 2) {
        for (const char* id : {"frequency", "duty", "average"})
            out.measures.push_back(notMeasurable(id, id,
                                                 id == std::string("frequency") ? Unit::Hertz
                                                 : id == std::string("duty")    ? Unit::Percent
                                                                                : Unit::Volt,
                                                 "the recording has no whole period"));
        return;
    }
    const double first = out.rises_s.front(), last = out.rises_s.back();
    const auto periods = static_cast<double>(out.rises_s.size() - 1);
    const double edge = dt / std::sqrt(6.0);
    const double f = periods / (last - first);
    out.measures.push_back(measured("frequency", "Frequency", Unit::Hertz, f, f * edge / (last - first)));
    // High from each rise to the next fall.
    double high = 0;
    auto fall = out.falls_s.begin();
    for (std::size_t i = 0; i + 1 < out.rises_s.size(); ++i) {
        while (fall != out.falls_s.end() && *fall < out.rises_s[i])
            ++fall;
        high += (fall == out.falls_s.end() || *fall > out.rises_s[i + 1] ? out.rises_s[i + 1] : *fall) - out.rises_s[i];
    }
    out.measures.push_back(measured("duty", "Share of the time that it is high", Unit::Percent,
                                    100 * high / (last - first), 100 * edge * f * std::sqrt(2 / periods)));
    const auto a = static_cast<std::size_t>(first / dt), b = static_cast<std::size_t>(last / dt);
    const double mean =
        std::accumulate(x.begin() + static_cast<std::ptrdiff_t>(a), x.begin() + static_cast<std::ptrdiff_t>(b), 0.0) /
        static_cast<double>(std::max<std::size_t>(1, b - a));
    out.measures.push_back(measured("average", "Average over whole periods", Unit::Volt, mean,
                                    noise / std::sqrt(static_cast<double>(b - a + 1)) + 0.002 * std::abs(mean)));
    double slowest = 0;
    for (std::size_t i = 1; i < out.rises_s.size(); ++i)
        slowest = std::max(slowest, out.rises_s[i] - out.rises_s[i - 1]);
    out.measures.push_back(measured("longest period", "Longest period", Unit::Second, slowest, edge));
}

}  // namespace

const TraceMeasure* Switching::find(const std::string& id) const
{
    const auto at = std::find_if(measures.begin(), measures.end(), [&](const TraceMeasure& m) { return m.id == id; });
    return at == measures.end() ? nullptr : &*at;
}

Result<Switching> measureSwitching(const Recording& r, const Channel& channel)
{
    const std::vector<double> x = channel.samples.read(0, channel.samples.size());
    if (x.size() < 16) return fail(channel.name, "has too few samples");
    const double noise = noiseOf(x, channel.samples.resolution());
    const LevelPair levels = levelsBesideSpike(x);
    Switching out;
    const double swing = levels.high - levels.low,
                 ripple = std::max(rippleShare * std::max(std::abs(levels.low), std::abs(levels.high)),
                                   channel.unit() == Unit::Volt ? rippleAtMost_V : 0.0);
    if (!(swing > std::max(clearLevels * noise, ripple))) {
        const double level = std::accumulate(x.begin(), x.end(), 0.0) / static_cast<double>(x.size());
        out.measures.push_back(measured("level", "Level", channel.unit(), level, noise));
        out.measures.push_back(measured("ripple", "Ripple about it", channel.unit(), swing, noise));
        out.measures.push_back(
            notMeasurable("frequency", "Frequency", Unit::Hertz, "it does not move: stuck at this level"));
        return out;
    }
    out.measures.push_back(measured("low", "Low level", channel.unit(), levels.low, noise));
    out.measures.push_back(measured("high", "High level", channel.unit(), levels.high, noise));
    findEdges(x, levels, r.interval_s, out);
    measurePeriods(x, noise, r.interval_s, out);
    return out;
}

Result<Wheel> measureWheel(const std::vector<double>& edges)
{
    std::vector<double> periods;
    for (std::size_t i = 1; i < edges.size(); ++i)
        periods.push_back(edges[i] - edges[i - 1]);
    std::vector<std::size_t> gaps;
    for (std::size_t i = 1; i + 1 < periods.size(); ++i) {
        if (periods[i] > gapRatio * periods[i - 1] && periods[i] > gapRatio * periods[i + 1]) gaps.push_back(i);
    }
    if (gaps.size() < 2) return fail("pick-up", "fewer than two gaps of its wheel are seen: a turn is not known");
    Wheel out;
    std::vector<double> counts, widths, turns;
    for (std::size_t g = 1; g < gaps.size(); ++g) {
        counts.push_back(static_cast<double>(gaps[g] - gaps[g - 1]));
        turns.push_back(edges[gaps[g] + 1] - edges[gaps[g - 1] + 1]);
        widths.push_back(periods[gaps[g]] / (0.5 * (periods[gaps[g] - 1] + periods[gaps[g] + 1])));
    }
    out.teeth = static_cast<int>(medianOf(counts));
    out.missing = static_cast<int>(std::lround(medianOf(widths))) - 1;
    const double turn = medianOf(turns);
    out.measures.push_back(measured("speed", "Turns a minute", Unit::None, 60 / turn, 60 / turn * 0.001));
    // One swing a turn: the wheel runs out of true, or the engine's own; what is left is the teeth's.
    std::vector<double> tooth(static_cast<std::size_t>(out.teeth), 0.0), seen(tooth.size(), 0.0);
    for (std::size_t g = 0; g + 1 < gaps.size(); ++g) {
        if (static_cast<int>(gaps[g + 1] - gaps[g]) != out.teeth) continue;
        for (std::size_t k = 1; k < tooth.size(); ++k)
            tooth[k] += periods[gaps[g] + k] / turns[g], seen[k] += 1;
    }
    // τ(k) = a + b k + c cos φ + s sin φ, all at once: an engine that gains speed is not out of true.
    Eigen::Matrix4d g = Eigen::Matrix4d::Zero();
    Eigen::Vector4d h = Eigen::Vector4d::Zero();
    const auto rowOf = [&](std::size_t k) {
        const double angle = 2 * M_PI * (static_cast<double>(k) + 0.5 * out.missing) / (out.teeth + out.missing);
        return Eigen::Vector4d(1, static_cast<double>(k) / out.teeth - 0.5, std::cos(angle), std::sin(angle));
    };
    double n = 0;
    for (std::size_t k = 1; k < tooth.size(); ++k) {
        stopPointAt(k);
        if (seen[k] == 0) continue;
        tooth[k] /= seen[k], n += 1;
        const Eigen::Vector4d row = rowOf(k);
        g += row * row.transpose(), h += row * tooth[k];
    }
    if (n < 6) return fail("pick-up", "no whole turn is alike another");
    const Eigen::Vector4d fit = g.ldlt().solve(h);
    const double mean = fit(0), c = fit(2), s = fit(3);
    const double swing = std::hypot(c, s) / mean;
    out.measures.push_back(
        measured("eccentricity", "Swing of the tooth time in a turn", Unit::Percent, 100 * swing, 0.2));
    double worst = 0;
    int worstTooth = 0;
    for (std::size_t k = 1; k < tooth.size(); ++k) {
        stopPointAt(k);
        const double off = seen[k] > 0 ? std::abs(tooth[k] - rowOf(k).dot(fit)) / mean : 0;
        if (off > worst) worst = off, worstTooth = static_cast<int>(k) + 1;
    }
    out.measures.push_back(measured("uneven", "Tooth most off its place", Unit::Percent, 100 * worst, 0.5));
    out.verdict = fmt::format("{} teeth and a gap of {}", out.teeth, out.missing);
    if (swing > eccentricShare)
        out.verdict += fmt::format("; the tooth time swings by {:.1f} % in a turn", 100 * swing);
    out.odd = swing > eccentricShare || worst > unevenShare;
    if (worst > unevenShare)
        out.verdict += fmt::format("; tooth {} behind the gap is {:.0f} % off its place", worstTooth, 100 * worst);
    return out;
}

}  // namespace ilvek
