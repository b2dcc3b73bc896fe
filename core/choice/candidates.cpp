#include "choice/candidates.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "base/expects.h"
#include "circuit/operating_point.h"
#include "proving/part_ohms.h"
#include "proving/plan.h"
#include "proving/walk.h"
#include "wording/words.h"

namespace ilvek {

namespace {

constexpr double pull_s = 20;  // to take a fuse or relay out and put it back

class Listing {
public:
    Listing(const Map& map, const WayOfWorking& working) : map_(map), working_(working)
    {
        for (const int terminal : map.moduleTerminals()) {
            const Terminal& t = map.terminal(terminal);
            if (t.a >= 0 && t.role && t.hazard.empty() && t.asFound != AsFound::Empty) terminals_.push_back(terminal);
        }
        for (const Terminal& t : map.terminals) {
            if (t.hazard.empty()) continue;
            forbidden_.insert(t.a);
            forbidden_.insert(t.b);
        }
    }

    std::vector<Candidate> all()
    {
        for (std::size_t s = 0; s < map_.states.size(); ++s)
            mated(static_cast<int>(s));
        const int keyOn = onState();
        for (const int terminal : terminals_) {
            const Group group = groupOf(*map_.terminal(terminal).role);
            if (group == Group::Supplies) supply(terminal);
            if (group == Group::Returns) loadedReturn(terminal, keyOn);
        }
        for (std::size_t c = 0; c < map_.connectors.size(); ++c)
            apart(static_cast<int>(c), keyOn);
        resistances();
        branches();
        busNodes(keyOn);
        looks();
        return std::move(out_);
    }

private:
    // The quietest state in which the module is fed: the first in which a switched feed is needed.
    int onState() const
    {
        for (const int terminal : terminals_) {
            const Terminal& t = map_.terminal(terminal);
            if (t.role == Role::SwitchedFeed && !t.neededIn.empty()) return t.neededIn.front();
        }
        return map_.states.size() > 1 ? 1 : 0;
    }

    double reach(int terminal) const
    {
        return map_.connectors[static_cast<std::size_t>(map_.terminal(terminal).connector)].reach_s;
    }

    int ownBlack(int terminal) const
    {
        const int own = map_.terminal(terminal).ownReturn;
        return own >= 0 ? map_.terminal(own).a : map_.batteryMinus();
    }

    void add(Candidate::Kind kind, int terminal, int red, int black, const Condition& setup, double effort_s)
    {
        if (red < 0 || black < 0 || red == black || forbidden_.contains(red) || forbidden_.contains(black)) return;
        out_.push_back({kind, terminal, -1, red, black, setup, effort_s});
        takeAlong(map_, out_.back().setup.removed);
    }

    void mated(int state)
    {
        Condition setup;
        setup.state = state;
        std::set<int> done;
        for (const int terminal : terminals_) {
            const Terminal& t = map_.terminal(terminal);
            const bool absent = std::find(t.absentIn.begin(), t.absentIn.end(), state) != t.absentIn.end();
            const bool supply = isSupply(*t.role);
            const int black = supply || *t.role == Role::ReferenceReturn ? map_.batteryMinus() : ownBlack(terminal);
            add(absent ? Candidate::Kind::Absent : Candidate::Kind::Mated, terminal, t.a, black, setup,
                reach(terminal));
            // Against its own return too: the difference names the side.
            if (supply) add(Candidate::Kind::Mated, -1, t.a, ownBlack(terminal), setup, reach(terminal) + 10);
            done.insert(t.a);
        }
        for (std::size_t n = 0; n < map_.nodes.size(); ++n) {
            const int node = static_cast<int>(n);
            if (done.contains(node) || node == map_.batteryMinus() || node == map_.batteryPlus()) continue;
            const WalkPoint point = pointAt(map_, node, false);
            if (point.reachable) add(Candidate::Kind::Mated, -1, node, map_.batteryMinus(), setup, point.reach_s);
        }
    }

