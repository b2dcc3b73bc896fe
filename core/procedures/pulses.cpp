// Pulses (W21): does it move? A Hall output that stands still is a line that is pulled up and not let go or not pulled
// down; its supply and what turns come first. A pick-up gives volts that grow with speed, or its own ohms tell.
#include <algorithm>
#include <cmath>

#include "machine/charging.h"
#include "machine/paths.h"
#include "procedures/module_feeds.h"
#include "procedures/pulled_line.h"
#include "procedures/work_cautions.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr double movesShare = 0.4;  // of the level that it is pulled up to, between low and high
constexpr const char* turnedFaster = "turned faster";
constexpr double farLow = 0.6, farHigh = 1.6;  // of its stated ohms

int partOf(const Map& map, int terminal)
{
    const auto nodes = joinedTo(map, map.terminal(terminal).a);
    const bool hall = map.terminal(terminal).role == Role::HallInput;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.place == "inside the module") continue;
        if (hall ? e.kind == ElementKind::Hall && nodes.contains(e.nodes[1])
                 : e.kind == ElementKind::Winding && (nodes.contains(e.nodes[0]) || nodes.contains(e.nodes[1])))
            return static_cast<int>(i);
    }
    return -1;
}

class Pulses {
public:
    Pulses(const Bay& bay, const std::string& subject)
        : flow_(bay, "pulses", subject),
          terminal_(bay.map.terminalIndex(subject)),
          part_(partOf(bay.map, terminal_)),
          element_(bay.map.element(part_)),
          isHall_(element_.kind == ElementKind::Hall),
          line_(flow_, "hall", terminal_, part_, element_.nodes[isHall_ ? 1 : 0], element_.nodes.back()),
          state_(turning())
    {
    }

    Procedure follow()
    {
        flow_.caution({"pulses.caution", line_.of()});
        addWorkCautions(flow_, terminal_, part_);
        moves();
        Procedure out = flow_.done();
        if (still_) out.calledBy = Fact{"pulses.called", line_.of()};
        return out;
    }

private:
    // In which it turns.
    int turning() const
    {
        const int cranking = crankingState(flow_.map());
        return cranking >= 0 ? cranking : stateFor(flow_.map(), terminal_);
    }

    Step at(int node) const
    {
        // Against a return that is lost a line looks low: the level of a Hall sensor is read against battery minus.
        const int own = isHall_ ? -1 : flow_.map().terminal(terminal_).ownReturn;
        Step step =
            placed(flow_.map(), node, own >= 0 ? flow_.map().terminal(own).a : flow_.map().batteryMinus(), state_);
        step.terminal = terminal_;
        return step;
    }

    // What tells whether it moves: in words, in hertz or per cent, lowest and highest, alternating volts.
    enum class Motion { Nothing, Moves, High, Low };
    Motion judged(const Reading& r) const
    {
        if (r.shows)
            return *r.shows == Shown::Moves       ? Motion::Moves
                   : *r.shows == Shown::StuckHigh ? Motion::High
                   : *r.shows == Shown::StuckLow  ? Motion::Low
                                                  : Motion::Nothing;
        if (r.test == TestKind::Frequency) return r.value.value > 0 ? Motion::Moves : Motion::Nothing;
        if (r.test == TestKind::Alternating)
            return r.value.value >= trade::pickUpAtLeast_V ? Motion::Moves : Motion::Low;
        if (r.test == TestKind::Duty) return r.value.value > 1 && r.value.value < 99 ? Motion::Moves : Motion::Nothing;
        if (isVoltageTest(r.test) && r.most)
            return standing(std::abs(*r.most - r.value.value), std::abs(*r.most), leastSwing_V());
        return Motion::Nothing;
    }

    Motion standing(double swing_V, double most_V, double leastSwing_V) const
    {
        if (swing_V > leastSwing_V) return Motion::Moves;
        return line_.isLevel(most_V, at(flow_.map().terminal(terminal_).a)) ? Motion::High : Motion::Low;
    }

    // Of what the line is pulled up to.
    double leastSwing_V() const
    {
        if (!isHall_) return movesShare;
        Step apart = at(flow_.map().terminal(terminal_).a);
        apart.removed = {element_.id};
        return movesShare * healthyVolts(flow_.map(), apart).value_or(5);
    }

    double supply_V() const
    {
        return healthyVolts(flow_.map(), placed(flow_.map(), element_.nodes[0], element_.nodes[2], state_)).value_or(5);
    }

