// An input with a pull-up and a switch to ground (W20): its level with the switch open and closed, each produced and
// named; where it does not move, a tree with four ends: the switch, the wire to it open, the wire shorted to ground,
// the module.
#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "procedures/flow.h"
#include "procedures/module_feeds.h"

namespace ilvek {

namespace {

constexpr double bridgeFuse_A = 2;
// Where nobody stated what the input is pulled up to: more than this is a level, less than that is none.
constexpr double levelFrom_V = 3, noneBelow_V = 1;
constexpr double closedShare = 0.25, openShare = 0.75;  // of the open level

int switchOf(const Map& map, int terminal)
{
    const auto nodes = joinedTo(map, map.terminal(terminal).a);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind != ElementKind::Switch || e.place == "inside the module") continue;
        const auto way = circuitPath(map, map.terminal(terminal).a, map.batteryMinus());
        if (way &&
            std::any_of(way->begin(), way->end(), [&](const PathStep& s) { return s.element == static_cast<int>(i); }))
            return static_cast<int>(i);
    }
    return -1;
}

class SwitchTest {
public:
    SwitchTest(const Bay& bay, const std::string& subject)
        : flow_(bay, "switch", subject),
          terminal_(bay.map.terminalIndex(subject)),
          switch_(switchOf(bay.map, terminal_)),
          element_(bay.map.element(switch_))
    {
        // Its first node is the one towards the module.
        const auto near = joinedTo(bay.map, bay.map.terminal(terminal_).a, switch_);
        if (!near.contains(element_.nodes[0])) std::swap(signal_, ground_);
    }

    Procedure follow()
    {
        flow_.caution({"switch.caution", of()});
        const Seen open = level(false), closed = level(true);
        if (open && closed) decide(open, closed);
        Procedure out = flow_.done();
        if (fails_) out.calledBy = Fact{"switch.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        return {{"terminal", flow_.map().terminal(terminal_).id},
                {"switch", nameOf(flow_.map(), switch_)},
                {"module", flow_.map().module}};
    }

    std::vector<std::pair<std::string, std::string>> with(const Seen& seen) const
    {
        auto out = of();
        out.emplace_back("figure", seen.figure());
        return out;
    }

    // A state of the map in which the switch stands so; else it is told.
    Step base(bool closed) const
    {
        const Map& map = flow_.map();
        const int now = std::max(0, map.stateIndex(flow_.bay().moment.state));
        int state = -1;
        for (int s = 0; s < static_cast<int>(map.states.size()); ++s) {
            if (isPowered(s) && element_.isIn(s) == closed && (state < 0 || s == now)) state = s;
        }
        Step step =
            placed(map, map.terminal(terminal_).a, map.batteryMinus(), state >= 0 ? state : stateFor(map, terminal_));
        step.terminal = terminal_;
        if (state < 0) step.commands = {{element_.id, closed ? 1.0 : 0.0}};
        return step;
    }

    // The module has what it needs to hold the level.
    bool isPowered(int state) const
    {
        const Map& map = flow_.map();
        Step step = placed(map, map.terminal(terminal_).a, map.batteryMinus(), state);
        step.commands = {{element_.id, 0.0}};
        const auto volts = healthyVolts(map, step);
        return volts && *volts > noneBelow_V;
    }

    bool isClosedIn(const SetUp& setUp) const
    {
        for (const Command& c : setUp.commands) {
            if (c.element == element_.id) return c.share > 0.5;
        }
        return element_.isIn(stateOf(flow_.map(), setUp));
    }

    Seen level(bool closed)
    {
        const Step step = base(closed);
        auto title = of();
        title.emplace_back("state", flow_.map().state(flow_.map().stateIndex(step.state)).name);
        return flow_.reading(
            closed ? "closed" : "open", {closed ? "switch.closed" : "switch.open", title}, step, [&](const Reading& r) {
                return isVoltageTest(r.test) && (r.red == step.red || r.black == step.red) && r.unplugged.empty() &&
                       r.removed.empty() && r.unpinned.empty() && r.jumpers.empty() && r.load.empty() &&
                       isPowered(stateOf(flow_.map(), r)) && isClosedIn(r) == closed;
            });
    }

    // What the open input stands at, where that is known.
    std::optional<double> stated_V() const
    {
        if (flow_.map().terminal(terminal_).assumed) return std::nullopt;
        return healthyVolts(flow_.map(), base(false));
    }
    bool isLevel(double v) const { return v >= (stated_V() ? openShare * *stated_V() : levelFrom_V); }
    bool isNone(double v) const { return v <= (stated_V() ? closedShare * *stated_V() : noneBelow_V); }

    void decide(const Seen& open, const Seen& closed)
    {
        const double high = open.volts(), low = closed.volts();
        if (isLevel(high) && low <= closedShare * high) {
            flow_.says({"switch.moves", with(closed)});
            return reported();
        }
        fails_ = true;
        if (isNone(high)) return held(open);
        if (!isLevel(high)) {
            flow_.undecided({"switch.between", with(open)});
            return flow_.end(Ending::Kind::Open, {"switch.end.between", with(open)});
        }
        fails_ = true;
        raised(closed);
    }

