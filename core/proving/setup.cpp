#include "proving/setup.h"

#include <fmt/format.h>

#include <algorithm>

namespace ilvek {

namespace {

// The lower half of a bridge and what takes a part's current back go with what feeds the other end of the part; nobody
// commands them by themselves.
bool isLowerHalf(const Map& map, const Element& e)
{
    if (e.kind != ElementKind::LowSideDriver) return false;
    const bool takesBack = std::ranges::any_of(map.terminals, [&](const Terminal& t) {
        return t.b == e.nodes[0] && t.role == Role::DriveReturn && map.isOfSheet();
    });
    return takesBack || std::ranges::any_of(map.elements, [&](const Element& upper) {
               return upper.kind == ElementKind::HighSideDriver && upper.nodes[1] == e.nodes[0];
           });
}

// Whether some state has both on.
bool goTogether(const Map& map, const Element& a, const Element& b)
{
    for (int state = 0; state < static_cast<int>(map.states.size()); ++state) {
        if (a.isIn(state) && b.isIn(state)) return true;
    }
    return false;
}

// Every name of the set-up with its place in the condition; stops at the first that is not known.
class Placing {
public:
    Placing(const Map& map, const SetUp& setUp) : map_(map), s_(setUp) {}

    bool run()
    {
        condition.state = map_.stateIndex(s_.state);
        if (condition.state < 0) return missing("state", s_.state);
        for (const std::string* lead : {&s_.red, &s_.black}) {
            if (!lead->empty() && map_.nodeIndex(*lead) < 0) return missing("place", *lead);
        }
        return apart() && load() && commands();
    }

    Condition condition;
    std::string unknown;

private:
    bool missing(const char* kind, const std::string& name)
    {
        unknown = fmt::format("the {} “{}”", kind, name);
        return false;
    }

    bool apart()
    {
        for (const std::string& id : s_.unplugged) {
            const int connector = map_.connectorIndex(id);
            if (connector < 0) return missing("connector", id);
            condition.unplugged.insert(connector);
        }
        for (const std::string& id : s_.unpinned) {
            const int terminal = map_.terminalIndex(id);
            if (terminal < 0) return missing("terminal", id);
            condition.unpinned.insert(terminal);
        }
        for (const std::string& id : s_.removed) {
            const int element = map_.elementIndex(id);
            if (element < 0) return missing("part", id);
            condition.removed.insert(element);
        }
        takeAlong(map_, condition.removed);
        return true;
    }

    bool load()
    {
        if (!s_.load.empty()) {
            const auto load = findLoad(map_.systemVoltage_V, s_.load);
            const int from = map_.nodeIndex(s_.loadFrom), to = map_.nodeIndex(s_.loadTo);
            if (!load) return missing("load", s_.load);
            if (from < 0 || to < 0) return missing("place", from < 0 ? s_.loadFrom : s_.loadTo);
            condition.load = AppliedLoad{*load, from, to};
        }
        for (const FusedLead& lead : s_.jumpers) {
            const int from = map_.nodeIndex(lead.from), to = map_.nodeIndex(lead.to);
            if (from < 0 || to < 0) return missing("place", from < 0 ? lead.from : lead.to);
            condition.jumpers.push_back({from, to, lead.fuse_A});
        }
        return true;
    }

    bool commands()
    {
        for (const Command& c : s_.commands) {
            const int element = map_.elementIndex(c.element);
            if (element < 0) return missing("part", c.element);
            condition.commands[element] = c.share;
            commandLowerHalves(element, c.share);
        }
        for (const PartAt& p : s_.warmed) {
            const int element = map_.elementIndex(p.element);
            if (element < 0) return missing("part", p.element);
            condition.celsius[element] = p.celsius;
        }
        if (!s_.conductor.empty() && map_.elementIndex(s_.conductor) < 0) return missing("conductor", s_.conductor);
        return true;
    }

    void commandLowerHalves(int upper, double share)
    {
        if (map_.element(upper).kind != ElementKind::HighSideDriver) return;
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const Element& e = map_.elements[i];
            if (!isLowerHalf(map_, e) || !goTogether(map_, map_.element(upper), e)) continue;
            double& on = condition.commands.emplace(static_cast<int>(i), share).first->second;
            on = std::max(on, share);
        }
    }

    const Map& map_;
    const SetUp& s_;
};

}  // namespace

std::optional<Condition> conditionOf(const Map& map, const SetUp& setUp)
{
    Placing placing(map, setUp);
    return placing.run() ? std::optional(std::move(placing.condition)) : std::nullopt;
}

void takeAlong(const Map& map, std::set<int>& removed)
{
    if (!map.isOfSheet()) return;
    for (const int part : std::set<int>(removed)) {
        for (const char* other : {" termination", " node"}) {
            const int with = map.elementIndex(map.element(part).id + other);
            if (with >= 0) removed.insert(with);
        }
        const std::string& plug = map.element(part).place;
        if (!plug.starts_with("plug ")) continue;
        for (std::size_t i = 0; i < map.elements.size(); ++i)
            if (map.elements[i].place == plug) removed.insert(static_cast<int>(i));
    }
}

int partAlone(const Map& map, const SetUp& setUp)
{
    const int red = map.nodeIndex(setUp.red), black = map.nodeIndex(setUp.black);
    for (const std::string& id : setUp.removed) {
        const int element = map.elementIndex(id);
        if (element < 0) continue;
        const std::vector<int>& nodes = map.element(element).nodes;
        const auto onIt = [&](int node) { return std::find(nodes.begin(), nodes.end(), node) != nodes.end(); };
        if (red != black && onIt(red) && onIt(black)) return element;
    }
    return -1;
}

int stateOf(const Map& map, const SetUp& setUp)
{
    const int told = map.stateIndex(setUp.state);
    if (told < 0 || setUp.commands.empty()) return told;
    constexpr double wholly = 0.99;
    const auto isOn = [&](const Element& e) {
        const auto command = std::find_if(setUp.commands.begin(), setUp.commands.end(),
                                          [&](const Command& c) { return c.element == e.id; });
        return command == setUp.commands.end() ? e.isIn(told) : command->share >= wholly;
    };
    const auto isThis = [&](int state) {
        return std::ranges::all_of(map.elements, [&](const Element& e) {
            return !specOf(e.kind).usesStates || isOn(e) == e.isIn(state) || isLowerHalf(map, e);
        });
    };
    for (int state = 0; state < static_cast<int>(map.states.size()); ++state) {
        if (isThis(state)) return state;
    }
    return told;
}

bool isApart(const Map& map, const SetUp& setUp, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    const std::string& connector = map.connectors[static_cast<std::size_t>(t.connector)].id;
    const auto has = [](const std::vector<std::string>& list, const std::string& id) {
        return std::find(list.begin(), list.end(), id) != list.end();
    };
    return has(setUp.unplugged, connector) || has(setUp.unpinned, t.id);
}

std::optional<std::string> unknownName(const Map& map, const SetUp& setUp)
{
    Placing placing(map, setUp);
    return placing.run() ? std::nullopt : std::optional(std::move(placing.unknown));
}

}  // namespace ilvek
