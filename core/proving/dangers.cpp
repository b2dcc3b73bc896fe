#include "proving/dangers.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "quantity/quantity.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// What can be reached from a node through wires, joints and mated contacts in the set-up; fuses end it.
std::set<int> conductorFrom(const Map& map, const Condition& set, int node)
{
    const auto passes = [&](std::size_t i) {
        const Element& e = map.elements[i];
        if (set.removed.contains(static_cast<int>(i)) || e.place == "inside the module") return false;
        if (e.kind == ElementKind::Wire || e.kind == ElementKind::Joint) return true;
        if (e.kind != ElementKind::Contact) return false;
        const int terminal = map.terminalIndex(e.id);
        return !set.unplugged.contains(map.terminal(terminal).connector) && !set.unpinned.contains(terminal);
    };
    std::set<int> reached{node};
    for (bool grew = true; grew;) {
        grew = false;
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            if (!passes(i)) continue;
            const auto& n = map.elements[i].nodes;
            if (reached.contains(n[0]) == reached.contains(n[1])) continue;
            reached.insert(n[0]), reached.insert(n[1]);
            grew = true;
        }
    }
    return reached;
}

// Whether the battery's power stands there, through conductors and not through a coil or a lamp.
bool isLive(const Map& map, const Condition& set, int node)
{
    if (node == map.batteryMinus() || !conductorPath(map, map.batteryPlus(), node)) return false;
    Condition bare = set;
    bare.jumpers.clear(), bare.load.reset();
    const auto point = operatingPoint(map, bare);
    return point && !point->isFloating(node) && point->potential(node) > 0.5 * map.systemVoltage_V;
}

// The fuse that a bridge lies across, or that protects the conductor it feeds.
std::optional<std::pair<std::string, double>> fuseFor(const Map& map, const Jumper& jumper,
                                                      const std::set<int>& conductor)
{
    std::optional<std::pair<std::string, double>> smallest;
    const auto take = [&](const Element& e) {
        const double rating = e.value("rating");
        if (!smallest || rating < smallest->second) smallest = std::pair(e.id, rating);
    };
    for (const Element& e : map.elements) {
        if (e.kind != ElementKind::Fuse) continue;
        const bool across = (e.nodes[0] == jumper.from && e.nodes[1] == jumper.to) ||
                            (e.nodes[1] == jumper.from && e.nodes[0] == jumper.to);
        if (across || conductor.contains(e.nodes[1])) take(e);
    }
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (!terminal.role || !isSupply(*terminal.role) || !conductor.contains(terminal.a)) continue;
        for (const int fuse : fusesOf(map, t))
            take(map.element(fuse));
    }
    return smallest;
}

// Battery power comes in at `to`: what would get it that must not?
void addFed(const Map& map, const Condition& set, const std::set<int>& conductor, std::vector<std::string>& out)
{
    bool isFeed = false;
    std::vector<std::string> plugged, others;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (!conductor.contains(terminal.a) || !terminal.role) continue;
        isFeed = isFeed || isSupply(*terminal.role);
        if (!isSupply(*terminal.role) && conductor.contains(terminal.b)) plugged.push_back(terminal.id);
    }
    if (!plugged.empty()) out.push_back(inWords("dangers.battery-power-into-plugged", fmt::join(plugged, ", ")));
    if (isFeed) return;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        const bool hangs = specOf(e.kind).isLoad || e.kind == ElementKind::Sensor || e.kind == ElementKind::Hall ||
                           e.kind == ElementKind::Thermistor || e.kind == ElementKind::BusPort;
        if (!hangs || set.removed.contains(static_cast<int>(i)) || e.place == "inside the module" ||
            e.kind == ElementKind::SupplyPort)
            continue;
        if (std::any_of(e.nodes.begin(), e.nodes.end(), [&](int n) { return conductor.contains(n); }))
            others.push_back(e.name.empty() ? e.id : e.name);
    }
    if (!others.empty()) out.push_back(inWords("dangers.hangs-conductor-too-gets", fmt::join(others, ", ")));
}

}  // namespace

std::vector<std::string> dangersOf(const Map& map, const SetUp& setUp)
{
    std::vector<std::string> out;
    const auto set = conditionOf(map, setUp);
    if (!set) return out;
    for (const Jumper& jumper : set->jumpers) {
        const std::string lead =
            inWords("dangers.the-bridge-from-to", map.nodeWords(jumper.from), map.nodeWords(jumper.to));
        if (jumper.rating_A <= 0) out.push_back(lead + inWords("dangers.fuse-short-burns-lead"));
        const bool fromLive = isLive(map, *set, jumper.from), toLive = isLive(map, *set, jumper.to);
        const int fed = fromLive ? jumper.to : toLive ? jumper.from : -1;
        const auto conductor = conductorFrom(map, *set, fed < 0 ? jumper.to : fed);
        if (const auto fuse = fuseFor(map, jumper, conductor); fuse && jumper.rating_A > fuse->second)
            out.push_back(inWords("dangers.rated-more-never-larger", lead, formatQuantity(amperes(jumper.rating_A)),
                                  formatQuantity(amperes(fuse->second)), fuse->first));
        if (fromLive != toLive) addFed(map, *set, conductor, out);
    }
    return out;
}

}  // namespace ilvek
