#include "trace/study/cylinders.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "base/stop.h"
#include "trace/signal/noise.h"

namespace ilvek {

namespace {

constexpr double ownHalf = 0.42;      // of a slot to both sides
constexpr double lateShare = 0.06;    // of a slot
constexpr double clearLevels = 6;     // sigma between the two levels
constexpr double missingShare = 0.3;  // of its turns without a pulse
constexpr double sureOf = 4;          // sigma

struct Feature {
    const char* id;
    const char* name;
    double allowed;  // share by which siblings differ
};
constexpr Feature features[] = {{"end current", "end current", 0.08},
                                {"peak", "peak", 0.08},
                                {"lift", "lift", 0.2},
                                {"slope", "turn-on slope", 0.15},
                                {"turn-off", "turn-off time", 0.4}};

struct Seen {
    double middle = 0, sigma = 0;
    std::size_t count = 0;
};

// By cylinder, of its pulses that could be measured.
std::map<int, Seen> seenOf(const Pulses& pulses, const std::vector<Turn>& turns, const char* id)
{
    std::map<int, std::vector<double>> values, sigmas;
    std::map<int, std::size_t> turnsOf;
    std::vector<double> spreads;
    for (const Turn& t : turns) {
        ++turnsOf[t.cylinder];
        if (!t.pulse) continue;
        const TraceMeasure* m = pulses.pulses[*t.pulse].find(id);
        if (!m || !m->value) continue;
        values[t.cylinder].push_back(*m->value);
        sigmas[t.cylinder].push_back(m->sigma);
    }
    std::map<int, Seen> out;
    for (const auto& [cylinder, v] : values) {
        const double middle = medianOf(v);
        std::vector<double> off;
        for (const double x : v)
            off.push_back(std::abs(x - middle));
        // Of what it is seldom found in, little is known of it.
        if (2 * v.size() < turnsOf[cylinder]) continue;
        spreads.push_back(std::max(1.4826 * medianOf(off), 0.3 * medianOf(sigmas[cylinder])));
        out[cylinder] = {middle, spreads.back(), v.size()};
    }
    // What the pulses of one cylinder differ by among themselves, or those of the others where that is more.
    for (auto& [cylinder, seen] : out)
        seen.sigma = std::max(seen.sigma, medianOf(spreads)) / std::sqrt(static_cast<double>(seen.count));
    return out;
}

std::string sentence(const Feature& f, double ratio)
{
    std::string text = fmt::format("{} {:.0f} % {}", f.name, 100 * std::abs(ratio - 1), ratio < 1 ? "low" : "high");
    if (f.id == std::string("lift") || f.id == std::string("turn-off"))
        text = fmt::format("{} {:.0f} % {}", f.name, 100 * std::abs(ratio - 1), ratio < 1 ? "early" : "late");
    if (f.id == std::string("end current"))
        text += fmt::format(": about {:.2f} times the resistance of its siblings", 1 / ratio);
    return text;
}

void compare(const Pulses& pulses, const std::vector<Turn>& turns, const Feature& f, std::vector<TraceFinding>& out)
{
    const auto seen = seenOf(pulses, turns, f.id);
    if (seen.size() < 3) return;
    for (const auto& [cylinder, s] : seen) {
        std::vector<double> others;
        for (const auto& [other, o] : seen) {
            if (other != cylinder) others.push_back(o.middle);
        }
        const double middle = medianOf(others);
        if (!(middle > 0)) continue;
        TraceFinding finding;
        finding.cylinder = cylinder;
        finding.feature = f.id;
        finding.ratio = s.middle / middle;
        finding.tolerances = (finding.ratio - 1) / f.allowed;
        const bool sure = std::abs(s.middle - middle) > sureOf * s.sigma;
        if (std::abs(finding.tolerances) > 1)
            finding.verdict = !sure               ? TraceFinding::Verdict::CannotTell
                              : finding.ratio < 1 ? TraceFinding::Verdict::Low
                                                  : TraceFinding::Verdict::High;
        if (finding.verdict == TraceFinding::Verdict::Low || finding.verdict == TraceFinding::Verdict::High)
            finding.words = sentence(f, finding.ratio);
        out.push_back(std::move(finding));
    }
}

void firing(const std::vector<Turn>& turns, double slot_s, std::vector<TraceFinding>& out)
{
    std::map<int, std::pair<int, int>> missing;  // of how many
    std::map<int, std::vector<double>> late;
    for (const Turn& t : turns) {
        ++missing[t.cylinder].second;
        if (!t.pulse) ++missing[t.cylinder].first;
        if (t.pulse) late[t.cylinder].push_back(t.late_s);
    }
    for (const auto& [cylinder, count] : missing) {
        TraceFinding f;
        f.cylinder = cylinder;
        f.feature = "firing";
        const double share = static_cast<double>(count.first) / count.second;
        if (count.first > 0) {
            f.verdict = TraceFinding::Verdict::Missing;
            f.tolerances = share / missingShare;
            f.words = count.first == count.second ? "no pulse at all"
                                                  : fmt::format("{} of {} pulses missing", count.first, count.second);
        } else if (const double by = medianOf(late[cylinder]); std::abs(by) > lateShare * slot_s) {
            f.verdict = TraceFinding::Verdict::Late;
            f.tolerances = by / (lateShare * slot_s);
            f.words = fmt::format("{:.2f} ms {}", 1e3 * std::abs(by), by > 0 ? "late" : "early");
        }
        out.push_back(std::move(f));
    }
}

std::string verdictOf(const std::vector<TraceFinding>& findings)
{
    std::map<int, std::vector<std::string>> words;
    for (const TraceFinding& f : findings) {
        if (!f.words.empty()) words[f.cylinder].push_back(f.words);
    }
    if (words.empty()) return "The cylinders are alike in all that this recording can tell.";
    std::vector<std::string> parts;
    for (const auto& [cylinder, w] : words)
        parts.push_back(fmt::format("Cylinder {}: {}", cylinder, fmt::join(w, ", ")));
    return fmt::format("{}.", fmt::join(parts, ". "));
}

}  // namespace

std::string words(TraceFinding::Verdict verdict)
{
    switch (verdict) {
        case TraceFinding::Verdict::Alike:
            return "alike";
        case TraceFinding::Verdict::Low:
            return "low";
        case TraceFinding::Verdict::High:
            return "high";
        case TraceFinding::Verdict::Missing:
            return "missing";
        case TraceFinding::Verdict::Late:
            return "late";
        case TraceFinding::Verdict::CannotTell:
            return "cannot tell";
    }
    return "";
}

Result<std::vector<double>> activeEdges(const Recording& r, const Channel& channel)
{
    const std::vector<double> x = channel.samples.read(0, channel.samples.size());
    const LevelPair levels = levelsBesideSpike(x);
    const double noise = noiseOf(x, channel.samples.resolution());
    if (!(levels.high - levels.low > clearLevels * noise))
        return fail(channel.name, "its two levels are not clear of its noise");
    const double up = levels.low + 0.65 * (levels.high - levels.low),
                 down = levels.low + 0.35 * (levels.high - levels.low);
    std::vector<std::size_t> rises, falls;
    bool high = x.front() > up;
    std::size_t highFor = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
        stopPointAt(i);
        if (!high && x[i] > up) high = true, rises.push_back(i);
        if (high && x[i] < down) high = false, falls.push_back(i);
        highFor += high ? 1U : 0U;
    }
    const auto& edges = 2 * highFor < x.size() ? rises : falls;
    if (edges.empty()) return fail(channel.name, "it never changes");
    const double bounce = r.length_s() / static_cast<double>(edges.size()) / 50;
    std::vector<double> out;
    for (const std::size_t e : edges) {
        const double t = static_cast<double>(e) * r.interval_s;
        if (out.empty() || t - out.back() > bounce) out.push_back(t);
    }
    return out;
}