    void supply(int terminal)
    {
        const Terminal& t = map_.terminal(terminal);
        if (t.neededIn.empty()) return;
        // In one state it is fed in; the load is the same in others.
        const int state = t.neededIn.front();
        const Step step = loadSetUp(map_, apartSchool(), terminal, state);
        if (step.load.empty()) return;
        const auto setup = conditionOf(map_, step);
        if (!setup || !setup->unplugged.contains(t.connector)) return;  // never a load with the module still on it
        const double effort_s = step.effort_s + unplugEffort(*setup);
        const int black = map_.nodeIndex(step.black);
        add(Candidate::Kind::Loaded, terminal, t.a, black, *setup, effort_s);
        add(Candidate::Kind::Swap, terminal, t.a, map_.batteryMinus(), *setup, effort_s + 10);
        const Walk walk = walkOf(map_, {}, terminal);
        for (const WalkPoint& point : walk.points) {
            if (point.reachable && point.node != t.a && point.node != map_.batteryMinus())
                add(Candidate::Kind::Walk, terminal, point.node, map_.batteryMinus(), *setup, effort_s + point.reach_s);
        }
        // Open-circuit with the connector apart.
        Condition open = *setup;
        open.load.reset();
        add(Candidate::Kind::Freed, terminal, t.a, map_.batteryMinus(), open, reach(terminal) + unplugEffort(open));
    }

    void loadedReturn(int terminal, int state)
    {
        const Step step = returnSetUp(map_, apartSchool(), terminal, state);
        if (step.load.empty()) return;
        const auto setup = conditionOf(map_, step);
        if (!setup) return;
        const double effort_s = step.effort_s + unplugEffort(*setup);
        add(Candidate::Kind::Return, terminal, map_.nodeIndex(step.red), map_.nodeIndex(step.black), *setup, effort_s);
        const Walk walk = walkOf(map_, {}, terminal);
        for (const WalkPoint& point : walk.points) {
            if (point.reachable && point.onReturn && point.node != map_.terminal(terminal).a &&
                point.node != map_.batteryMinus())
                add(Candidate::Kind::Walk, terminal, point.node, map_.batteryMinus(), *setup, effort_s + point.reach_s);
        }
    }

    // One connector apart: what the module still gives, and what the harness still holds, freed from each other.
    void apart(int connector, int state)
    {
        Condition setup;
        setup.state = state;
        setup.unplugged.insert(connector);
        const Connector& c = map_.connectors[static_cast<std::size_t>(connector)];
        const double unplug = unplugEffort(setup);
        for (const int terminal : terminals_) {
            const Terminal& t = map_.terminal(terminal);
            const Group group = groupOf(*t.role);
            if (t.connector == connector) {
                if (!isSupply(*t.role) && group != Group::Returns)
                    add(Candidate::Kind::Freed, terminal, t.a, map_.batteryMinus(), setup, reach(terminal) + unplug);
                continue;
            }
            if (c.ofModule || group == Group::Supplies || group == Group::Returns) continue;
            add(Candidate::Kind::Released, terminal, t.a, ownBlack(terminal), setup, reach(terminal) + unplug);
        }
        for (const int terminal : c.terminals) {
            if (terminal < 0 || c.ofModule) continue;
            const Terminal& t = map_.terminal(terminal);
            for (const int node : {t.a, t.b})
                add(Candidate::Kind::Freed, -1, node, map_.batteryMinus(), setup, c.reach_s + unplug);
        }
    }

    // Parts and their circuits with the module off and all of its connectors apart.
    void resistances()
    {
        Condition setup;
        for (const int terminal : terminals_) {
            const Terminal& t = map_.terminal(terminal);
            if (!t.absentIn.empty()) setup.state = t.absentIn.front();
        }
        for (std::size_t c = 0; c < map_.connectors.size(); ++c) {
            if (map_.connectors[c].ofModule) setup.unplugged.insert(static_cast<int>(c));
        }
        const double unplug = unplugEffort(setup);
        for (const int terminal : terminals_) {
            const Terminal& t = map_.terminal(terminal);
            if (isSupply(*t.role) || groupOf(*t.role) == Group::Returns) continue;
            const int load = map_.elementIndex("load " + t.id);
            if (load >= 0 && isElectronic(map_, map_.element(load))) continue;
            add(Candidate::Kind::Ohms, terminal, t.a, ownBlack(terminal), setup, reach(terminal) + unplug);
        }
        for (const Element& e : map_.elements) {
            const bool part =
                specOf(e.kind).isLoad && e.kind != ElementKind::SupplyPort && e.place != "inside the module";
            if (!part || !e.reach_s || isElectronic(map_, e)) continue;
            if (!map_.isOfSheet()) {
                add(Candidate::Kind::Ohms, -1, e.nodes.front(), e.nodes.back(), setup, *e.reach_s + unplug);
                continue;
            }
            Condition own;
            own.state = setup.state;
            own.alone = static_cast<int>(&e - map_.elements.data());
            own.removed = {own.alone};
            add(Candidate::Kind::Ohms, -1, e.nodes.front(), e.nodes.back(), own, *e.reach_s);
        }
    }

