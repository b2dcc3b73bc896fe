#include "proving/anywhere.h"

#include <algorithm>

#include "base/expects.h"
#include "machine/paths.h"
#include "proving/proof.h"
#include "proving/walk.h"

namespace ilvek {

namespace {

class Placer {
public:
    Placer(const Map& map, const SetUp& setUp, bool currentKnown)
        : map_(map),
          s_(setUp),
          currentKnown_(currentKnown),
          plus_(map.node(map.batteryPlus())),
          minus_(map.node(map.batteryMinus()))
    {
    }

    PlacedTest volts() const
    {
        if ((s_.red == plus_ && s_.black == minus_) || (s_.red == minus_ && s_.black == plus_))
            return {TestKind::Battery, ""};
        const int terminal = subject();
        if (terminal >= 0 && isBridged(map_, s_, terminal)) return {TestKind::Point, map_.terminal(terminal).id};
        if (terminal >= 0) {
            const Terminal& t = map_.terminal(terminal);
            if (t.role && isSupply(*t.role)) return {supply(terminal), t.id};
            if (t.role == Role::Return && other(terminal) == minus_) return {TestKind::ReturnDrop, t.id};
        }
        if (const int loaded = loadedTerminal(); loaded >= 0 && isOnItsWay(loaded) && other(-1) == minus_)
            return {TestKind::SegmentWalk, map_.terminal(loaded).id};
        if (const int behind = terminalBehindFuse(); behind >= 0)
            return {TestKind::FuseCheck, map_.terminal(behind).id};
        if (terminal >= 0) return {levelTest(terminal), map_.terminal(terminal).id};
        return {TestKind::Point, ""};
    }

    PlacedTest ohms() const
    {
        const int terminal = subject();
        if (terminal < 0) return {TestKind::PartResistance, ""};
        const Terminal& t = map_.terminal(terminal);
        const int state = map_.stateIndex(s_.state);
        const bool listed = std::any_of(t.expected.begin(), t.expected.end(), [&](const Expected& e) {
            return e.measure == Measure::Resistance && e.state == state;
        });
        return {listed && isPlain() ? TestKind::Resistance : TestKind::PartResistance, t.id};
    }

    // The terminal of the lead that is not on a battery post, of the conductor that is clamped, or under the load.
    std::string about() const
    {
        for (const Terminal& t : map_.terminals) {
            if (!s_.conductor.empty() && t.contact >= 0 && map_.element(t.contact).id == s_.conductor) return t.id;
        }
        if (const int terminal = subject(); terminal >= 0) return map_.terminal(terminal).id;
        const int loaded = loadedTerminal();
        return loaded < 0 ? "" : map_.terminal(loaded).id;
    }

private:
    int terminalAt(const std::string& node) const
    {
        for (const int t : map_.moduleTerminals()) {
            if (map_.terminal(t).a >= 0 && map_.node(map_.terminal(t).a) == node) return t;
        }
        return -1;
    }

    bool isReturn(int terminal) const
    {
        const auto role = map_.terminal(terminal).role;
        return role == Role::Return || role == Role::ReferenceReturn;
    }

    // From a supply to the drive that it feeds is no level of either.
    bool isOnGround(const std::string& node) const
    {
        const int terminal = terminalAt(node);
        return node == minus_ || (terminal >= 0 && (!map_.terminal(terminal).role || isReturn(terminal)));
    }

    // The other lead is on the return's own way, so that the pair is about that.
    bool isOfReturn(int terminal) const
    {
        const int red = map_.nodeIndex(s_.red);
        const auto way = returnPath(map_, terminal);
        const auto touches = [&](const PathStep& step) { return step.from == red || step.to == red; };
        return s_.red == minus_ || s_.red == plus_ || (way && std::ranges::any_of(*way, touches));
    }

    // A supply before a return: that is what the pair is about. Of a place elsewhere a return is no more than what it
    // is read against.
    int subject() const
    {
        const int red = terminalAt(s_.red), black = terminalAt(s_.black);
        if (red >= 0 && (black < 0 || !isReturn(red))) return red;
        if (red < 0 && black >= 0 && isReturn(black) && !isOfReturn(black)) return -1;
        return black >= 0 ? black : red;
    }

    // The lead that is not on the terminal; of a place (−1) the one that is not red.
    const std::string& other(int terminal) const
    {
        if (terminal < 0) return s_.black;
        return map_.node(map_.terminal(terminal).a) == s_.red ? s_.black : s_.red;
    }

    // A command that brings a state of the map about is part of that state.
    bool isPlain() const
    {
        const bool asState = s_.commands.empty() || stateOf(map_, s_) != map_.stateIndex(s_.state);
        return s_.load.empty() && s_.jumpers.empty() && asState && s_.warmed.empty();
    }

