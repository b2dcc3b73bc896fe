// A short to ground on a shared feed (W22): what else can feed it, ohms and why they prove little, a lamp in place of
// the fuse, and halving the branch by what is unplugged. What is left is counted before each step.
//
// The places of the branch are its parts. With a set U unplugged the fuse still feeds branch_.reach(U). A lamp that the
// short lights leaves the places in branch_.reach(U), a dark one leaves those outside it; so the readings may come in
// any order.
#include <algorithm>
#include <cmath>
#include <set>

#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "procedures/feed_branch.h"
#include "procedures/flow.h"
#include "proving/lamp.h"

namespace ilvek {

namespace {

constexpr double plugAgain_s = 60;
// Of its rated volts: a sound branch may light a lamp so far before its light tells of a short, and no further.
constexpr double soundLightAtMost = 0.5, soundGlowAtMost = 0.1, moreThanSound = 0.25;
// A lamp passes no more than its own current.
constexpr double moreThanLamp = 1.3;
constexpr double clampAll = 0.6, clampNone = 0.1;  // of the lamp's current
constexpr std::size_t fewPlaces = 4;

class SharedShort {
public:
    SharedShort(const Bay& bay, const std::string& subject)
        : flow_(bay, "short", subject),
          fuse_(bay.map.elementIndex(subject)),
          element_(bay.map.element(fuse_)),
          branch_(bay.map, fuse_),
          state_(stateOfHunt()),
          possible_(branch_.reach({}))
    {
    }

    Procedure follow()
    {
        flow_.caution({"short.caution.larger", of()});
        flow_.caution({"short.caution.lamp", of()});
        for (const Parts& relays{relaysOnBranch()}; const int relay : relays)
            flow_.caution({"short.caution.relay", {{"relay", flow_.map().element(relay).id}}});
        sources();
        ohms();
        lamp();
        if (isLit_) halve();
        Procedure out = flow_.done();
        if (wasFoundBlown()) out.calledBy = Fact{"short.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        return {{"fuse", element_.id},
                {"rating", ampsText(element_.value("rating"))},
                {"count", std::to_string(possible_.size())}};
    }

    bool wasFoundBlown() const
    {
        const Assessment& a = flow_.bay().assessment;
        for (std::size_t i = 0; i < a.judgements.size(); ++i) {
            if (!a.stale[i] && a.judgements[i].finding == Finding::FuseBlown &&
                (branch_.isAtFuse(a.evidence.readings[i].red) || branch_.isAtFuse(a.evidence.readings[i].black)))
                return true;
        }
        return false;
    }

    // In which the fuse went, else in which what it feeds must be there.
    int stateOfHunt() const
    {
        const Map& map = flow_.map();
        const auto& readings = flow_.bay().assessment.evidence.readings;
        for (auto it = readings.rbegin(); it != readings.rend(); ++it) {
            const bool here = branch_.isAtFuse(it->loadFrom) || branch_.isAtFuse(it->red) ||
                              std::any_of(it->jumpers.begin(), it->jumpers.end(), [&](const FusedLead& l) {
                                  return branch_.isAtFuse(l.from) && branch_.isAtFuse(l.to);
                              });
            if (here && map.stateIndex(it->state) > 0) return map.stateIndex(it->state);
        }
        for (const int t : map.moduleTerminals()) {
            if (map.terminal(t).role && isSupply(*map.terminal(t).role) && passesThrough(map, t, fuse_))
                return stateFor(map, t);
        }
        const int now = std::max(0, map.stateIndex(flow_.bay().moment.state));
        if (branch_.isLive(now)) return now;
        for (int s = 0; s < static_cast<int>(map.states.size()); ++s) {
            if (branch_.isLive(s)) return s;
        }
        return now;
    }

    Parts relaysOnBranch() const
    {
        Parts out;
        for (const int part : possible_) {
            if (flow_.map().element(part).kind == ElementKind::Relay) out.insert(part);
        }
        return out;
    }