    // W22: the branch behind a fuse or a relay's contact, with that taken out, all of the module's connectors apart and
    // the key off; and again with one connector more apart, which halves it.
    void branches()
    {
        Condition setup;
        for (const int terminal : terminals_) {
            const Terminal& t = map_.terminal(terminal);
            if (!t.absentIn.empty()) setup.state = t.absentIn.front();
        }
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const Element& e = map_.elements[i];
            if ((e.kind != ElementKind::Fuse && e.kind != ElementKind::Relay) || !e.reach_s) continue;
            Condition out = setup;
            out.removed.insert(static_cast<int>(i));
            add(Candidate::Kind::Ohms, -1, e.nodes[1], map_.batteryMinus(), out, *e.reach_s + pull_s);
        }
    }

    // W23: the lines with one node of the network unplugged, one node at a time.
    void busNodes(int state)
    {
        for (const Element& port : map_.elements) {
            if (port.kind != ElementKind::BusPort || port.place == "inside the module") continue;
            Condition setup;
            setup.state = state;
            double reach_s = 120;
            for (std::size_t i = 0; i < map_.elements.size(); ++i) {
                const Element& e = map_.elements[i];
                const auto touches = [&](int node) {
                    return std::find(e.nodes.begin(), e.nodes.end(), node) != e.nodes.end();
                };
                if (e.kind == ElementKind::Wire && (touches(port.nodes[0]) || touches(port.nodes[1])))
                    setup.removed.insert(static_cast<int>(i));
                if (e.kind == ElementKind::SupplyPort && touches(port.nodes[3])) reach_s = e.reach_s.value_or(reach_s);
            }
            if (setup.removed.empty()) continue;
            for (const int terminal : terminals_) {
                const Terminal& t = map_.terminal(terminal);
                if (*t.role == Role::DifferentialBus)
                    add(Candidate::Kind::Released, -1, t.a, map_.batteryMinus(), setup, reach_s + reach(terminal));
            }
        }
    }

    // W5, W13: where a terminal can be reached, it can be looked at.
    void looks()
    {
        for (std::size_t i = 0; i < map_.terminals.size(); ++i) {
            const Terminal& t = map_.terminals[i];
            if (t.a < 0 || !t.hazard.empty() || t.asFound == AsFound::Empty) continue;
            const Connector& c = map_.connectors[static_cast<std::size_t>(t.connector)];
            Candidate look;
            look.kind = Candidate::Kind::Look;
            look.terminal = static_cast<int>(i);
            look.effort_s = c.reach_s + c.unplug_s;
            out_.push_back(std::move(look));
        }
    }

    WayOfWorking apartSchool() const
    {
        WayOfWorking working = working_;
        working.mated = false;
        return working;
    }

    double unplugEffort(const Condition& setup) const
    {
        double sum = 0;
        for (const int c : setup.unplugged)
            sum += map_.connectors[static_cast<std::size_t>(c)].unplug_s;
        return sum;
    }

    const Map& map_;
    const WayOfWorking& working_;
    std::vector<int> terminals_;
    std::set<int> forbidden_;
    std::vector<Candidate> out_;
};

}  // namespace

std::vector<Candidate> candidatesOf(const Map& map, const WayOfWorking& working)
{
    auto all = Listing(map, working).all();
    std::stable_sort(all.begin(), all.end(),
                     [](const Candidate& a, const Candidate& b) { return a.effort_s < b.effort_s; });
    return all;
}

