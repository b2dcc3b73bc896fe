// A bus of two lines (W23): asleep the ohms between them and each line to ground, awake the levels of both, their
// mirror and their sum, then one node after the other unplugged, cheapest first, until it comes back, the module last.
#include <algorithm>
#include <cmath>
#include <set>

#include "base/text.h"
#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "procedures/bus_nodes.h"
#include "procedures/module_feeds.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

// Of the ohms that all plugged terminations give together.
constexpr double shortBelow = 0.7, oneMissingFrom = 1.5, openFrom = 3;
constexpr double terminationFrom = 0.5;  // of a pair's 120 Ω, that a node may have by its termination alone
constexpr double comesBack_V = 0.4;

struct Lines {
    int high = -1, low = -1;  // terminals
};

bool isLowLine(const Map& map, int terminal)
{
    const std::string name = lowered(map.terminal(terminal).circuit);
    return name.find("low") != std::string::npos;
}

// Its name without which line it is: "line", "bus A".
std::string busOf(const Map& map, int terminal)
{
    std::string name = lowered(map.terminal(terminal).circuit);
    for (const char* line : {"high", "low"}) {
        if (const auto at = name.find(line); at != std::string::npos) name.erase(at, std::string_view(line).size());
    }
    return std::string(trimmed(name));
}

// Two terminals of one bus each, by the port behind them or by their names; the one that is not called low is the high
// line.
std::vector<Lines> pairsOf(const Map& map)
{
    std::vector<Lines> out;
    std::set<int> paired;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.role != Role::DifferentialBus || terminal.a < 0 || !terminal.hazard.empty() || paired.contains(t))
            continue;
        const int far = farEndOf(map, t);
        for (const int other : map.moduleTerminals()) {
            if (other <= t || map.terminal(other).role != Role::DifferentialBus || paired.contains(other) ||
                (far >= 0 ? map.terminal(other).a != far : busOf(map, other) != busOf(map, t)))
                continue;
            const bool swapped = isLowLine(map, t) && !isLowLine(map, other);
            out.push_back(swapped ? Lines{other, t} : Lines{t, other});
            paired.insert(other);
            break;
        }
    }
    return out;
}

Lines pairOf(const Map& map, int terminal)
{
    for (const Lines& l : pairsOf(map)) {
        if (l.high == terminal || l.low == terminal) return l;
    }
    return {};
}

class Network {
public:
    Network(const Bay& bay, const std::string& subject)
        : flow_(bay, "network", subject),
          lines_(pairOf(bay.map, bay.map.terminalIndex(subject))),
          state_(stateFor(bay.map, lines_.high)),
          nodes_(bay.map, {lines_.high, lines_.low}, levelStep(lines_.high))
    {
    }

    Procedure follow()
    {
        flow_.caution({"network.caution", of()});
        between();
        if (!flow_.hasEnded()) levels();
        Procedure out = flow_.done();
        if (fails_) out.calledBy = Fact{"network.called", of()};
        return out;
    }

private:
    using Named = std::vector<std::pair<std::string, std::string>>;
    Named of() const
    {
        return {{"high", flow_.map().terminal(lines_.high).id},
                {"low", flow_.map().terminal(lines_.low).id},
                {"module", flow_.map().module}};
    }
    Named with(const Seen& seen) const
    {
        auto out = of();
        out.emplace_back("figure", seen.figure());
        return out;
    }

    int node(int terminal) const { return flow_.map().terminal(terminal).a; }

    std::optional<double> soundOhms(const Step& step) const
    {
        auto condition = conditionOf(flow_.map(), step);
        if (!condition) return std::nullopt;
        condition->meter =
            Meter{flow_.map().nodeIndex(step.red), flow_.map().nodeIndex(step.black), 10e6, Meter::Mode::Ohms};
        const auto shown = displayOf(flow_.map(), *condition);
        return shown && !shown->overLimit && !shown->live ? std::optional(shown->value) : std::nullopt;
    }

