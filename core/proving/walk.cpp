#include "proving/walk.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

#include "circuit/operating_point.h"
#include "machine/wire_words.h"
#include "proving/judge.h"
#include "proving/series_resistance.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Prior weight of a part for carrying the fault: mated contacts fail most, wet and moving ones above all.
double faultWeight(const Map& map, int elementIndex)
{
    const Element& e = map.element(elementIndex);
    switch (e.kind) {
        case ElementKind::Contact: {
            const int terminal = map.terminalIndex(e.id);
            const Connector& connector = map.connectors[static_cast<std::size_t>(map.terminal(terminal).connector)];
            return 3.0 * (connector.wet ? 3.0 : 1.0) * (connector.moving ? 2.0 : 1.0);
        }
        case ElementKind::Joint:
        case ElementKind::Relay:
        case ElementKind::Fuse:
            return 2.0;
        default:
            return 1.0;
    }
}

// A node where several parts meet goes by the one that is on the way, else by its own name.
WalkPoint pointOn(const Map& map, const Path& path, int node, bool onReturn)
{
    WalkPoint point = pointAt(map, node, onReturn);
    const int part = map.elementIndex(point.label);
    if (part < 0 || map.element(part).kind == ElementKind::Contact) return point;
    const auto passed = [&](int element) {
        return std::any_of(path.begin(), path.end(), [&](const PathStep& s) { return s.element == element; });
    };
    if (passed(part)) return point;
    point.label = map.node(node);
    for (const PathStep& step : path) {
        const Element& e = map.element(step.element);
        const bool isPart = e.kind != ElementKind::Wire && e.kind != ElementKind::Contact;
        if (isPart && (step.from == node || step.to == node)) point.label = e.id;
    }
    return point;
}

void appendPath(const Map& map, const Path& path, bool onReturn, std::vector<WalkPoint>& points)
{
    if (path.empty()) return;
    points.push_back(pointOn(map, path, path.front().from, onReturn));
    for (const PathStep& step : path)
        points.push_back(pointOn(map, path, step.to, onReturn));
}

// Potential against battery minus from a reading, when its leads allow it.
std::optional<std::pair<int, double>> potentialOf(const Map& map, const Reading& r)
{
    const int red = map.nodeIndex(r.red), black = map.nodeIndex(r.black);
    if (r.value.overLimit || !isVoltageTest(r.test)) return std::nullopt;
    if (black == map.batteryMinus()) return std::pair{red, std::abs(r.value.value)};
    if (red == map.batteryMinus()) return std::pair{black, std::abs(r.value.value)};
    return std::nullopt;
}

void place(const Map& map, const Evidence& evidence, const Reading& r, const std::string& load,
           const std::string& terminal, std::vector<WalkPoint>& points)
{
    const auto potential = potentialOf(map, r);
    if (!potential || (r.test != TestKind::Battery && isStale(map, evidence, r))) return;
    if (!r.load.empty() && (r.load != load || r.terminal != terminal)) return;
    // A reading anywhere on the way, taken for no terminal, stands there too.
    const bool ofPlace = r.terminal.empty() && r.load.empty();
    if (r.test != TestKind::Battery && r.terminal != terminal && !ofPlace) return;
    for (WalkPoint& point : points) {
        if (point.node != potential->first) continue;
        const bool counts = !r.load.empty() || r.test == TestKind::Battery;
        (counts ? point.loaded_V : point.open_V) = potential->second;
    }
}

// An open-circuit reading against the own return is a potential, for no current flows in the return; a loaded one is
// not.
void placeAgainstReturn(const Map& map, const Evidence& evidence, const Reading& r, Walk& walk)
{
    const int terminal = map.terminalIndex(r.terminal);
    const bool fits = (r.test == TestKind::LoadedSupply || r.test == TestKind::OpenSupply) && terminal >= 0 &&
                      r.red == map.node(map.terminal(terminal).a) && map.terminal(terminal).ownReturn >= 0 &&
                      r.black == map.node(map.terminal(map.terminal(terminal).ownReturn).a);
    if (!fits || isStale(map, evidence, r)) return;
    for (WalkPoint& point : walk.points) {
        auto& slot = r.load.empty() ? point.open_V : point.toReturn_V;
        if (point.node == map.terminal(terminal).a) slot = std::abs(r.value.value);
    }
}

// A ground swap and its loaded partner give the potential of the terminal and of its own return under load.
void placeSwap(const Map& map, const Evidence& evidence, const Reading& swap, Walk& walk)
{
    const Terminal& t = map.terminal(map.terminalIndex(swap.terminal));
    if (swap.test != TestKind::GroundSwap || t.ownReturn < 0 || isStale(map, evidence, swap)) return;
    const int returnNode = map.terminal(t.ownReturn).a;
    for (auto it = evidence.readings.rbegin(); it != evidence.readings.rend(); ++it) {
        const bool partner = it->test == TestKind::LoadedSupply && it->terminal == swap.terminal &&
                             it->load == swap.load && it->black == map.node(returnNode) && !isStale(map, evidence, *it);
        if (!partner) continue;
        for (WalkPoint& point : walk.points) {
            if (point.node == t.a) point.loaded_V = std::abs(swap.value.value);
            if (point.node == returnNode) point.loaded_V = std::abs(swap.value.value) - std::abs(it->value.value);
        }
        return;
    }
}