    // Right at the terminal; whether the module sees it is the module's own to say.
    void reported()
    {
        const Statement* told = flow_.statement("module", {"switch.module", of()});
        if (!told) return;
        if (told->found == "no") {
            flow_.says({"switch.module.not", of()});
            if (moduleFeeds(flow_) == Feeds::Stand)
                flow_.end(Ending::Kind::Found, {"switch.end.module-blind", of()}, {}, Grade::ByElimination);
            return;
        }
        flow_.end(Ending::Kind::Sound, {"switch.end.sound", of()});
    }

    // It lies low although the switch is open.
    void held(const Seen& open)
    {
        flow_.fails({"switch.low", with(open)});
        Step step = base(false);
        step.commands.clear();
        step.removed = {element_.id};
        const Seen apart = flow_.reading("unplugged", {"switch.unplugged", of()}, step);
        if (!apart) return;
        if (isLevel(apart.volts())) {
            flow_.says({"switch.unplugged.comes", with(apart)});
            return flow_.end(Ending::Kind::Found, {"switch.end.stays-closed", with(apart)}, {element_.id});
        }
        flow_.says({"switch.unplugged.stays", with(apart)});
        Step free = step;
        free.unpinned = {flow_.map().terminal(terminal_).id};
        free.red = flow_.map().node(flow_.map().terminal(terminal_).b);
        const Seen pin = flow_.reading("free", {"switch.free", of()}, free, [&](const Reading& r) {
            return isVoltageTest(r.test) && (r.red == free.red || r.black == free.red) && r.unpinned == free.unpinned;
        });
        if (!pin) return;
        if (isLevel(pin.volts())) {
            flow_.says({"switch.free.comes", with(pin)});
            return flow_.end(Ending::Kind::Found, {"switch.end.harness", with(pin)}, wayPlaces());
        }
        flow_.says({"switch.free.stays", with(pin)});
        // A module that gets nothing pulls nothing up; and a contact of its own plug reads so too.
        if (moduleFeeds(flow_) == Feeds::Stand)
            flow_.end(Ending::Kind::Open, {"switch.end.module", with(pin)}, {flow_.map().terminal(terminal_).id},
                      Grade::ByElimination);
    }

    // It stands high although the switch is closed.
    void raised(const Seen& closed)
    {
        const bool little =
            closed.volts() < openShare * flow_
                                             .latest([&](const Reading& r) {
                                                 return isVoltageTest(r.test) &&
                                                        r.terminal == flow_.map().terminal(terminal_).id &&
                                                        !isClosedIn(r);
                                             })
                                             .volts();
        flow_.fails({little ? "switch.high.little" : "switch.high", with(closed)});
        const Map& map = flow_.map();
        Step step = base(true);
        step.jumpers = {{map.node(node(signal_)), map.node(node(ground_)), bridgeFuse_A}};
        const Seen bridged = flow_.reading("bridged", {"switch.bridge", of()}, step);
        if (!bridged) return;
        if (bridged.volts() <= closedShare * std::max(levelFrom_V, closed.volts())) {
            flow_.says({"switch.bridge.falls", with(bridged)});
            return flow_.end(Ending::Kind::Found, {"switch.end.never-closes", with(bridged)}, {element_.id});
        }
        flow_.says({"switch.bridge.stays", with(bridged)});
        Step plug = base(true);
        plug.red = map.node(node(signal_));
        const Seen at = flow_.reading("at-switch", {"switch.at-switch", of()}, plug);
        if (!at) return;
        const bool arrives = at.volts() >= openShare * closed.volts();
        flow_.says({arrives ? "switch.at-switch.there" : "switch.at-switch.away", with(at)});
        flow_.end(Ending::Kind::Found, {arrives ? "switch.end.ground" : "switch.end.wire", with(at)},
                  arrives ? std::vector<std::string>{element_.id} : wayPlaces());
    }

    // All of the signal's conductor.
    std::vector<std::string> wayPlaces() const
    {
        const Map& map = flow_.map();
        std::vector<std::string> out{map.terminal(terminal_).id};
        const auto way = conductorPath(map, map.terminal(terminal_).a, node(signal_));
        for (const PathStep& s : way.value_or(Path{}))
            out.push_back(map.element(s.element).id);
        return out;
    }

    int node(std::size_t which) const { return element_.nodes[which]; }

    Flow flow_;
    int terminal_, switch_;
    const Element& element_;
    std::size_t signal_ = 0, ground_ = 1;
    bool fails_ = false;
};

}  // namespace

std::vector<std::string> switchInputsOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.role == Role::SwitchInput && terminal.a >= 0 && terminal.hazard.empty() && switchOf(map, t) >= 0)
            out.push_back(terminal.id);
    }
    return out;
}

Procedure switchInput(const Bay& bay, const std::string& subject)
{
    return SwitchTest(bay, subject).follow();
}

}  // namespace ilvek