    enum class Ohms { Right, Short, OneMissing, Open, Unknown };
    Ohms judged(const Seen& seen, const Step& step) const
    {
        const auto sound = soundOhms(step);
        if (!sound) return Ohms::Unknown;
        if (seen.reading->value.overLimit) return Ohms::Open;
        // Of a sheet nobody knows which units hold a termination: one or two of the customary 120 Ω.
        const double is = partOhms(*seen.reading);
        if (flow_.map().isOfSheet())
            return is < shortBelow * trade::termination_ohm / 2   ? Ohms::Short
                   : is < oneMissingFrom * trade::termination_ohm ? Ohms::Right
                                                                  : Ohms::Unknown;
        const double share = is / *sound;
        return share < shortBelow       ? Ohms::Short
               : share < oneMissingFrom ? Ohms::Right
               : share < openFrom       ? Ohms::OneMissing
                                        : Ohms::Unknown;
    }

    Step pairStep() const { return placed(flow_.map(), node(lines_.high), node(lines_.low), 0); }

    void between()
    {
        const Step step = pairStep();
        const Seen seen = flow_.ohms("ohms", {"network.ohms", of()}, step);
        if (!seen) return;
        switch (judged(seen, step)) {
            case Ohms::Right:
                flow_.says({"network.ohms.right", with(seen)});
                break;
            case Ohms::Unknown:
                flow_.undecided({"network.ohms.unknown", with(seen)});
                break;
            case Ohms::OneMissing:
                // A node that holds a termination may be unplugged, or not fitted on this variant (T10).
                flow_.undecided({"network.ohms.one", with(seen)});
                missing_ = true;
                break;
            case Ohms::Open:
                fails_ = true;
                flow_.fails({"network.ohms.open", with(seen)});
                return flow_.end(Ending::Kind::Found, {"network.end.open", with(seen)}, nodes_.wayPlaces());
            case Ohms::Short:
                fails_ = true;
                flow_.fails({"network.ohms.short", with(seen)});
                was_ohm_ = partOhms(*seen.reading);
                return release(step, true);
        }
        // A short of one line is seen on the other too, through the terminations: the one with fewer ohms has it.
        std::optional<std::pair<double, Step>> shorted;
        for (const int t : {lines_.high, lines_.low}) {
            Named title = of();
            title.emplace_back("line", flow_.map().terminal(t).id);
            const Step ground = placed(flow_.map(), node(t), flow_.map().batteryMinus(), 0);
            const Seen line = flow_.ohms("ground " + flow_.map().terminal(t).id, {"network.ground", title}, ground);
            if (!line) return;
            title.emplace_back("figure", line.figure());
            if (isFree(line)) {
                flow_.says({"network.ground.free", title});
                continue;
            }
            fails_ = true;
            flow_.fails({"network.ground.low", title});
            if (!shorted || partOhms(*line.reading) < shorted->first) shorted = {partOhms(*line.reading), ground};
        }
        if (shorted) release(shorted->second, true);
    }

    bool isFree(const Seen& seen) const
    {
        return seen.reading->value.overLimit || partOhms(*seen.reading) >= trade::lineToGround_ohm;
    }

    Step levelStep(int terminal) const
    {
        Step step = placed(flow_.map(), node(terminal), flow_.map().batteryMinus(), state_);
        step.terminal = terminal;
        return step;
    }

    bool isLevel(int terminal, double v) const
    {
        return terminal == lines_.high ? v >= trade::highFrom_V && v <= trade::highTo_V
                                       : v >= trade::lowFrom_V && v <= trade::lowTo_V;
    }