    // Lit, dark, or not decided: what a sound branch passes may light the lamp by itself.
    enum class Light { Lit, Dark, Unclear };
    Light lightOf(const Reading& r) const
    {
        const auto condition = conditionOf(flow_.map(), r);
        if (!condition) return Light::Unclear;
        Condition fed = *condition;
        fed.removed.insert(fuse_);
        fed.jumpers.erase(
            std::remove_if(fed.jumpers.begin(), fed.jumpers.end(),
                           [&](const Jumper& j) { return j.to == element_.nodes[1] || j.from == element_.nodes[1]; }),
            fed.jumpers.end());
        if (!branch_.isLive(std::move(fed))) return Light::Unclear;
        if (r.shows == Shown::Tripped) return Light::Lit;
        if (r.shows == Shown::Holds) return Light::Dark;
        const auto place = lampOf(flow_.map(), r);
        const auto share = place ? shareOf(r, place->rated_V) : std::nullopt;
        if (!share) return Light::Unclear;
        if (*share < lamp::darkBelow) return Light::Dark;
        // What passes through sound loads may make it glow.
        const double sound = branch_.soundShare(r, place->rated_V);
        if (sound > soundLightAtMost) return Light::Unclear;
        if (r.shows == Shown::Dim) return sound > soundGlowAtMost ? Light::Unclear : Light::Lit;
        return *share < sound + moreThanSound ? Light::Unclear : Light::Lit;
    }

    // Of its rated volts what the lamp has. nullopt: what is read does not say.
    std::optional<double> shareOf(const Reading& r, double rated_V) const
    {
        if (r.shows) return *r.shows == Shown::Bright ? 1 : *r.shows == Shown::Dim ? 0.5 : 0;
        const bool across = branch_.isAtFuse(r.red) && branch_.isAtFuse(r.black);
        const double v = std::abs(r.value.value);
        // Behind a fuse to which nothing comes it reads nothing too, and the lamp is dark.
        if (!across && v < 0.5 * batteryNow_V(flow_.bay()) && !wasSourceLive(r)) return std::nullopt;
        return (across ? v : std::max(0.0, batteryNow_V(flow_.bay()) - v)) / rated_V;
    }

    // The fuse's source side was read, and there, in the state of this reading.
    bool wasSourceLive(const Reading& lamp) const
    {
        const std::string& source = flow_.map().node(element_.nodes[0]);
        const Seen seen = flow_.latest([&](const Reading& r) {
            return isVoltageTest(r.test) && r.red == source && r.state == lamp.state && r.load.empty();
        });
        return seen && isThere(flow_.bay(), seen);
    }

    bool standsInFor(const Reading& r) const
    {
        const bool lamp = !r.load.empty() && branch_.isAtFuse(r.loadFrom) && branch_.isAtFuse(r.loadTo);
        const bool breaker = r.shows && std::any_of(r.jumpers.begin(), r.jumpers.end(), [&](const FusedLead& l) {
                                 return branch_.isAtFuse(l.from) && branch_.isAtFuse(l.to);
                             });
        return lamp || breaker;
    }

    void sources()
    {
        const Statement* told = flow_.statement("sources", {"short.sources", of()});
        for (std::size_t i = 0; i < flow_.map().elements.size(); ++i) {
            if (flow_.map().elements[i].kind == ElementKind::Battery && static_cast<int>(i) != flow_.map().battery &&
                !told)
                flow_.says({"short.sources.second", {{"part", nameOf(flow_.map(), static_cast<int>(i))}}});
        }
    }