    TestKind supply(int terminal) const
    {
        const Terminal& t = map_.terminal(terminal);
        const int state = map_.stateIndex(s_.state);
        const std::string own = map_.node(t.a);
        const bool isOff = std::find(t.absentIn.begin(), t.absentIn.end(), state) != t.absentIn.end();
        if (!isOnGround(other(terminal)) && other(terminal) != plus_) return TestKind::Point;
        if (!s_.load.empty() && !isOff) {
            if (s_.loadFrom != own && s_.loadTo != own) return TestKind::Point;
            const std::string& far = s_.loadFrom == own ? s_.loadTo : s_.loadFrom;
            return other(terminal) == far ? TestKind::LoadedSupply : TestKind::GroundSwap;
        }
        if (isOff) return TestKind::AbsentSupply;
        return currentKnown_ && !isApart(map_, s_, terminal) ? TestKind::LoadedSupply : TestKind::OpenSupply;
    }

    // The supply or return that the load hangs on.
    int loadedTerminal() const
    {
        if (s_.load.empty()) return -1;
        const int from = terminalAt(s_.loadFrom), to = terminalAt(s_.loadTo);
        const auto is = [&](int t, auto predicate) {
            return t >= 0 && map_.terminal(t).role && predicate(*map_.terminal(t).role);
        };
        if (is(from, isSupply)) return from;
        return is(to, [](Role r) { return groupOf(r) == Group::Returns; }) ? to : -1;
    }

    bool isOnItsWay(int terminal) const
    {
        const Walk walk = walkOf(map_, {}, terminal);
        return std::any_of(walk.points.begin(), walk.points.end(),
                           [&](const WalkPoint& p) { return map_.node(p.node) == s_.red; });
    }

    int terminalBehindFuse() const
    {
        if (!s_.load.empty() || s_.black != minus_) return -1;
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const Element& e = map_.elements[i];
            if (e.kind != ElementKind::Fuse) continue;
            if (map_.node(e.nodes[0]) != s_.red && map_.node(e.nodes[1]) != s_.red) continue;
            for (const int t : map_.moduleTerminals()) {
                const auto fuses =
                    map_.terminal(t).role && isSupply(*map_.terminal(t).role) ? fusesOf(map_, t) : std::vector<int>{};
                if (std::find(fuses.begin(), fuses.end(), static_cast<int>(i)) != fuses.end()) return t;
            }
        }
        return -1;
    }

    // The table of expected values holds with everything as it is in service.
    TestKind levelTest(int terminal) const
    {
        const Terminal& t = map_.terminal(terminal);
        const bool isReference = t.role == Role::Reference;
        // A reference is read with its consumers released too, at a connector or at their own plugs.
        const bool asInService = isPlain() && s_.unpinned.empty() && (s_.removed.empty() || isReference);
        const bool apart = isApart(map_, s_, terminal);
        if (!isOnGround(other(terminal)) || !asInService) return TestKind::Point;
        const int state = stateOf(map_, s_);
        if (!t.moves.empty() && s_.unplugged.empty()) return TestKind::Level;
        for (const Requirement& r : requirementsOf(map_, terminal)) {
            const bool asAsked = r.apart ? apart : s_.unplugged.empty();
            if (r.state != state) continue;
            if ((r.test == TestKind::Reference && !apart) || (r.test == TestKind::Level && asAsked)) return r.test;
        }
        if (apart) return TestKind::Point;
        return isReference ? TestKind::Reference : TestKind::Point;
    }

    const Map& map_;
    const SetUp& s_;
    bool currentKnown_;
    const std::string& plus_;
    const std::string& minus_;
};

}  // namespace

bool isBridged(const Map& map, const SetUp& setUp, int terminal)
{
    if (setUp.jumpers.empty()) return false;
    const Walk walk = walkOf(map, {}, terminal);
    const auto on = [&](const std::string& node) {
        return std::any_of(walk.points.begin(), walk.points.end(),
                           [&](const WalkPoint& p) { return map.node(p.node) == node; });
    };
    return std::any_of(setUp.jumpers.begin(), setUp.jumpers.end(),
                       [&](const FusedLead& lead) { return on(lead.from) && on(lead.to); });
}

PlacedTest placedTest(const Map& map, const SetUp& setUp, FigureKind kind, bool currentKnown)
{
    EXPECTS(!unknownName(map, setUp));
    const Placer placer(map, setUp, currentKnown);
    switch (kind) {
        case FigureKind::Volts:
            return placer.volts();
        case FigureKind::Ohms:
            return placer.ohms();
        case FigureKind::AlternatingVolts:
            return {TestKind::Alternating, placer.about()};
        case FigureKind::Amperes:
            return {TestKind::Current, placer.about()};
        case FigureKind::Percent:
            return {TestKind::Duty, placer.about()};
        case FigureKind::Hertz:
            return {TestKind::Frequency, placer.about()};
        case FigureKind::Seconds:
            return {TestKind::Duration, placer.about()};
        case FigureKind::DiodeVolts:
            return {TestKind::Junction, placer.about()};
        case FigureKind::Shown:
            return {TestKind::Shown, placer.about()};
        case FigureKind::Reported:
            return {TestKind::Reported, placer.about()};
    }
    return {};
}

}  // namespace ilvek
