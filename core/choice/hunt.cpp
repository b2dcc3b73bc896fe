#include "choice/hunt.h"

#include <algorithm>
#include <set>

#include "circuit/blown_fuses.h"
#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "proving/setup.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr const char* lampId = "lamp-21w";
constexpr double placeLamp_s = 60, wire_s = 180;

bool isForbidden(const Map& map, int node)
{
    return std::any_of(map.terminals.begin(), map.terminals.end(),
                       [&](const Terminal& t) { return !t.hazard.empty() && (t.a == node || t.b == node); });
}

std::optional<SubstituteLoad> lampOf(const Map& map)
{
    return findLoad(map.systemVoltage_V, lampId);
}

}  // namespace

std::vector<Candidate> shortHunt(const Map& map, int fuse, int state)
{
    const Element& e = map.element(fuse);
    const std::optional<SubstituteLoad> lamp = lampOf(map);
    const std::set<int> branch = joinedTo(map, e.nodes[1], fuse);
    if (!lamp || !e.reach_s || std::any_of(branch.begin(), branch.end(), [&](int n) { return isForbidden(map, n); }))
        return {};
    struct Apart {
        std::vector<int> connectors, parts;
    };
    std::vector<Apart> apart{{}};
    for (std::size_t c = 0; c < map.connectors.size(); ++c) {
        const auto& terminals = map.connectors[c].terminals;
        const bool onBranch = std::any_of(terminals.begin(), terminals.end(), [&](int t) {
            return t >= 0 && (branch.contains(map.terminal(t).a) || branch.contains(map.terminal(t).b));
        });
        if (onBranch) apart.push_back({{static_cast<int>(c)}, {}});
    }
    for (std::size_t i = 0; map.isOfSheet() && i < map.elements.size(); ++i) {
        const Element& part = map.elements[i];
        const bool onBranch =
            specOf(part.kind).isLoad && part.reach_s &&
            std::any_of(part.nodes.begin(), part.nodes.end(), [&](int n) { return branch.contains(n); });
        if (onBranch) apart.push_back({{}, {static_cast<int>(i)}});
    }
    std::vector<Candidate> out;
    for (const auto& [connectors, parts] : apart) {
        Candidate c;
        c.kind = Candidate::Kind::LampForFuse;
        c.part = fuse;
        c.red = e.nodes[1];
        c.black = map.batteryMinus();
        c.setup.state = state;
        c.setup.unplugged = {connectors.begin(), connectors.end()};
        c.setup.removed = {fuse};
        c.setup.removed.insert(parts.begin(), parts.end());
        takeAlong(map, c.setup.removed);
        c.setup.load = AppliedLoad{*lamp, e.nodes[0], e.nodes[1]};
        c.effort_s = *e.reach_s + placeLamp_s;
        for (const int connector : connectors)
            c.effort_s += map.connectors[static_cast<std::size_t>(connector)].unplug_s;
        for (const int part : parts)
            c.effort_s += *map.element(part).reach_s;
        out.push_back(std::move(c));
    }
    return out;
}

std::optional<Candidate> isolatedWire(const Map& map, int wire)
{
    const Element& w = map.element(wire);
    const std::optional<SubstituteLoad> lamp = lampOf(map);
    if (!lamp || w.kind != ElementKind::Wire) return std::nullopt;
    Candidate c;
    c.kind = Candidate::Kind::IsolatedWire;
    c.part = wire;
    c.effort_s = wire_s;
    for (const int node : {w.nodes[0], w.nodes[1]}) {
        if (isForbidden(map, node) || node == map.batteryPlus() || node == map.batteryMinus()) return std::nullopt;
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            const Element& e = map.elements[i];
            const bool touches = std::find(e.nodes.begin(), e.nodes.end(), node) != e.nodes.end();
            if (!touches || static_cast<int>(i) == wire) continue;
            const auto plug = std::find_if(map.terminals.begin(), map.terminals.end(),
                                           [&](const Terminal& t) { return t.contact == static_cast<int>(i); });
            if (plug != map.terminals.end())
                c.setup.unplugged.insert(plug->connector);
            else if (specOf(e.kind).isLoad && e.reach_s)
                c.setup.removed.insert(static_cast<int>(i));
            else
                return std::nullopt;  // a splice, a stud, a fuse box: it goes on from here
        }
    }
    for (const int connector : c.setup.unplugged)
        c.effort_s += map.connectors[static_cast<std::size_t>(connector)].unplug_s;
    c.red = w.nodes[1];
    c.black = map.batteryMinus();
    c.setup.jumpers = {{map.batteryPlus(), w.nodes[0], trade::fusedLead_A}};
    c.setup.load = AppliedLoad{*lamp, w.nodes[1], map.batteryMinus()};
    return c;
}

std::vector<Candidate> huntFor(const Map& map, const std::vector<Fault>& faults)
{
    std::vector<Candidate> out;
    std::set<int> fuses;
    for (std::size_t s = 0; s < map.states.size(); ++s) {
        Condition condition;
        condition.state = static_cast<int>(s);
        condition.faults.assign(faults.begin(), faults.begin() + static_cast<std::ptrdiff_t>(ownFaults(faults)));
        const auto point = operatingPoint(map, condition);
        if (!point) continue;
        for (const int fuse : point->blownFuses()) {
            if (!fuses.insert(fuse).second) continue;
            const auto hunt = shortHunt(map, fuse, static_cast<int>(s));
            out.insert(out.end(), hunt.begin(), hunt.end());
        }
    }
    for (const Fault& f : faults) {
        if (f.kind != Fault::Kind::AddedResistance || f.element < 0) continue;
        if (auto wire = isolatedWire(map, f.element)) out.push_back(std::move(*wire));
    }
    return out;
}

}  // namespace ilvek