Result<CylinderSet> assignCylinders(const Pulses& pulses, const std::vector<double>& sync, const FiringOrder& order)
{
    if (sync.size() < 2)
        return fail("synchronising channel", "shows fewer than two pulses: a turn of the engine is not known");
    const auto known = std::find(order.cylinders.begin(), order.cylinders.end(), order.known) - order.cylinders.begin();
    const std::size_t n = order.cylinders.size();
    CylinderSet out;
    std::vector<char> taken(pulses.pulses.size(), 0);
    for (std::size_t c = 0; c < sync.size(); ++c) {
        stopPointAt(c);
        const double cycle = c + 1 < sync.size() ? sync[c + 1] - sync[c] : sync[c] - sync[c - 1];
        const double slot = cycle / static_cast<double>(n);
        for (std::size_t k = 0; k < n; ++k) {
            Turn t;
            t.cylinder = order.cylinders[(static_cast<std::size_t>(known) + k) % n];
            t.expected_s = sync[c] + slot * static_cast<double>(k);
            double nearest = ownHalf * slot;
            for (std::size_t p = 0; p < pulses.pulses.size(); ++p) {
                const double off = std::abs(pulses.pulses[p].on_s - t.expected_s);
                if (!taken[p] && off < nearest) nearest = off, t.pulse = p;
            }
            if (t.pulse) taken[*t.pulse] = 1;
            out.turns.push_back(t);
        }
    }
    // Behind the last pulse recorded nothing is missing.
    const double end = pulses.pulses.empty() ? 0 : pulses.pulses.back().off_s;
    std::erase_if(out.turns, [&](const Turn& t) { return !t.pulse && t.expected_s > end; });
    std::vector<double> late;
    for (Turn& t : out.turns) {
        if (t.pulse) late.push_back(t.late_s = pulses.pulses[*t.pulse].on_s - t.expected_s);
    }
    if (late.empty()) return fail("current channel", "none of its pulses lies where the order expects one");
    const double middle = medianOf(late);
    for (Turn& t : out.turns)
        t.late_s = t.pulse ? t.late_s - middle : 0;
    firing(out.turns, (sync.back() - sync.front()) / static_cast<double>((sync.size() - 1) * n), out.findings);
    for (const Feature& f : features)
        compare(pulses, out.turns, f, out.findings);
    std::stable_sort(out.findings.begin(), out.findings.end(), [](const TraceFinding& a, const TraceFinding& b) {
        const bool x = !a.words.empty(), y = !b.words.empty();
        return x != y ? x : std::abs(a.tolerances) > std::abs(b.tolerances);
    });
    out.verdict = verdictOf(out.findings);
    return out;
}

}  // namespace ilvek