    void ohms()
    {
        const Map& map = flow_.map();
        Step step = placed(map, element_.nodes[1], map.batteryMinus(), 0);
        step.removed = {element_.id};
        const Seen seen = flow_.latest([&](const Reading& r) {
            return unitAsked(r.test) == Unit::Ohm && (r.red == step.red || r.black == step.red) && r.unplugged.empty();
        });
        const Fact title{"short.ohms", of()};
        if (!seen && school() == "ohms") {
            flow_.ask(flow_.stage("ohms", title, Stage::State::Later),
                      {Asked::Kind::Reading, step, FigureKind::Ohms, {}, {}, {}});
            return;
        }
        if (!seen) {
            // It proves little: the lamp may go on without it.
            Stage& stage = flow_.stage("ohms", title, Stage::State::Later);
            stage.asked = Asked{Asked::Kind::Reading, step, FigureKind::Ohms, {}, {}, {}};
            return;
        }
        Stage& stage = flow_.stage("ohms", title, Stage::State::Shown);
        stage.entries = {seen.reading->id};
        auto says = of();
        says.emplace_back("figure", seen.figure());
        auto condition = conditionOf(map, *seen.reading);
        if (condition) {
            condition->meter = Meter{map.nodeIndex(step.red), map.batteryMinus(), 10e6, Meter::Mode::Ohms};
            const auto sound = displayOf(map, *condition);
            if (sound && !sound->live) says.emplace_back("sound", sound->overLimit ? "OL" : ohmsOfText(sound->value));
        }
        flow_.undecided({says.back().first == "sound" ? "short.ohms.says" : "short.ohms.alone", says});
    }

    Step lampStep(const Parts& connectors, const Parts& parts) const
    {
        Step step = lampForFuseStep(flow_.map(), fuse_, *findLoad(flow_.map().systemVoltage_V, "lamp-21w"), state_,
                                    {connectors.begin(), connectors.end()}, {parts.begin(), parts.end()});
        keepFed(step);
        // Across the lamp: there it needs no other figure beside it.
        step.red = flow_.map().node(element_.nodes[0]), step.black = flow_.map().node(element_.nodes[1]);
        step.instructions.resize(1);
        step.instructions.push_back("Red lead on " + flow_.map().nodeWords(element_.nodes[0]));
        step.instructions.push_back("Black lead on " + flow_.map().nodeWords(element_.nodes[1]) +
                                    "; or say how it burns (I)");
        step.expectation = expectedWords(flow_.map(), step);
        return step;
    }

    // A relay before the fuse that drops with what is unplugged is bridged at its socket.
    void keepFed(Step& step) const
    {
        const Map& map = flow_.map();
        const auto condition = conditionOf(map, step);
        if (!condition || branch_.isLive(*condition)) return;
        const auto path = conductorPath(map, map.batteryPlus(), element_.nodes[0]);
        for (const PathStep& s : path.value_or(Path{})) {
            const Element& e = map.element(s.element);
            if (e.kind != ElementKind::Relay) continue;
            step.removed.push_back(e.id);
            step.jumpers.push_back({map.node(e.nodes[0]), map.node(e.nodes[1]), element_.value("rating")});
            step.title += ", " + e.id + " bridged";
        }
    }

    // Every reading with a lamp or a breaker in the fuse's place, in the order taken.
    void lamp()
    {
        const Assessment& a = flow_.bay().assessment;
        bool any = false;
        for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
            const Reading& r = a.evidence.readings[i];
            if (a.stale[i] || r.inShutDown || !standsInFor(r)) continue;
            any = true;
            r.test == TestKind::Current ? follow(r) : take(r);
        }
        if (any && !isLit_) isDarkWithAll_ ? intermittent() : dark_ ? halve() : clear();
        if (any) return;
        const bool lamp = school() != "breaker" && school() != "fuse";
        if (school() == "fuse") flow_.caution({"short.caution.new-fuse", of()});
        Stage& stage = flow_.stage("lamp",
                                   {lamp                 ? "short.lamp"
                                    : school() == "fuse" ? "short.new-fuse"
                                                         : "short.breaker.first",
                                    of()},
                                   Stage::State::Later);
        Asked asked{Asked::Kind::Reading, lamp ? lampStep({}, {}) : breakerStep(), FigureKind::Shown, {}, {}, {}};
        flow_.ask(stage, std::move(asked));
    }

