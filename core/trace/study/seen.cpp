#include "trace/study/seen.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "trace/signal/noise.h"

namespace ilvek {

namespace {

constexpr std::size_t pictureColumns = 400, mostFigures = 24;

// The winding of a set whose name ends with the cylinder's number; none when there are several.
std::string windingOfCylinder(const Map& map, int cylinder)
{
    const std::string ending = " " + std::to_string(cylinder);
    std::string found;
    for (const Element& e : map.elements) {
        if (e.kind != ElementKind::Winding || !e.name.ends_with(ending)) continue;
        if (!found.empty()) return "";
        found = e.id;
    }
    return found;
}

// What the pulses end with; none where it was not measured, or had not come to rest.
std::optional<double> endOf(const Pulses& pulses, const std::vector<std::size_t>& which, double& sigma)
{
    std::vector<double> values, sigmas;
    for (const std::size_t p : which) {
        const TraceMeasure* m = pulses.pulses[p].find("end current");
        if (!m || !m->value || !pulses.pulses[p].value("resistance")) continue;
        values.push_back(*m->value), sigmas.push_back(m->sigma);
    }
    if (values.empty()) return std::nullopt;
    sigma = *std::max_element(sigmas.begin(), sigmas.end());
    return medianOf(std::move(values));
}

bool findDrive(const Map& map, const std::string& state, TraceSeen& t)
{
    const int element = map.elementIndex(t.element);
    auto driven =
        element < 0 ? Result<DrivenBy>(fail(t.element, "the map has no such part")) : drivenBy(map, element, state);
    if (!driven && element >= 0) driven = drivenBy(map, element, "");
    if (!driven) return t.element.clear(), false;
    t.drive = map.element(driven->driver).id;
    t.state = map.state(driven->state).id;
    return true;
}

// The module's terminal, wire side, at which a drive comes out.
std::string terminalOf(const Map& map, const std::string& drive)
{
    const auto& nodes = map.element(map.elementIndex(drive)).nodes;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.b >= 0 && std::find(nodes.begin(), nodes.end(), terminal.b) != nodes.end())
            return map.node(terminal.a);
    }
    return "";
}

// The middle of a level over all pulses.
std::optional<double> levelOf(const Pulses& pulses, const char* id)
{
    std::vector<double> values;
    for (const Pulse& p : pulses.pulses) {
        if (const auto v = p.value(id)) values.push_back(*v);
    }
    return values.empty() ? std::nullopt : std::optional(medianOf(std::move(values)));
}

void addFigures(const Study& s, TraceSeen& t)
{
    const auto figure = [&](const std::string& name, const std::string& words) {
        if (t.figures.size() < mostFigures) t.figures.push_back({name, words});
    };
    for (const Compared& c : s.compared) {
        for (const TraceFinding& f : c.result.findings)
            figure(f.feature + " against " + c.reference.name, f.words.empty() ? words(f.verdict) : f.words);
    }
    if (s.cylinders) {
        for (const TraceFinding& f : s.cylinders->findings) {
            if (!f.words.empty()) figure(fmt::format("Cylinder {}, {}", f.cylinder, f.feature), f.words);
        }
    }
    for (const TraceMeasure& m : s.told.measures)
        figure(m.name, m.words());
    if (s.pulses.pulses.empty()) return;
    for (const TraceMeasure& m : s.pulses.pulses.front().measures)
        figure(m.name + ", first pulse", m.words());
}

}  // namespace

TraceSeen seenOf(const Recording& r, const Study& s, const Pyramid& main, double from_s, double to_s)
{
    TraceSeen t;
    t.recording = r.name;
    t.verdict = s.verdict;
    t.supply_V = s.supply_V;
    addFigures(s, t);
    t.touched = s.touched;
    t.unit = std::string(unitSymbol(r.channels[static_cast<std::size_t>(s.main)].unit()));
    t.from_s = from_s, t.to_s = to_s;
    const double last = static_cast<double>(r.size());
    const double first = from_s / r.interval_s, end = std::min(last, to_s / r.interval_s);
    const double width = (end - first) / static_cast<double>(pictureColumns);
    const auto& gaps = r.channels[static_cast<std::size_t>(s.main)].gaps;
    for (const Extent& e : main.columns(first, end, pictureColumns)) {
        const double at = first + width * static_cast<double>(t.least.size());
        // A column of which nothing was recorded is a gap of the picture too.
        const bool gap = isInGap(gaps, at, at) && isInGap(gaps, at + 0.5 * width, at + 0.5 * width) &&
                         isInGap(gaps, at + width, at + width);
        t.least.push_back(gap ? std::nan("") : e.low);
        t.most.push_back(gap ? std::nan("") : e.high);
    }
    return t;
}

void addEvidence(const Map& map, const Study& s, const std::string& part, const std::string& state, LeadAt lead,
                 TraceSeen& t)
{
    t.element = part;
    if (!findDrive(map, state, t)) return;
    std::vector<std::size_t> all(s.pulses.pulses.size());
    for (std::size_t i = 0; i < all.size(); ++i)
        all[i] = i;
    t.current_A = endOf(s.pulses, all, t.currentSigma_A);
    // No current is a figure only where nothing lifts the control side: whether it was called does not matter then. A
    // side that stays high may never have been called.
    const bool unlifted = all.empty() && s.drive.highWhenOff && !*s.drive.highWhenOff;
    if (unlifted) t.current_A = 0;
    if (lead == LeadAt::NotSaid || s.beside < 0 || (all.empty() && !unlifted)) return;
    const auto& nodes = map.element(map.elementIndex(part)).nodes;
    t.lead = lead == LeadAt::Module ? terminalOf(map, t.drive) : map.node(nodes[1]);
    t.off_V = unlifted ? std::optional(0.0) : levelOf(s.pulses, "battery level");
    t.on_V = unlifted ? std::nullopt : levelOf(s.pulses, "on level");
}

std::vector<TraceSeen> seenOfCylinders(const Map& map, const Study& s, const std::string& state, const TraceSeen& whole)
{
    std::vector<TraceSeen> out;
    std::map<int, std::pair<std::vector<std::size_t>, int>> turns;  // pulses, and how many are missing
    for (const Turn& turn : s.cylinders->turns) {
        auto& [pulses, missing] = turns[turn.cylinder];
        if (turn.pulse)
            pulses.push_back(*turn.pulse);
        else
            ++missing;
    }
    for (const auto& [cylinder, seen] : turns) {
        const auto& [pulses, missing] = seen;
        TraceSeen t;
        t.element = windingOfCylinder(map, cylinder);
        if (t.element.empty() || (!pulses.empty() && missing > 0)) continue;
        t.recording = whole.recording, t.supply_V = whole.supply_V;
        t.current_A = pulses.empty() ? std::optional(0.0) : endOf(s.pulses, pulses, t.currentSigma_A);
        if (!t.current_A || !findDrive(map, state, t)) continue;
        t.verdict = fmt::format("cylinder {}: {}", cylinder,
                                pulses.empty() ? "no pulse; counted as called, as the others are"
                                               : formatQuantity(amperes(*t.current_A)) + " at the end");
        out.push_back(std::move(t));
    }
    return out;
}

}  // namespace ilvek
