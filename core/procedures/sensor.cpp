// A sensor with supply, signal and return (W19): the signal at the module's terminal, what the module itself makes of
// it, the sensor's supply and return at its own plug, and the signal there. Where the three places part is where it is
// lost; all agreeing and wrong are the sensor, or what it measures. The supply first where the job is worked so.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "machine/paths.h"
#include "procedures/flow.h"
#include "procedures/module_feeds.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr double alikeShare = 0.04;   // of two places of one conductor at a meter's current
constexpr double openFrom_ohm = 5e3;  // of a signal wire to ground, both ends free
constexpr double trackShare = 0.06;   // of ratio or sum, that two tracks may move by

int sensorOf(const Map& map, int terminal)
{
    const auto nodes = joinedTo(map, map.terminal(terminal).a);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind == ElementKind::Sensor && e.place != "inside the module" && nodes.contains(e.nodes[1]))
            return static_cast<int>(i);
    }
    return -1;
}

// The name of a track without which of the two it is: "pedal 1", "pedal track B".
std::string trackOf(const std::string& circuit)
{
    std::string name = lowered(circuit);
    if (name.empty() || std::string_view("12ab").find(name.back()) == std::string_view::npos) return "";
    name.pop_back();
    if (!name.empty() && name.back() != ' ' && name.back() != '-') return "";
    return std::string(trimmed(name));
}

// Of a sensor with two tracks the other one's terminal; −1: it has one.
int otherTrack(const Map& map, int terminal, int sensor)
{
    const std::string track = trackOf(map.terminal(terminal).circuit);
    for (const int t : map.moduleTerminals()) {
        if (track.empty() || t == terminal || map.terminal(t).a < 0 || trackOf(map.terminal(t).circuit) != track)
            continue;
        const int other = sensorOf(map, t);
        if (other >= 0 && nameOf(map, other) == nameOf(map, sensor)) return t;
    }
    return -1;
}

class SensorTest {
public:
    SensorTest(const Bay& bay, const std::string& subject)
        : flow_(bay, "sensor", subject),
          terminal_(bay.map.terminalIndex(subject)),
          sensor_(sensorOf(bay.map, terminal_)),
          element_(bay.map.element(sensor_)),
          other_(otherTrack(bay.map, terminal_, sensor_)),
          state_(stateNow())
    {
    }