    const std::string& school() const { return flow_.bay().assessment.evidence.working.shortBy; }

    void take(const Reading& r)
    {
        const Parts out = branch_.outOf(r);
        const Parts fed = branch_.reach(out);
        const Light light = lightOf(r);
        auto says = of();
        const bool all = out.empty();
        Stage& stage =
            flow_.stage("lamp " + std::to_string(r.id), {titleOf(r, all), withApart(r, says)}, Stage::State::Shown);
        stage.entries = {r.id};
        const bool breaker = r.load.empty();
        if (r.measuredCurrent_A && !breaker) moreThanItCan(r);
        last_ = r;
        if (light == Light::Unclear) return flow_.undecided({"short.light.unclear", says});
        Parts left;
        for (const int part : possible_) {
            if (fed.contains(part) == (light == Light::Lit)) left.insert(part);
        }
        if (light == Light::Lit) isLit_ = true, apart_ = r, lit_ = r;
        if (light == Light::Dark && !all) dark_ = r;
        if (all && light == Light::Dark) {
            isDarkWithAll_ = true;
            return flow_.says({breaker ? "short.breaker.holds" : "short.light.none", says});
        }
        // What comes and goes may just be absent.
        if (light == Light::Dark && isDarkWithAll_) return flow_.undecided({"short.absent", says});
        if (!r.touched.empty() && light == Light::Lit) {
            says.emplace_back("touched", r.touched);
            flow_.says({"short.touched", says});
        }
        if (left.empty() && !isLit_) {
            flow_.says({"short.light.none", says});
            return flow_.end(Ending::Kind::Sound, {"short.end.none", says});
        }
        if (left.empty()) return flow_.undecided({"short.light.contradicts", says});
        possible_ = std::move(left);
        says = of();
        flow_.says(
            {std::string(breaker ? "short.breaker" : "short.light") + (light == Light::Lit ? ".stays" : ".out"), says});
    }

    static std::string titleOf(const Reading& r, bool all)
    {
        if (r.load.empty()) return all ? "short.breaker.in" : "short.breaker.apart";
        return all ? "short.lamp" : "short.lamp.apart";
    }

    std::vector<std::pair<std::string, std::string>> withApart(
        const Reading& r, std::vector<std::pair<std::string, std::string>> says) const
    {
        std::string names;
        const auto add = [&](const std::string& name) { names += (names.empty() ? "" : ", ") + name; };
        for (const std::string& c : r.unplugged)
            add(c);
        for (const std::string& e : r.removed) {
            if (e != element_.id) add(nameOf(flow_.map(), flow_.map().elementIndex(e)));
        }
        says.emplace_back("apart", names);
        return says;
    }

    // The lamp's current followed with a clamp, one conductor at a time: what flows in it flows to the short.
    void follow(const Reading& r)
    {
        const Map& map = flow_.map();
        const int conductor = map.elementIndex(r.conductor);
        const auto lamp = findLoad(map.systemVoltage_V, r.load);
        const Parts all = branch_.reach(branch_.outOf(r));
        if (!lamp || !all.contains(conductor)) return;
        Parts out = branch_.outOf(r);
        out.insert(conductor);
        const Parts before = branch_.reach(out);
        auto says = of();
        says.emplace_back("place", nameOfPlace(conductor));
        says.emplace_back("figure", ampsText(std::abs(r.value.value)));
        Stage& stage = flow_.stage("clamp " + std::to_string(r.id), {"short.clamp", says}, Stage::State::Shown);
        stage.entries = {r.id};
        const double share = std::abs(r.value.value) / lamp->ratedCurrent_A;
        const auto place = lampOf(map, r);
        const double sound = place ? branch_.soundShare(r, place->rated_V) : 1;
        // Sound loads behind it take a share of a lamp's current too.
        if (share > moreThanLamp) return moreThanItCan(r);
        if (!isLit_ || (share > clampNone && share < std::max(clampAll, sound + moreThanSound)))
            return flow_.undecided({"short.clamp.unclear", says});
        const bool through = share >= clampAll;
        Parts left;
        for (const int part : possible_) {
            const bool beyond = part == conductor || (all.contains(part) && !before.contains(part));
            if (beyond == through || part == conductor) left.insert(part);
        }
        if (left.empty()) return flow_.undecided({"short.light.contradicts", says});
        possible_ = std::move(left);
        says = of();
        says.emplace_back("figure", ampsText(std::abs(r.value.value)));
        flow_.says({through ? "short.clamp.through" : "short.clamp.none", says});
    }