Probe probeOf(const Candidate& c)
{
    EXPECTS(c.kind != Candidate::Kind::Look);
    return {c.red, c.black, 10e6, -1, c.kind == Candidate::Kind::Ohms};
}

Step stepFor(const Map& map, const WayOfWorking& working, const Candidate& c)
{
    WayOfWorking apart = working, mated = working;
    apart.mated = false;
    mated.mated = true;
    const std::vector<int> unplugged(c.setup.unplugged.begin(), c.setup.unplugged.end());
    switch (c.kind) {
        case Candidate::Kind::Ohms:
            return resistanceStep(map, c.red, c.black, c.setup.state, unplugged, c.terminal,
                                  {c.setup.removed.begin(), c.setup.removed.end()});
        case Candidate::Kind::LampForFuse: {
            std::vector<int> parts(c.setup.removed.begin(), c.setup.removed.end());
            std::erase(parts, c.part);
            return lampForFuseStep(map, c.part, c.setup.load->load, c.setup.state, unplugged, parts);
        }
        case Candidate::Kind::IsolatedWire:
            return isolatedWireStep(map, c.part,
                                    {c.setup.state,
                                     unplugged,
                                     {c.setup.removed.begin(), c.setup.removed.end()},
                                     c.setup.load->load,
                                     c.setup.jumpers.front().rating_A});
        case Candidate::Kind::Look:
            return lookStep(map, c.terminal, c.setup.state);
        case Candidate::Kind::Absent:
            return absentStep(map, working, c.terminal, c.setup.state);
        case Candidate::Kind::Loaded:
            return loadStep(map, apart, c.terminal, c.setup.state);
        case Candidate::Kind::Swap:
            return swapStep(map, apart, c.terminal, c.setup.state);
        case Candidate::Kind::Return:
            return returnStep(map, apart, c.terminal, c.setup.state);
        case Candidate::Kind::Walk:
            return walkStep(map, apart, c.terminal, c.setup.state, c.red);
        case Candidate::Kind::Mated:
            if (c.terminal >= 0) {
                const Terminal& t = map.terminal(c.terminal);
                if (isSupply(*t.role)) return openStep(map, mated, c.terminal, c.setup.state);
                for (const Requirement& need : requirementsOf(map, c.terminal)) {
                    const bool level = need.test == TestKind::Level || need.test == TestKind::Reference;
                    if (!level || need.state != c.setup.state) continue;
                    Step step = tableStep(map, c.terminal, need);
                    if (step.red == map.node(c.red) && step.black == map.node(c.black)) return step;
                }
            }
            return pointStep(map, c.red, c.black, c.setup.state, unplugged, c.terminal);
        default: {
            Step step = pointStep(map, c.red, c.black, c.setup.state, unplugged, c.terminal);
            for (const int element : c.setup.removed)
                step.removed.push_back(map.element(element).id);
            // The only thing taken out for a plain reading is a node of the network, by its two bus wires.
            for (const Element& port : map.elements) {
                if (port.kind != ElementKind::BusPort || step.removed.empty()) continue;
                const auto& wire = map.element(*c.setup.removed.begin());
                const bool own = std::any_of(wire.nodes.begin(), wire.nodes.end(),
                                             [&](int n) { return n == port.nodes[0] || n == port.nodes[1]; });
                if (!own) continue;
                step.title += inWords("candidates.with-unplugged", port.name);
                step.instructions.insert(step.instructions.begin() + 1,
                                         inWords("candidates.unplugged-network", port.name));
            }
            return step;
        }
    }
}

std::vector<SetupProbes> setupsOf(const std::vector<Candidate>& candidates)
{
    std::vector<SetupProbes> out;
    for (const Candidate& c : candidates) {
        if (c.kind == Candidate::Kind::Look) continue;
        auto at = std::find_if(out.begin(), out.end(), [&](const SetupProbes& s) { return s.setup == c.setup; });
        if (at == out.end()) at = out.insert(out.end(), {c.setup, {}});
        const Probe probe = probeOf(c);
        if (std::find(at->probes.begin(), at->probes.end(), probe) == at->probes.end()) at->probes.push_back(probe);
    }
    return out;
}

}  // namespace ilvek
