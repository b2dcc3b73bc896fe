// What comes and goes (W24): a healthy value first, a minute with nothing touched, then one place of the loom after the
// other moved, pressed or warmed while lowest and highest are read. A place at which it happens is touched again, until
// chance is no explanation. That nothing showed proves nothing.
#include <algorithm>
#include <cmath>
#include <map>

#include "base/expects.h"
#include "machine/paths.h"
#include "procedures/coincidence.h"
#include "procedures/work_cautions.h"

namespace ilvek {

namespace {

constexpr double leastSpread_V = 0.3, spreadShare = 0.04;  // of the healthy value, that is an event
constexpr double chanceAtMost = 0.05;
constexpr int mostTouches = 4;
constexpr const char* nothing = "nothing";

struct Count {
    int touches = 0, events = 0;
    std::vector<std::int64_t> entries;
};

class Watch {
public:
    Watch(const Bay& bay, const std::string& subject)
        : flow_(bay, "watch", subject),
          terminal_(bay.map.terminalIndex(subject)),
          fuse_(terminal_ >= 0 ? -1 : bay.map.elementIndex(subject)),
          state_(stateNow())
    {
    }

    Procedure follow()
    {
        flow_.caution({"watch.caution", of()});
        addWorkCautions(flow_, terminal_, -1);
        count();
        healthy();
        untouched();
        if (!flow_.hasEnded()) places();
        Procedure out = flow_.done();
        if (worst() && !out.ending) out.calledBy = Fact{"watch.called", with(*worst())};
        return out;
    }

private:
    using Named = std::vector<std::pair<std::string, std::string>>;
    Named of() const
    {
        const Map& map = flow_.map();
        return {{"subject", fuse_ >= 0 ? map.element(fuse_).id : map.terminal(terminal_).id},
                {"rating", fuse_ >= 0 ? ampsText(map.element(fuse_).value("rating")) : ""}};
    }

    Named with(const std::string& place) const
    {
        const Count here = at(place);
        Named out = of();
        out.emplace_back("place", place);
        out.emplace_back("events", std::to_string(here.events));
        out.emplace_back("touches", std::to_string(here.touches));
        out.emplace_back("others", std::to_string(events_ - here.events));
        out.emplace_back("tries", std::to_string(tries_ - here.touches));
        const double chance = chanceOf(here);
        out.emplace_back("chance", std::to_string(std::max(1L, std::lround(1 / std::max(1e-6, chance)))));
        return out;
    }

    int stateNow() const
    {
        const Map& map = flow_.map();
        const int now = map.stateIndex(flow_.bay().moment.state);
        return now > 0 || terminal_ < 0 ? std::max(0, now) : stateFor(map, terminal_);
    }

    Step step(const std::string& place) const
    {
        const Map& map = flow_.map();
        Step out;
        if (fuse_ >= 0) {
            const Element& e = map.element(fuse_);
            out = placed(map, e.nodes[1], map.batteryMinus(), state_);
            out.removed = {e.id};
            out.jumpers = {{map.node(e.nodes[0]), map.node(e.nodes[1]), e.value("rating")}};
        } else {
            const Terminal& t = map.terminal(terminal_);
            const bool own = t.ownReturn >= 0 && !(t.role && *t.role == Role::Return);
            out = placed(map, t.a, own ? map.terminal(t.ownReturn).a : map.batteryMinus(), state_);
            out.terminal = terminal_;
        }
        out.touched = place;
        return out;
    }

    // Of this circuit, with its leads where they stand for the watch.
    bool isOfWatch(const Reading& r) const
    {
        const Step s = step("");
        if (fuse_ >= 0)
            return r.shows && (*r.shows == Shown::Tripped || *r.shows == Shown::Holds) && r.jumpers.size() == 1 &&
                   r.jumpers.front().from == s.jumpers.front().from && r.jumpers.front().to == s.jumpers.front().to;
        return isVoltageTest(r.test) && (r.red == s.red || r.black == s.red) && r.unplugged.empty() &&
               r.removed.empty() && r.unpinned.empty() && r.jumpers.empty() && r.load.empty();
    }

