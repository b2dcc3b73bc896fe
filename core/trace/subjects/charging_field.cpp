#include "trace/subjects/charging_field.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "trace/signal/noise.h"
#include "trace/signal/switching.h"

namespace ilvek {

namespace {

constexpr std::size_t stretch = 10;          // periods
constexpr double leastLoadStep = 0.25;       // of the highest load, for an answer to be asked for
constexpr double leastAnswer = 3;            // points of duty over the whole range of load
constexpr double sureOf = 4;                 // sigma of the slope
constexpr double fullDuty = 97, noDuty = 3;  // points

double meanOf(const Samples& samples, std::size_t a, std::size_t b)
{
    const auto x = samples.read(a, b - a);
    return std::accumulate(x.begin(), x.end(), 0.0) / static_cast<double>(x.size());
}

struct Stretch {
    double duty = 0, load_A = 0, system_V = 0;
};

std::vector<Stretch> stretchesOf(const Recording& r, const Switching& s, const FieldBeside& beside)
{
    std::vector<Stretch> out;
    auto fall = s.falls_s.begin();
    for (std::size_t i = 0; i + stretch < s.rises_s.size(); i += stretch) {
        double high = 0;
        for (std::size_t k = i; k < i + stretch; ++k) {
            while (fall != s.falls_s.end() && *fall < s.rises_s[k])
                ++fall;
            high += (fall == s.falls_s.end() ? s.rises_s[k + 1] : std::min(*fall, s.rises_s[k + 1])) - s.rises_s[k];
        }
        const double from = s.rises_s[i], to = s.rises_s[i + stretch];
        const auto a = static_cast<std::size_t>(from / r.interval_s), b = static_cast<std::size_t>(to / r.interval_s);
        Stretch one{100 * high / (to - from), 0, 0};
        if (beside.drivenLow) one.duty = 100 - one.duty;
        if (beside.load) one.load_A = meanOf(beside.load->samples, a, b);
        if (beside.system) one.system_V = meanOf(beside.system->samples, a, b);
        out.push_back(one);
    }
    return out;
}

struct Line {
    double slope = 0, sigma = 0;
};

Line lineThrough(const std::vector<Stretch>& all)
{
    const double n = static_cast<double>(all.size());
    double mx = 0, my = 0;
    for (const Stretch& s : all)
        mx += s.load_A / n, my += s.duty / n;
    double xx = 0, xy = 0, rest = 0;
    for (const Stretch& s : all)
        xx += (s.load_A - mx) * (s.load_A - mx), xy += (s.load_A - mx) * (s.duty - my);
    const double slope = xy / xx;
    for (const Stretch& s : all)
        rest += std::pow(s.duty - my - slope * (s.load_A - mx), 2);
    return {slope, std::sqrt(rest / std::max(1.0, n - 2) / xx)};
}

// The drive never moves: all or nothing.
TraceTold stuck(const Recording& r, const Channel& field, const FieldBeside& beside)
{
    TraceTold out;
    const double level = meanOf(field.samples, 0, field.samples.size());
    const double system = beside.system ? meanOf(beside.system->samples, 0, beside.system->samples.size()) : 0;
    out.measures.push_back(measured("level", "Level of the field", Unit::Volt, level, 0.02));
    out.measures.push_back(notMeasurable("frequency", "Frequency", Unit::Hertz, "it does not switch"));
    if (beside.system) out.measures.push_back(measured("system", "System voltage", Unit::Volt, system, 0.05));
    const bool high = beside.system ? level > system / 2 : level > 2;
    const bool full = high != beside.drivenLow;
    out.odd = true;
    out.events.push_back({0, r.length_s(), 1, "does not switch"});
    out.verdict =
        full ? "The field is driven all the time: as much as the generator can give is asked for, or the drive is "
               "shorted."
             : "The field is not driven at all: not asked for, the drive dead, or its wire open. Read the field's "
               "voltages at both ends.";
    return out;
}

}  // namespace

Result<TraceTold> measureChargingField(const Recording& r, const Channel& field, const FieldBeside& beside)
{
    const auto s = measureSwitching(r, field);
    if (!s) return tl::unexpected(s.error());
    if (s->rises_s.size() < 2) return stuck(r, field, beside);
    TraceTold out;
    for (const char* id : {"frequency", "low", "high"}) {
        if (const TraceMeasure* m = s->find(id)) out.measures.push_back(*m);
    }
    const auto all = stretchesOf(r, *s, beside);
    if (all.size() < 3) {
        out.measures.push_back(
            notMeasurable("duty", "Share driven", Unit::Percent, "fewer than thirty periods are recorded"));
        out.verdict = "Too short to say how the drive answers.";
        return out;
    }
    const auto [least, most] =
        std::minmax_element(all.begin(), all.end(), [](const Stretch& a, const Stretch& b) { return a.duty < b.duty; });
    out.measures.push_back(measured("duty least", "Share driven, least", Unit::Percent, least->duty, 0.3));
    out.measures.push_back(measured("duty most", "Share driven, most", Unit::Percent, most->duty, 0.3));
    out.verdict = fmt::format("Driven {:.0f} to {:.0f} % of the time.", least->duty, most->duty);
    if (beside.system) {
        const auto [low, high] = std::minmax_element(
            all.begin(), all.end(), [](const Stretch& a, const Stretch& b) { return a.system_V < b.system_V; });
        out.measures.push_back(measured("system least", "System voltage, least", Unit::Volt, low->system_V, 0.05));
        out.measures.push_back(measured("system most", "System voltage, most", Unit::Volt, high->system_V, 0.05));
    }
    const auto noAnswer = [&](const char* why) {
        out.measures.push_back(notMeasurable("answer", "Points of duty for each ampere of load", Unit::None, why));
        return out;
    };
    if (!beside.load) return noAnswer("the load's current is not recorded");
    const auto [light, heavy] = std::minmax_element(
        all.begin(), all.end(), [](const Stretch& a, const Stretch& b) { return a.load_A < b.load_A; });
    const double range = heavy->load_A - light->load_A;
    if (range < leastLoadStep * heavy->load_A)
        return noAnswer("the load hardly changes in the recording: switch lamps and heaters on and off");
    const Line line = lineThrough(all);
    out.measures.push_back(
        measured("answer", "Points of duty for each ampere of load", Unit::None, line.slope, line.sigma));
    const double answer = line.slope * range;
    if (answer > leastAnswer && line.slope > sureOf * line.sigma) {
        out.verdict += fmt::format(" It answers the load: {:.0f} points more at {} than at {}.", answer,
                                   formatQuantity(amperes(heavy->load_A)), formatQuantity(amperes(light->load_A)));
    } else if (least->duty > fullDuty || most->duty < noDuty) {
        out.odd = true;
        out.verdict += " It stands at its end and cannot answer the load.";
    } else {
        out.odd = true;
        out.verdict +=
            fmt::format(" It does not answer the load, which changes by {}: the request, its feedback or the drive.",
                        formatQuantity(amperes(range)));
    }
    return out;
}

}  // namespace ilvek
