#include "trace/study/touched.h"

#include <algorithm>

#include "base/expects.h"
#include "trace/signal/switching.h"

namespace ilvek {

namespace {

constexpr double shortest_s = 0.2;  // no hand is as quick: what switches faster is a signal, and marks nothing
constexpr double after_s = 0.5;     // that what a touch moved may take to show
constexpr std::size_t mostTouches = 200;

struct Stretch {
    double from_s = 0, to_s = 0;
};

// In which the channel is at its rarer level.
std::vector<Stretch> touchesOf(const Recording& r, const Channel& c)
{
    const auto s = measureSwitching(r, c);
    if (!s || s->rises_s.empty() || s->rises_s.size() + s->falls_s.size() > 2 * mostTouches) return {};
    // From rise to fall; where that is most of the time, from fall to rise.
    const auto between = [&](const std::vector<double>& begins, const std::vector<double>& ends) {
        std::vector<Stretch> out;
        for (const double from : begins) {
            const auto to = std::upper_bound(ends.begin(), ends.end(), from);
            out.push_back({from, to == ends.end() ? r.length_s() : *to});
        }
        if (!ends.empty() && (begins.empty() || ends.front() < begins.front()))
            out.insert(out.begin(), {0, ends.front()});
        return out;
    };
    const auto total = [](const std::vector<Stretch>& all) {
        double sum = 0;
        for (const Stretch& x : all)
            sum += x.to_s - x.from_s;
        return sum;
    };
    auto high = between(s->rises_s, s->falls_s);
    if (total(high) > 0.5 * r.length_s()) high = between(s->falls_s, s->rises_s);
    const bool byHand =
        std::all_of(high.begin(), high.end(), [](const Stretch& x) { return x.to_s - x.from_s >= shortest_s; });
    return byHand ? high : std::vector<Stretch>{};
}

bool hasEvent(const Stretch& x, const std::vector<TraceEvent>& events)
{
    return std::any_of(events.begin(), events.end(), [&](const TraceEvent& e) {
        return e.at_s + e.length_s >= x.from_s && e.at_s <= x.to_s + after_s;
    });
}

}  // namespace

std::vector<TraceSeen::Touched> touchedIn(const Recording& r, const Study& study)
{
    EXPECTS(study.kind == Recorded::Level);
    std::vector<TraceSeen::Touched> out;
    std::vector<Stretch> all;
    for (std::size_t c = 0; c < r.channels.size(); ++c) {
        if (static_cast<int>(c) == study.main) continue;
        const auto touches = touchesOf(r, r.channels[c]);
        if (touches.empty()) continue;
        TraceSeen::Touched t{r.channels[c].name, static_cast<int>(touches.size()), 0};
        for (const Stretch& x : touches)
            t.events += hasEvent(x, study.told.events);
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
        if (before.to_s > before.from_s) ++alone.touches, alone.events += hasEvent(before, study.told.events);
        free_s = std::max(free_s, x.to_s + after_s);
    }
    if (alone.touches > 0) out.push_back(alone);
    return out;
}

}  // namespace ilvek