    bool isEvent(const Reading& r) const
    {
        if (r.shows) return *r.shows == Shown::Tripped;
        const double spread = r.most ? std::abs(*r.most - r.value.value) : 0;
        const double off = healthy_V_ && !r.most ? std::abs(std::abs(r.value.value) - *healthy_V_) : 0;
        return std::max(spread, off) >= std::max(leastSpread_V, spreadShare * healthy_V_.value_or(0));
    }

    void count()
    {
        const Assessment& a = flow_.bay().assessment;
        // The first steady one is the healthy value: those that moved are what is looked for.
        for (std::size_t i = 0; i < a.evidence.readings.size() && !healthy_V_; ++i) {
            const Reading& r = a.evidence.readings[i];
            if (!a.stale[i] && isOfWatch(r) && !r.most && r.touched.empty() && !r.shows &&
                a.judgements[i].verdict != Verdict::Low && a.judgements[i].verdict != Verdict::FailsLoaded &&
                a.judgements[i].verdict != Verdict::High)
                healthy_V_ = std::abs(r.value.value), healthyEntry_ = r.id;
        }
        for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
            const Reading& r = a.evidence.readings[i];
            // Watched over a time with nothing touched, whether that was said or not.
            const bool untouched = r.touched.empty() && (r.most || r.shows);
            if (a.stale[i] || r.inShutDown || !isOfWatch(r) || (r.touched.empty() && !untouched)) continue;
            Count& c = by_.emplace_back(untouched ? nothing : r.touched, Count{}).second;
            c.touches = 1, c.events = isEvent(r) ? 1 : 0, c.entries = {r.id};
            ++tries_, events_ += c.events;
        }
        countRecorded();
    }

    // Touches that channels of a recording of this circuit mark count as those that were typed.
    void countRecorded()
    {
        const Evidence& e = flow_.bay().assessment.evidence;
        for (const TraceSeen& t : e.traces) {
            if (terminal_ < 0 || t.terminal != flow_.map().terminal(terminal_).id || isBeforeRepair(e, t.id)) continue;
            for (const TraceSeen::Touched& at : t.touched) {
                by_.emplace_back(at.place.empty() ? nothing : at.place, Count{at.touches, at.events, {t.id}});
                tries_ += at.touches, events_ += at.events;
            }
        }
    }

    Count at(const std::string& place) const
    {
        Count out;
        for (const auto& [name, c] : by_) {
            if (name != place) continue;
            out.touches += c.touches, out.events += c.events;
            out.entries.insert(out.entries.end(), c.entries.begin(), c.entries.end());
        }
        return out;
    }

    double chanceOf(const Count& here) const
    {
        return here.touches == 0 ? 1 : chanceOfCoincidence(here.events, here.touches, events_, tries_);
    }

    // Where most events fell; nullopt: none did.
    std::optional<std::string> worst() const
    {
        std::optional<std::string> out;
        double least = 2;
        for (const auto& [name, one] : by_) {
            const Count c = at(name);
            if (name != nothing && c.events > 0 && chanceOf(c) < least) least = chanceOf(c), out = name;
        }
        return out;
    }

    void healthy()
    {
        if (fuse_ >= 0) return;
        Stage& stage = flow_.stage("healthy", {"watch.healthy", of()}, Stage::State::Shown);
        if (healthy_V_) {
            // Any reading may serve; the watch begins with the first place that is touched.
            if (tries_ > 0) stage.entries = {healthyEntry_};
            Named says = of();
            says.emplace_back("figure", voltsText(*healthy_V_));
            return flow_.says({"watch.healthy.says", says});
        }
        flow_.ask(stage, {Asked::Kind::Reading, step(""), FigureKind::Volts, {}, {}, {}});
    }

    Asked touchOf(const std::string& place) const
    {
        return {Asked::Kind::Reading, step(place), fuse_ >= 0 ? FigureKind::Shown : FigureKind::Volts, {}, {}, {}};
    }

    void askTouch(Stage& stage, const std::string& place) { flow_.ask(stage, touchOf(place)); }

    void untouched()
    {
        const Count c = at(nothing);
        Stage& stage = flow_.stage("untouched", {fuse_ >= 0 ? "watch.untouched.fuse" : "watch.untouched", of()},
                                   Stage::State::Shown);
        if (c.touches == 0) return askTouch(stage, nothing);
        stage.entries = c.entries;
        if (c.events == 0) return flow_.says({"watch.untouched.still", of()});
        flow_.says({"watch.untouched.moves", of()});
        if (c.events == c.touches && c.touches > 1) flow_.end(Ending::Kind::Elsewhere, {"watch.end.present", of()});
    }

