// A walk along any circuit (W13): supplies, returns, references, signals, controls and drives alike, from where it is
// right to where it is wrong, halving; then the piece between is looked at, squeezed and pulled.
#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "procedures/flow.h"
#include "proving/walk.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr double digits_V = 0.2;

class AnyWalk {
public:
    AnyWalk(const Bay& bay, const std::string& subject)
        : flow_(bay, "walk", subject), terminal_(bay.map.terminalIndex(subject)), state_(stateOfWalk())
    {
    }

    Procedure follow()
    {
        const Map& map = flow_.map();
        const Terminal& t = map.terminal(terminal_);
        flow_.caution({"walk.caution", of()});
        if (isSupply(*t.role) || *t.role == Role::Return)
            loaded();
        else
            points();
        Procedure out = flow_.done();
        const ProofState state = proofOf(map, flow_.bay().assessment, terminal_).state;
        if (state == ProofState::FailedLoaded || state == ProofState::OutOfLimits)
            out.calledBy = Fact{"walk.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        return {{"terminal", flow_.map().terminal(terminal_).id}, {"circuit", flow_.map().terminal(terminal_).circuit}};
    }

    // In which the terminal was read last and failed; else in which it works.
    int stateOfWalk() const
    {
        const Map& map = flow_.map();
        const Assessment& a = flow_.bay().assessment;
        const auto& on = a.on(map.terminal(terminal_).id);
        for (auto it = on.rbegin(); it != on.rend(); ++it) {
            if (!a.stale[*it] && isFailure(a.judgements[*it].verdict)) return stateOf(map, a.evidence.readings[*it]);
        }
        if (const int driven = drivenState(map, terminal_); driven >= 0) return driven;
        return stateFor(map, terminal_);
    }

    // Supplies and returns have a walk of their own, under load.
    void loaded()
    {
        const Map& map = flow_.map();
        const Assessment& a = flow_.bay().assessment;
        const Walk walk = walkOf(map, a.evidence, terminal_);
        for (const WalkPoint& p : walk.points) {
            const auto entries = entriesAt(p.node);
            if (entries.empty()) continue;
            auto says = of();
            says.emplace_back("place", map.nodeWords(p.node));
            says.emplace_back("figure", voltsText(p.loaded_V.value_or(p.open_V.value_or(0))));
            Stage& stage = flow_.stage("point " + map.node(p.node), {"walk.point", says}, Stage::State::Shown);
            stage.entries = entries;
            flow_.says({p.loaded_V ? "walk.point.loaded" : "walk.point.open", says});
        }
        const bool isFound = walk.located && walk.isSingleElement;
        auto step = isFound ? std::nullopt : nextStepFor(map, a, terminal_, flow_.bay().moment);
        if (step) {
            Stage& stage = flow_.stage("next", {"walk.step", {{"step", step->title}}}, Stage::State::Later);
            flow_.ask(stage, {Asked::Kind::Reading, std::move(*step), FigureKind::Volts, {}, {}, {}});
            return;
        }
        const bool proven = proofOf(map, a, terminal_).state == ProofState::ProvenLoaded;
        if (!walk.located && proven) return flow_.end(Ending::Kind::Sound, {"walk.end.proven", of()});
        if (!walk.located) return flow_.end(Ending::Kind::Open, {"walk.end.nothing-left", of()});
        auto says = of();
        says.emplace_back("words", walk.sentence);
        inspect(says);
        flow_.end(Ending::Kind::Found, {"walk.end.located", says}, {map.terminal(terminal_).id});
    }

    std::vector<std::int64_t> entriesAt(int node) const
    {
        std::vector<std::int64_t> out;
        for (const Reading& r : flow_.bay().assessment.evidence.readings) {
            if (r.terminal == flow_.map().terminal(terminal_).id && r.red == flow_.map().node(node))
                out.push_back(r.id);
        }
        return out;
    }

    struct Point {
        int node = -1;
        Seen seen;
        double effort_s = 60;
    };
    using Run = std::vector<Point>;  // places that one conductor joins, in order

    // The runs of the circuit: a load parts them. The one that the terminal is on comes first.
    std::vector<Run> runsOf() const
    {
        const Map& map = flow_.map();
        std::vector<Run> out;
        const Walk circuit = circuitOf(map, flow_.bay().assessment.evidence, terminal_);
        int last = -1;
        for (const WalkPoint& p : circuit.points) {
            if (!p.reachable) continue;
            if (last < 0 || !isOneConductor(last, p.node)) out.emplace_back();
            out.back().push_back({p.node, seenAt(p.node), p.reach_s});
            last = p.node;
        }
        const auto holdsTerminal = [&](const Run& run) {
            return std::any_of(run.begin(), run.end(),
                               [&](const Point& p) { return p.node == map.terminal(terminal_).a; });
        };
        std::stable_partition(out.begin(), out.end(), holdsTerminal);
        return out;
    }

    // No load between them, and nothing that may be open.
    bool isOneConductor(int from, int to) const
    {
        const auto path = conductorPath(flow_.map(), from, to);
        return path && std::none_of(path->begin(), path->end(), [&](const PathStep& s) {
                   const ElementKind kind = flow_.map().element(s.element).kind;
                   return kind == ElementKind::Switch || kind == ElementKind::Relay;
               });
    }

    Seen seenAt(int node) const
    {
        const Map& map = flow_.map();
        return flow_.latest([&](const Reading& r) {
            return isVoltageTest(r.test) && r.red == map.node(node) && r.black == map.node(map.batteryMinus()) &&
                   stateOf(map, r) == state_ && r.unplugged.empty() && r.removed.empty() && r.jumpers.empty() &&
                   r.load.empty();
        });
    }

    // What a sound loom may lose between two places, and the digits of two readings some minutes apart.
    double lostAtMost_V() const { return trade::soundLoomLoses * flow_.map().systemVoltage_V + digits_V; }

    // Between two places of one conductor nothing is lost, whatever should stand there.
    static double lostBetween(const Point& a, const Point& b)
    {
        return std::abs(a.seen.reading->value.value - b.seen.reading->value.value);
    }

    void points()
    {
        const auto runs = runsOf();
        if (runs.empty()) return flow_.end(Ending::Kind::Open, {"walk.end.no-circuit", of()});
        for (const Run& run : runs) {
            for (const Point& p : run) {
                if (p.seen && p.node != flow_.map().batteryPlus()) show(p);
            }
        }
        for (const Run& run : runs) {
            if (run.size() < 2) continue;
            if (!run.front().seen) return ask(run.front());
            if (!run.back().seen) return ask(run.back());
            if (lostBetween(run.front(), run.back()) > lostAtMost_V()) return halve(run);
        }
        flow_.end(Ending::Kind::Sound, {"walk.end.no-step", of()});
    }

    void show(const Point& p)
    {
        auto says = of();
        says.emplace_back("place", flow_.map().nodeWords(p.node));
        says.emplace_back("figure", p.seen.figure());
        Stage& stage = flow_.stage("point " + flow_.map().node(p.node), {"walk.point", says}, Stage::State::Shown);
        stage.entries = {p.seen.reading->id};
        flow_.says({"walk.point.read", says});
    }

    // Its ends do not agree: the place between them that costs least from the middle, until none is left.
    void halve(const Run& run)
    {
        std::size_t from = 0, to = run.size() - 1;
        for (bool moved = true; moved;) {
            moved = false;
            for (std::size_t i = from + 1; i < to && !moved; ++i) {
                if (!run[i].seen) continue;
                (lostBetween(run[from], run[i]) > lostAtMost_V() ? to : from) = i;
                moved = true;
            }
        }
        const Point* best = nullptr;
        double bestCost = INFINITY;
        const double middle = static_cast<double>(from + to) / 2;
        for (std::size_t i = from + 1; i < to; ++i) {
            const double cost = (run[i].effort_s + 60) * (1 + std::abs(static_cast<double>(i) - middle));
            if (cost < bestCost) bestCost = cost, best = &run[i];
        }
        if (best) return ask(*best);
        const Map& map = flow_.map();
        auto says = of();
        // Small losses one after the other, or another battery by then.
        if (lostBetween(run[from], run[to]) <= lostAtMost_V())
            return flow_.end(Ending::Kind::Open, {"walk.end.small-steps", says});
        says.emplace_back("lost", voltsText(lostBetween(run[from], run[to])));
        says.emplace_back("from", map.nodeWords(run[from].node));
        says.emplace_back("to", map.nodeWords(run[to].node));
        inspect(says);
        flow_.end(Ending::Kind::Found, {"walk.end.step", says}, {map.terminal(terminal_).id});
    }

    void ask(const Point& p)
    {
        const Map& map = flow_.map();
        auto says = of();
        says.emplace_back("place", map.nodeWords(p.node));
        Stage& stage = flow_.stage("next", {"walk.point", says}, Stage::State::Later);
        Step step = placed(map, p.node, map.batteryMinus(), state_);
        step.terminal = terminal_;
        flow_.ask(stage, {Asked::Kind::Reading, std::move(step), FigureKind::Volts, {}, {}, {}});
    }

    // Squeezed, pressed, pulled: what moved is an entry.
    void inspect(const std::vector<std::pair<std::string, std::string>>& says)
    {
        flow_.statement("inspect", {"walk.inspect", says});
    }

    Flow flow_;
    int terminal_, state_;
};

}  // namespace

std::vector<std::string> circuitsOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : provingOrder(map, {})) {
        if (map.terminal(t).a >= 0 && map.terminal(t).hazard.empty()) out.push_back(map.terminal(t).id);
    }
    return out;
}

Procedure walkOfAnything(const Bay& bay, const std::string& subject)
{
    return AnyWalk(bay, subject).follow();
}

}  // namespace ilvek
