// Battery and charging (W8): at rest, cranking, charged, charged under load; what else feeds it and how long the key
// was on.
#include <array>
#include <cmath>

#include "machine/charging.h"
#include "procedures/flow.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

// Rest voltage of a 12 V lead-acid battery at 25 °C by its state of charge. SOURCE: customary table of the battery
// trade, flooded cells.
struct Charge {
    int percent;
    double volts;
};
constexpr std::array<Charge, 5> charges{{{100, 12.65}, {75, 12.45}, {50, 12.24}, {25, 12.06}, {0, 11.89}}};

class Battery {
public:
    explicit Battery(const Bay& bay) : flow_(bay, "battery", ""), scale_(bay.map.systemVoltage_V / 12.0) {}

    Procedure follow()
    {
        flow_.caution({"battery.caution.posts", {}});
        others();
        flow_.statement("temperature", {"battery.temperature", {}});
        rest();
        if (const int cranking = crankingState(flow_.map()); cranking >= 0) crank(cranking);
        for (int s = 0; s < static_cast<int>(flow_.map().states.size()); ++s) {
            if (!isChargedIn(flow_.map(), s) || s == crankingState(flow_.map())) continue;
            charging(s);
            break;
        }
        Procedure out = flow_.done();
        if (!out.ending && !out.next()) conclude(out);
        if (weak_) out.calledBy = Fact{"battery.called.low", {}};
        return out;
    }

private:
    double limit(double twelve_V) const { return twelve_V * scale_; }

    // What this machine's papers ask of the battery in a state; where they say nothing the custom of the trade.
    double atLeast(int state, double customary_V) const
    {
        std::optional<double> stated;
        for (const Expected& e : flow_.map().batteryExpected) {
            const std::string kind = e.source < 0 ? "" : flow_.map().sources[static_cast<std::size_t>(e.source)].kind;
            if (e.state == state && e.low && (kind == "maker" || kind == "measured"))
                stated = std::min(stated.value_or(*e.low), *e.low);
        }
        return stated.value_or(limit(customary_V));
    }

    void others()
    {
        const Statement* told = flow_.statement("others", {"battery.others", {}});
        for (std::size_t i = 0; i < flow_.map().elements.size(); ++i) {
            const Element& e = flow_.map().elements[i];
            if (e.kind == ElementKind::Battery && static_cast<int>(i) != flow_.map().battery)
                flow_.says({"battery.others.second", {{"part", nameOf(flow_.map(), static_cast<int>(i))}}});
        }
        if (told && told->found != "none" && told->found != "no") flow_.says({"battery.others.lift", {}});
        if (const double minutes = keyOnMinutes(); minutes >= trade::longKeyOn_min)
            flow_.says({"battery.key-on", {{"minutes", std::to_string(std::lround(minutes))}}});
    }

    // As it was told; else an ordinary day.
    double celsius() const
    {
        constexpr double ordinary = 20;
        const Statement* told = flow_.told("temperature");
        const auto figure = told ? parseQuantity(told->found, Unit::Celsius) : fail("", "");
        return figure && !figure->overLimit ? figure->value : ordinary;
    }

    // Since the machine was last charged.
    double keyOnMinutes() const
    {
        const auto& states = flow_.bay().assessment.evidence.states;
        double ms = 0;
        for (std::size_t i = 0; i < states.size(); ++i) {
            const int s = flow_.map().stateIndex(states[i].state);
            const std::int64_t until = i + 1 < states.size() ? states[i + 1].time_ms : flow_.bay().moment.now_ms;
            if (s >= 0 && isChargedIn(flow_.map(), s)) ms = 0;
            if (s > 0 && !isChargedIn(flow_.map(), s))
                ms += static_cast<double>(std::max<std::int64_t>(0, until - states[i].time_ms));
        }
        return ms / 60'000;
    }

