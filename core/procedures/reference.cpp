// References (W18): the module's own feeds first, then the level with all consumers, then consumers released branch by
// branch over all terminals that share the regulator, at last the terminals freed at the module.
#include <algorithm>
#include <set>

#include "machine/paths.h"
#include "procedures/module_feeds.h"
#include "proving/unstated.h"

namespace ilvek {

namespace {

class ReferenceTest {
public:
    ReferenceTest(const Bay& bay, const std::string& subject)
        : flow_(bay, "reference", subject),
          terminal_(bay.map.terminalIndex(subject)),
          state_(stateFor(bay.map, terminal_)),
          together_(sharing())
    {
    }

    Procedure follow()
    {
        flow_.caution({"reference.caution", of()});
        moduleFeeds(flow_);
        level();
        if (isLow_ && ownReturn()) release();
        Procedure out = flow_.done();
        if (isLow_ || isHigh_) out.calledBy = Fact{"reference.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        std::string all;
        for (const int t : together_)
            all += (all.empty() ? "" : ", ") + flow_.map().terminal(t).id;
        return {{"terminal", flow_.map().terminal(terminal_).id},
                {"together", all},
                {"module", flow_.map().module},
                {"low", voltsText(low_V())},
                {"high", voltsText(high_V())}};
    }

    // What conductors inside the module join to the terminal's pin.
    std::set<int> inside() const
    {
        const Map& map = flow_.map();
        std::set<int> nodes{map.terminal(terminal_).b};
        for (bool grown = true; grown;) {
            grown = false;
            for (const Element& e : map.elements) {
                if (e.place != "inside the module" || !specOf(e.kind).conducts) continue;
                if (nodes.contains(e.nodes[0]) == nodes.contains(e.nodes[1])) continue;
                nodes.insert(e.nodes[0]), nodes.insert(e.nodes[1]);
                grown = true;
            }
        }
        return nodes;
    }

    const Element* regulator() const
    {
        const auto nodes = inside();
        for (const Element& e : flow_.map().elements) {
            if (e.kind == ElementKind::Regulator && nodes.contains(e.nodes[1])) return &e;
        }
        return nullptr;
    }

    // Terminals that hang on one regulator inside the module.
    std::vector<int> sharing() const
    {
        std::vector<int> out;
        const auto nodes = inside();
        for (const int t : flow_.map().moduleTerminals()) {
            if (flow_.map().terminal(t).b >= 0 && nodes.contains(flow_.map().terminal(t).b)) out.push_back(t);
        }
        return out;
    }

    double nominal_V() const
    {
        const Element* r = regulator();
        return r ? r->value("voltage", 5) : 5;
    }

    std::optional<double> stated(bool low) const
    {
        std::optional<double> out;
        for (const Expected& e : flow_.map().terminal(terminal_).expected) {
            const auto& bound = low ? e.low : e.high;
            if (e.measure != Measure::Level || e.state != state_ || !bound) continue;
            out = !out ? *bound : low ? std::min(*out, *bound) : std::max(*out, *bound);
        }
        return out;
    }
    double low_V() const { return stated(true).value_or(0.95 * nominal_V()); }
    double high_V() const { return stated(false).value_or(1.05 * nominal_V()); }

    int black() const
    {
        const int own = flow_.map().terminal(terminal_).ownReturn;
        return own >= 0 ? flow_.map().terminal(own).a : flow_.map().batteryMinus();
    }

    Step read() const
    {
        Step step = placed(flow_.map(), flow_.map().terminal(terminal_).a, black(), state_);
        step.terminal = terminal_;
        return step;
    }

    void level()
    {
        const std::string ground = flow_.map().node(black());
        const Flow::Fits built = asBuilt(terminal_);
        const Seen seen = flow_.reading("level", {"reference.level", of()}, read(), [&](const Reading& r) {
            const bool own = r.black == ground || r.red == ground;
            return built(r) && (own || std::abs(r.value.value) < low_V());  // against any ground it is low
        });
        if (!seen) return;
        auto says = of();
        says.emplace_back("figure", seen.figure());
        if (mayBeOtherReference(flow_.map(), terminal_, state_, seen.volts())) {
            flow_.undecided({"reference.level.other", says});
            flow_.end(Ending::Kind::Open, {"reference.end.other", says});
        } else if (seen.volts() > high_V()) {
            isHigh_ = true;
            flow_.fails({"reference.level.high", says});
            flow_.end(Ending::Kind::Found, {"reference.end.high", says}, places(), Grade::OnLikelihood);
        } else if (seen.volts() >= low_V()) {
            flow_.says({"reference.level.right", says});
            flow_.end(Ending::Kind::Sound, {"reference.end.sound", says});
        } else {
            isLow_ = true;
            // Nothing at all may also be a regulator without a feed: those are proven by then.
            flow_.fails({isAway(flow_.bay(), seen) && seen.volts() < 0.1 * nominal_V() ? "reference.level.missing"
                                                                                       : "reference.level.low",
                         says});
        }
    }

    // Against battery minus: a return that is open makes a good reference look dead. False: it is the return, or that
    // is still to be read.
    bool ownReturn()
    {
        const Map& map = flow_.map();
        const int own = map.terminal(terminal_).ownReturn;
        if (own < 0) return true;
        Step step = read();
        step.black = map.node(map.batteryMinus());
        auto says = of();
        says.emplace_back("return", map.terminal(own).id);
        const Flow::Fits built = asBuilt(terminal_);
        const Seen seen = flow_.reading("swap", {"reference.swap", says}, step, [&](const Reading& r) {
            return built(r) && (r.black == step.black || r.red == step.black);
        });
        if (!seen) return false;
        says.emplace_back("figure", seen.figure());
        // With the module's own ground lifted everything of it stands high.
        if (seen.volts() > high_V()) {
            flow_.fails({"reference.swap.high", says});
            flow_.end(Ending::Kind::Elsewhere, {"reference.end.lifted", says});
            return false;
        }
        const bool right = seen.volts() >= low_V();
        flow_.says({right ? "reference.swap.right" : "reference.swap.low", says});
        if (right) flow_.end(Ending::Kind::Found, {"reference.end.return", says}, {map.terminal(own).id});
        return !right;
    }

    // A branch of consumers: what parts them from the terminals, one plug or one part.
    struct Branch {
        std::string connector, part;
        std::set<int> loads;
        double effort_s = 0;
    };

    std::set<int> nodesOfAll(const std::set<int>& withoutContacts) const
    {
        std::set<int> nodes;
        std::vector<int> queue;
        for (const int t : together_)
            queue.push_back(flow_.map().terminal(t).a);
        while (!queue.empty()) {
            const int node = queue.back();
            queue.pop_back();
            if (node < 0 || !nodes.insert(node).second) continue;
            for (std::size_t i = 0; i < flow_.map().elements.size(); ++i) {
                const Element& e = flow_.map().elements[i];
                if (!specOf(e.kind).conducts || withoutContacts.contains(static_cast<int>(i))) continue;
                if (e.nodes[0] == node) queue.push_back(e.nodes[1]);
                if (e.nodes[1] == node) queue.push_back(e.nodes[0]);
            }
        }
        return nodes;
    }

    std::set<int> loadsOn(const std::set<int>& nodes) const
    {
        std::set<int> out;
        for (std::size_t i = 0; i < flow_.map().elements.size(); ++i) {
            const Element& e = flow_.map().elements[i];
            const bool part = specOf(e.kind).isLoad || e.kind == ElementKind::Sensor || e.kind == ElementKind::Hall;
            if (part && e.place != "inside the module" &&
                std::any_of(e.nodes.begin(), e.nodes.end(), [&](int n) { return nodes.contains(n); }))
                out.insert(static_cast<int>(i));
        }
        return out;
    }

    std::set<int> ownContacts() const
    {
        std::set<int> out;
        for (const int t : together_)
            out.insert(flow_.map().terminal(t).contact);
        return out;
    }

    std::vector<Branch> branches() const
    {
        const Map& map = flow_.map();
        const auto all = loadsOn(nodesOfAll(ownContacts()));
        std::vector<Branch> out;
        for (std::size_t c = 0; c < map.connectors.size(); ++c) {
            if (map.connectors[c].ofModule) continue;
            std::set<int> contacts = ownContacts();
            const std::size_t before = contacts.size();
            for (const int t : map.connectors[c].terminals) {
                if (t >= 0 && map.terminal(t).contact >= 0) contacts.insert(map.terminal(t).contact);
            }
            if (contacts.size() == before) continue;
            const auto left = loadsOn(nodesOfAll(contacts));
            Branch b{map.connectors[c].id, "", {}, map.connectors[c].reach_s + map.connectors[c].unplug_s};
            std::set_difference(all.begin(), all.end(), left.begin(), left.end(),
                                std::inserter(b.loads, b.loads.end()));
            // A plug that carries the module's own feeds as well takes the reference down with them (T16).
            Step apart = read();
            apart.unplugged = {b.connector};
            const auto sound = healthyVolts(map, apart);
            if (!b.loads.empty() && sound && std::abs(*sound) >= low_V()) out.push_back(std::move(b));
        }
        for (const int load : all) {
            const Element& e = map.element(load);
            if (e.reach_s) out.push_back({"", e.id, {load}, *e.reach_s});
        }
        // Most freed per minute first.
        std::stable_sort(out.begin(), out.end(), [](const Branch& a, const Branch& b) {
            return static_cast<double>(a.loads.size()) / (a.effort_s + 30) >
                   static_cast<double>(b.loads.size()) / (b.effort_s + 30);
        });
        return out;
    }

    // Cumulative: what was released stays apart until the level is right.
    void release()
    {
        Step step = read();
        std::set<int> freed;
        const auto all = loadsOn(nodesOfAll(ownContacts()));
        for (const Branch& b : branches()) {
            if (std::includes(freed.begin(), freed.end(), b.loads.begin(), b.loads.end())) continue;
            freed.insert(b.loads.begin(), b.loads.end());
            if (!b.connector.empty()) step.unplugged.push_back(b.connector);
            if (!b.part.empty()) step.removed.push_back(b.part);
            auto says = of();
            const std::string name =
                b.connector.empty() ? nameOf(flow_.map(), flow_.map().elementIndex(b.part)) : b.connector;
            says.emplace_back("branch", name);
            const Seen seen = flow_.reading("release " + name, {"reference.release", says}, step, apartAtLeast(step));
            if (!seen) return;
            says.emplace_back("figure", seen.figure());
            if (seen.volts() >= low_V()) {
                flow_.says({"reference.release.recovers", says});
                std::vector<std::string> named;
                for (const int load : b.loads)
                    named.push_back(flow_.map().element(load).id);
                return branchOrWay(std::move(says), named);
            }
            flow_.says({"reference.release.stays", says});
            if (freed.size() == all.size()) break;
        }
        freeAtModule(step);
    }

    // A contact on the way that cannot carry reads so too. Another terminal of the regulator tells them apart.
    void branchOrWay(std::vector<std::pair<std::string, std::string>> says, const std::vector<std::string>& branch)
    {
        const Map& map = flow_.map();
        const auto other = std::find_if(together_.begin(), together_.end(), [&](int t) {
            return t != terminal_ && map.terminal(t).role == Role::Reference;
        });
        if (other == together_.end())
            return flow_.end(Ending::Kind::Open, {"reference.end.branch-or-way", says}, branch);
        Step step = read();
        step.red = map.node(map.terminal(*other).a);
        step.terminal = *other;
        says.emplace_back("sibling", map.terminal(*other).id);
        const Seen seen = flow_.reading("sibling", {"reference.sibling", says}, step, asBuilt(*other));
        if (!seen) return;
        std::find_if(says.begin(), says.end(), [](const auto& p) { return p.first == "figure"; })->second =
            seen.figure();
        const bool right = seen.volts() >= low_V();
        flow_.says({right ? "reference.sibling.right" : "reference.sibling.low", says});
        if (right)
            flow_.end(Ending::Kind::Found, {"reference.end.way", says}, {map.terminal(terminal_).id});
        else
            flow_.end(Ending::Kind::Found, {"reference.end.branch", says}, branch);
    }

    // At the terminal with everything plugged in, while the state was the same.
    Flow::Fits asBuilt(int terminal) const
    {
        return [this, terminal](const Reading& r) {
            const std::string& own = flow_.map().node(flow_.map().terminal(terminal).a);
            return isVoltageTest(r.test) && (r.red == own || r.black == own) && r.unplugged.empty() &&
                   r.removed.empty() && r.unpinned.empty() && r.jumpers.empty() &&
                   r.state == flow_.map().state(state_).id;
        };
    }

    // All that this stage parts is parted; more may be.
    Flow::Fits apartAtLeast(const Step& step) const
    {
        return [this, step](const Reading& r) {
            const auto holds = [](const std::vector<std::string>& in, const std::vector<std::string>& names) {
                return std::all_of(names.begin(), names.end(), [&](const std::string& n) {
                    return std::find(in.begin(), in.end(), n) != in.end();
                });
            };
            return isVoltageTest(r.test) && (r.red == step.red || r.black == step.red) && r.state == step.state &&
                   r.unpinned.empty() && holds(r.unplugged, step.unplugged) && holds(r.removed, step.removed) &&
                   r.unplugged.size() + r.removed.size() == step.unplugged.size() + step.removed.size();
        };
    }

    void freeAtModule(Step step)
    {
        const Map& map = flow_.map();
        for (const int t : together_)
            step.unpinned.push_back(map.terminal(t).id);
        step.red = map.node(map.terminal(terminal_).b), step.black = map.node(map.batteryMinus());
        const Seen seen = flow_.reading("free", {"reference.free", of()}, step, [&](const Reading& r) {
            return isVoltageTest(r.test) && r.state == step.state && (r.red == step.red || r.black == step.red) &&
                   std::all_of(together_.begin(), together_.end(), [&](int t) {
                       return std::find(r.unpinned.begin(), r.unpinned.end(), map.terminal(t).id) != r.unpinned.end();
                   });
        });
        if (!seen) return;
        auto says = of();
        says.emplace_back("figure", seen.figure());
        const bool recovers = seen.volts() >= low_V();
        flow_.says({recovers ? "reference.free.recovers" : "reference.free.stays", says});
        // A contact of its own plug that is bad reads like a dead module: no reading from outside parts them.
        if (recovers)
            flow_.end(Ending::Kind::Found, {"reference.end.harness", says}, outside());
        else
            flow_.end(Ending::Kind::Open, {"reference.end.module", says}, places(), Grade::ByElimination);
    }

    // The terminals, and all that conducts from them.
    std::vector<std::string> outside() const
    {
        auto out = places();
        for (const int t : together_) {
            const auto nodes = joinedTo(flow_.map(), flow_.map().terminal(t).a);
            for (const Element& e : flow_.map().elements) {
                if (specOf(e.kind).conducts && nodes.contains(e.nodes[0])) out.push_back(e.id);
            }
        }
        return out;
    }

    std::vector<std::string> places() const
    {
        std::vector<std::string> out;
        for (const int t : together_)
            out.push_back(flow_.map().terminal(t).id);
        return out;
    }

    Flow flow_;
    int terminal_, state_;
    std::vector<int> together_;
    bool isLow_ = false, isHigh_ = false;
};

}  // namespace

std::vector<std::string> referencesOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.role == Role::Reference && terminal.a >= 0 && terminal.hazard.empty()) out.push_back(terminal.id);
    }
    return out;
}

Procedure referenceReleased(const Bay& bay, const std::string& subject)
{
    return ReferenceTest(bay, subject).follow();
}

}  // namespace ilvek