    void levels()
    {
        double sum = 0;
        for (const int t : {lines_.high, lines_.low}) {
            Named title = of();
            title.emplace_back("line", flow_.map().terminal(t).id);
            const Seen seen =
                flow_.reading("level " + flow_.map().terminal(t).id, {"network.level", title}, levelStep(t));
            if (!seen) return;
            title.emplace_back("figure", seen.figure());
            sum += seen.volts();
            if (isLevel(t, seen.volts())) {
                flow_.says({"network.level.right", title});
                continue;
            }
            // Between a level and none: what nobody stated of the nodes may make that, and unplugging them moves it.
            const double level = seen.volts();
            const bool none = level < trade::none_V;
            const bool supply = level > trade::supplyFrom_V;
            const Fact fact{none ? "network.level.none" : supply ? "network.level.supply" : "network.level.odd", title};
            if (!none && !supply) {
                odd_ = true;
                flow_.undecided(fact);
                continue;
            }
            flow_.fails(fact);
            isHigh_ |= supply;
            wrong_.push_back({t, level});
        }
        if (!wrong_.empty()) {
            fails_ = true;
            if (isHigh_ && moduleReturns(flow_) != Feeds::Stand) return;
            return release(levelStep(wrong_.front().terminal), false);
        }
        Named says = of();
        says.emplace_back("sum", voltsText(sum));
        flow_.says(
            {std::abs(sum - trade::sum_V) <= trade::sumWithin_V ? "network.sum.right" : "network.sum.odd", says});
        answers();
    }

    // The lines are right. A module that is silent beside others that talk is another matter (T11).
    void answers()
    {
        const Statement* told = flow_.statement("answers", {"network.answers", of()});
        if (!told) return;
        if (told->found == "no") return flow_.end(Ending::Kind::Elsewhere, {"network.end.silent", of()});
        if (odd_) return flow_.end(Ending::Kind::Open, {"network.end.odd", of()});
        if (missing_) return flow_.end(Ending::Kind::Open, {"network.end.one", of()});
        flow_.end(Ending::Kind::Sound, {"network.end.sound", of()});
    }

    bool recovers(const Seen& seen, const Step& step, bool byOhms) const
    {
        // A level that only creeps over its limit has not come back.
        if (!byOhms && std::abs(seen.volts() - wrong_.front().volts) < comesBack_V) return false;
        if (!byOhms) return isLevel(wrong_.front().terminal, seen.volts());
        if (flow_.map().nodeIndex(step.black) == flow_.map().batteryMinus()) return isFree(seen);
        const double all = flow_.map().isOfSheet() ? trade::termination_ohm / 2
                                                   : soundOhms(pairStep()).value_or(trade::termination_ohm / 2);
        // Between one termination and none lies no sound bus: something else still joins the lines.
        const bool open = seen.reading->value.overLimit;
        const double is = partOhms(*seen.reading);
        const bool neither =
            flow_.map().isOfSheet() && is > oneMissingFrom * trade::termination_ohm && is < trade::bareFrom_ohm;
        if (!open && (is < shortBelow * all || neither)) return false;
        // A sound node takes its termination along, and all ohms rise by that (T10): what was unplugged must have had
        // fewer. 1/R_node = 1/R_before − 1/R_after
        const double node = 1 / std::max(1e-9, 1 / std::max(0.1, was_ohm_) - (open ? 0 : 1 / is));
        return node < terminationFrom * trade::termination_ohm;
    }

    Seen released(const BusNode& n, const Step& step, const Fact& asks, bool byOhms)
    {
        const bool second = asks.id == "network.release.other";
        Stage& stage = flow_.stage((second ? "release both " : "release ") + n.name, asks, Stage::State::Shown);
        const Seen seen = nodes_.without(flow_, n, step, byOhms ? Unit::Ohm : Unit::Volt);
        if (seen)
            stage.entries = {seen.reading->id};
        else
            flow_.ask(stage, {Asked::Kind::Reading, step, byOhms ? FigureKind::Ohms : FigureKind::Volts, {}, {}, {}});
        return seen;
    }

