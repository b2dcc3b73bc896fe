#include "trace/coil.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "trace/noise.h"

namespace ilvek {

namespace {

constexpr double flatShare = 0.04;  // of the peak, within which a limited current stays
constexpr double longFlat = 0.08;   // of the dwell, that it must stay there
constexpr double jumpShare = 0.12;  // of the peak, at the beginning of a charge
constexpr double gapRatio = 1.6;    // of the usual distance, between which a charge is missing
constexpr double clampSigma = 0.01;
constexpr double noiseHides = 0.03;  // of the peak: a limit lies no further from a ramp
constexpr double edgeNoise = 6;      // sigma by which the ramp's own beginning may be misplaced

struct Charge {
    double on_s = 0, dwell_s = 0, peak_A = 0;
    std::optional<double> limited_s;  // after switching on
    std::optional<double> jump_A, slope_AperS;
};

Charge chargeOf(const Recording& r, const Channel& current, const Pulses& all, const Pulse& p)
{
    Charge c{p.on_s, p.off_s - p.on_s, p.value("peak").value_or(0), {}, {}, {}};
    const auto on = static_cast<std::size_t>(p.on_s / r.interval_s),
               off = static_cast<std::size_t>(p.off_s / r.interval_s);
    if (off < on + 24) return c;
    auto y = current.samples.read(on, off - on);
    for (double& v : y)
        v -= all.zero_A;
    const Kinks k(y);
    // Backwards from the end, as long as it stays at the end's level.
    const std::size_t tail = std::max<std::size_t>(4, y.size() / 40);
    const double end = k.mean(y.size() - tail - 1, tail);
    std::size_t flat = y.size() - tail - 1;
    while (flat > tail && std::abs(k.mean(flat - tail, tail) - end) <
                              std::max(flatShare * end, 3 * all.noise_A / std::sqrt(static_cast<double>(tail))))
        flat -= 1;
    const double slopeBefore = flat > 2 * tail ? k.slope(flat - 2 * tail, 2 * tail) : 0;
    const double slopeWithin = k.slope(flat, y.size() - flat - 1);
    // A ramp stays near its end for as long as its slope takes; a limit for longer, and with hardly a slope.
    if (static_cast<double>(y.size() - flat) > longFlat * static_cast<double>(y.size()) &&
        slopeWithin < 0.15 * slopeBefore)
        c.limited_s = static_cast<double>(flat) * r.interval_s;
    // The ramp carried back to the beginning.
    const std::size_t last = c.limited_s ? flat : y.size() - 1;
    const std::size_t a = last / 8, b = last / 2;
    if (b < a + 8) return c;
    const double slope = k.slope(a, b - a), sigma = all.noise_A * Kinks::slopeSigma(b - a);
    c.slope_AperS = slope / r.interval_s;
    const double jump = k.mean(a, b - a) - slope * 0.5 * static_cast<double>(a + b);
    if (std::abs(jump) > 4 * sigma * static_cast<double>(b) + edgeNoise * all.noise_A) c.jump_A = jump;
    return c;
}

template <class Of>
std::optional<TraceMeasure> middleOf(const std::vector<Charge>& charges, const char* id, const char* name, Unit unit,
                                     double scale, double least, Of of)
{
    std::vector<double> x;
    for (const Charge& c : charges) {
        if (const std::optional<double> v = of(c)) x.push_back(*v);
    }
    if (2 * x.size() < charges.size() || x.empty()) return std::nullopt;
    const double middle = medianOf(x);
    std::vector<double> off;
    for (const double v : x)
        off.push_back(std::abs(v - middle));
    return measured(id, name, unit, middle, std::hypot(1.4826 * medianOf(off), scale * middle, least));
}

void missing(const std::vector<Charge>& charges, TraceTold& out)
{
    std::vector<double> apart;
    for (std::size_t i = 1; i < charges.size(); ++i)
        apart.push_back(charges[i].on_s - charges[i - 1].on_s);
    if (apart.size() < 3) return;
    const double usual = medianOf(apart);
    for (std::size_t i = 0; i < apart.size(); ++i) {
        if (apart[i] < gapRatio * usual) continue;
        const int gone = static_cast<int>(std::lround(apart[i] / usual)) - 1;
        out.events.push_back({charges[i].on_s + usual, apart[i] - usual, apart[i] / usual / gapRatio,
                              gone == 1 ? "a charge is missing" : fmt::format("{} charges are missing", gone)});
    }
}

}  // namespace

Result<TraceTold> measureCoil(const Recording& r, const Channel& current, std::optional<double> supply_V)
{
    const auto pulses = measureWinding(r, current, {supply_V, nullptr});
    if (!pulses) return tl::unexpected(pulses.error());
    std::vector<Charge> charges;
    for (const Pulse& p : pulses->pulses) {
        if (!p.cut) charges.push_back(chargeOf(r, current, *pulses, p));
    }
    if (charges.empty()) return fail(current.name, "no whole charge is in the recording");
    TraceTold out;
    const double dt = r.interval_s;
    const auto take = [&](std::optional<TraceMeasure> m, const char* id, const char* name, Unit unit, const char* why) {
        out.measures.push_back(m ? *m : notMeasurable(id, name, unit, why));
        return m ? m->value : std::nullopt;
    };
    const auto dwell = take(middleOf(charges, "dwell", "Dwell", Unit::Second, 0, dt,
                                     [](const Charge& c) { return std::optional(c.dwell_s); }),
                            "dwell", "Dwell", Unit::Second, "");
    const auto peak = take(middleOf(charges, "peak", "Current when it is let go", Unit::Ampere, clampSigma, 0,
                                    [](const Charge& c) { return std::optional(c.peak_A); }),
                           "peak", "Current when it is let go", Unit::Ampere, "");
    const bool noisy = pulses->noise_A > noiseHides * peak.value_or(0);
    const auto limited = take(middleOf(charges, "limited after", "Limited after", Unit::Second, 0.02, dt,
                                       [](const Charge& c) { return c.limited_s; }),
                              "limited after", "Limited after", Unit::Second,
                              noisy ? "the noise would hide a limit" : "the current still rises when it is let go");
    const auto slope = take(middleOf(charges, "slope", "Slope, A/s", Unit::None, clampSigma, 0,
                                     [](const Charge& c) { return c.slope_AperS; }),
                            "slope", "Slope, A/s", Unit::None, "a charge has too few samples");
    if (slope && supply_V && *slope > 0)
        out.measures.push_back(
            measured("inductance", "Inductance, mH", Unit::None, 1e3 * *supply_V / *slope, 0.1e3 * *supply_V / *slope));
    const auto jump = take(middleOf(charges, "jump", "Jump at the beginning", Unit::Ampere, 0.1, 0,
                                    [](const Charge& c) { return c.jump_A; }),
                           "jump", "Jump at the beginning", Unit::Ampere, "none stands out of the noise");
    missing(charges, out);
    out.verdict =
        fmt::format("{} charges of {}, {} when let go{}.", charges.size(),
                    formatQuantity({dwell.value_or(0), Unit::Second}), formatQuantity(amperes(peak.value_or(0))),
                    limited ? fmt::format(", limited after {}", formatQuantity({*limited, Unit::Second}))
                    : noisy ? ""
                            : ", not limited");
    if (jump && peak && *jump > jumpShare * *peak) {
        out.odd = true;
        out.verdict +=
            fmt::format(" It jumps to {} at once: turns of the coil are shorted.", formatQuantity(amperes(*jump)));
    }
    if (!out.events.empty()) {
        out.odd = true;
        out.verdict +=
            fmt::format(" {} time{} a charge does not come.", out.events.size(), out.events.size() == 1 ? "" : "s");
    }
    return out;
}

}  // namespace ilvek