    Procedure follow()
    {
        flow_.caution({"sensor.caution", of()});
        flow_.sideBySide({{{"grid.at-sensor", of()}, {"grid.at-terminal", of()}, {"grid.by-module", of()}},
                          {{"grid.supply", of()}, {"grid.signal", of()}},
                          {{"supply", "reference", ""}, {"at-sensor", "signal", "data"}}});
        const bool supplyFirst = !flow_.bay().assessment.evidence.working.signalFirst;
        if (supplyFirst) supply();
        if (!flow_.hasEnded()) signal();
        Procedure out = flow_.done();
        if (isWrong_) out.calledBy = Fact{"sensor.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        const int own = flow_.map().terminal(terminal_).ownReturn;
        return {{"terminal", flow_.map().terminal(terminal_).id},
                {"sensor", nameOf(flow_.map(), sensor_)},
                {"other", other_ >= 0 ? flow_.map().terminal(other_).id : ""},
                {"return", own >= 0 ? flow_.map().terminal(own).id : "battery minus"},
                {"module", flow_.map().module}};
    }

    std::vector<std::pair<std::string, std::string>> with(const Seen& seen) const
    {
        auto out = of();
        out.emplace_back("figure", seen.figure());
        return out;
    }

    // The state that the machine is in, where its supply is there.
    int stateNow() const
    {
        const Map& map = flow_.map();
        const int now = map.stateIndex(flow_.bay().moment.state);
        if (now >= 0) {
            const auto volts = healthyVolts(map, placed(map, element_.nodes[0], element_.nodes[2], now));
            if (volts && *volts > 1) return now;
        }
        return stateFor(map, terminal_);
    }

    Step across(int red, int black) const { return placed(flow_.map(), red, black, state_); }

    // What the sensor should be fed with.
    double nominal_V() const
    {
        return healthyVolts(flow_.map(), across(element_.nodes[0], element_.nodes[2])).value_or(5);
    }

    bool isAlike(const Seen& a, const Seen& b) const
    {
        return std::abs(a.volts() - b.volts()) <= std::max(trade::alike_V, alikeShare * std::max(a.volts(), b.volts()));
    }

    void supply()
    {
        if (isSupplyAsked_) return;
        isSupplyAsked_ = true;
        const Seen seen =
            flow_.reading("supply", {"sensor.supply", of()}, across(element_.nodes[0], element_.nodes[2]));
        if (!seen) return;
        isFed_ = seen.volts() >= trade::fedFrom * nominal_V();
        if (*isFed_) return flow_.says({"sensor.supply.there", with(seen)});
        isWrong_ = true;
        flow_.fails({"sensor.supply.low", with(seen)});
        const Seen ground = flow_.reading("supply-ground", {"sensor.supply-ground", of()},
                                          across(element_.nodes[0], flow_.map().batteryMinus()));
        if (!ground) return;
        // With the module's own ground lifted all that it gives stands high.
        if (ground.volts() > trade::lifted * nominal_V()) {
            flow_.says({"sensor.supply-ground.high", with(ground)});
            return flow_.end(Ending::Kind::Elsewhere, {"sensor.end.lifted", with(ground)});
        }
        if (ground.volts() >= trade::fedFrom * nominal_V()) {
            flow_.says({"sensor.supply-ground.there", with(ground)});
            return flow_.end(Ending::Kind::Found, {"sensor.end.return", with(ground)}, returnPlaces());
        }
        flow_.says({"sensor.supply-ground.low", with(ground)});
        const int reference = referenceTerminal();
        if (reference < 0) return flow_.end(Ending::Kind::Elsewhere, {"sensor.end.no-supply", with(ground)});
        auto title = of();
        title.emplace_back("reference", flow_.map().terminal(reference).id);
        const Seen module = flow_.reading("reference", {"sensor.reference", title},
                                          across(flow_.map().terminal(reference).a, flow_.map().batteryMinus()));
        if (!module) return;
        title.emplace_back("figure", module.figure());
        const bool there = module.volts() >= trade::fedFrom * nominal_V();
        flow_.says({there ? "sensor.reference.there" : "sensor.reference.low", title});
        if (there)
            flow_.end(Ending::Kind::Found, {"sensor.end.supply-wire", title},
                      wayOf(flow_.map(), reference, element_.nodes[0]));
        else
            flow_.end(Ending::Kind::Elsewhere, {"sensor.end.reference", title});
    }

    // The module's terminal that feeds it.
    int referenceTerminal() const
    {
        const auto nodes = joinedTo(flow_.map(), element_.nodes[0]);
        for (const int t : flow_.map().moduleTerminals()) {
            if (flow_.map().terminal(t).a >= 0 && nodes.contains(flow_.map().terminal(t).a)) return t;
        }
        return -1;
    }

    std::vector<std::string> returnPlaces() const
    {
        const int own = flow_.map().terminal(terminal_).ownReturn;
        return own >= 0 ? wayOf(flow_.map(), own, element_.nodes[2]) : std::vector<std::string>{element_.id};
    }

    Step atTerminal(int terminal) const
    {
        const Map& map = flow_.map();
        const int own = map.terminal(terminal).ownReturn;
        Step step = across(map.terminal(terminal).a, own >= 0 ? map.terminal(own).a : map.batteryMinus());
        step.terminal = terminal;
        return step;
    }

    enum class Level { Right, Low, High, Between };
    Level levelOf(const Seen& seen) const
    {
        const Verdict v = seen.judgement->verdict;
        if (v == Verdict::Good || v == Verdict::OpenOnly) return Level::Right;
        if (seen.volts() <= trade::rail * nominal_V()) return Level::Low;
        if (seen.volts() >= (1 - trade::rail) * nominal_V()) return Level::High;
        return v == Verdict::Low ? Level::Low : v == Verdict::High ? Level::High : Level::Between;
    }

    void signal()
    {
        const Step step = atTerminal(terminal_);
        const Seen seen = flow_.reading("signal", {"sensor.signal", of()}, step, asFound(step));
        if (!seen) return;
        const Level level = levelOf(seen);
        if (level == Level::Right || level == Level::Between) {
            flow_.says({level == Level::Right ? "sensor.signal.right" : "sensor.signal.between", with(seen)});
            return threePlaces(seen, level == Level::Right);
        }
        // At a rail a sound sensor may stand too, where nobody stated its limits.
        const Verdict v = seen.judgement->verdict;
        isWrong_ = v == Verdict::Low || v == Verdict::High || v == Verdict::FailsLoaded;
        const Fact fact{level == Level::Low ? "sensor.signal.low" : "sensor.signal.high", with(seen)};
        isWrong_ ? flow_.fails(fact) : flow_.undecided(fact);
        if (const Seen data = reported()) {
            Stage& stage = flow_.stage("data", {"sensor.data", of()}, Stage::State::Shown);
            stage.entries = {data.reading->id};
            flow_.says({isAlike(seen, data) ? "sensor.data.alike" : "sensor.data.differs", with(data)});
        }
        // Another level at the sensor itself, off its rails, shows feed and return at once.
        const Step there = across(element_.nodes[1], element_.nodes[2]);
        const Seen other = flow_.latest(asFound(there));
        const bool tells = other && !isAlike(other, seen) && other.volts() > trade::rail * nominal_V() &&
                           other.volts() < (1 - trade::rail) * nominal_V();
        if (!tells) supply();
        if (tells || isFed_.value_or(false)) atSensor(seen);
    }

    // At these places with all plugged in, the sensor moved or not as the step says.
    Flow::Fits asFound(const Step& step) const
    {
        const std::string moved = movedWords();
        return [step, moved](const Reading& r) {
            const bool placed =
                (r.red == step.red && r.black == step.black) || (r.red == step.black && r.black == step.red);
            return placed && isVoltageTest(r.test) && r.state == step.state && r.unplugged.empty() &&
                   r.removed.empty() && r.unpinned.empty() && r.jumpers.empty() && r.load.empty() &&
                   (r.touched == moved) == (step.touched == moved);
        };
    }

    std::string movedWords() const { return nameOf(flow_.map(), sensor_) + " moved"; }

    // Two tracks keep their ratio, or their sum where one falls as the other rises, wherever they stand. False: they
    // part, or it is not known yet.
    bool tracksHold(const Seen& signal)
    {
        Step there = atTerminal(other_), moved = atTerminal(terminal_), movedThere = there;
        moved.touched = movedThere.touched = movedWords();
        const Seen other = flow_.reading("track", {"sensor.track", of()}, there, asFound(there));
        if (!other) return false;
        auto says = with(other);
        says.emplace_back("ratio", fmt::format("{:.2f}", signal.volts() / std::max(1e-3, other.volts())));
        says.emplace_back("sum", voltsText(signal.volts() + other.volts()));
        flow_.says({"sensor.track.says", says});
        const Seen a = flow_.reading("moved", {"sensor.moved", of()}, moved, asFound(moved));
        if (!a) return false;
        const Seen b = flow_.reading("track-moved", {"sensor.track-moved", of()}, movedThere, asFound(movedThere));
        if (!b) return false;
        // Against the ratio of the two, which no supply moves; against the sum where they cross.
        const double ratioWas = signal.volts() * b.volts(), ratioIs = a.volts() * other.volts();
        const double sumWas = signal.volts() + other.volts(), sumIs = a.volts() + b.volts();
        const bool holds = std::abs(ratioIs - ratioWas) <= trackShare * std::max(ratioIs, ratioWas) ||
                           std::abs(sumIs - sumWas) <= trackShare * std::max(sumIs, sumWas);
        says = with(b);
        says.emplace_back("first", a.figure());
        if (holds) {
            flow_.says({"sensor.track.holds", says});
            return true;
        }
        isWrong_ = true;
        flow_.fails({"sensor.track.parts", says});
        flow_.end(Ending::Kind::Open, {"sensor.end.tracks", says}, {element_.id}, Grade::OnLikelihood);
        return false;
    }

    // What the module itself says that it reads.
    Seen reported() const
    {
        return flow_.latest([&](const Reading& r) {
            return r.test == TestKind::Reported && r.terminal == flow_.map().terminal(terminal_).id;
        });
    }

    // Right, or nobody stated what it must be: then who knows is asked.
    void threePlaces(const Seen& signal, bool isRight)
    {
        if (other_ >= 0 && !tracksHold(signal)) return;
        const Seen data = reported();
        // A machine without data of its own is judged without it.
        Stage& stage = flow_.stage("data", {"sensor.data", of()}, data ? Stage::State::Shown : Stage::State::Later);
        if (!data) stage.asked = Asked{Asked::Kind::Reading, atTerminal(terminal_), FigureKind::Reported, {}, {}, {}};
        if (data) {
            stage.entries = {data.reading->id};
            const bool alike = isAlike(signal, data);
            flow_.says({alike ? "sensor.data.alike" : "sensor.data.differs", with(data)});
            if (!alike) {
                isWrong_ = true;
                if (moduleFeeds(flow_) == Feeds::Stand)
                    flow_.end(Ending::Kind::Open, {"sensor.end.module", with(data)},
                              {flow_.map().terminal(terminal_).id}, Grade::ByElimination);
                return;
            }
        }
        if (isRight) return flow_.end(Ending::Kind::Sound, {"sensor.end.sound", with(signal)});
        const Statement* told = flow_.statement("must-be", {"sensor.must-be", with(signal)});
        if (!told) return;
        if (told->found == "yes") return flow_.end(Ending::Kind::Sound, {"sensor.end.sound", with(signal)});
        if (told->found != "no") return flow_.end(Ending::Kind::Open, {"sensor.end.agree", with(signal)});
        isWrong_ = true;
        supply();
        if (isFed_.value_or(false)) atSensor(signal);
    }

    void atSensor(const Seen& terminal)
    {
        const Seen seen =
            flow_.reading("at-sensor", {"sensor.at-sensor", of()}, across(element_.nodes[1], element_.nodes[2]));
        if (!seen) return;
        if (!isAlike(seen, terminal)) {
            flow_.says({"sensor.at-sensor.differs", with(seen)});
            // Against the sensor's own return, or the module's: one of the two wires.
            return flow_.end(Ending::Kind::Found, {"sensor.end.wire", with(seen)}, wirePlaces());
        }
        flow_.says({"sensor.at-sensor.alike", with(seen)});
        unplugged(terminal);
    }

    std::vector<std::string> wayPlaces() const { return wayOf(flow_.map(), terminal_, element_.nodes[1]); }

    std::vector<std::string> wirePlaces() const
    {
        auto out = wayPlaces();
        const auto back = returnPlaces();
        out.insert(out.end(), back.begin(), back.end());
        return out;
    }

    // A wire that is shorted reads the same at both of its ends.
    void unplugged(const Seen& terminal)
    {
        const Map& map = flow_.map();
        Step step = placed(map, map.terminal(terminal_).a, map.batteryMinus(), state_);
        step.removed = {element_.id};
        step.unpinned = {map.terminal(terminal_).id};
        const bool isLow = terminal.volts() < 0.5 * nominal_V();
        if (isLow) {
            const Seen seen = flow_.ohms("wire", {"sensor.wire-ohms", of()}, step);
            if (!seen) return;
            const bool shorted = !seen.reading->value.overLimit && partOhms(*seen.reading) < openFrom_ohm;
            flow_.says({shorted ? "sensor.wire.shorted" : "sensor.wire.free", with(seen)});
            conclude(shorted, with(seen));
        } else {
            const Seen seen = flow_.reading("wire", {"sensor.wire-volts", of()}, step);
            if (!seen) return;
            const bool shorted = seen.volts() > trade::rail * nominal_V() + trade::alike_V;
            flow_.says({shorted ? "sensor.wire.fed" : "sensor.wire.dead", with(seen)});
            conclude(shorted, with(seen));
        }
    }

    void conclude(bool shorted, std::vector<std::pair<std::string, std::string>> says)
    {
        if (shorted)
            flow_.end(Ending::Kind::Found, {"sensor.end.shorted", std::move(says)}, wayPlaces());
        else
            flow_.end(isWrong_ ? Ending::Kind::Found : Ending::Kind::Open, {"sensor.end.sensor", std::move(says)},
                      {element_.id}, Grade::ByElimination);
    }

    Flow flow_;
    int terminal_, sensor_;
    const Element& element_;
    int other_, state_;
    std::optional<bool> isFed_;
    bool isWrong_ = false, isSupplyAsked_ = false;
};

}  // namespace

std::vector<std::string> sensorsOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.role == Role::AnalogueInput && terminal.a >= 0 && terminal.hazard.empty() && sensorOf(map, t) >= 0)
            out.push_back(terminal.id);
    }
    return out;
}

Procedure sensorInThreePlaces(const Bay& bay, const std::string& subject)
{
    return SensorTest(bay, subject).follow();
}

}  // namespace ilvek
