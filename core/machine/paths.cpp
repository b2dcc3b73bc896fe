#include "machine/paths.h"

#include <algorithm>
#include <limits>
#include <queue>
#include <set>

namespace ilvek {

namespace {

struct Edge {
    int element;
    int to;
    double cost;
};

using Graph = std::vector<std::vector<Edge>>;

// A load is passed only when no chain of conductors shorter than this leads on.
constexpr double loadCost = 1000.0;

enum class Through { Conductors, Loads, LoadsOutside, PullUpsOutside };

// The terminals of the module, by element: beyond them lies its inside.
std::vector<bool> moduleContacts(const Map& map)
{
    std::vector<bool> of(map.elements.size(), false);
    for (const int terminal : map.moduleTerminals()) {
        if (const int contact = map.terminal(terminal).contact; contact >= 0)
            of[static_cast<std::size_t>(contact)] = true;
    }
    return of;
}

Graph graphOf(const Map& map, Through through)
{
    Graph graph(map.nodes.size());
    const bool withLoads = through != Through::Conductors;
    const bool outside = through == Through::LoadsOutside || through == Through::PullUpsOutside;
    const std::vector<bool> ofModule = outside ? moduleContacts(map) : std::vector<bool>(map.elements.size(), false);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& element = map.elements[i];
        const ElementKindSpec& spec = specOf(element.kind);
        const bool pullUp = through == Through::PullUpsOutside && element.kind == ElementKind::PullUp;
        if (ofModule[i] || (!spec.conducts && !(withLoads && spec.isLoad) && !pullUp)) continue;
        const auto join = [&](int a, int b, double cost) {
            graph[static_cast<std::size_t>(a)].push_back({static_cast<int>(i), b, cost});
            graph[static_cast<std::size_t>(b)].push_back({static_cast<int>(i), a, cost});
        };
        join(element.nodes[0], element.nodes[1], spec.conducts ? 1.0 : loadCost);
        if (!withLoads) continue;
        // Three-wire sensors pass current between any two of their wires, a relay's coil is a load of its own.
        if (element.kind == ElementKind::Sensor || element.kind == ElementKind::Hall) {
            join(element.nodes[0], element.nodes[2], loadCost);
            join(element.nodes[1], element.nodes[2], loadCost);
        }
        if (element.kind == ElementKind::Relay) join(element.nodes[2], element.nodes[3], loadCost);
    }
    return graph;
}

// Dijkstra's shortest path. SOURCE: E. W. Dijkstra, Numerische Mathematik 1 (1959).
std::optional<Path> shortest(const Graph& graph, int start, int end)
{
    if (start < 0 || end < 0) return std::nullopt;
    const std::size_t count = graph.size();
    std::vector<double> distance(count, std::numeric_limits<double>::infinity());
    std::vector<PathStep> arrivedBy(count);
    using Entry = std::pair<double, int>;
    std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue;
    distance[static_cast<std::size_t>(start)] = 0;
    queue.emplace(0.0, start);
    while (!queue.empty()) {
        const auto [d, at] = queue.top();
        queue.pop();
        if (at == end) break;
        if (d > distance[static_cast<std::size_t>(at)]) continue;
        for (const Edge& edge : graph[static_cast<std::size_t>(at)]) {
            const auto to = static_cast<std::size_t>(edge.to);
            if (d + edge.cost >= distance[to]) continue;
            distance[to] = d + edge.cost;
            arrivedBy[to] = {edge.element, at, edge.to};
            queue.emplace(distance[to], edge.to);
        }
    }
    if (distance[static_cast<std::size_t>(end)] == std::numeric_limits<double>::infinity()) return std::nullopt;
    Path path;
    for (int at = end; at != start; at = path.back().from)
        path.push_back(arrivedBy[static_cast<std::size_t>(at)]);
    std::reverse(path.begin(), path.end());
    return path;
}

}  // namespace

std::optional<Path> conductorPath(const Map& map, int start, int end)
{
    return shortest(graphOf(map, Through::Conductors), start, end);
}

int terminalOnWire(const Map& map, int node)
{
    if (node < 0) return -1;
    const Graph graph = graphOf(map, Through::Conductors);
    std::vector<bool> reached(graph.size(), false);
    std::vector<int> open{node};
    reached[static_cast<std::size_t>(node)] = true;
    while (!open.empty()) {
        const int at = open.back();
        open.pop_back();
        for (const Edge& edge : graph[static_cast<std::size_t>(at)]) {
            const ElementKind kind = map.element(edge.element).kind;
            const bool switches = kind == ElementKind::Switch || kind == ElementKind::Relay;
            if (switches || reached[static_cast<std::size_t>(edge.to)]) continue;
            reached[static_cast<std::size_t>(edge.to)] = true;
            open.push_back(edge.to);
        }
    }
    int found = -1;
    for (const int terminal : map.moduleTerminals()) {
        const int own = map.terminal(terminal).a;
        if (own < 0 || !reached[static_cast<std::size_t>(own)]) continue;
        if (found >= 0) return -1;
        found = terminal;
    }
    return found;
}

