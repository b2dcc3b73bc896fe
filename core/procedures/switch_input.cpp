// An input with a pull-up and a switch to ground (W20): its level with the switch open and closed, each produced and
// named; where it does not move, a tree with four ends: the switch, the wire to it open, the wire shorted to ground,
// the module.
#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "procedures/module_feeds.h"
#include "procedures/pulled_line.h"
#include "procedures/work_cautions.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

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
          element_(bay.map.element(switch_)),
          line_(flow_, "switch", terminal_, switch_, element_.nodes[signalEnd()], element_.nodes[1 - signalEnd()])
    {
    }

    Procedure follow()
    {
        flow_.caution({"switch.caution", of()});
        addWorkCautions(flow_, terminal_, switch_);
        const Seen open = level(false), closed = level(true);
        if (open && closed) decide(open, closed);
        Procedure out = flow_.done();
        if (fails_) out.calledBy = Fact{"switch.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const { return line_.of(); }
    std::vector<std::pair<std::string, std::string>> with(const Seen& seen) const { return line_.with(seen); }

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
        return volts && *volts > trade::notPulledUpBelow_V;
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

    bool isLevel(double v) const { return line_.isLevel(v, base(false)); }
    bool isNone(double v) const { return line_.isNone(v, base(false)); }

    void decide(const Seen& open, const Seen& closed)
    {
        const double high = open.volts(), low = closed.volts();
        if (isLevel(high) && low <= trade::closedShare * high) {
            flow_.says({"switch.moves", with(closed)});
            return reported();
        }
        fails_ = true;
        if (isNone(high)) return line_.held(open, base(false));
        if (!isLevel(high)) {
            flow_.undecided({"switch.between", with(open)});
            return flow_.end(Ending::Kind::Open, {"switch.end.between", with(open)});
        }
        fails_ = true;
        line_.raised(open, closed, base(true));
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

    // Which end of it is the one towards the module.
    std::size_t signalEnd() const
    {
        const auto near = joinedTo(flow_.map(), flow_.map().terminal(terminal_).a, switch_);
        return near.contains(element_.nodes[0]) ? 0 : 1;
    }

    Flow flow_;
    int terminal_, switch_;
    const Element& element_;
    PulledLine line_;
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
