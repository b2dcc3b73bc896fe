#include "trace/subjects/bus_pair.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/stop.h"
#include "trace/signal/noise.h"

namespace ilvek {

namespace {

constexpr double clearOfNoise = 5;     // sigma, of a difference that moves
constexpr double leastSwing_V = 0.3;   // less is no bit
constexpr double shortLevel_V = 0.45;  // from ground, for a line that hangs on it
constexpr double fewestPerBit = 3;     // samples
constexpr double widerShare = 1.22;    // of the difference, with one termination missing
constexpr double followShare = 0.15;   // of the other line's swing, by which a line that follows may differ

struct Levels {
    double rest = 0, driven = 0;
    double swing() const { return driven - rest; }
};

// Samples well within a run: two from each change of the difference.
std::vector<char> statesOf(const std::vector<double>& d, double middle)
{
    std::vector<char> out(d.size(), 2);
    for (std::size_t i = 2; i + 2 < d.size(); ++i) {
        stopPointAt(i);
        const bool now = d[i] > middle;
        bool alike = true;
        for (std::size_t k = i - 2; k <= i + 2; ++k)
            alike = alike && (d[k] > middle) == now;
        if (alike) out[i] = now ? 1 : 0;
    }
    return out;
}

std::optional<double> levelOf(const std::vector<double>& x, const std::vector<char>& states, char wanted)
{
    std::vector<double> at;
    for (std::size_t i = 0; i < x.size(); ++i) {
        stopPointAt(i);
        if (states[i] == wanted) at.push_back(x[i]);
    }
    if (at.size() < 8) return std::nullopt;
    return medianOf(std::move(at));
}

// The time whose whole multiples the runs are: from the shortest ones, sharpened over all short runs.
TraceMeasure bitTime(const std::vector<double>& d, const LevelPair& levels, double dt)
{
    const double middle = 0.5 * (levels.low + levels.high);
    std::vector<double> runs;
    double last = -1;
    for (std::size_t i = 1; i < d.size(); ++i) {
        stopPointAt(i);
        if ((d[i - 1] - middle) * (d[i] - middle) > 0 || d[i] == d[i - 1]) continue;
        const double at = static_cast<double>(i - 1) + (middle - d[i - 1]) / (d[i] - d[i - 1]);
        if (last >= 0 && at - last > 1) runs.push_back(at - last);
        last = at;
    }
    const auto no = [](const char* why) { return notMeasurable("bit time", "Bit time", Unit::Second, why); };
    if (runs.size() < 12) return no("fewer than a dozen changes are in the recording");
    std::sort(runs.begin(), runs.end());
    const double shortest = runs[runs.size() / 20];
    if (shortest < fewestPerBit) return no("a bit has fewer than three samples");
    // About a third of all runs are one bit.
    std::vector<double> ones;
    for (const double r : runs) {
        if (r < 1.5 * shortest) ones.push_back(r);
    }
    double bit = medianOf(ones);
    for (int turn = 0; turn < 3; ++turn) {
        double top = 0, bottom = 0;
        for (const double r : runs) {
            const double n = std::round(r / bit);
            if (n >= 1 && n <= 6) top += r * n, bottom += n * n;
        }
        bit = top / bottom;
    }
    double misses = 0, counted = 0;
    for (const double r : runs) {
        if (r > 6.5 * bit) continue;
        misses += std::abs(r / bit - std::round(r / bit)), counted += 1;
    }
    if (misses / counted > 0.15) return no("its runs are no whole multiples of one time");
    return measured("bit time", "Bit time", Unit::Second, bit * dt, dt * 0.5 / std::sqrt(counted) + 1e-3 * bit * dt);
}

// The longest that a return to rest takes, from 90 to 10 % of the difference, as the middle of all.
std::optional<double> returnTime(const std::vector<double>& d, const LevelPair& levels, double dt)
{
    const double upper = levels.low + 0.9 * (levels.high - levels.low),
                 lower = levels.low + 0.1 * (levels.high - levels.low);
    std::vector<double> times;
    double left = -1;
    for (std::size_t i = 1; i < d.size(); ++i) {
        stopPointAt(i);
        if (d[i - 1] >= upper && d[i] < upper)
            left = static_cast<double>(i - 1) + (d[i - 1] - upper) / (d[i - 1] - d[i]);
        if (left >= 0 && d[i] <= lower) {
            times.push_back(static_cast<double>(i) - (lower - d[i]) / std::max(1e-12, d[i - 1] - d[i]) - left);
            left = -1;
        }
    }
    if (times.size() < 5) return std::nullopt;
    return medianOf(std::move(times)) * dt;
}

PairState stillState(double high, double low, const PairLevels& l, bool traffic)
{
    const double both = 0.5 * (high + low);
    if (high - low > 0.6 * (l.highDominant_V - l.lowDominant_V) && std::abs(both - l.recessive_V) < l.allowed_V)
        return PairState::HeldDominant;
    if (both < shortLevel_V) return PairState::OneToGround;
    if (both > l.highDominant_V + 1.5) return PairState::OneToSupply;
    if (std::abs(high - l.recessive_V) < l.allowed_V && std::abs(low - l.recessive_V) < l.allowed_V)
        return traffic ? PairState::Together : PairState::SilentOrTogether;
    return PairState::Unclear;
}

// One line hangs on something while the other is still driven, or follows it.
PairState movingState(const Levels& high, const Levels& low, double apart, const PairLevels& l)
{
    const double sound = l.highDominant_V - l.lowDominant_V;
    const auto hangs = [](const Levels& x, double level) {
        return std::abs(x.rest - level) < shortLevel_V && std::abs(x.driven - level) < shortLevel_V;
    };
    if (hangs(high, 0)) return PairState::HighToGround;
    if (hangs(low, 0)) return PairState::LowToGround;
    if (std::min(high.rest, high.driven) > l.highDominant_V + 1.5) return PairState::HighToSupply;
    if (std::min(low.rest, low.driven) > l.highDominant_V + 1.5) return PairState::LowToSupply;
    const bool restRight =
        std::abs(high.rest - l.recessive_V) < l.allowed_V && std::abs(low.rest - l.recessive_V) < l.allowed_V;
    if (!restRight) return PairState::Unclear;
    if (apart > widerShare * sound) return PairState::Termination;
    const bool right =
        std::abs(high.driven - l.highDominant_V) < l.allowed_V && std::abs(low.driven - l.lowDominant_V) < l.allowed_V;
    return right ? PairState::Sound : PairState::Unclear;
}

}  // namespace

std::string words(PairState state)
{
    switch (state) {
        case PairState::Sound:
            return "levels and mirror are right: that some node talks, not that each does";
        case PairState::SilentOrTogether:
            return "both lines at rest and never apart: nothing is sent, or the lines are shorted to each other";
        case PairState::Together:
            return "both lines at rest while traffic is expected: shorted to each other, or no node sends";
        case PairState::HighToGround:
            return "the high line hangs on ground";
        case PairState::HighToSupply:
            return "the high line hangs on the supply";
        case PairState::LowToGround:
            return "the low line hangs on ground";
        case PairState::LowToSupply:
            return "the low line hangs on the supply";
        case PairState::HighOpen:
            return "the high line follows the low one: open between here and the node that sends";
        case PairState::LowOpen:
            return "the low line follows the high one: open between here and the node that sends";
        case PairState::Termination:
            return "driven too far apart: a termination is missing, or a line to it is open";
        case PairState::HeldDominant:
            return "held dominant: a node does not let go";
        case PairState::OneToGround:
            return "a line hangs on ground: which one shows once a node sends, or with the nodes unplugged";
        case PairState::OneToSupply:
            return "a line hangs on the supply: which one shows once a node sends, or with the nodes unplugged";
        case PairState::Hidden:
            return "the noise would hide whether the lines move: record them with a finer range or nearer to a module";
        case PairState::Unclear:
            return "levels that no single fault here explains: look at the leads and at the ground first";
    }
    return "";
}

Result<PairTold> measureBusPair(const Recording& r, const Channel& highLine, const Channel& lowLine,
                                const PairLevels& l, bool traffic)
{
    const std::vector<double> h = highLine.samples.read(0, highLine.samples.size()),
                              w = lowLine.samples.read(0, lowLine.samples.size());
    if (h.size() != w.size()) return fail(lowLine.name, "has another length than " + highLine.name);
    if (h.size() < 64) return fail(highLine.name, "has too few samples");
    const double noise =
        std::hypot(noiseOf(h, highLine.samples.resolution()), noiseOf(w, lowLine.samples.resolution()));
    // Lines that follow each other show no difference: then their sum is what moves.
    std::vector<double> d(h.size()), s(h.size());
    for (std::size_t i = 0; i < h.size(); ++i)
        d[i] = h[i] - w[i], s[i] = h[i] + w[i];
    const LevelPair apart = levelsOf(d), together = levelsOf(s);
    const double step = std::max(highLine.samples.resolution(), lowLine.samples.resolution());
    const double least = std::max({leastSwing_V, clearOfNoise * noise, 2.5 * step});
    PairTold out;
    const auto put = [&](const char* id, const char* name, std::optional<double> v) {
        out.told.measures.push_back(v ? measured(id, name, Unit::Volt, *v, noise / 4 + 0.01)
                                      : notMeasurable(id, name, Unit::Volt, "the pair is never in it"));
    };
    const bool differs = apart.high - apart.low > least, sums = together.high - together.low > least;
    const double highMiddle = medianOf(h), lowMiddle = medianOf(w);
    const auto still = [&](PairState state) {
        put("high", "High line", highMiddle);
        put("low", "Low line", lowMiddle);
        out.told.measures.push_back(
            notMeasurable("bit time", "Bit time", Unit::Second, "neither line moves clear of the noise"));
        out.state = state;
    };
    const double lifted_V = l.highDominant_V + 1.5;
    const LevelPair hl = levelsOf(h), wl = levelsOf(w);
    // A line on ground takes the other one with it, whether its node sends or not; the other way round the high line
    // would still be lifted. So with the supply and the low line.
    const auto stirs = [&](const LevelPair& x, const Channel& c, const std::vector<double>& v) {
        return x.high - x.low > clearOfNoise * noiseOf(v, c.samples.resolution());
    };
    if (std::max(hl.high, wl.high) < shortLevel_V) {
        still(stirs(hl, highLine, h) ? PairState::HighToGround : PairState::OneToGround);
    } else if (std::min(hl.low, wl.low) > std::max(lifted_V, 0.7 * std::max(hl.high, wl.high))) {
        still(stirs(wl, lowLine, w) ? PairState::LowToSupply : PairState::OneToSupply);
    } else if (!differs && !sums) {
        still(least > 0.6 * (l.highDominant_V - l.lowDominant_V) ? PairState::Hidden
                                                                 : stillState(highMiddle, lowMiddle, l, traffic));
    } else if (!differs || (sums && together.high - together.low > 1.5 * (apart.high - apart.low))) {
        // Both go the same way.
        const LevelPair hs = levelsOf(h);
        put("high", "High line, lowest", hs.low);
        put("low", "Low line, lowest", levelsOf(w).low);
        out.told.measures.push_back(bitTime(s, together, r.interval_s));
        const bool follows = apart.high - apart.low < followShare * (together.high - together.low) + least;
        const bool upwards = together.high > 2 * l.recessive_V + l.allowed_V;
        out.state = !follows ? PairState::Unclear : upwards ? PairState::LowOpen : PairState::HighOpen;
    } else {
        const auto states = statesOf(d, 0.5 * (apart.low + apart.high));
        Levels high, low;
        const auto level = [&](const std::vector<double>& x, char state) { return levelOf(x, states, state); };
        const auto hr = level(h, 0), hd = level(h, 1), lr = level(w, 0), ld = level(w, 1);
        put("high recessive", "High line, recessive", hr);
        put("high dominant", "High line, dominant", hd);
        put("low recessive", "Low line, recessive", lr);
        put("low dominant", "Low line, dominant", ld);
        if (hr && hd && lr && ld) {
            high = {*hr, *hd}, low = {*lr, *ld};
            out.told.measures.push_back(measured("mirror", "Sum of the lines, dominant less recessive", Unit::Volt,
                                                 high.swing() + low.swing(), noise / 2 + 0.02));
            out.state = movingState(high, low, *hd - *ld, l);
        }
        out.told.measures.push_back(bitTime(d, apart, r.interval_s));
        const auto back = returnTime(d, apart, r.interval_s);
        out.told.measures.push_back(
            back && *back > 2 * r.interval_s
                ? measured("return", "Return to rest, 90 to 10 %", Unit::Second, *back, r.interval_s / 2)
                : notMeasurable("return", "Return to rest, 90 to 10 %", Unit::Second,
                                "it takes less than two samples"));
    }
    out.told.odd = out.state != PairState::Sound && out.state != PairState::SilentOrTogether;
    std::string text = words(out.state);
    text.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(text.front())));
    out.told.verdict = text + ".";
    return out;
}

}  // namespace ilvek