// Potentials of the healthy circuit in the set-up of a reading, by node; empty when it cannot be solved.
std::vector<double> healthyPotentials(const Map& map, const Reading& r)
{
    const auto condition = conditionOf(map, r);
    const auto point = condition ? operatingPoint(map, *condition) : fail("", "");
    std::vector<double> out;
    for (std::size_t i = 0; point && i < map.nodes.size(); ++i)
        out.push_back(point->potential(static_cast<int>(i)));
    return out;
}

// What is lost between two points beyond what the sound conductors between them lose at the healthy current.
double excess_V(const WalkPoint& from, const WalkPoint& to, const std::vector<double>& healthy)
{
    const double lost = *from.loaded_V - *to.loaded_V;
    if (healthy.empty()) return lost;
    return lost -
           std::max(0.0, healthy[static_cast<std::size_t>(from.node)] - healthy[static_cast<std::size_t>(to.node)]);
}

// An excess beyond this is no meter error: 2 % of the supply, at least 0.15 V. Where nobody stated how long and how
// thick the wires are a sound loom may lose 5 %.
double stepWorthNaming(const Map& map)
{
    const double share = map.isOfSheet() ? trade::soundLoomLoses : 0.02;
    return std::max(0.15, share * map.systemVoltage_V);
}

void locate(const Map& map, const Evidence& evidence, const Reading* sample, Walk& walk)
{
    int previous = -1;
    double widestExcess = 0;
    std::optional<LocatedStep> widest;
    const std::vector<double> healthy = sample ? healthyPotentials(map, *sample) : std::vector<double>{};
    for (int i = 0; i < static_cast<int>(walk.points.size()); ++i) {
        const WalkPoint& point = walk.points[static_cast<std::size_t>(i)];
        if (!point.loaded_V) continue;
        if (previous >= 0 && walk.points[static_cast<std::size_t>(previous)].onReturn == point.onReturn) {
            const WalkPoint& before = walk.points[static_cast<std::size_t>(previous)];
            const double excess = excess_V(before, point, healthy);
            if (!widest || excess > widestExcess) {
                widest = LocatedStep{previous, i, *before.loaded_V - *point.loaded_V, ""};
                widestExcess = excess;
            }
        }
        previous = i;
    }
    if (!widest || widestExcess < stepWorthNaming(map)) return;
    const WalkPoint& from = walk.points[static_cast<std::size_t>(widest->from)];
    const WalkPoint& to = walk.points[static_cast<std::size_t>(widest->to)];
    const std::string lost = formatQuantity(volts(widest->lost_V));
    widest->words = from.label == to.label
                        ? inWords("walk.lost-one-side-other", lost, from.label)
                        : inWords("walk.lost-between", lost, map.nodeWords(from.node), map.nodeWords(to.node));
    walk.isSingleElement = true;
    for (int i = widest->from + 1; i < widest->to; ++i)
        walk.isSingleElement = walk.isSingleElement && !walk.points[static_cast<std::size_t>(i)].reachable;
    const double current = sample ? currentDuring(map, evidence, *sample) : 0;
    walk.sentence = widest->words;
    const auto series = sample ? seriesResistanceOf(map, evidence, *sample) : std::nullopt;
    if (series && series->isDark) {
        // What the loop has, it has here: all of the voltage is lost in this step.
        walk.sentence.pop_back();
        walk.sentence += inWords("walk.next-current", series->words());
    } else if (current > 1e-3) {
        walk.sentence.pop_back();
        walk.sentence += fmt::format(": {} / {} = {}.", formatQuantity(volts(widest->lost_V)),
                                     formatQuantity(amperes(current)), formatQuantity(ohms(widest->lost_V / current)));
    }
    walk.located = std::move(widest);
}

}  // namespace

WalkPoint pointAt(const Map& map, int node, bool onReturn)
{
    WalkPoint point;
    point.node = node;
    point.onReturn = onReturn;
    point.label = map.node(node);
    if (node == map.batteryPlus() || node == map.batteryMinus()) {
        point.label = node == map.batteryPlus() ? "Bat +" : "Bat −";
        point.reach_s = 20;
        return point;
    }
    for (const Terminal& terminal : map.terminals) {
        if (terminal.a != node && terminal.b != node) continue;
        const Connector& connector = map.connectors[static_cast<std::size_t>(terminal.connector)];
        point.label = terminal.id;
        point.reach_s = connector.reach_s;
        point.reachable = !(connector.ofModule && terminal.b == node);
        return point;
    }
    for (const Splice& splice : map.splices) {
        if (splice.node != node) continue;
        point.label = splice.id;
        point.reach_s = splice.reach_s;
        point.reachable = false;  // inside the loom
        return point;
    }
    if (const std::string parted = partedEndOf(map, node); !parted.empty()) {
        point.label = parted + " end";
        point.reachable = false;
        return point;
    }
    for (const Element& element : map.elements) {
        const bool marks = element.kind == ElementKind::Fuse || element.kind == ElementKind::Relay ||
                           element.kind == ElementKind::Joint || element.kind == ElementKind::Switch;
        if (!marks || element.place == "inside the module" ||
            std::find(element.nodes.begin(), element.nodes.end(), node) == element.nodes.end())
            continue;
        point.label = element.id;
        point.reach_s = element.reach_s.value_or(120);
        return point;
    }
    for (const Element& element : map.elements) {
        const bool part = specOf(element.kind).isLoad && element.kind != ElementKind::SupplyPort &&
                          element.place != "inside the module";
        if (!part || std::find(element.nodes.begin(), element.nodes.end(), node) == element.nodes.end()) continue;
        point.label = element.id;
        point.reach_s = element.reach_s.value_or(180);
        return point;
    }
    point.reachable = false;
    return point;
}

