// A thermistor behind a pull-up (W19): the level at its terminal, what its warmth and its own ohms let stand there, and
// which way it goes when it gets warmer. A level at a rail is open, shorted or a matter of warmth; only ohms tell.
//
//   v = U R(T) / (R(T) + R_p)    U: what the line is pulled up to, R_p: the pull-up, R(T): the thermistor
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "circuit/network.h"
#include "machine/paths.h"
#include "procedures/module_feeds.h"
#include "procedures/pulled_line.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr double pullUpWithin = 0.1;
constexpr double partWithin = 0.25;  // of the ohms that its kind has
constexpr double margin = 0.05;      // of U: battery, regulator and meter
constexpr double leastMove_V = 0.05;

struct Range {
    double least = 0, most = 0;
    bool holds(double x) const { return x >= least && x <= most; }
};

int thermistorOf(const Map& map, int terminal)
{
    const auto nodes = joinedTo(map, map.terminal(terminal).a);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind == ElementKind::Thermistor && e.place != "inside the module" &&
            (nodes.contains(e.nodes[0]) || nodes.contains(e.nodes[1])))
            return static_cast<int>(i);
    }
    return -1;
}

class ThermistorTest {
public:
    ThermistorTest(const Bay& bay, const std::string& subject)
        : flow_(bay, "thermistor", subject),
          terminal_(bay.map.terminalIndex(subject)),
          part_(thermistorOf(bay.map, terminal_)),
          element_(bay.map.element(part_)),
          near_(joinedTo(bay.map, bay.map.terminal(terminal_).a).contains(element_.nodes[0]) ? 0 : 1),
          line_(flow_, "thermistor", terminal_, part_, element_.nodes[near_], element_.nodes[1 - near_]),
          state_(stateFor(bay.map, terminal_)),
          pulledTo_V_(pulledTo())
    {
    }

    Procedure follow()
    {
        flow_.caution({"thermistor.caution", of()});
        level();
        Procedure out = flow_.done();
        if (isWrong_) out.calledBy = Fact{"thermistor.called", of()};
        return out;
    }

private:
    using Named = std::vector<std::pair<std::string, std::string>>;
    Named of() const
    {
        Named out = line_.of();
        const int own = flow_.map().terminal(terminal_).ownReturn;
        out.emplace_back("return", own >= 0 ? flow_.map().terminal(own).id : "battery minus");
        return out;
    }
    Named with(const Seen& seen) const
    {
        Named out = of();
        out.emplace_back("figure", seen.figure());
        return out;
    }
    template <class Text>
    Named with(const Seen& seen, const Range& range, Text text) const
    {
        Named out = with(seen);
        out.emplace_back("least", text(range.least));
        out.emplace_back("most", text(range.most));
        return out;
    }

    Step atTerminal() const
    {
        const Map& map = flow_.map();
        const int own = map.terminal(terminal_).ownReturn;
        Step step = placed(map, map.terminal(terminal_).a, own >= 0 ? map.terminal(own).a : map.batteryMinus(), state_);
        step.terminal = terminal_;
        return step;
    }

    double pulledTo() const
    {
        Step open = atTerminal();
        open.removed = {element_.id};
        return healthyVolts(flow_.map(), open).value_or(5);
    }

    Range pullUp() const
    {
        const Map& map = flow_.map();
        for (const Element& e : map.elements) {
            if (e.kind != ElementKind::PullUp || e.nodes[1] != map.terminal(terminal_).b) continue;
            if (e.assumed || e.knownOf("resistance") != Known::Stated) break;
            return {(1 - pullUpWithin) * e.value("resistance"), (1 + pullUpWithin) * e.value("resistance")};
        }
        return {trade::leastPullUp_ohm, trade::mostPullUp_ohm};
    }

    // Its ohms grow with its warmth, as those of platinum do; those of most thermistors fall.
    bool isRising() const { return thermistor_ohm(element_, 60) > thermistor_ohm(element_, 20); }

    bool isStated() const
    {
        return !element_.table.empty() ||
               (element_.values.contains("resistance_25") && element_.knownOf("resistance_25") == Known::Stated);
    }

    Range ohmsAt(double celsius) const
    {
        const double cold = std::max(trade::coldest_C, celsius - trade::told_K),
                     hot = std::min(trade::hottest_C, celsius + trade::told_K);
        const auto [least, most] = std::minmax({thermistor_ohm(element_, hot), thermistor_ohm(element_, cold)});
        return {(1 - partWithin) * least, (1 + partWithin) * most};
    }

    // What may stand at the terminal with such ohms in the part.
    Range levels(const Range& ohms) const
    {
        const Range Rp = pullUp();
        const double U = pulledTo_V_;
        return {std::max(0.0, U * ohms.least / (ohms.least + Rp.most) - margin * U),
                U * ohms.most / (ohms.most + Rp.least) + margin * U};
    }

