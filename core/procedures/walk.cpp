// A walk along any circuit (W13): supplies, returns, references, signals, controls and drives alike, from where it is
// right to where it is wrong, halving; then the piece between is looked at, squeezed and pulled.
#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "procedures/flow.h"
#include "proving/walk.h"

namespace ilvek {

namespace {

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
        for (int s = 0; s < static_cast<int>(map.states.size()); ++s) {
            for (const Element& e : map.elements) {
                const bool low = e.kind == ElementKind::LowSideDriver, high = e.kind == ElementKind::HighSideDriver;
                if ((low || high) && e.isIn(s) && e.nodes[low ? 0 : 1] == map.terminal(terminal_).b) return s;
            }
        }
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
        bool isRight() const { return seen && !isFailure(seen.judgement->verdict); }
        bool isWrong() const { return seen && isFailure(seen.judgement->verdict); }
    };

    // From the terminal outwards, against battery minus; the circuit says what is right at each.
    std::vector<Point> pointsOf() const
    {
        const Map& map = flow_.map();
        std::vector<Point> out;
        const Walk circuit = circuitOf(map, flow_.bay().assessment.evidence, terminal_);
        for (const WalkPoint& p : circuit.points) {
            if (!p.reachable || p.node == map.batteryMinus() || p.node == map.batteryPlus()) continue;
            out.push_back({p.node, seenAt(p.node), p.reach_s});
        }
        return out;
    }

    Seen seenAt(int node) const
    {
        const Map& map = flow_.map();
        return flow_.latest([&](const Reading& r) {
            return isVoltageTest(r.test) && r.red == map.node(node) && stateOf(map, r) == state_ &&
                   r.unplugged.empty() && r.removed.empty() && r.jumpers.empty() && r.load.empty();
        });
    }

    void points()
    {
        const Map& map = flow_.map();
        const auto all = pointsOf();
        if (all.empty()) return flow_.end(Ending::Kind::Open, {"walk.end.no-circuit", of()});
        for (const Point& p : all) {
            if (!p.seen) continue;
            auto says = of();
            says.emplace_back("place", map.nodeWords(p.node));
            says.emplace_back("figure", p.seen.figure());
            Stage& stage = flow_.stage("point " + map.node(p.node), {"walk.point", says},
                                       p.isWrong() ? Stage::State::Failed : Stage::State::Shown);
            stage.entries = {p.seen.reading->id};
            flow_.says({p.isWrong() ? "walk.point.wrong" : "walk.point.right", says});
        }
        next(all);
    }

    void next(const std::vector<Point>& all)
    {
        // The span between a wrong place and a right one; halved by what costs least from its middle.
        int from = 0, to = static_cast<int>(all.size()) - 1, wrong = -1, right = -1;
        for (int i = 0; i <= to; ++i) {
            if (all[static_cast<std::size_t>(i)].isWrong() && wrong < 0) wrong = i;
            if (all[static_cast<std::size_t>(i)].isRight()) right = i;
        }
        if (wrong >= 0 && right >= 0) std::tie(from, to) = nearest(all);
        int best = -1;
        double bestCost = INFINITY;
        const double middle = (from + to) / 2.0;
        for (int i = from; i <= to; ++i) {
            const Point& p = all[static_cast<std::size_t>(i)];
            if (p.seen) continue;
            const double cost = (p.effort_s + 60) * (1 + std::abs(i - middle));
            if (cost < bestCost) bestCost = cost, best = i;
        }
        if (best >= 0) return ask(all[static_cast<std::size_t>(best)]);
        auto says = of();
        if (wrong < 0) return flow_.end(Ending::Kind::Sound, {"walk.end.all-right", says});
        if (right < 0) return flow_.end(Ending::Kind::Open, {"walk.end.all-wrong", says});
        const Map& map = flow_.map();
        says.emplace_back("from", map.nodeWords(all[static_cast<std::size_t>(from)].node));
        says.emplace_back("to", map.nodeWords(all[static_cast<std::size_t>(to)].node));
        inspect(says);
        flow_.end(Ending::Kind::Found, {"walk.end.between", says}, {map.terminal(terminal_).id}, Grade::OnLikelihood);
    }

    // Neighbours among those that were read, one right and one wrong.
    static std::pair<int, int> nearest(const std::vector<Point>& all)
    {
        std::pair<int, int> best{0, static_cast<int>(all.size()) - 1};
        int last = -1;
        for (int i = 0; i < static_cast<int>(all.size()); ++i) {
            const Point& p = all[static_cast<std::size_t>(i)];
            if (!p.seen) continue;
            const bool parts = last >= 0 && all[static_cast<std::size_t>(last)].isRight() != p.isRight();
            if (parts && i - last <= best.second - best.first) best = {last, i};
            last = i;
        }
        return best;
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