    void moreThanItCan(const Reading& r)
    {
        const auto load = findLoad(flow_.map().systemVoltage_V, r.load);
        const double is = std::abs(r.test == TestKind::Current ? r.value.value : r.measuredCurrent_A.value_or(0));
        if (!load || is <= moreThanLamp * load->ratedCurrent_A) return;
        flow_.says({"short.back-feed", {{"figure", ampsText(is)}, {"lamp", ampsText(load->ratedCurrent_A)}}});
    }

    // A breaker of the same rating across the fuse's place.
    Step breakerStep() const
    {
        const Map& map = flow_.map();
        Step step = placed(map, element_.nodes[1], map.batteryMinus(), state_);
        step.removed = {element_.id};
        step.jumpers = {{map.node(element_.nodes[0]), map.node(element_.nodes[1]), element_.value("rating")}};
        return step;
    }

    void intermittent()
    {
        Stage& stage = flow_.stage("breaker", {"short.breaker", of()}, Stage::State::Later);
        flow_.ask(stage, {Asked::Kind::Reading, breakerStep(), FigureKind::Shown, {}, {}, {}});
    }

    // One lamp more, and how it would part the places that are left.
    struct Parting {
        Step step;
        std::size_t gone = 0, left = 0;
        double worth = 0;
        Parts out;
    };

    // What parts the places that are left best per minute: something more unplugged than when it was lit, or something
    // plugged in again that was apart when it went out. nullopt: nothing does, or the lamp would not decide it.
    std::optional<Parting> bestParting() const
    {
        std::optional<Parting> best;
        const auto weigh = [&](Step step, const Parts& touched, double effort_s) {
            Parting p;
            p.out = branch_.outOf(step);
            const Parts fed = branch_.reach(p.out);
            p.left = static_cast<std::size_t>(
                std::count_if(possible_.begin(), possible_.end(), [&](int part) { return fed.contains(part); }));
            p.gone = possible_.size() - p.left;
            const auto lamp = lampOf(flow_.map(), step);
            if (p.gone == 0 || p.left == 0 || !lamp || branch_.soundShare(step, lamp->rated_V) > soundLightAtMost)
                return;
            // Known-weak parts first, among equals.
            double weak = 1;
            for (const int part : touched)
                weak = std::max(weak, flow_.map().element(part).weakness);
            p.worth = static_cast<double>(std::min(p.left, p.gone)) * weak / (effort_s + plugAgain_s);
            p.step = std::move(step);
            if (!best || p.worth > best->worth) best = std::move(p);
        };
        for (const FeedBranch::Release& r : branch_.releases()) {
            if (isLit_) weigh(lampWith(apart_, r), r.out, r.effort_s);
            if (dark_ && isApartIn(*dark_, r)) weigh(lampWithout(*dark_, r), r.out, r.effort_s);
        }
        return best;
    }

    bool isApartIn(const SetUp& s, const FeedBranch::Release& r) const
    {
        const auto holds = [](const std::vector<std::string>& names, const std::string& id) {
            return std::find(names.begin(), names.end(), id) != names.end();
        };
        if (r.connector >= 0)
            return holds(s.unplugged, flow_.map().connectors[static_cast<std::size_t>(r.connector)].id);
        return holds(s.removed, flow_.map().element(r.part).id);
    }