    // A unit's termination joins the lines: without it one may come back while the other is held as before. From here
    // on that one is read.
    Seen otherLine(const BusNode& n, Step& step)
    {
        std::swap(wrong_.front(), wrong_.back());
        step.red = flow_.map().node(node(wrong_.front().terminal));
        step.terminal = wrong_.front().terminal;
        Named title = of();
        title.emplace_back("node", n.name);
        title.emplace_back("line", flow_.map().terminal(wrong_.front().terminal).id);
        return released(n, step, {"network.release.other", title}, false);
    }

    // What was unplugged stays apart until it comes back.
    void release(Step step, bool byOhms)
    {
        for (const BusNode& n : nodes_.cheapestFirst(flow_, step, byOhms ? Unit::Ohm : Unit::Volt)) {
            BusNodes::takeOff(n, step);
            Named title = of();
            title.emplace_back("node", n.name);
            const Fact asks{byOhms ? "network.release.ohms" : "network.release", title};
            const Seen seen = released(n, step, asks, byOhms);
            if (!seen) return;
            title.emplace_back("figure", seen.figure());
            if (recovers(seen, step, byOhms)) {
                flow_.says({"network.release.comes", title});
                if (byOhms || wrong_.size() < 2)
                    return flow_.end(Ending::Kind::Found, {"network.end.node", title}, nodes_.placesOf(n));
                const Seen other = otherLine(n, step);
                if (!other) return;
                title.back() = {"figure", other.figure()};
                if (recovers(other, step, byOhms)) {
                    flow_.says({"network.release.comes", title});
                    return flow_.end(Ending::Kind::Found, {"network.end.node", title}, nodes_.placesOf(n));
                }
                flow_.says({"network.release.joined", title});
                continue;
            }
            flow_.says({"network.release.stays", title});
            if (byOhms && !seen.reading->value.overLimit) was_ohm_ = partOhms(*seen.reading);
        }
        freeModule(step, byOhms);
    }

    // The module's own pins, with the wires taken out.
    void freeModule(Step step, bool byOhms)
    {
        const Map& map = flow_.map();
        step.unpinned = {map.terminal(lines_.high).id, map.terminal(lines_.low).id};
        const Seen seen = byOhms ? flow_.ohms("free", {"network.free.ohms", of()}, step)
                                 : flow_.reading("free", {"network.free", of()}, insideOf(step));
        if (!seen) return;
        // By ohms the wires are read, by volts the module's own pin.
        const bool stays = !recovers(seen, step, byOhms);
        const bool harness = byOhms ? stays : !stays;
        if (harness) {
            flow_.says({"network.free.harness", with(seen)});
            return flow_.end(Ending::Kind::Found, {"network.end.harness", with(seen)}, nodes_.wayPlaces());
        }
        flow_.says({"network.free.module", with(seen)});
        if (moduleFeeds(flow_) == Feeds::Stand)
            flow_.end(Ending::Kind::Open, {"network.end.module", with(seen)},
                      {map.terminal(lines_.high).id, map.terminal(lines_.low).id}, Grade::ByElimination);
    }

    Step insideOf(Step step) const
    {
        const Map& map = flow_.map();
        const int line = map.nodeIndex(step.red) == node(lines_.low) ? lines_.low : lines_.high;
        step.red = map.node(map.terminal(line).b);
        return step;
    }

    Flow flow_;
    Lines lines_;
    int state_;
    BusNodes nodes_;
    bool fails_ = false, missing_ = false, odd_ = false;
    struct Wrong {
        int terminal;
        double volts;
    };
    std::vector<Wrong> wrong_;  // lines that are no level; the first is the one that is read
    bool isHigh_ = false;       // one of them has a supply on it
    double was_ohm_ = 0;        // between the lines, before the node that is unplugged now
};

}  // namespace

std::vector<std::string> networksOf(const Map& map)
{
    std::vector<std::string> out;
    for (const Lines& l : pairsOf(map))
        out.push_back(map.terminal(l.high).id);
    return out;
}

Procedure networkByNodes(const Bay& bay, const std::string& subject)
{
    return Network(bay, subject).follow();
}

}  // namespace ilvek