    // A recording of it, newer than what was typed; its picture shows the levels. nullptr: there is none.
    const TraceSeen* recorded(const Seen& typed) const
    {
        const Evidence& e = flow_.bay().assessment.evidence;
        for (auto t = e.traces.rbegin(); t != e.traces.rend(); ++t) {
            const bool here = t->terminal == flow_.map().terminal(terminal_).id && t->unit == "V" && !t->least.empty();
            if (here && !isBeforeRepair(e, t->id) && (!typed || t->id > typed.reading->id)) return &*t;
        }
        return nullptr;
    }

    Motion judged(const TraceSeen& t) const
    {
        double least = 1e9, most = -1e9;
        for (const double v : t.least)
            if (std::isfinite(v)) least = std::min(least, v);
        for (const double v : t.most)
            if (std::isfinite(v)) most = std::max(most, v);
        constexpr double swingOfAlternating = 2.83;  // lowest to highest of a sine of one volt
        return standing(most - least, most, isHall_ ? leastSwing_V() : swingOfAlternating * trade::pickUpAtLeast_V);
    }

    void moves()
    {
        const std::string& own = flow_.map().node(flow_.map().terminal(terminal_).a);
        const auto told = [&](const Reading& r) {
            return (r.red == own || r.black == own) && r.unplugged.empty() && r.removed.empty() && r.unpinned.empty() &&
                   judged(r) != Motion::Nothing;
        };
        // The volts of a faster turn are compared with these, where there are both.
        Seen seen = flow_.latest([&](const Reading& r) { return told(r) && !isFaster(r); });
        if (!seen) seen = flow_.latest(told);
        const TraceSeen* trace = recorded(seen);
        Stage& first =
            flow_.stage("moves", {isHall_ ? "pulses.moves" : "pulses.moves.pick-up", line_.of()}, Stage::State::Shown);
        if (trace) {
            first.entries = {trace->id};
            auto says = line_.of();
            says.emplace_back("figure", "Recorded"), says.emplace_back("verdict", trace->verdict);
            flow_.says({"pulses.recorded", says});
            return decide(judged(*trace), says);
        }
        if (!seen)
            return flow_.ask(first, {Asked::Kind::Reading,
                                     at(flow_.map().terminal(terminal_).a),
                                     isHall_ ? FigureKind::Shown : FigureKind::AlternatingVolts,
                                     {},
                                     {},
                                     {}});
        first.entries = {seen.reading->id};
        if (judged(*seen.reading) == Motion::Moves && seen.reading->test == TestKind::Alternating) return grows(seen);
        decide(judged(*seen.reading), line_.with(seen));
    }

    // Alternating volts may be the hum of a neighbour; those of a pick-up grow with speed.
    void grows(const Seen& slow)
    {
        flow_.says({"pulses.moves.yes", line_.with(slow)});
        const int faster = fasterState();
        Step step = at(flow_.map().terminal(terminal_).a);
        if (faster >= 0)
            step.state = flow_.map().state(faster).id;
        else
            step.touched = turnedFaster;
        const std::string& own = flow_.map().node(flow_.map().terminal(terminal_).a);
        const Seen fast = flow_.latest([&](const Reading& r) {
            return r.test == TestKind::Alternating && (r.red == own || r.black == own) && r.id != slow.reading->id &&
                   isFaster(r) && r.unplugged.empty() && r.removed.empty();
        });
        auto title = line_.of();
        title.emplace_back("state", faster >= 0 ? flow_.map().state(faster).name : "faster");
        Stage& stage = flow_.stage("faster", {"pulses.faster", title}, Stage::State::Shown);
        if (!fast)
            return flow_.ask(stage, {Asked::Kind::Reading, std::move(step), FigureKind::AlternatingVolts, {}, {}, {}});
        stage.entries = {fast.reading->id};
        auto says = line_.with(fast);
        says.emplace_back("was", slow.figure());
        if (fast.volts() >= trade::pickUpGrows * slow.volts()) {
            flow_.says({"pulses.faster.grows", says});
            return flow_.end(Ending::Kind::Sound, {"pulses.end.moves", line_.with(fast)});
        }
        flow_.undecided({"pulses.faster.not", says});
        flow_.end(Ending::Kind::Open, {"pulses.end.hum", line_.with(fast)}, {element_.id});
    }

    bool isFaster(const Reading& r) const
    {
        const int faster = fasterState();
        return !isHall_ && (r.touched == turnedFaster || (faster >= 0 && r.state == flow_.map().state(faster).id));
    }

    // In which it turns faster than while cranking; −1: the map has none.
    int fasterState() const
    {
        const Map& map = flow_.map();
        for (int s = 0; s < static_cast<int>(map.states.size()); ++s) {
            if (s != state_ && isChargedIn(map, s)) return s;
        }
        return -1;
    }

