#include "trace/study/compare.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "trace/signal/noise.h"

namespace ilvek {

namespace {

using Verdict = TraceFinding::Verdict;
constexpr double sureOf = 2;  // standard errors beyond what is allowed
constexpr double otherSupply = 0.25;

struct Seen {
    std::size_t count = 0, asked = 0;
    double middle = 0, sigma = 0;
    std::string why;
};

Seen seenOf(const Pulses& pulses, const std::string& id)
{
    Seen out;
    std::vector<double> values, sigmas;
    for (const Pulse& p : pulses.pulses) {
        if (p.cut) continue;
        const TraceMeasure* m = p.find(id);
        if (!m) continue;
        ++out.asked;
        if (m->value)
            values.push_back(*m->value), sigmas.push_back(m->sigma);
        else
            out.why = m->why;
    }
    out.count = values.size();
    if (values.empty()) return out;
    out.middle = medianOf(values);
    std::vector<double> off;
    for (const double v : values)
        off.push_back(std::abs(v - out.middle));
    out.sigma = std::max(1.4826 * medianOf(off), medianOf(sigmas)) / std::sqrt(static_cast<double>(values.size()));
    return out;
}

// What a measure of the reference becomes at another supply.
double atSupply(const std::string& id, double value, double ratio)
{
    if (id == "end current" || id == "peak" || id == "slope") return value * ratio;
    if (id == "lift") return value / ratio;
    return value;
}

std::string sentence(const std::string& id, double is, double should)
{
    const double ratio = is / should;
    if (id == "lift" || id == "turn-off")
        return fmt::format("{} {:.2f} ms {}", id, 1e3 * std::abs(is - should), is > should ? "late" : "early");
    std::string text = fmt::format("{} {:.0f} % {}", id == "slope" ? "turn-on slope" : id, 100 * std::abs(ratio - 1),
                                   ratio < 1 ? "low" : "high");
    if (id == "end current") text += fmt::format(" (about {:.2f} times the resistance)", 1 / ratio);
    return text;
}

TraceFinding findingOf(const std::string& id, const ReferenceFeature& should, const Seen& seen, double ratio)
{
    TraceFinding f;
    f.feature = id;
    if (2 * seen.count < seen.asked || seen.count == 0) {
        f.verdict = Verdict::CannotTell;
        f.words = "";
        // A lift that a sound one shows and that nothing here would hide.
        if (id == "lift" && seen.asked > 0 && seen.why.find("no dip") != std::string::npos) {
            f.verdict = Verdict::Missing;
            f.tolerances = 2;
            f.words = "no lift where a sound one shows it";
        }
        return f;
    }
    const double wanted = atSupply(id, should.value, ratio);
    f.ratio = seen.middle / wanted;
    f.tolerances = (f.ratio - 1) / should.allowed;
    if (std::abs(f.tolerances) <= 1) return f;
    const bool sure = std::abs(seen.middle - wanted) - should.allowed * std::abs(wanted) > -sureOf * seen.sigma &&
                      std::abs(seen.middle - wanted) > 3 * seen.sigma;
    f.verdict = !sure ? Verdict::CannotTell : f.ratio < 1 ? Verdict::Low : Verdict::High;
    if (sure) f.words = sentence(id, seen.middle, wanted);
    return f;
}

WindingFault faultOf(const std::vector<TraceFinding>& findings)
{
    const auto verdictOf = [&](const char* id) {
        const auto at =
            std::find_if(findings.begin(), findings.end(), [&](const TraceFinding& f) { return f.feature == id; });
        return at == findings.end() ? Verdict::CannotTell : at->verdict;
    };
    Verdict end = verdictOf("end current");
    if (end == Verdict::CannotTell) end = verdictOf("peak");
    // The resistance says the other way round what the end current does.
    if (end == Verdict::CannotTell) {
        const Verdict R = verdictOf("resistance");
        end = R == Verdict::High ? Verdict::Low : R == Verdict::Low ? Verdict::High : R;
    }
    const Verdict slope = verdictOf("slope");
    if (end == Verdict::High)
        return slope == Verdict::High ? WindingFault::ShortedTurns : WindingFault::TooLittleResistance;
    if (end == Verdict::Low) return WindingFault::TooMuchResistance;
    if (slope == Verdict::High || slope == Verdict::Low) return WindingFault::OtherInductance;
    if (verdictOf("lift") == Verdict::Missing) return WindingFault::NoLift;
    return end == Verdict::CannotTell ? WindingFault::CannotTell : WindingFault::None;
}

// The times of the reference that lie at the pulse's lift and end, so that features lie over each other.
struct Warp {
    double on_s = 0;
    std::array<std::pair<double, double>, 3> knots{};  // of the reference, of the pulse, from switching on
    double pulseAt(double t) const
    {
        if (t <= 0) return on_s + t;
        std::pair<double, double> before{0, 0};
        for (const auto& k : knots) {
            if (t <= k.first)
                return on_s + before.second +
                       (t - before.first) / (k.first - before.first) * (k.second - before.second);
            before = k;
        }
        return on_s + before.second + (t - before.first);
    }
};

void layOver(const Recording& r, const Channel& current, const Pulses& pulses, const WindingReference& w, double ratio,
             WindingComparison& out)
{
    if (w.current_A.empty()) return;
    const std::vector<double> x = current.samples.read(0, current.samples.size());
    std::vector<double> sum(w.current_A.size(), 0.0), count(sum.size(), 0.0);
    for (const Pulse& p : pulses.pulses) {
        if (p.cut) continue;
        const double length = p.off_s - p.on_s;
        Warp warp{p.on_s, {}};
        const auto lift = p.value("lift");
        const auto should = w.features.find("lift");
        const bool lifts = lift && should != w.features.end() && *lift < length && should->second.value < w.pulse_s;
        // A shape computed for a longer pulse ends where this one ends.
        const bool kept = w.before_s > 0;
        const double end = kept ? w.pulse_s : length;
        warp.knots[0] = lifts ? std::pair{should->second.value, *lift} : std::pair{0.5 * end, 0.5 * length};
        warp.knots[1] = {end, length};
        warp.knots[2] = {end + 1e6, length + 1e6};
        for (std::size_t k = 0; k < sum.size(); ++k) {
            const double t = w.interval_s * static_cast<double>(k) - w.before_s;
            if (!kept && t > length) break;
            const double at = warp.pulseAt(t) / r.interval_s;
            if (at < 0 || at + 1 >= static_cast<double>(x.size())) continue;
            const auto i = static_cast<std::size_t>(at);
            sum[k] += x[i] + (at - static_cast<double>(i)) * (x[i + 1] - x[i]) - pulses.zero_A, count[k] += 1;
        }
    }
    for (std::size_t k = 0; k < sum.size() && count[k] > 0; ++k) {
        out.current_A.push_back(sum[k] / count[k] / ratio);
        out.deviation.push_back((out.current_A.back() - w.current_A[k]) / std::max(1e-9, w.tolerance_A[k]));
    }
}

}  // namespace

std::string words(WindingFault fault)
{
    switch (fault) {
        case WindingFault::None:
            return "nothing out of tolerance in what these features can tell; soft springs and friction hardly show "
                   "in a current";
        case WindingFault::NoCurrent:
            return "no current: open, not fed or not driven; the voltages on both sides say which";
        case WindingFault::TooMuchResistance:
            return "too much resistance in winding, feed, control wire or driver";
        case WindingFault::ShortedTurns:
            return "turns of the winding are shorted, or it is another part";
        case WindingFault::TooLittleResistance:
            return "more current than it should take: shorted turns, less resistance or another part";
        case WindingFault::OtherInductance:
            return "the current is right at the end and rises otherwise: another inductance, another part, or an "
                   "armature that does not stand where it should";
        case WindingFault::NoLift:
            return "no lift is seen where a sound one shows it: the armature does not move, or moves softly";
        case WindingFault::CannotTell:
            return "cannot be told from this recording";
    }
    return "";
}

Result<WindingComparison> compareWinding(const Recording& r, const Channel& current, const Pulses& pulses,
                                         std::optional<double> supply_V, const WindingReference& w)
{
    WindingComparison out;
    if (pulses.pulses.empty()) {
        out.fault = WindingFault::NoCurrent;
        out.verdict = words(out.fault) + ".";
        return out;
    }
    if (!supply_V) return fail(r.name, "its supply voltage is not known: give it, or a channel at the drive");
    out.supplyRatio = *supply_V / w.supply_V;
    std::vector<double> lengths;
    for (const Pulse& p : pulses.pulses)
        lengths.push_back(p.off_s - p.on_s);
    for (const auto& [id, should] : w.features) {
        // The resistance says nothing beside the end current that it is taken from.
        if (id == "spike" || (id == "resistance" && w.features.contains("end current"))) continue;
        out.findings.push_back(findingOf(id, should, seenOf(pulses, id), out.supplyRatio));
    }
    std::stable_sort(out.findings.begin(), out.findings.end(), [](const TraceFinding& a, const TraceFinding& b) {
        return std::abs(a.tolerances) > std::abs(b.tolerances);
    });
    out.fault = faultOf(out.findings);
    std::vector<std::string> parts;
    for (const TraceFinding& f : out.findings) {
        if (f.words.empty() || (f.feature == "peak" && !parts.empty())) continue;
        parts.push_back(f.words);
    }
    out.verdict = words(out.fault);
    out.verdict.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(out.verdict.front())));
    if (!parts.empty()) out.verdict += fmt::format(": {}", fmt::join(parts, ", "));
    out.verdict += ".";
    if (std::abs(out.supplyRatio - 1) > otherSupply)
        out.verdict += fmt::format(" The supply is {:.2f} times that of the comparison: scaled, with less certainty.",
                                   out.supplyRatio);
    layOver(r, current, pulses, w, out.supplyRatio, out);
    return out;
}

}  // namespace ilvek
