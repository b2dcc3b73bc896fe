#include "trace/study/touched.h"

#include <algorithm>

namespace ilvek {

namespace {

constexpr double shortest_s = 0.2;  // no hand is as quick: what switches faster is a signal, and marks nothing
constexpr double after_s = 0.5;     // that what a touch moved may take to show
constexpr std::size_t mostTouches = 200;
constexpr double endShare = 0.15, twoLevelShare = 0.95;  // of its swing, in which so much of a mark's samples lie

struct Stretch {
    double from_s = 0, to_s = 0;
};

// Stretches at the rarer of its two levels; none where it has no two levels, or changes faster than a hand. A logger
// may write a mark as 0 and 1 without any noise, so its own spread says nothing.
std::vector<Stretch> touchesOf(const Recording& r, const Channel& c)
{
    const std::vector<double> x = c.samples.read(0, c.samples.size());
    const auto [least, most] = std::minmax_element(x.begin(), x.end());
    const double low = *least, swing = *most - *least;
    const auto isAtEnd = [&](double v) { return v - low < endShare * swing || low + swing - v < endShare * swing; };
    const auto atEnds = static_cast<double>(std::count_if(x.begin(), x.end(), isAtEnd));
    if (swing <= 0 || atEnds < twoLevelShare * static_cast<double>(x.size())) return {};
    const auto isHigh = [&](double v) { return v > low + 0.5 * swing; };
    const bool highIsRare = std::count_if(x.begin(), x.end(), isHigh) < static_cast<std::ptrdiff_t>(x.size() / 2);
    std::vector<Stretch> out;
    for (std::size_t i = 0; i < x.size(); ++i) {
        if (isHigh(x[i]) != highIsRare) continue;
        const double at = static_cast<double>(i) * r.interval_s;
        if (i > 0 && isHigh(x[i - 1]) == highIsRare)
            out.back().to_s = at;
        else
            out.push_back({at, at});
    }
    const bool byHand = out.size() <= mostTouches && std::all_of(out.begin(), out.end(), [](const Stretch& t) {
                            return t.to_s - t.from_s >= shortest_s;
                        });
    return byHand ? out : std::vector<Stretch>{};
}

bool hasEvent(const Stretch& x, const std::vector<TraceEvent>& events)
{
    return std::any_of(events.begin(), events.end(), [&](const TraceEvent& e) {
        return e.at_s + e.length_s >= x.from_s && e.at_s <= x.to_s + after_s;
    });
}

}  // namespace

std::vector<TraceSeen::Touched> touchedIn(const Recording& r, int main, const std::vector<TraceEvent>& events)
{
    std::vector<TraceSeen::Touched> out;
    std::vector<Stretch> all;
    for (std::size_t c = 0; c < r.channels.size(); ++c) {
        if (static_cast<int>(c) == main) continue;
        const auto touches = touchesOf(r, r.channels[c]);
        if (touches.empty()) continue;
        TraceSeen::Touched t{r.channels[c].name, static_cast<int>(touches.size()), 0};
        for (const Stretch& x : touches)
            t.events += hasEvent(x, events);
        out.push_back(std::move(t));
        all.insert(all.end(), touches.begin(), touches.end());
    }
    if (out.empty()) return out;
    std::sort(all.begin(), all.end(), [](const Stretch& a, const Stretch& b) { return a.from_s < b.from_s; });
    all.push_back({r.length_s(), r.length_s()});
    TraceSeen::Touched alone;
    double free_s = 0;
    for (const Stretch& x : all) {
        // What is left of the stretch before it, when the last touch has died away.
        const Stretch before{free_s, x.from_s - after_s};
        if (before.to_s > before.from_s) ++alone.touches, alone.events += hasEvent(before, events);
        free_s = std::max(free_s, x.to_s + after_s);
    }
    if (alone.touches > 0) out.push_back(alone);
    return out;
}

}  // namespace ilvek
