#include "trace/study/reference.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "circuit/operating_point.h"
#include "quantity/fields.h"
#include "quantity/trade.h"
#include "trace/signal/noise.h"

namespace ilvek {

namespace {

using nlohmann::json;

constexpr double resistanceAllowed = 0.1, inductanceAllowed = 0.3, turnOffAllowed = 0.5, liftAllowed = 0.2;
constexpr double leastCurrent_A = 0.005;
constexpr double leastAllowed = 0.08;  // kept features are never held to less
constexpr std::size_t shapeSamples = 500;
constexpr int formatVersion = 1;

double allowedFor(const std::string& id)
{
    if (id == "slope" || id == "inductance") return inductanceAllowed;
    if (id == "turn-off") return turnOffAllowed;
    if (id == "lift") return liftAllowed;
    return leastAllowed;
}

Map atTemperature(const Map& map, int element, double temperature_C)
{
    Map out = map;
    Element& e = out.elements[static_cast<std::size_t>(element)];
    out.document += fmt::format("\n{} at {} °C", e.id, temperature_C);
    e.values["resistance"] *= 1 + trade::copperPerKelvin * (temperature_C - e.value("temperature", 20.0));
    return out;
}

// The pulse at the place of a reference's sample, between two samples of the recording.
double valueAt(const std::vector<double>& y, double at)
{
    const auto k = static_cast<std::size_t>(std::clamp(at, 0.0, static_cast<double>(y.size() - 2)));
    return y[k] + (at - static_cast<double>(k)) * (y[k + 1] - y[k]);
}

}  // namespace

Result<DrivenBy> drivenBy(const Map& map, int element, const std::string& state)
{
    const int only = state.empty() ? -1 : map.stateIndex(state);
    if (!state.empty() && only < 0) return fail(state, "the map has no such state");
    DrivenBy best;
    for (int s = 0; s < static_cast<int>(map.states.size()); ++s) {
        if (only >= 0 && s != only) continue;
        for (int d = 0; d < static_cast<int>(map.elements.size()); ++d) {
            const ElementKind kind = map.element(d).kind;
            if (kind != ElementKind::LowSideDriver && kind != ElementKind::HighSideDriver) continue;
            Condition on, off;
            on.state = off.state = s;
            on.commands[d] = 1, off.commands[d] = 0;
            const auto driven = operatingPoint(map, on), rests = operatingPoint(map, off);
            if (!driven || !rests) continue;
            const double current = std::abs(driven->currentThrough(element));
            if (current < leastCurrent_A || current < 1.01 * best.current_A ||
                std::abs(rests->currentThrough(element)) > 0.1 * current)
                continue;
            const auto& nodes = map.element(element).nodes;
            const auto& drive = map.element(d).nodes;
            // Off, the drive's open contact takes all of it; on the high side that is between its two ends as well.
            const double across =
                std::abs(rests->voltage(drive[0], drive[1])) + std::abs(rests->voltage(nodes[0], nodes[1]));
            best = {d, s, current, across};
        }
    }
    if (best.driver < 0) return fail(map.element(element).id, "no drive of the map lets a current through it");
    return best;
}

Result<WindingReference> expectedWinding(const Map& map, const std::string& element, const ReferenceWish& wish)
{
    const int at = map.elementIndex(element);
    if (at < 0) return fail(element, "the map has no such part");
    if (map.element(at).kind != ElementKind::Winding) return fail(element, "is no winding");
    const Map warm = atTemperature(map, at, wish.temperature_C);
    const auto driven = drivenBy(warm, at, wish.state);
    if (!driven) return tl::unexpected(driven.error());
    const Element& e = warm.element(at);
    WindingReference out;
    out.of = e.id, out.name = e.name.empty() ? e.id : e.name;
    out.source = fmt::format("computed from the map for {:.0f} °C", wish.temperature_C);
    out.supply_V = driven->supply_V, out.temperature_C = wish.temperature_C;
    out.state = map.state(driven->state).id;
    out.pulse_s = wish.pulse_s;
    const double R = out.supply_V / driven->current_A, L = e.value("inductance");
    out.features["resistance"] = {R, resistanceAllowed};
    if (L <= 0) return out;
    const double end = driven->current_A * (1 - std::exp(-wish.pulse_s * R / L));
    out.features["end current"] = {end, resistanceAllowed};
    out.features["peak"] = {end, resistanceAllowed};
    out.features["slope"] = {out.supply_V / L, inductanceAllowed};
    out.interval_s = wish.pulse_s / static_cast<double>(shapeSamples - 1);
    for (std::size_t k = 0; k < shapeSamples; ++k) {
        const double t = out.interval_s * static_cast<double>(k);
        const auto shape = [&](double r, double l) {
            return out.supply_V / (R * r) * (1 - std::exp(-t * R * r / (L * l)));
        };
        const double i = shape(1, 1);
        out.current_A.push_back(i);
        // The furthest that the parts' tolerances take it, and what the armature's own voltage does to a rise.
        const double upper = shape(1 - resistanceAllowed, 1 - inductanceAllowed),
                     lower = shape(1 + resistanceAllowed, 1 + inductanceAllowed);
        out.tolerance_A.push_back(std::max(std::max(upper - i, i - lower), 0.05 * driven->current_A));
    }
    return out;
}

Result<WindingReference> keptFrom(const Recording& r, const Channel& current, const Pulses& pulses,
                                  std::optional<double> supply_V, WindingReference out)
{
    if (!supply_V)
        return fail(r.name, "the supply voltage is not known: without it a kept recording compares with nothing");
    out.supply_V = *supply_V;
    std::map<std::string, std::vector<double>> values;
    std::vector<const Pulse*> whole;
    std::vector<double> lengths;
    for (const Pulse& p : pulses.pulses) {
        if (p.cut) continue;
        whole.push_back(&p);
        lengths.push_back(p.off_s - p.on_s);
        for (const TraceMeasure& m : p.measures) {
            if (m.value) values[m.id].push_back(*m.value);
        }
    }
    if (whole.empty()) return fail(r.name, "no whole pulse is in it");
    out.pulse_s = medianOf(lengths);
    for (const char* id : {"end current", "peak", "hold", "slope", "lift", "turn-off", "resistance", "spike"}) {
        const auto& v = values[id];
        if (2 * v.size() < whole.size() || v.empty()) continue;
        const double middle = medianOf(v);
        std::vector<double> off;
        for (const double x : v)
            off.push_back(std::abs(x - middle));
        out.features[id] = {middle,
                            std::max(allowedFor(id), 4 * 1.4826 * medianOf(off) / std::max(1e-12, std::abs(middle)))};
    }
    const double length = 1.3 * out.pulse_s;
    out.before_s = 0.1 * out.pulse_s;
    out.interval_s = (length + out.before_s) / static_cast<double>(shapeSamples - 1);
    std::vector<double> sum(shapeSamples, 0.0), square(shapeSamples, 0.0);
    const std::vector<double> all = current.samples.read(0, current.samples.size());
    for (const Pulse* p : whole) {
        for (std::size_t k = 0; k < shapeSamples; ++k) {
            const double t = p->on_s - out.before_s + out.interval_s * static_cast<double>(k);
            const double i = valueAt(all, t / r.interval_s) - pulses.zero_A;
            sum[k] += i, square[k] += i * i;
        }
    }
    const double n = static_cast<double>(whole.size());
    const double peak =
        out.features.contains("peak") ? out.features["peak"].value : *std::max_element(sum.begin(), sum.end()) / n;
    for (std::size_t k = 0; k < shapeSamples; ++k) {
        const double mean = sum[k] / n, spread = std::sqrt(std::max(0.0, square[k] / n - mean * mean));
        out.current_A.push_back(mean);
        out.tolerance_A.push_back(std::max(4 * spread, 0.05 * peak));
    }
    return out;
}

std::string writeReference(const WindingReference& w)
{
    json features = json::object();
    for (const auto& [id, f] : w.features)
        features[id] = {{"value", f.value}, {"allowed", f.allowed}};
    nlohmann::ordered_json out{{"format", "ilvek-known-good"},
                               {"version", formatVersion},
                               {"of", w.of},
                               {"name", w.name},
                               {"source", w.source},
                               {"supply_V", w.supply_V},
                               {"temperature_C", w.temperature_C},
                               {"state", w.state},
                               {"features", features},
                               {"pulse_s", w.pulse_s},
                               {"interval_s", w.interval_s},
                               {"before_s", w.before_s},
                               {"current_A", w.current_A},
                               {"tolerance_A", w.tolerance_A}};
    return out.dump(1) + "\n";
}

Result<WindingReference, Problems> readReference(std::string_view text, const std::string& fileName)
{
    const auto document = parseJson(text, fileName);
    if (!document) return tl::unexpected(Problems{document.error()});
    Problems problems;
    Fields root(*document, fileName, problems);
    if (root.text("format", Need::Required) != "ilvek-known-good")
        return tl::unexpected(Problems{
            {fileName, "this is no known-good recording of Ilvek (its \"format\" is not \"ilvek-known-good\")"}});
    if (root.whole("version", 1, 1'000'000, Need::Required) > formatVersion)
        return tl::unexpected(Problems{{fileName, "was written by a newer Ilvek; this one cannot read it"}});
    WindingReference out;
    out.of = root.text("of", Need::Required), out.name = root.text("name", Need::Required);
    out.source = root.text("source", Need::Required), out.state = root.text("state", Need::Optional);
    out.supply_V = root.number("supply_V", 0.5, 100, Need::Required);
    out.temperature_C = root.number("temperature_C", -60, 300, Need::Required);
    out.pulse_s = root.number("pulse_s", 1e-6, 1e4, Need::Required);
    out.interval_s = root.number("interval_s", 0, 1e3, Need::Required);
    out.before_s = root.number("before_s", 0, 1e3, Need::Required);
    out.current_A = root.numbers("current_A", -1e5, 1e5);
    out.tolerance_A = root.numbers("tolerance_A", 0, 1e5);
    if (out.current_A.size() != out.tolerance_A.size())
        problems.push_back({fileName, "\"tolerance_A\" has another length than \"current_A\""});
    if (const json* features = root.object("features", Need::Required)) {
        for (const auto& [id, f] : features->items()) {
            Fields one(f, fileName + ", feature " + id, problems);
            const double value = one.number("value", -1e9, 1e9, Need::Required);
            out.features[id] = {value, one.number("allowed", 0.001, 10, Need::Required)};
            one.reportUnknown();
        }
    }
    root.reportUnknown();
    if (!problems.empty()) return tl::unexpected(problems);
    return out;
}

}  // namespace ilvek