    // Along the circuit, what moves, is wet, or was mended before first.
    std::vector<std::string> placesOf() const
    {
        const Map& map = flow_.map();
        std::vector<std::pair<double, std::string>> all;
        const auto add = [&](const std::string& name, double weight) {
            const auto same = std::find_if(all.begin(), all.end(), [&](const auto& p) { return p.second == name; });
            if (!name.empty() && same == all.end()) all.emplace_back(weight, name);
        };
        std::vector<int> elements;
        if (fuse_ >= 0) {
            const auto nodes = joinedTo(map, map.element(fuse_).nodes[1], fuse_);
            for (std::size_t i = 0; i < map.elements.size(); ++i) {
                const auto& n = map.elements[i].nodes;
                if (static_cast<int>(i) != fuse_ &&
                    std::any_of(n.begin(), n.end(), [&](int x) { return nodes.contains(x); }))
                    elements.push_back(static_cast<int>(i));
            }
        } else {
            const auto role = map.terminal(terminal_).role;
            const auto way = role && isSupply(*role) ? supplyPath(map, terminal_)
                             : role == Role::Return  ? returnPath(map, terminal_)
                                                     : shownCircuit(map, terminal_);
            for (const PathStep& s : way.value_or(Path{}))
                elements.push_back(s.element);
        }
        for (const int i : elements) {
            const Element& e = map.element(i);
            if (e.place == "inside the module") continue;
            if (e.kind == ElementKind::Contact) {
                for (const Connector& c : map.connectors) {
                    const bool holds = std::any_of(c.terminals.begin(), c.terminals.end(),
                                                   [&](int t) { return t >= 0 && map.terminal(t).contact == i; });
                    if (holds) add("plug " + c.id, c.weakness * (c.moving ? 4 : 1) * (c.wet ? 3 : 1) * 2);
                }
            } else if (e.kind == ElementKind::Wire) {
                add(e.loom.empty() ? "loom from " + placeOf(map, e.nodes[0]) + " to " + placeOf(map, e.nodes[1])
                                   : "loom " + e.loom,
                    e.weakness);
            } else if (e.kind != ElementKind::Battery) {
                add(nameOf(map, i), e.weakness);
            }
        }
        std::stable_sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
        std::vector<std::string> out;
        for (auto& [weight, name] : all)
            out.push_back(std::move(name));
        // What was touched by other names counts too.
        for (const auto& [name, c] : by_) {
            if (name != nothing && std::find(out.begin(), out.end(), name) == out.end()) out.push_back(name);
        }
        return out;
    }

    void places()
    {
        const auto candidate = worst();
        if (candidate) again(*candidate);
        if (flow_.hasEnded()) return;
        const auto all = placesOf();
        for (const std::string& place : all) {
            if (candidate && place == *candidate) continue;
            const Count c = at(place);
            Named title = of();
            title.emplace_back("place", place);
            Stage& stage = flow_.stage("touch " + place, {fuse_ >= 0 ? "watch.touch.fuse" : "watch.touch", title},
                                       Stage::State::Shown);
            if (c.touches == 0) {
                askTouch(stage, place);
                continue;
            }
            // May be touched again at any time, and what moves it is not always found in this order.
            stage.entries = c.entries, stage.asked = touchOf(place);
            flow_.says({c.events > 0 ? "watch.touch.event" : "watch.touch.still", with(place)});
        }
        const bool allTouched = std::all_of(all.begin(), all.end(), [&](const auto& p) { return at(p).touches > 0; });
        if (allTouched && !candidate) flow_.end(Ending::Kind::Open, {"watch.end.absent", of()});
        if (!allTouched || !candidate) return;
        // Where few places are, leaving it alone is what to compare with.
        if (at(nothing).touches < mostTouches && 2 * at(*candidate).events > at(*candidate).touches)
            return askTouch(flow_.stage("alone", {"watch.alone", of()}, Stage::State::Later), nothing);
        flow_.end(Ending::Kind::Open, {"watch.end.unsure", with(*candidate)});
    }