Walk walkOf(const Map& map, const Evidence& evidence, int terminal, const Reading* current)
{
    Walk walk;
    const auto loop = loopOf(map, terminal);
    if (!loop) return walk;
    appendPath(map, loop->feed, false, walk.points);
    appendPath(map, loop->back, true, walk.points);
    const std::string& id = map.terminal(terminal).id;
    const Reading* sample = current && !current->load.empty() ? current : nullptr;
    for (auto it = evidence.readings.rbegin(); it != evidence.readings.rend() && !sample; ++it) {
        if (it->terminal == id && !it->load.empty() && !isStale(map, evidence, *it)) sample = &*it;
    }
    const std::string load = sample ? sample->load : "";
    // All of one state: that of the loaded reading, else that of the last reading here or anywhere.
    std::string state = sample ? sample->state : "";
    for (auto it = evidence.readings.rbegin(); it != evidence.readings.rend() && state.empty(); ++it) {
        if (it->terminal == id) state = it->state;
    }
    if (state.empty() && !evidence.readings.empty()) state = evidence.readings.back().state;
    std::vector<Reading> readings;
    for (const Reading& r : evidence.readings) {
        if (r.state == state) readings.push_back(r);
    }
    if (current && current->state == state) readings.push_back(*current);
    for (const Reading& r : readings)
        place(map, evidence, r, load, id, walk.points);
    for (const Reading& r : readings) {
        if (r.terminal == id && (r.load.empty() || r.load == load)) placeAgainstReturn(map, evidence, r, walk);
    }
    for (const Reading& r : readings) {
        if (r.terminal == id) placeSwap(map, evidence, r, walk);
    }
    if (!walk.points.empty() && walk.points.back().node == map.batteryMinus()) walk.points.back().loaded_V = 0.0;
    locate(map, evidence, sample, walk);
    return walk;
}

Walk circuitOf(const Map& map, const Evidence& evidence, int terminal)
{
    Walk walk;
    const Terminal& t = map.terminal(terminal);
    const auto path = shownCircuit(map, terminal);
    if (!path) return walk;
    appendPath(map, *path, false, walk.points);
    for (const Reading& r : evidence.readings) {
        if (r.terminal != t.id || r.red != map.node(t.a) || !isVoltageTest(r.test) || r.value.overLimit ||
            isStale(map, evidence, r))
            continue;
        for (WalkPoint& point : walk.points) {
            if (point.node == t.a) (r.unplugged.empty() ? point.loaded_V : point.open_V) = r.value.value;
        }
    }
    return walk;
}

int nextWalkPoint(const Map& map, const Walk& walk)
{
    const int count = static_cast<int>(walk.points.size());
    int from = -1, to = -1;
    if (walk.located) {
        from = walk.located->from;
        to = walk.located->to;
    } else {
        for (int i = 0; i < count; ++i) {
            if (!walk.points[static_cast<std::size_t>(i)].loaded_V) continue;
            if (from < 0) from = i;
            to = i;
        }
    }
    if (from < 0 || to <= from + 1) return -1;
    const auto weightBetween = [&](int a, int b) {
        double sum = 0;
        for (int i = a; i < b; ++i) {
            const auto& x = walk.points[static_cast<std::size_t>(i)];
            const auto& y = walk.points[static_cast<std::size_t>(i + 1)];
            const auto step = conductorPath(map, x.node, y.node);
            if (step && step->size() == 1) sum += faultWeight(map, step->front().element);
        }
        return std::max(sum, 1e-9);
    };
    const double total = weightBetween(from, to);
    int best = -1;
    double bestGain = 0;
    for (int i = from + 1; i < to; ++i) {
        const WalkPoint& point = walk.points[static_cast<std::size_t>(i)];
        if (!point.reachable || point.loaded_V) continue;
        // Bits won per second: H(p) / t, p the share of the suspicion before the point
        const double p = std::clamp(weightBetween(from, i) / total, 1e-6, 1.0 - 1e-6);
        const double bits = -p * std::log2(p) - (1 - p) * std::log2(1 - p);
        const double gain = bits / (20.0 + point.reach_s);
        if (gain > bestGain) bestGain = gain, best = i;
    }
    return best;
}

}  // namespace ilvek