    void rest()
    {
        const Map& map = flow_.map();
        const Seen seen =
            flow_.reading("rest", {"battery.rest", {}}, batteryStep(map, map.states.front().id), atRest());
        if (!seen) return;
        const double cold_V = trade::restPerKelvin_V * (celsius() - 25);
        const double twelve_V = seen.volts() / scale_ - cold_V;
        const std::string share = std::to_string(chargeOf(twelve_V));
        const bool strict = flow_.bay().assessment.evidence.working.strictBattery;
        const double least = strict ? limit(trade::fullFrom_V) : atLeast(0, trade::usableFrom_V);
        const std::vector<std::pair<std::string, std::string>> of{
            {"figure", seen.figure()}, {"percent", share}, {"limit", voltsText(least)}};
        if (seen.volts() > limit(trade::chargerAbove_V)) {
            flow_.says({"battery.rest.high", of});
        } else if (seen.volts() < least) {
            weak_ = true;
            flow_.fails({strict ? "battery.rest.not-full" : "battery.rest.low", of});
            flow_.end(Ending::Kind::Found, {"battery.end.weak", of}, {map.element(map.battery).id});
        } else {
            flow_.says({"battery.rest.right", of});
        }
    }

    Flow::Fits atRest() const
    {
        return [this](const Reading& r) {
            const int s = flow_.map().stateIndex(r.state);
            return r.test == TestKind::Battery && r.load.empty() && s == 0;
        };
    }

    static int chargeOf(double twelve_V)
    {
        for (std::size_t i = 1; i < charges.size(); ++i) {
            if (twelve_V < charges[i].volts) continue;
            const Charge& high = charges[i - 1];
            const Charge& low = charges[i];
            const double share = std::min(1.0, (twelve_V - low.volts) / (high.volts - low.volts));
            return static_cast<int>(std::lround(low.percent + share * (high.percent - low.percent)));
        }
        return 0;
    }

    void crank(int state)
    {
        const Map& map = flow_.map();
        const Seen seen = flow_.reading(
            "cranking", {"battery.cranking", {}}, batteryStep(map, map.state(state).id),
            [&](const Reading& r) { return r.test == TestKind::Battery && r.state == map.state(state).id; });
        if (!seen) return;
        const double least = atLeast(state, trade::crankingAtLeast_V);
        const std::vector<std::pair<std::string, std::string>> of{{"figure", seen.figure()},
                                                                  {"limit", voltsText(least)}};
        if (seen.volts() >= least) return flow_.says({"battery.cranking.right", of});
        weak_ = true;
        flow_.fails({"battery.cranking.low", of});
        flow_.end(Ending::Kind::Found, {"battery.end.cranking", of}, {map.element(map.battery).id},
                  Grade::OnLikelihood);
    }

    void charging(int state)
    {
        const Map& map = flow_.map();
        const std::string id = map.state(state).id;
        const Seen open = flow_.reading(
            "running", {"battery.running", {}}, batteryStep(map, id),
            [&](const Reading& r) { return r.test == TestKind::Battery && r.state == id && r.load.empty(); });
        if (open) judgeCharging(open, "running", atLeast(state, trade::chargedAtLeast_V));
        Step loaded = batteryStep(map, id);
        loaded.load = "motor";
        loaded.loadFrom = map.node(map.batteryPlus()), loaded.loadTo = map.node(map.batteryMinus());
        loaded.title.clear();
        const Seen under = flow_.reading("loaded", {"battery.loaded", {}}, loaded, [&](const Reading& r) {
            return r.test == TestKind::Battery && r.state == id && !r.load.empty();
        });
        if (under) judgeCharging(under, "loaded", limit(trade::loadedAtLeast_V));
    }

    void judgeCharging(const Seen& seen, const std::string& stage, double least_V)
    {
        const std::vector<std::pair<std::string, std::string>> of{{"figure", seen.figure()},
                                                                  {"limit", voltsText(least_V)},
                                                                  {"most", voltsText(limit(trade::chargedAtMost_V))}};
        const bool low = seen.volts() < least_V;
        const bool high = seen.volts() > limit(trade::chargedAtMost_V);
        if (!low && !high) return flow_.says({"battery." + stage + ".right", of});
        flow_.fails({"battery." + stage + (low ? ".low" : ".high"), of});
        // With a heavy load on top it may just be small for it.
        if (low && stage == "loaded") return flow_.end(Ending::Kind::Open, {"battery.end.loaded", of});
        flow_.end(Ending::Kind::Found, {low ? "battery.end.no-charge" : "battery.end.overcharged", of}, {},
                  Grade::OnLikelihood);
    }

    void conclude(Procedure& out) const
    {
        out.ending = Ending{Ending::Kind::Sound, {"battery.end.sound", {}}, Grade::ShownDirectly, {}};
    }

    Flow flow_;
    double scale_;
    bool weak_ = false;
};

}  // namespace

Procedure batteryAndCharging(const Bay& bay, const std::string&)
{
    return Battery(bay).follow();
}

}  // namespace ilvek
