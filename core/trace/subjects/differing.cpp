#include "trace/subjects/differing.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/stop.h"
#include "trace/signal/noise.h"
#include "trace/signal/period.h"
#include "trace/signal/switching.h"

namespace ilvek {

namespace {

constexpr double outOfNoise = 6;       // sigma
constexpr double allowedShare = 0.02;  // of the level
constexpr double justBefore_s = 0.03;  // a channel that switched so long before an event is named with it
constexpr double unlikeOthers = 6;     // spreads of the others
constexpr double pulseAllowed = 0.08;  // of the middle
constexpr std::size_t mostEvents = 500;

// Medians of blocks, smoothed by medians of nine.
std::vector<double> baseline(const std::vector<double>& x, std::size_t block)
{
    std::vector<double> blocks;
    for (std::size_t a = 0; a < x.size(); a += block)
        blocks.push_back(medianOf({x.begin() + static_cast<std::ptrdiff_t>(a),
                                   x.begin() + static_cast<std::ptrdiff_t>(std::min(x.size(), a + block))}));
    const std::size_t reach = std::max<std::size_t>(4, blocks.size() / 6);
    std::vector<double> out;
    for (std::size_t b = 0; b < blocks.size(); ++b) {
        const std::size_t first = b > reach ? b - reach : 0, last = std::min(blocks.size(), b + reach + 1);
        out.push_back(medianOf(
            {blocks.begin() + static_cast<std::ptrdiff_t>(first), blocks.begin() + static_cast<std::ptrdiff_t>(last)}));
    }
    return out;
}

// Channels of two levels with the times at which they change.
std::vector<std::pair<std::string, std::vector<double>>> switches(const Recording& r, const Channel& but)
{
    std::vector<std::pair<std::string, std::vector<double>>> out;
    for (const Channel& c : r.channels) {
        if (&c == &but) continue;
        const auto s = measureSwitching(r, c);
        if (!s || s->rises_s.size() + s->falls_s.size() == 0) continue;
        std::vector<double> all = s->rises_s;
        all.insert(all.end(), s->falls_s.begin(), s->falls_s.end());
        std::sort(all.begin(), all.end());
        out.emplace_back(c.name, std::move(all));
    }
    return out;
}

std::string switchedBefore(const std::vector<std::pair<std::string, std::vector<double>>>& others, double at_s,
                           double slack_s)
{
    std::string names;
    for (const auto& [name, times] : others) {
        const auto behind = std::upper_bound(times.begin(), times.end(), at_s + slack_s);
        if (behind == times.begin() || at_s - *std::prev(behind) > justBefore_s) continue;
        names += (names.empty() ? "" : ", ") + name;
    }
    return names.empty() ? "" : " as " + names + " switched";
}

}  // namespace

Result<TraceTold> measureLevel(const Recording& r, const Channel& channel, std::optional<double> allowed)
{
    const std::vector<double> x = channel.samples.read(0, channel.samples.size());
    if (x.size() < 64) return fail(channel.name, "has too few samples");
    const double noise = noiseOf(x, channel.samples.resolution());
    const std::size_t block = std::max<std::size_t>(8, x.size() / 400);
    const auto level = baseline(x, block);
    const double rest = medianOf(level);
    const double limit = allowed.value_or(std::max(outOfNoise * noise, allowedShare * std::abs(rest)));
    const auto [low, high] = std::minmax_element(x.begin(), x.end());
    TraceTold out;
    const auto at = [&](auto where) { return static_cast<double>(where - x.begin()) * r.interval_s; };
    out.measures.push_back(
        measured("level", "Level", channel.unit(), rest, noise / std::sqrt(static_cast<double>(block))));
    out.measures.push_back(measured("least", "Least", channel.unit(), *low, noise, at(low)));
    out.measures.push_back(measured("most", "Most", channel.unit(), *high, noise, at(high)));
    out.measures.push_back(measured("drift", "Drift from the beginning to the end", channel.unit(),
                                    level.back() - level.front(), 2 * noise / std::sqrt(static_cast<double>(block))));
    out.measures.push_back(measured("named from", "Smallest change that is named", channel.unit(), limit, 0));
    const auto others = switches(r, channel);
    const double dt = r.interval_s;
    std::size_t i = 0;
    double worst = 0;
    std::string worstWords;
    while (i < x.size() && out.events.size() < mostEvents) {
        const auto off = [&](std::size_t k) { return x[k] - level[k / block]; };
        if (std::abs(off(i)) <= limit) {
            ++i;
            continue;
        }
        // One event as long as it does not come back for eight samples.
        const std::size_t first = i;
        std::size_t last = i;
        double most = off(i);
        for (; i < x.size() && i - last < 8; ++i) {
            if (std::abs(off(i)) > limit / 2) last = i;
            if (std::abs(off(i)) > std::abs(most)) most = off(i);
        }
        // One odd sample is a disturbance of the recorder as likely as of the circuit; of noise it is not.
        if (last == first && std::abs(most) < 2 * limit) continue;
        const std::string text = fmt::format("{} by {} for {}{}", most < 0 ? "falls" : "rises",
                                             formatQuantity({std::abs(most), channel.unit()}),
                                             formatQuantity({static_cast<double>(last - first + 1) * dt, Unit::Second}),
                                             switchedBefore(others, static_cast<double>(first) * dt, 2 * dt));
        out.events.push_back({static_cast<double>(first) * dt, static_cast<double>(last - first + 1) * dt,
                              std::abs(most) / limit, text});
        if (std::abs(most) > worst)
            worst = std::abs(most),
            worstWords =
                fmt::format("at {} it {}", formatQuantity({static_cast<double>(first) * dt, Unit::Second}), text);
    }
    out.odd = !out.events.empty();
    out.verdict = fmt::format("{} at rest.", formatQuantity({rest, channel.unit()}));
    if (out.odd)
        out.verdict += fmt::format(" It leaves its level {} time{}: {}.", out.events.size(),
                                   out.events.size() == 1 ? "" : "s", worstWords);
    else
        out.verdict += fmt::format(
            " Nothing leaves its level by more than {}; that a fault stayed away in a recording does not prove that "
            "there is none.",
            formatQuantity({limit, channel.unit()}));
    return out;
}

std::vector<TraceEvent> pulsesThatDiffer(const Pulses& all)
{
    std::vector<TraceEvent> out;
    for (const char* id : {"end current", "peak", "lift", "turn-off"}) {
        std::vector<double> values, off, sigmas;
        for (const Pulse& p : all.pulses) {
            const TraceMeasure* m = p.find(id);
            if (m && m->value) values.push_back(*m->value), sigmas.push_back(m->sigma);
        }
        if (values.size() < 6) continue;
        const double middle = medianOf(values);
        for (const double v : values)
            off.push_back(std::abs(v - middle));
        const double limit = std::max(
            {unlikeOthers * 1.4826 * medianOf(off), unlikeOthers * medianOf(sigmas), pulseAllowed * std::abs(middle)});
        for (const Pulse& p : all.pulses) {
            const auto v = p.value(id);
            if (!v || std::abs(*v - middle) <= limit) continue;
            const bool known =
                std::any_of(out.begin(), out.end(), [&](const TraceEvent& e) { return e.at_s == p.on_s; });
            if (!known)
                out.push_back(
                    {p.on_s, p.off_s - p.on_s, std::abs(*v - middle) / limit,
                     fmt::format("{} {:.0f} % {}", id, 100 * std::abs(*v / middle - 1), *v < middle ? "low" : "high")});
        }
    }
    std::vector<double> apart;
    for (std::size_t i = 1; i < all.pulses.size(); ++i)
        apart.push_back(all.pulses[i].on_s - all.pulses[i - 1].on_s);
    if (apart.size() >= 5) {
        const double usual = medianOf(apart);
        for (std::size_t i = 0; i < apart.size(); ++i) {
            if (apart[i] > 1.6 * usual)
                out.push_back(
                    {all.pulses[i].on_s + usual, apart[i] - usual, apart[i] / usual / 1.6, "a pulse is missing"});
        }
    }
    std::sort(out.begin(), out.end(), [](const TraceEvent& a, const TraceEvent& b) { return a.at_s < b.at_s; });
    return out;
}

std::vector<TraceEvent> periodsThatDiffer(const std::vector<double>& x, double dt, double period, double noise)
{
    const auto bins = static_cast<std::size_t>(std::min(200.0, std::floor(period)));
    const Folded folded = fold(x, period, bins);
    const std::size_t n = std::min<std::size_t>(x.size(), 1U << 17U), first = (x.size() - n) / 2;
    // Least squares of the whole, so that one period may be alike and yet not be in step with the middle of a long one.
    std::vector<double> rests;
    std::vector<std::size_t> from;
    double square = 0;
    std::size_t count = 0, begun = 0;
    double turn = 0;
    for (std::size_t i = 0; i < n; ++i) {
        stopPointAt(i);
        const double turns = static_cast<double>(i) / period;
        if (std::floor(turns) != turn) {
            rests.push_back(std::sqrt(square / static_cast<double>(std::max<std::size_t>(1, count))));
            from.push_back(begun);
            square = 0, count = 0, begun = i, turn = std::floor(turns);
        }
        const auto bin = std::min(bins - 1, static_cast<std::size_t>((turns - turn) * static_cast<double>(bins)));
        square += std::pow(x[first + i] - folded.mean[bin], 2), ++count;
    }
    std::vector<TraceEvent> out;
    if (rests.size() < 6) return out;
    const auto [low, high] = std::minmax_element(folded.mean.begin(), folded.mean.end());
    const double usual = medianOf(rests), limit = std::max({3 * usual, 2.5 * noise, 0.25 * (*high - *low)});
    for (std::size_t k = 0; k < rests.size(); ++k) {
        if (rests[k] <= limit) continue;
        const double at = static_cast<double>(first + from[k]) * dt;
        if (!out.empty() && at - (out.back().at_s + out.back().length_s) < 0.5 * period * dt) {
            out.back().length_s += period * dt;
            out.back().tolerances = std::max(out.back().tolerances, rests[k] / limit);
            continue;
        }
        out.push_back({at, period * dt, rests[k] / limit, "does not look like the other periods"});
    }
    return out;
}

}  // namespace ilvek