    // All plugged in, in a state in which the module pulls up.
    bool isLevel(const Reading& r) const
    {
        const Step step = atTerminal();
        const bool here = (r.red == step.red && r.black == step.black) || (r.red == step.black && r.black == step.red);
        return here && isVoltageTest(r.test) && r.unplugged.empty() && r.removed.empty() && r.unpinned.empty() &&
               r.jumpers.empty() && r.load.empty() && isPowered(r.state);
    }

    bool isPowered(const std::string& state) const
    {
        Step step = atTerminal();
        step.state = state;
        const auto volts = healthyVolts(flow_.map(), step);
        return volts && *volts > trade::rail * pulledTo_V_;
    }

    static std::optional<double> warmed(const Reading& r, const std::string& id)
    {
        for (const PartAt& at : r.warmed) {
            if (at.element == id) return at.celsius;
        }
        return std::nullopt;
    }

    void level()
    {
        // In the circumstances of the first: others tell the trend.
        const Seen first = flow_.earliest([&](const Reading& r) { return isLevel(r) && !warmed(r, element_.id); });
        const Seen seen = flow_.reading("level", {"thermistor.level", of()}, atTerminal(), [&](const Reading& r) {
            return first && isLevel(r) && !warmed(r, element_.id) && r.state == first.reading->state;
        });
        if (!seen) return;
        const double v = seen.volts();
        const bool low = v <= trade::rail * pulledTo_V_, high = v >= (1 - trade::rail) * pulledTo_V_;
        flow_.says({low    ? "thermistor.level.low"
                    : high ? "thermistor.level.high"
                           : "thermistor.level.between",
                    with(seen)});
        warmth(seen);
        if (isWrong_ || low || high) return ohms(seen);
        if (!flow_.hasEnded()) warmer(seen);
    }

    void warmth(const Seen& seen)
    {
        const Statement* told = flow_.statement("warmth", {"thermistor.warmth", of()});
        if (!told) return;
        const auto quantity = parseQuantity(told->found, Unit::Celsius);
        if (!quantity || quantity->overLimit || !isStated())
            return flow_.says({"thermistor.warmth.unknown", with(seen)});
        told_C_ = quantity->value;
        const Range range = levels(ohmsAt(*told_C_));
        Named says = with(seen, range, voltsText);
        says.emplace_back("told", told->found);
        isWrong_ = !range.holds(seen.volts());
        const Fact fact{isWrong_ ? "thermistor.warmth.off" : "thermistor.warmth.right", says};
        isWrong_ ? flow_.fails(fact) : flow_.says(fact);
    }

    // A level that its warmth does not make, or at a rail: what has the part by itself?
    void ohms(const Seen& level)
    {
        Step step = placed(flow_.map(), element_.nodes[0], element_.nodes[1], 0);
        step.removed = {element_.id};
        const Seen seen = flow_.ohms("ohms", {"thermistor.ohms", of()}, step);
        if (!seen) return;
        if (seen.reading->value.overLimit) {
            isWrong_ = true;
            flow_.fails({"thermistor.ohms.open", with(seen)});
            return flow_.end(Ending::Kind::Found, {"thermistor.end.open", with(seen)}, {element_.id});
        }
        const double R = partOhms(*seen.reading);
        if (R < trade::shortedThermistor_ohm) {
            isWrong_ = true;
            flow_.fails({"thermistor.ohms.shorted", with(seen)});
            return flow_.end(Ending::Kind::Found, {"thermistor.end.shorted", with(seen)}, {element_.id});
        }
        const Range range = levels({(1 - margin) * R, (1 + margin) * R});
        flow_.says({"thermistor.ohms.says", with(seen, range, voltsText)});
        if (range.holds(level.volts())) return byOhms(seen);
        isWrong_ = true;
        if (level.volts() < range.least) return low();
        if (level.volts() >= (1 - trade::rail) * pulledTo_V_) return line_.raised(level, level, atTerminal());
        lostOnTheWay(level);
    }

    // Against a return that is lost all stands low: the line is read against battery minus before anything is blamed.
    void low()
    {
        const Map& map = flow_.map();
        Step ground = atTerminal();
        ground.black = map.node(map.batteryMinus());
        const Seen seen = flow_.reading("ground", {"thermistor.ground", of()}, ground);
        if (!seen) return;
        const int own = map.terminal(terminal_).ownReturn;
        // With the module's own ground lifted all that it gives stands high.
        if (seen.volts() > trade::lifted * pulledTo_V_) {
            flow_.says({"thermistor.ground.high", with(seen)});
            return flow_.end(Ending::Kind::Elsewhere, {"thermistor.end.lifted", with(seen)});
        }
        if (own >= 0 && line_.isLevel(seen.volts(), ground)) {
            flow_.says({"thermistor.ground.there", with(seen)});
            return flow_.end(Ending::Kind::Found, {"thermistor.end.return", with(seen)},
                             wayOf(map, own, element_.nodes[1 - near_]));
        }
        flow_.says({"thermistor.ground.low", with(seen)});
        line_.held(seen, ground);
    }