    void decide(Motion motion, std::vector<std::pair<std::string, std::string>> says)
    {
        if (motion == Motion::Moves) {
            flow_.says({"pulses.moves.yes", says});
            return flow_.end(Ending::Kind::Sound, {"pulses.end.moves", says});
        }
        still_ = true;
        flow_.fails(
            {isHall_ ? motion == Motion::High ? "pulses.stuck.high" : "pulses.stuck.low" : "pulses.none", says});
        if (!flow_.statement("turns", {"pulses.turns", line_.of()})) return;
        isHall_ ? hall(motion == Motion::High) : pickUp();
    }

    void hall(bool high)
    {
        const Step fed = placed(flow_.map(), element_.nodes[0], element_.nodes[2], state_);
        const Seen supply = flow_.reading("supply", {"pulses.supply", line_.of()}, fed);
        if (!supply) return;
        if (supply.volts() < trade::fedFrom * supply_V()) {
            flow_.fails({"pulses.supply.low", line_.with(supply)});
            return flow_.end(Ending::Kind::Elsewhere, {"pulses.end.supply", line_.with(supply)}, {element_.id});
        }
        flow_.says({"pulses.supply.there", line_.with(supply)});
        const Seen level = flow_.reading("level", {"pulses.level", line_.of()}, at(flow_.map().terminal(terminal_).a));
        if (!level) return;
        const bool isHigh = line_.isLevel(level.volts(), at(flow_.map().terminal(terminal_).a));
        if (isHigh != high) return flow_.undecided({"pulses.level.other", line_.with(level)});
        if (high)
            line_.raised(level, level, at(flow_.map().terminal(terminal_).a));
        else
            line_.held(level, at(flow_.map().terminal(terminal_).a));
    }

    void pickUp()
    {
        Step step = placed(flow_.map(), element_.nodes[0], element_.nodes[1], 0);
        step.removed = {element_.id};
        const Seen seen = flow_.ohms("ohms", {"pulses.ohms", line_.of()}, step);
        if (!seen) return;
        if (seen.reading->value.overLimit) {
            flow_.fails({"pulses.ohms.open", line_.with(seen)});
            return flow_.end(Ending::Kind::Found, {"pulses.end.open", line_.with(seen)}, {element_.id});
        }
        const double share = partOhms(*seen.reading) / std::max(1e-3, element_.value("resistance"));
        const bool stated = element_.knownOf("resistance") == Known::Stated && !element_.assumed;
        if (stated && (share < farLow || share > farHigh)) {
            flow_.fails({"pulses.ohms.off", line_.with(seen)});
            return flow_.end(Ending::Kind::Found, {"pulses.end.ohms", line_.with(seen)}, {element_.id});
        }
        flow_.says({"pulses.ohms.says", line_.with(seen)});
        // The same through the wires, at the plug of the module.
        Step far = placed(flow_.map(), flow_.map().terminal(terminal_).a, farEndOf(flow_.map(), terminal_), 0);
        if (farEndOf(flow_.map(), terminal_) < 0) far.black = flow_.map().node(flow_.map().batteryMinus());
        far.unplugged = {
            flow_.map().connectors[static_cast<std::size_t>(flow_.map().terminal(terminal_).connector)].id};
        const Seen wires = flow_.ohms("wires", {"pulses.wires", line_.of()}, far);
        if (!wires) return;
        if (wires.reading->value.overLimit) {
            flow_.fails({"pulses.wires.open", line_.with(wires)});
            return flow_.end(Ending::Kind::Found, {"pulses.end.wires", line_.with(wires)},
                             {flow_.map().terminal(terminal_).id});
        }
        flow_.says({"pulses.wires.says", line_.with(wires)});
        flow_.end(Ending::Kind::Open, {"pulses.end.unclear", line_.with(wires)}, {element_.id});
    }

    Flow flow_;
    int terminal_, part_;
    const Element& element_;
    bool isHall_, still_ = false;
    PulledLine line_;
    int state_;
};

}  // namespace

std::vector<std::string> pulsedInputsOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        const bool pulsed = terminal.role == Role::HallInput || terminal.role == Role::ReluctanceInput;
        if (pulsed && terminal.a >= 0 && terminal.hazard.empty() && partOf(map, t) >= 0) out.push_back(terminal.id);
    }
    return out;
}

Procedure pulsesOfAWheel(const Bay& bay, const std::string& subject)
{
    return Pulses(bay, subject).follow();
}

}  // namespace ilvek
