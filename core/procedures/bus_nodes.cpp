#include "procedures/bus_nodes.h"

#include <algorithm>
#include <set>

#include "machine/paths.h"

namespace ilvek {

namespace {

constexpr double othersLast_s = 1e5;  // what is only known as all the others comes last
constexpr double lives_V = 1.1;       // of a level, with a connector apart

}  // namespace

std::set<int> BusNodes::onLines() const
{
    std::set<int> out;
    for (const int t : lines_) {
        const auto line = joinedTo(map_, node(t), map_.terminal(t).contact);
        out.insert(line.begin(), line.end());
    }
    return out;
}

// On a sheet the end of a bus and its unit are two parts in one housing, and are unplugged together.
BusNode BusNodes::unitOf(const Element& e) const
{
    std::string id = e.id, name = e.name.empty() ? e.id : e.name;
    for (const std::string_view ending : {" termination", " node"}) {
        if (!map_.isOfSheet() || !id.ends_with(ending)) continue;
        name = id.substr(0, id.size() - ending.size());
        if (map_.elementIndex(name) >= 0) id = name;
    }
    return {"", id, name, *e.reach_s + (id.starts_with("load ") ? othersLast_s : 0)};
}

std::vector<BusNode> BusNodes::cheapestFirst(const Flow& flow, const Step& step, Unit unit) const
{
    const auto lines = onLines();
    std::vector<BusNode> out;
    for (const Element& e : map_.elements) {
        const bool isUnit = e.kind == ElementKind::BusPort || e.kind == ElementKind::Resistor;
        const bool there = std::any_of(e.nodes.begin(), e.nodes.end(), [&](int n) { return lines.contains(n); });
        if (isUnit && there && e.reach_s && e.place != "inside the module") out.push_back(unitOf(e));
    }
    for (const Connector& c : map_.connectors) {
        if (c.ofModule) continue;
        const bool parts = std::any_of(c.terminals.begin(), c.terminals.end(), [&](int t) {
            return t >= 0 && map_.terminal(t).contact >= 0 &&
                   (lines.contains(map_.terminal(t).a) || lines.contains(map_.terminal(t).b));
        });
        Step apart = awake_;
        apart.unplugged = {c.id};
        const auto sound = healthyVolts(map_, apart);
        if (parts && sound && *sound > lives_V) out.push_back({c.id, "", c.id, c.reach_s + c.unplug_s});
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const BusNode& a, const BusNode& b) { return a.effort_s < b.effort_s; });
    std::stable_partition(out.begin(), out.end(), [&](const BusNode& n) { return bool(without(flow, n, step, unit)); });
    return out;
}

void BusNodes::takeOff(const BusNode& n, Step& step)
{
    if (n.connector.empty())
        step.removed.push_back(n.part);
    else
        step.unplugged.push_back(n.connector);
}

std::set<int> BusNodes::off(const SetUp& s) const
{
    std::set<int> out;
    for (const std::string& id : s.removed)
        out.insert(map_.elementIndex(id));
    takeAlong(map_, out);
    for (const std::string& id : s.unplugged)
        out.insert(-2 - map_.connectorIndex(id));
    return out;
}

Seen BusNodes::without(const Flow& flow, const BusNode& n, const Step& step, Unit unit) const
{
    Step with = step;
    takeOff(n, with);
    const auto allowed = off(with);
    const int own = n.connector.empty() ? map_.elementIndex(n.part) : -2 - map_.connectorIndex(n.connector);
    return flow.latest([&](const Reading& r) {
        const auto out = off(r);
        const bool placed =
            (r.red == step.red && r.black == step.black) || (r.red == step.black && r.black == step.red);
        return placed && unitAsked(r.test) == unit && r.unpinned.empty() && r.load.empty() && out.contains(own) &&
               std::includes(allowed.begin(), allowed.end(), out.begin(), out.end());
    });
}

std::vector<std::string> BusNodes::placesOf(const BusNode& n) const
{
    std::vector<std::string> out;
    if (!n.part.empty()) {
        std::set<int> parts{map_.elementIndex(n.part)};
        takeAlong(map_, parts);
        for (const int p : parts)
            out.push_back(map_.element(p).id);
        return out;
    }
    // All that it parts from the module.
    const int c = map_.connectorIndex(n.connector);
    for (const int t : map_.connectors[static_cast<std::size_t>(c)].terminals) {
        if (t < 0) continue;
        out.push_back(map_.terminal(t).id);
        for (const int side : {map_.terminal(t).a, map_.terminal(t).b}) {
            const auto beyond = joinedTo(map_, side, map_.terminal(t).contact);
            if (std::any_of(lines_.begin(), lines_.end(), [&](int line) { return beyond.contains(node(line)); }))
                continue;
            for (const Element& e : map_.elements) {
                if (std::any_of(e.nodes.begin(), e.nodes.end(), [&](int x) { return beyond.contains(x); }))
                    out.push_back(e.id);
            }
        }
    }
    return out;
}

std::vector<std::string> BusNodes::wayPlaces() const
{
    std::vector<std::string> out;
    for (const int t : lines_)
        out.push_back(map_.terminal(t).id);
    for (const int t : lines_) {
        const auto nodes = joinedTo(map_, node(t));
        for (const Element& e : map_.elements) {
            if (specOf(e.kind).conducts && nodes.contains(e.nodes[0])) out.push_back(e.id);
        }
    }
    return out;
}

}  // namespace ilvek