    // The level is the part's own; whether its ohms are right its warmth tells.
    void byOhms(const Seen& seen)
    {
        if (!told_C_) return flow_.end(Ending::Kind::Open, {"thermistor.end.still", with(seen)});
        const Range range = ohmsAt(*told_C_);
        if (range.holds(partOhms(*seen.reading)))
            return flow_.end(Ending::Kind::Open, {"thermistor.end.pull-up", with(seen)},
                             {flow_.map().terminal(terminal_).id}, Grade::ByElimination);
        Named says = with(seen, range, ohmsOfText);
        says.emplace_back("told", fmt::format("{:.0f} °C", *told_C_));
        flow_.fails({"thermistor.ohms.off", says});
        // The warmth was told by a person: far off by it is likely, and not shown.
        flow_.end(Ending::Kind::Open, {"thermistor.end.ohms", with(seen)}, {element_.id}, Grade::OnLikelihood);
    }

    void lostOnTheWay(const Seen& level)
    {
        const Step step = placed(flow_.map(), element_.nodes[near_], element_.nodes[1 - near_], state_);
        const Seen seen = flow_.reading("at-part", {"thermistor.at-part", of()}, step);
        if (!seen) return;
        if (level.volts() - seen.volts() > trade::alike_V) {
            flow_.says({"thermistor.at-part.differs", with(seen)});
            return flow_.end(Ending::Kind::Found, {"thermistor.end.wire", with(seen)}, wires());
        }
        flow_.says({"thermistor.at-part.alike", with(seen)});
        if (moduleFeeds(flow_) == Feeds::Stand)
            flow_.end(Ending::Kind::Open, {"thermistor.end.pull-up", with(seen)}, {flow_.map().terminal(terminal_).id},
                      Grade::ByElimination);
    }

    std::vector<std::string> wires() const
    {
        const Map& map = flow_.map();
        auto out = wayOf(map, terminal_, element_.nodes[near_]);
        const int own = map.terminal(terminal_).ownReturn;
        if (own < 0) return out;
        const auto back = wayOf(map, own, element_.nodes[1 - near_]);
        out.insert(out.end(), back.begin(), back.end());
        return out;
    }

    void warmer(const Seen& first)
    {
        Step step = atTerminal();
        constexpr double warm_C = 60;
        step.warmed = {{element_.id, warm_C}};
        const Seen seen = flow_.reading("warmer", {"thermistor.warmer", of()}, step, [&](const Reading& r) {
            return isLevel(r) && r.id > first.reading->id &&
                   (warmed(r, element_.id) || r.state != first.reading->state);
        });
        if (!seen) return;
        Named says = with(seen);
        says.emplace_back("was", first.figure());
        // Told cooler than it was before, it must rise.
        const auto warmTo = warmed(*seen.reading, element_.id);
        const bool cooler = told_C_ && warmTo && *warmTo < *told_C_;
        const double right_V = (cooler != isRising() ? -1 : 1) * (first.volts() - seen.volts());
        if (right_V > leastMove_V) {
            flow_.says({isRising() ? "thermistor.warmer.rises" : "thermistor.warmer.right", says});
            return flow_.end(Ending::Kind::Sound, {"thermistor.end.sound", with(seen)});
        }
        const char* wrong = isRising() ? "thermistor.warmer.falls" : "thermistor.warmer.wrong";
        flow_.undecided({right_V < -leastMove_V ? wrong : "thermistor.warmer.still", says});
        flow_.end(Ending::Kind::Open, {"thermistor.end.still", with(seen)}, {element_.id});
    }

    Flow flow_;
    int terminal_, part_;
    const Element& element_;
    std::size_t near_;
    PulledLine line_;
    int state_;
    double pulledTo_V_;
    std::optional<double> told_C_;
    bool isWrong_ = false;
};

}  // namespace

std::vector<std::string> thermistorsOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.role == Role::ThermistorInput && terminal.a >= 0 && terminal.hazard.empty() &&
            thermistorOf(map, t) >= 0)
            out.push_back(terminal.id);
    }
    return out;
}

Procedure thermistorByItsWarmth(const Bay& bay, const std::string& subject)
{
    return ThermistorTest(bay, subject).follow();
}

}  // namespace ilvek