std::optional<Path> circuitPath(const Map& map, int start, int end)
{
    return shortest(graphOf(map, Through::Loads), start, end);
}

WireEnd onlyWireAt(const Map& map, int node)
{
    WireEnd found;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind != ElementKind::Wire) continue;
        for (std::size_t end = 0; end < 2; ++end) {
            if (e.nodes[end] != node) continue;
            if (found.element >= 0) return {};
            found = {static_cast<int>(i), end};
        }
    }
    return found;
}

namespace {

// Nodes that wires, joints and mated contacts join to this one, outside the module, nearest first.
std::vector<int> wiredTo(const Map& map, int start)
{
    std::vector<int> found{start};
    const std::vector<bool> ofModule = moduleContacts(map);
    for (std::size_t at = 0; at < found.size(); ++at) {
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            const Element& e = map.elements[i];
            const bool wired =
                e.kind == ElementKind::Wire || e.kind == ElementKind::Joint || e.kind == ElementKind::Contact;
            if (!wired || ofModule[i]) continue;
            for (std::size_t end = 0; end < 2; ++end) {
                const int next = e.nodes[1 - end];
                if (e.nodes[end] == found[at] && std::find(found.begin(), found.end(), next) == found.end())
                    found.push_back(next);
            }
        }
    }
    return found;
}

// Across a load that has an end here.
int acrossLoad(const Element& e, int node)
{
    const auto across = [&](std::size_t a, std::size_t b) {
        return e.nodes[a] == node ? e.nodes[b] : e.nodes[b] == node ? e.nodes[a] : -1;
    };
    if (e.kind == ElementKind::Relay) return across(2, 3);
    if (!specOf(e.kind).isLoad || e.kind == ElementKind::SupplyPort) return -1;
    if (e.kind == ElementKind::Sensor || e.kind == ElementKind::Hall) return e.nodes[2] == node ? -1 : e.nodes[2];
    return across(0, 1);
}

int otherLineOf(const Map& map, int terminal)
{
    for (const Element& e : map.elements) {
        if (e.kind != ElementKind::BusPort) continue;
        for (std::size_t line = 0; line < 2; ++line) {
            if (e.nodes[line] != map.terminal(terminal).b) continue;
            for (const int other : map.moduleTerminals()) {
                if (map.terminal(other).b == e.nodes[1 - line]) return map.terminal(other).a;
            }
        }
    }
    return -1;
}

}  // namespace

int farEndOf(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    if (t.a < 0) return -1;
    if (t.role == Role::DifferentialBus) return otherLineOf(map, terminal);
    for (const int node : wiredTo(map, t.a)) {
        for (const Element& e : map.elements) {
            const int far = std::find(e.nodes.begin(), e.nodes.end(), node) == e.nodes.end() ? -1 : acrossLoad(e, node);
            if (far < 0) continue;
            for (const int back : wiredTo(map, far)) {
                for (const int other : map.moduleTerminals()) {
                    if (other != terminal && map.terminal(other).a == back) return back;
                }
            }
            return far;
        }
    }
    return -1;
}

namespace {

bool passesLoad(const Map& map, const PathStep& step)
{
    const Element& e = map.element(step.element);
    const bool coil = e.kind == ElementKind::Relay && (step.from == e.nodes[2] || step.from == e.nodes[3]);
    return coil || !specOf(e.kind).conducts;
}

}  // namespace

std::optional<Path> shownCircuit(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    if (t.a < 0 || !t.role) return std::nullopt;
    if (t.ownReturn >= 0) {
        if (auto path = circuitPath(map, t.a, map.terminal(t.ownReturn).a)) return path;
    }
    const auto loads = [&](const std::optional<Path>& path) {
        const auto isPassed = [&](const PathStep& step) { return passesLoad(map, step); };
        return path ? std::count_if(path->begin(), path->end(), isPassed) : std::numeric_limits<std::ptrdiff_t>::max();
    };
    auto from = circuitPath(map, map.batteryPlus(), t.a), to = circuitPath(map, t.a, map.batteryMinus());
    if (from || to) return loads(from) < loads(to) ? from : to;
    if (const int far = farEndOf(map, terminal); far >= 0) {
        const bool back = *t.role == Role::DriveReturn;
        const Graph graph = graphOf(map, Through::LoadsOutside);
        if (auto path = shortest(graph, back ? far : t.a, back ? t.a : far)) return path;
    }
    return shortest(graphOf(map, Through::PullUpsOutside), map.batteryPlus(), t.a);
}

