// A bus of one line (W23): at rest it stands near what it is pulled up to, and falls while somebody talks. A meter
// shows the mean: lowest and highest, or hertz, tell whether it moves. Held down it is released node by node, cheapest
// first, the module last.
#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "procedures/bus_nodes.h"
#include "procedures/module_feeds.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr double movesShare = 0.15;  // between lowest and highest, of the same

class SingleWire {
public:
    SingleWire(const Bay& bay, const std::string& subject)
        : flow_(bay, "single-wire", subject),
          terminal_(bay.map.terminalIndex(subject)),
          state_(stateFor(bay.map, terminal_))
    {
    }

    Procedure follow()
    {
        flow_.caution({"single-wire.caution", of()});
        level();
        Procedure out = flow_.done();
        if (fails_) out.calledBy = Fact{"single-wire.called", of()};
        return out;
    }

private:
    using Named = std::vector<std::pair<std::string, std::string>>;
    Named of() const { return {{"terminal", flow_.map().terminal(terminal_).id}, {"module", flow_.map().module}}; }
    Named with(const Seen& seen) const
    {
        Named out = of();
        out.emplace_back("figure", seen.figure());
        return out;
    }

    Step step() const
    {
        Step out = placed(flow_.map(), flow_.map().terminal(terminal_).a, flow_.map().batteryMinus(), state_);
        out.terminal = terminal_;
        return out;
    }

    double pulledTo_V() const { return batteryNow_V(flow_.bay()); }

    bool moves(const Reading& r) const
    {
        if (r.shows) return *r.shows == Shown::Moves;
        if (r.test == TestKind::Frequency) return r.value.value > 0;
        return isVoltageTest(r.test) && r.most && std::abs(*r.most - r.value.value) > movesShare * pulledTo_V();
    }

    // One figure is a mean: between the two levels it may be a bus that talks.
    bool isMean(const Reading& r) const
    {
        const double v = std::abs(r.value.value);
        return isVoltageTest(r.test) && !r.most && v > trade::dominantTo * pulledTo_V() &&
               v < trade::recessiveFrom * pulledTo_V();
    }

    void level()
    {
        const Step s = step();
        const auto all = [&](const Reading& r) {
            const bool figure =
                isVoltageTest(r.test) || r.test == TestKind::Frequency ||
                (r.shows && (*r.shows == Shown::Moves || *r.shows == Shown::StuckHigh || *r.shows == Shown::StuckLow));
            return figure && (r.red == s.red || r.black == s.red) && r.state == s.state && r.unplugged.empty() &&
                   r.removed.empty() && r.unpinned.empty() && r.jumpers.empty() && r.load.empty();
        };
        const Seen seen = flow_.reading("level", {"single-wire.level", of()}, s, all);
        if (!seen) return;
        if (moves(*seen.reading)) {
            flow_.says({"single-wire.level.moves", with(seen)});
            return answers();
        }
        if (isMean(*seen.reading)) {
            flow_.undecided({"single-wire.level.mean", with(seen)});
            return flow_.end(Ending::Kind::Open, {"single-wire.end.mean", with(seen)});
        }
        const bool low = seen.reading->shows ? *seen.reading->shows == Shown::StuckLow
                                             : std::abs(seen.reading->most.value_or(seen.reading->value.value)) <
                                                   trade::recessiveFrom * pulledTo_V();
        if (!low) {
            flow_.says({"single-wire.level.rest", with(seen)});
            return flow_.end(Ending::Kind::Open, {"single-wire.end.rest", with(seen)});
        }
        fails_ = true;
        flow_.fails({"single-wire.level.low", with(seen)});
        release();
    }

    void answers()
    {
        const Statement* told = flow_.statement("answers", {"single-wire.answers", of()});
        if (!told) return;
        if (told->found == "no") return flow_.end(Ending::Kind::Elsewhere, {"single-wire.end.silent", of()});
        flow_.end(Ending::Kind::Sound, {"single-wire.end.sound", of()});
    }

    bool isBack(const Seen& seen) const
    {
        return moves(*seen.reading) || seen.volts() >= trade::recessiveFrom * pulledTo_V();
    }

    void release()
    {
        Step s = step();
        const BusNodes nodes(flow_.map(), {terminal_}, s);
        for (const BusNode& n : nodes.cheapestFirst(flow_, s, Unit::Volt)) {
            BusNodes::takeOff(n, s);
            Named title = of();
            title.emplace_back("node", n.name);
            Stage& stage = flow_.stage("release " + n.name, {"single-wire.release", title}, Stage::State::Shown);
            const Seen seen = nodes.without(flow_, n, s, Unit::Volt);
            if (!seen) return flow_.ask(stage, {Asked::Kind::Reading, s, FigureKind::Volts, {}, {}, {}});
            stage.entries = {seen.reading->id};
            title.emplace_back("figure", seen.figure());
            if (isBack(seen)) {
                flow_.says({"single-wire.release.comes", title});
                return flow_.end(Ending::Kind::Found, {"single-wire.end.node", title}, nodes.placesOf(n));
            }
            flow_.says({"single-wire.release.stays", title});
        }
        freeModule(s);
    }

    void freeModule(Step s)
    {
        const Map& map = flow_.map();
        s.unpinned = {map.terminal(terminal_).id};
        s.red = map.node(map.terminal(terminal_).b);
        const Seen seen = flow_.reading("free", {"single-wire.free", of()}, s);
        if (!seen) return;
        if (isBack(seen)) {
            flow_.says({"single-wire.free.harness", with(seen)});
            return flow_.end(Ending::Kind::Found, {"single-wire.end.harness", with(seen)},
                             BusNodes(map, {terminal_}, s).wayPlaces());
        }
        flow_.says({"single-wire.free.module", with(seen)});
        // Only one of the units pulls the line up: a free pin of another stands at nothing.
        if (moduleFeeds(flow_) == Feeds::Stand)
            flow_.end(Ending::Kind::Open, {"single-wire.end.module", with(seen)}, {map.terminal(terminal_).id},
                      Grade::OnLikelihood);
    }

    Flow flow_;
    int terminal_, state_;
    bool fails_ = false;
};

}  // namespace

std::vector<std::string> singleWiresOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.role == Role::SingleWireBus && terminal.a >= 0 && terminal.hazard.empty())
            out.push_back(terminal.id);
    }
    return out;
}

Procedure singleWireBus(const Bay& bay, const std::string& subject)
{
    return SingleWire(bay, subject).follow();
}

}  // namespace ilvek