    // Where it happened once it is touched again: once may be chance.
    void again(const std::string& place)
    {
        const Count c = at(place);
        Named title = of();
        title.emplace_back("place", place);
        Stage& stage = flow_.stage("again", {"watch.again", title}, Stage::State::Shown);
        stage.entries = c.entries, stage.asked = touchOf(place);
        flow_.says({"watch.again.says", with(place)});
        beside(place);
        if (chanceOf(c) <= chanceAtMost)
            return flow_.end(Ending::Kind::Found, {"watch.end.place", with(place)}, placesNamed(place),
                             Grade::OnLikelihood);
        if (c.touches < mostTouches)
            askTouch(flow_.stage("again next", {"watch.again.next", title}, Stage::State::Later), place);
    }

    // Other circuits that were watched while the same place was touched: what moves together shares what is at fault.
    void beside(const std::string& place)
    {
        const Assessment& a = flow_.bay().assessment;
        std::map<std::string, bool> others;
        for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
            const Reading& r = a.evidence.readings[i];
            if (a.stale[i] || r.touched != place || !r.most || !isVoltageTest(r.test) || r.terminal.empty() ||
                isOfWatch(r))
                continue;
            const double level = std::max(std::abs(*r.most), std::abs(r.value.value));
            others[r.terminal] =
                others[r.terminal] || std::abs(*r.most - r.value.value) >= std::max(leastSpread_V, spreadShare * level);
        }
        std::string moved, still;
        for (const auto& [terminal, moves] : others)
            (moves ? moved : still) += ((moves ? moved : still).empty() ? "" : ", ") + terminal;
        Named says = with(place);
        says.emplace_back("moved", moved), says.emplace_back("still", still);
        if (!moved.empty()) flow_.says({still.empty() ? "watch.beside.moved" : "watch.beside.both", says});
        if (moved.empty() && !still.empty()) flow_.says({"watch.beside.still", says});
    }

    // Parts of the map that the place names.
    std::vector<std::string> placesNamed(const std::string& place) const
    {
        const Map& map = flow_.map();
        std::vector<std::string> out;
        for (const Connector& c : map.connectors) {
            if ("plug " + c.id != place) continue;
            for (const int t : c.terminals) {
                if (t >= 0) out.push_back(map.terminal(t).id);
            }
        }
        for (const Element& e : map.elements) {
            const bool wire = e.kind == ElementKind::Wire && (e.loom.empty() ? "loom from " + placeOf(map, e.nodes[0]) +
                                                                                   " to " + placeOf(map, e.nodes[1])
                                                                             : "loom " + e.loom) == place;
            if (wire || (e.kind != ElementKind::Wire && e.name == place) || e.id == place) out.push_back(e.id);
        }
        return out;
    }

    Flow flow_;
    int terminal_, fuse_, state_;
    std::optional<double> healthy_V_;
    std::int64_t healthyEntry_ = 0;
    std::vector<std::pair<std::string, Count>> by_;  // one for each touch
    int tries_ = 0, events_ = 0;
};

}  // namespace

double chanceOfCoincidence(int here, int touches, int events, int tries)
{
    EXPECTS(0 <= here && here <= events && events <= tries && here <= touches && touches <= tries);
    // P(k) = C(K, k) C(N − K, n − k) / C(N, n), K events in N tries, n touches here.
    const auto choose = [](int n, int k) {
        return k < 0 || k > n ? -1e300 : std::lgamma(n + 1) - std::lgamma(k + 1) - std::lgamma(n - k + 1);
    };
    double sum = 0;
    for (int k = here; k <= std::min(events, touches); ++k)
        sum += std::exp(choose(events, k) + choose(tries - events, touches - k) - choose(tries, touches));
    return std::min(1.0, sum);
}

std::vector<std::string> circuitsOf(const Map& map);  // walk.cpp
std::vector<std::string> fusesOfMap(const Map& map);  // shared_short.cpp

std::vector<std::string> watchedOf(const Map& map)
{
    auto out = circuitsOf(map);
    const auto fuses = fusesOfMap(map);
    out.insert(out.end(), fuses.begin(), fuses.end());
    return out;
}

Procedure watchOverIt(const Bay& bay, const std::string& subject)
{
    return Watch(bay, subject).follow();
}

}  // namespace ilvek