std::optional<Path> supplyPath(const Map& map, int terminal)
{
    return conductorPath(map, map.batteryPlus(), map.terminal(terminal).a);
}

std::optional<Path> returnPath(const Map& map, int terminal)
{
    return conductorPath(map, map.terminal(terminal).a, map.batteryMinus());
}

std::optional<Loop> loopOf(const Map& map, int terminal)
{
    const Terminal& self = map.terminal(terminal);
    if (self.a < 0 || !self.role) return std::nullopt;
    Loop loop;
    loop.terminal = terminal;
    if (groupOf(*self.role) == Group::Returns) {
        const auto back = returnPath(map, terminal);
        if (!back) return std::nullopt;
        loop.back = *back;
        loop.ownReturn = terminal;
        return loop;
    }
    const auto feed = supplyPath(map, terminal);
    if (!feed) return std::nullopt;
    loop.feed = *feed;
    if (self.ownReturn >= 0) {
        loop.ownReturn = self.ownReturn;
        loop.back = returnPath(map, self.ownReturn).value_or(Path{});
    }
    return loop;
}

std::vector<int> fusesOf(const Map& map, int terminal)
{
    std::vector<int> fuses;
    for (const PathStep& step : supplyPath(map, terminal).value_or(Path{})) {
        if (map.element(step.element).kind == ElementKind::Fuse) fuses.push_back(step.element);
    }
    return fuses;
}

int groundPointOf(const Map& map, int terminal)
{
    int point = -1;
    for (const PathStep& step : returnPath(map, terminal).value_or(Path{})) {
        if (map.element(step.element).kind == ElementKind::Joint) point = step.element;
    }
    return point;
}

std::vector<int> siblingsOf(const Map& map, int terminal)
{
    std::vector<int> siblings;
    const auto& role = map.terminal(terminal).role;
    if (!role) return siblings;
    const Group group = groupOf(*role);
    if (group != Group::Supplies && group != Group::Returns) return siblings;
    const auto shared = [&](int which) {
        if (group == Group::Returns) return groundPointOf(map, which);
        const auto fuses = fusesOf(map, which);
        return fuses.empty() ? -1 : fuses.back();
    };
    const int mine = shared(terminal);
    if (mine < 0) return siblings;
    for (const int other : map.moduleTerminals()) {
        const auto& otherRole = map.terminal(other).role;
        if (other == terminal || !otherRole || groupOf(*otherRole) != group) continue;
        if (map.terminal(other).asFound != AsFound::Empty && shared(other) == mine) siblings.push_back(other);
    }
    return siblings;
}

bool passesThrough(const Map& map, int terminal, int element)
{
    const Terminal& self = map.terminal(terminal);
    if (self.a < 0) return false;
    if (self.contact == element) return true;
    const auto uses = [element](const std::optional<Path>& path) {
        return path && std::any_of(path->begin(), path->end(), [&](const PathStep& s) { return s.element == element; });
    };
    if (!self.role) return false;
    switch (groupOf(*self.role)) {
        case Group::Returns:
            return uses(returnPath(map, terminal));
        case Group::Supplies:
            return uses(supplyPath(map, terminal));
        default:
            return uses(circuitPath(map, map.batteryPlus(), self.a)) ||
                   uses(circuitPath(map, self.a, map.batteryMinus()));
    }
}

std::set<int> joinedTo(const Map& map, int node, int without)
{
    std::set<int> seen{node};
    std::vector<int> open{node};
    while (!open.empty()) {
        const int at = open.back();
        open.pop_back();
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            const Element& e = map.elements[i];
            if (static_cast<int>(i) == without || !specOf(e.kind).conducts) continue;
            // By what conducts of it: a relay's coil leads to no contact.
            if (e.nodes[0] != at && e.nodes[1] != at) continue;
            for (std::size_t n = 0; n < 2; ++n) {
                const int next = e.nodes[n];
                if (next == map.batteryPlus() || next == map.batteryMinus()) continue;
                if (seen.insert(next).second) open.push_back(next);
            }
        }
    }
    return seen;
}

}  // namespace ilvek