    void halve()
    {
        auto best = bestParting();
        if (!best && isLit_) return found();
        if (!best) return clear();
        auto says = of();
        says.emplace_back("gone", std::to_string(best->gone));
        says.emplace_back("left", std::to_string(best->left));
        says.emplace_back("step", best->step.title);
        Stage& stage = flow_.stage("halve", {"short.halve", says}, Stage::State::Later);
        knownWeak(best->out);
        flow_.ask(stage, {Asked::Kind::Reading, std::move(best->step), FigureKind::Shown, {}, {}, {}});
    }

    // The lamp with all that was apart but this.
    Step lampWithout(const SetUp& before, const FeedBranch::Release& less) const
    {
        Parts connectors, parts;
        for (const std::string& c : before.unplugged)
            connectors.insert(flow_.map().connectorIndex(c));
        for (const std::string& e : before.removed)
            parts.insert(flow_.map().elementIndex(e));
        parts.erase(fuse_);
        connectors.erase(less.connector), parts.erase(less.part);
        return lampStep(connectors, parts);
    }

    // The lamp with what was apart before, and this too.
    Step lampWith(const std::optional<SetUp>& before, const FeedBranch::Release& more) const
    {
        Parts connectors, parts;
        if (before) {
            for (const std::string& c : before->unplugged)
                connectors.insert(flow_.map().connectorIndex(c));
            for (const std::string& e : before->removed)
                parts.insert(flow_.map().elementIndex(e));
        }
        parts.erase(fuse_);
        if (more.connector >= 0) connectors.insert(more.connector);
        if (more.part >= 0) parts.insert(more.part);
        return lampStep(connectors, parts);
    }

    // What may light the lamp by itself is unplugged first, most of it per minute.
    void clear()
    {
        const Parts before = last_ ? branch_.outOf(*last_) : Parts{};
        const auto loadsIn = [&](const Parts& parts) {
            return std::count_if(parts.begin(), parts.end(), [&](int part) {
                const Element& e = flow_.map().element(part);
                return specOf(e.kind).isLoad || e.kind == ElementKind::SupplyPort;
            });
        };
        const auto all = branch_.releases();
        const auto now = loadsIn(branch_.reach(before));
        const FeedBranch::Release* best = nullptr;
        double bestWorth = 0;
        for (const FeedBranch::Release& r : all) {
            Parts out = before;
            out.insert(r.out.begin(), r.out.end());
            const double worth = static_cast<double>(now - loadsIn(branch_.reach(out))) / (r.effort_s + plugAgain_s);
            if (worth > bestWorth) bestWorth = worth, best = &r;
        }
        if (!best) return flow_.end(Ending::Kind::Open, {"short.end.unclear", of()});
        Step step = lampWith(last_, *best);
        Stage& stage = flow_.stage("clear", {"short.clear", {{"step", step.title}}}, Stage::State::Later);
        knownWeak(best->out);
        flow_.ask(stage, {Asked::Kind::Reading, std::move(step), FigureKind::Shown, {}, {}, {}});
    }

    // A known weak part that is still among them, and is not what comes next (T19).
    void knownWeak(const Parts& next)
    {
        const Parts out = last_ ? branch_.outOf(*last_) : Parts{};
        for (const int part : possible_) {
            const Element& e = flow_.map().element(part);
            if (e.weakness <= 1 || !e.reach_s || out.contains(part)) continue;
            // Another was unplugged first, or is to be.
            if (!out.empty() || !next.contains(part))
                return flow_.says({"short.known-weak", {{"part", nameOf(flow_.map(), part)}}});
        }
    }

