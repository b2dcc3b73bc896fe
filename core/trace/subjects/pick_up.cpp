#include "trace/subjects/pick_up.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/stop.h"
#include "trace/signal/noise.h"
#include "trace/signal/switching.h"

namespace ilvek {

namespace {

constexpr double armShare = 0.35;   // of the swing about a place
constexpr double clearOfNoise = 6;  // sigma
constexpr double twoLevels = 0.75;  // of the samples near one of two levels: Hall
constexpr double nearLevel = 0.15;  // of the swing
constexpr std::size_t swingBlock = 64;

// The largest swing about each sample, over about three of its crossings.
std::vector<double> swings(const std::vector<double>& x, std::size_t block)
{
    const std::size_t count = (x.size() + block - 1) / block;
    std::vector<double> most(count, 0.0), out(count);
    for (std::size_t i = 0; i < x.size(); ++i)
        most[i / block] = std::max(most[i / block], std::abs(x[i]));
    for (std::size_t b = 0; b < count; ++b) {
        out[b] = most[b];
        for (std::size_t k = b > 2 ? b - 2 : 0; k < std::min(count, b + 3); ++k)
            out[b] = std::max(out[b], most[k]);
    }
    return out;
}

// The samples from one crossing to the next, roughly: from how often it changes sign clear of its noise.
std::size_t usualDistance(const std::vector<double>& x, double arm)
{
    std::size_t changes = 0;
    int side = 0;
    for (const double v : x) {
        const int now = v > arm ? 1 : v < -arm ? -1 : 0;
        if (now != 0 && side != 0 && now != side) ++changes;
        if (now != 0) side = now;
    }
    return changes == 0 ? x.size() : x.size() / changes;
}

double scatterOf(const std::vector<double>& edges)
{
    std::vector<double> off;
    for (std::size_t i = 2; i < edges.size(); ++i) {
        const double before = edges[i - 1] - edges[i - 2], now = edges[i] - edges[i - 1];
        off.push_back(std::abs(now / before - 1));
    }
    return off.empty() ? 1e9 : medianOf(std::move(off));
}

// A wheel seen through one kind of edge, and how well it fits.
struct Seen {
    std::vector<double> edges_s;
    std::optional<Wheel> wheel;
    double misfit = 1e9;
};

Seen seenThrough(std::vector<double> edges)
{
    Seen out;
    out.edges_s = std::move(edges);
    if (out.edges_s.size() < 8) return out;
    auto wheel = measureWheel(out.edges_s);
    out.misfit = scatterOf(out.edges_s);
    if (!wheel) {
        out.misfit += 10;
        return out;
    }
    out.wheel = std::move(*wheel);
    for (const TraceMeasure& m : out.wheel->measures) {
        if (m.id == "uneven" && m.value) out.misfit += *m.value / 100;
    }
    return out;
}

void judgeWheel(const Seen& seen, const PickUpBeside& beside, TraceTold& out)
{
    const Wheel& w = *seen.wheel;
    out.measures.push_back(measured("teeth", "Teeth from gap to gap", Unit::None, w.teeth, 0));
    out.measures.push_back(measured("missing", "Teeth missing in the gap", Unit::None, w.missing, 0));
    for (const TraceMeasure& m : w.measures)
        out.measures.push_back(m);
    out.verdict += " " + w.verdict + ".";
    out.odd = w.odd;
    const bool otherTeeth = beside.teeth && *beside.teeth != w.teeth,
               otherGap = beside.missing && *beside.missing != w.missing;
    if (otherTeeth || otherGap) {
        out.odd = true;
        out.verdict += fmt::format(" The wheel should have {} teeth and a gap of {}: {}.",
                                   beside.teeth.value_or(w.teeth), beside.missing.value_or(w.missing),
                                   otherTeeth && w.teeth < beside.teeth.value_or(0)
                                       ? "a tooth is missing or not seen"
                                       : "it is another wheel, or crossings come in between");
    }
    // Each gap that comes where none belongs, and each tooth too many.
    std::vector<double> periods;
    for (std::size_t i = 1; i < seen.edges_s.size(); ++i)
        periods.push_back(seen.edges_s[i] - seen.edges_s[i - 1]);
    int sinceGap = -1;
    for (std::size_t i = 1; i + 1 < periods.size(); ++i) {
        const double beside_s = 0.5 * (periods[i - 1] + periods[i + 1]);
        if (sinceGap >= 0) ++sinceGap;
        const bool gap = periods[i] > 1.5 * periods[i - 1] && periods[i] > 1.5 * periods[i + 1];
        if (!gap) continue;
        if (sinceGap > 0 && sinceGap != w.teeth)
            out.events.push_back({seen.edges_s[i], periods[i], periods[i] / beside_s,
                                  fmt::format("a gap after {} teeth instead of {}", sinceGap, w.teeth)});
        if (sinceGap < 0 || sinceGap >= w.teeth) sinceGap = 0;
    }
    if (!out.events.empty()) {
        out.odd = true;
        out.verdict += fmt::format(" {} time{} its pulses do not come as the wheel says.", out.events.size(),
                                   out.events.size() == 1 ? "" : "s");
    }
}

void withoutWheel(const Seen& seen, TraceTold& out)
{
    if (seen.edges_s.size() < 2) {
        out.measures.push_back(notMeasurable("frequency", "Frequency", Unit::Hertz, "fewer than two pulses"));
        return;
    }
    const double f = static_cast<double>(seen.edges_s.size() - 1) / (seen.edges_s.back() - seen.edges_s.front());
    out.measures.push_back(measured("frequency", "Frequency", Unit::Hertz, f, f * 1e-3));
    out.measures.push_back(
        notMeasurable("speed", "Turns a minute", Unit::None,
                      "fewer than two gaps of a wheel are seen, and the number of teeth is not given"));
    out.verdict += fmt::format(" {} on average.", formatQuantity({f, Unit::Hertz}));
    // A pulse that is left out stands alone between even ones.
    for (std::size_t i = 2; i + 1 < seen.edges_s.size(); ++i) {
        const double before = seen.edges_s[i - 1] - seen.edges_s[i - 2], now = seen.edges_s[i] - seen.edges_s[i - 1],
                     next = seen.edges_s[i + 1] - seen.edges_s[i];
        if (now > 1.5 * before && now > 1.5 * next)
            out.events.push_back({seen.edges_s[i - 1], now, now / before, "pulses are missing"});
    }
    if (out.events.empty()) return;
    out.odd = true;
    out.verdict += fmt::format(" {} time{} pulses are missing.", out.events.size(), out.events.size() == 1 ? "" : "s");
}

bool hasTwoLevels(const std::vector<double>& x, const LevelPair& levels)
{
    const double swing = levels.high - levels.low;
    std::size_t near = 0;
    for (const double v : x)
        near += std::abs(v - levels.low) < nearLevel * swing || std::abs(v - levels.high) < nearLevel * swing ? 1U : 0U;
    return static_cast<double>(near) > twoLevels * static_cast<double>(x.size());
}

TraceTold hall(const Recording& r, const Channel& channel, const PickUpBeside& beside, const LevelPair& levels,
               double noise)
{
    TraceTold out;
    out.measures.push_back(measured("low", "Low level", channel.unit(), levels.low, noise));
    out.measures.push_back(measured("high", "High level", channel.unit(), levels.high, noise));
    out.verdict = fmt::format("It switches between {} and {}.", formatQuantity({levels.low, channel.unit()}),
                              formatQuantity({levels.high, channel.unit()}));
    const auto s = measureSwitching(r, channel);
    if (!s) return out;
    Seen rises = seenThrough(s->rises_s), falls = seenThrough(s->falls_s);
    const Seen& best = falls.misfit < 0.8 * rises.misfit ? falls : rises;
    if (best.wheel)
        judgeWheel(best, beside, out);
    else
        withoutWheel(best, out);
    return out;
}

TraceTold reluctance(const Recording& r, const std::vector<double>& x, const PickUpBeside& beside, double noise,
                     double swing)
{
    TraceTold out;
    out.verdict = fmt::format("It alternates, {} from top to bottom.", formatQuantity(volts(swing)));
    out.measures.push_back(measured("swing", "Swing, top to bottom", Unit::Volt, swing, 2 * noise));
    Seen falling = seenThrough(crossings(x, r.interval_s, true, noise)),
         rising = seenThrough(crossings(x, r.interval_s, false, noise));
    const bool falls = falling.misfit <= rising.misfit;
    const Seen& best = falls ? falling : rising;
    if (!best.wheel) {
        withoutWheel(best, out);
        return out;
    }
    judgeWheel(best, beside, out);
    const bool told = std::abs(falling.misfit - rising.misfit) > 0.2 * std::max(falling.misfit, rising.misfit);
    if (told)
        out.verdict +=
            falls ? " It falls through zero at each tooth."
                  : " It rises through zero at each tooth: leads or wires are exchanged against one that falls.";
    for (const TraceMeasure& m : best.wheel->measures) {
        if (m.id == "speed" && m.value)
            out.measures.push_back(measured("per 1000", "Swing at 1000 turns a minute", Unit::Volt,
                                            swing / *m.value * 1000, (2 * noise + 0.03 * swing) / *m.value * 1000));
    }
    return out;
}

}  // namespace

std::vector<double> crossings(const std::vector<double>& x, double dt, bool falling, double noise)
{
    const double arm0 = clearOfNoise * noise;
    const std::size_t block = std::max<std::size_t>(swingBlock / 8, usualDistance(x, arm0));
    const auto swing = swings(x, block);
    std::vector<double> out;
    const double sign = falling ? 1 : -1;
    bool armed = false;
    double crossed = 0;
    bool passed = false;
    for (std::size_t i = 1; i < x.size(); ++i) {
        stopPointAt(i);
        const double arm = std::max(arm0, armShare * swing[i / block]);
        const double before = sign * x[i - 1], now = sign * x[i];
        if (now > arm) armed = true, passed = false;
        if (!armed) continue;
        if (before > 0 && now <= 0) crossed = static_cast<double>(i - 1) + before / (before - now), passed = true;
        // It counts once it stands clear on the other side.
        if (passed && now < -arm) out.push_back(crossed * dt), armed = passed = false;
    }
    return out;
}

Result<TraceTold> measurePickUp(const Recording& r, const Channel& channel, const PickUpBeside& beside)
{
    const std::vector<double> x = channel.samples.read(0, channel.samples.size());
    if (x.size() < 64) return fail(channel.name, "has too few samples");
    const double noise = noiseOf(x, channel.samples.resolution());
    const LevelPair levels = levelsOf(x);
    if (!(levels.high - levels.low > clearOfNoise * noise)) {
        TraceTold out;
        const double level = medianOf(x);
        out.measures.push_back(measured("level", "Level", channel.unit(), level, noise));
        out.measures.push_back(notMeasurable("speed", "Turns a minute", Unit::None, "it does not move"));
        out.odd = true;
        out.verdict = fmt::format("It does not move: {} all the time.", formatQuantity({level, channel.unit()}));
        return out;
    }
    if (hasTwoLevels(x, levels)) return hall(r, channel, beside, levels, noise);
    // About its own middle: a pick-up's bias does not count.
    std::vector<double> y = x;
    const double middle = std::accumulate(x.begin(), x.end(), 0.0) / static_cast<double>(x.size());
    for (double& v : y)
        v -= middle;
    std::vector<double> sorted = y;
    const auto at = [&](double share) {
        const auto k = static_cast<std::ptrdiff_t>(share * static_cast<double>(sorted.size() - 1));
        std::nth_element(sorted.begin(), sorted.begin() + k, sorted.end());
        return sorted[static_cast<std::size_t>(k)];
    };
    return reluctance(r, y, beside, noise, at(0.995) - at(0.005));
}

}  // namespace ilvek