    void found()
    {
        std::vector<std::string> places;
        std::string names;
        std::size_t loads = 0;
        for (const int part : possible_) {
            const Element& e = flow_.map().element(part);
            places.push_back(e.id);
            const bool isPart = specOf(e.kind).isLoad || e.kind == ElementKind::Relay;
            if (isPart) ++loads;
            if (places.size() <= fewPlaces) names += (names.empty() ? "" : ", ") + nameOfPlace(part);
        }
        auto says = of();
        says.emplace_back("places", names);
        says.emplace_back("more", std::to_string(places.size() - std::min(places.size(), fewPlaces)));
        // A part that takes the current may be whole, and switched on when it must not be.
        if (places.size() == 1 && loads == 1) return foundPart(*possible_.begin(), std::move(says));
        flow_.end(Ending::Kind::Found,
                  {places.size() == 1           ? "short.end.one"
                   : places.size() <= fewPlaces ? "short.end.few"
                                                : "short.end.many",
                   says},
                  places);
    }

    // Whether the lamp was brighter than with this node at ground, the part before it whole.
    bool isBrighterThanAt(int node) const
    {
        const auto place = lit_ ? lampOf(flow_.map(), *lit_) : std::nullopt;
        const auto share = place ? shareOf(*lit_, place->rated_V) : std::nullopt;
        return share && *share > branch_.soundShare(*lit_, place->rated_V, node) + moreThanSound;
    }

    // Where the module switches its other end, the wire there at ground takes the current as well.
    void foundPart(int part, std::vector<std::pair<std::string, std::string>> says)
    {
        const Map& map = flow_.map();
        std::vector<std::string> places{map.element(part).id};
        const auto feed = joinedTo(map, element_.nodes[1], fuse_);
        for (const int node : map.element(part).nodes) {
            if (feed.contains(node) || isBrighterThanAt(node)) continue;
            const int t = terminalOnWire(map, node);
            const auto role = t < 0 ? std::nullopt : map.terminal(t).role;
            if (!role || groupOf(*role) != Group::Drives) continue;
            const auto way = wayOf(map, t, node);
            places.insert(places.end(), way.begin(), way.end());
            says.emplace_back("terminal", map.terminal(t).id);
            return flow_.end(Ending::Kind::Found, {"short.end.driven", says}, places);
        }
        flow_.end(Ending::Kind::Found, {"short.end.part", says}, places);
    }

    std::string nameOfPlace(int part) const
    {
        const Map& map = flow_.map();
        const Element& e = map.element(part);
        if (e.kind != ElementKind::Wire && e.kind != ElementKind::Contact) return nameOf(map, part);
        for (const Terminal& t : map.terminals) {
            if (t.contact == part) return t.id;
        }
        return "the wire from " + placeOf(map, e.nodes[0]) + " to " + placeOf(map, e.nodes[1]);
    }

    Flow flow_;
    int fuse_;
    const Element& element_;
    FeedBranch branch_;
    int state_;
    Parts possible_;
    bool isLit_ = false, isDarkWithAll_ = false;
    std::optional<SetUp> apart_;  // of the last reading that was lit: it does not lie there
    std::optional<SetUp> dark_;   // of the last one that went out
    std::optional<Reading> lit_;  // the last that was lit
    std::optional<SetUp> last_;   // of the last reading with something in the fuse's place
};

}  // namespace

std::vector<std::string> fusesOfMap(const Map& map)
{
    std::vector<std::string> out;
    const auto forbidden = [&](int node) {
        return std::any_of(map.terminals.begin(), map.terminals.end(),
                           [&](const Terminal& t) { return !t.hazard.empty() && (t.a == node || t.b == node); });
    };
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind != ElementKind::Fuse || e.place == "inside the module") continue;
        // Restraint and high voltage are never probed, and nothing that leads there is hunted.
        const auto branch = joinedTo(map, e.nodes[1], static_cast<int>(i));
        if (std::none_of(branch.begin(), branch.end(), forbidden)) out.push_back(e.id);
    }
    return out;
}

Procedure shortOnSharedFeed(const Bay& bay, const std::string& subject)
{
    return SharedShort(bay, subject).follow();
}

}  // namespace ilvek
