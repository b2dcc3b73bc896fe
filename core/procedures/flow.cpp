#include "procedures/flow.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "machine/charging.h"
#include "machine/paths.h"
#include "proving/plausible.h"

namespace ilvek {

namespace {

constexpr double thereShare = 0.8, awayShare = 0.2;

bool sameBridges(const SetUp& a, const SetUp& b)
{
    return std::equal(a.jumpers.begin(), a.jumpers.end(), b.jumpers.begin(), b.jumpers.end(),
                      [](const FusedLead& x, const FusedLead& y) { return x.from == y.from && x.to == y.to; });
}

template <class List>
bool sameNames(List a, List b)
{
    std::sort(a.begin(), a.end()), std::sort(b.begin(), b.end());
    return a == b;
}

}  // namespace

Flow::Flow(const Bay& bay, std::string id, std::string subject) : bay_(bay)
{
    procedure_.id = std::move(id);
    procedure_.subject = std::move(subject);
}

bool Flow::counts(std::size_t i) const
{
    const Assessment& a = bay_.assessment;
    const Reading& r = a.evidence.readings[i];
    return !a.stale[i] && !r.inShutDown && !implausible(bay_.map, r) && a.judgements[i].verdict != Verdict::Conflict;
}

Seen Flow::latest(const Fits& fits) const
{
    const Assessment& a = bay_.assessment;
    for (std::size_t i = a.evidence.readings.size(); i-- > 0;) {
        if (counts(i) && fits(a.evidence.readings[i])) return {&a.evidence.readings[i], &a.judgements[i]};
    }
    return {};
}

Seen Flow::earliest(const Fits& fits) const
{
    const Assessment& a = bay_.assessment;
    for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
        if (counts(i) && fits(a.evidence.readings[i])) return {&a.evidence.readings[i], &a.judgements[i]};
    }
    return {};
}

Seen Flow::at(const SetUp& s, Unit unit) const
{
    return latest([&](const Reading& r) {
        const bool placed = (r.red == s.red && r.black == s.black) || (r.red == s.black && r.black == s.red);
        const bool isLamp = r.shows && !s.load.empty();
        return placed && (isLamp || unitAsked(r.test) == unit) && r.state == s.state &&
               sameNames(r.unplugged, s.unplugged) && sameNames(r.removed, s.removed) &&
               sameNames(r.unpinned, s.unpinned) && sameBridges(r, s) && r.load.empty() == s.load.empty();
    });
}

const Statement* Flow::told(const std::string& stage, std::int64_t since) const
{
    const Evidence& e = bay_.assessment.evidence;
    const std::string id = procedure_.id + (procedure_.subject.empty() ? "" : " " + procedure_.subject) + " " + stage;
    for (auto it = e.checks.rbegin(); it != e.checks.rend(); ++it) {
        if (it->line == id && it->id > since && !isBeforeRepair(e, it->id) && !it->found.empty()) return &*it;
    }
    return nullptr;
}

bool Flow::isOpen() const
{
    return hasEnded() || std::any_of(procedure_.stages.begin(), procedure_.stages.end(),
                                     [](const Stage& s) { return s.state == Stage::State::Next; });
}

Stage& Flow::stage(const std::string& id, Fact title, Stage::State state)
{
    procedure_.stages.push_back({id, std::move(title), state, {}, {}, {}});
    return procedure_.stages.back();
}

void Flow::ask(Stage& stage, Asked asked)
{
    stage.state = isOpen() ? Stage::State::Later : Stage::State::Next;
    stage.asked = std::move(asked);
}

Seen Flow::reading(const std::string& id, Fact title, Step step, const Fits& fits)
{
    const Seen seen = fits ? latest(fits) : at(step, Unit::Volt);
    Stage& added = stage(id, std::move(title), Stage::State::Shown);
    if (seen)
        added.entries = {seen.reading->id};
    else
        ask(added, {Asked::Kind::Reading, std::move(step), FigureKind::Volts, {}, {}, {}});
    return seen;
}

Seen Flow::ohms(const std::string& id, Fact title, Step step)
{
    const Seen seen = at(step, Unit::Ohm);
    Stage& added = stage(id, std::move(title), Stage::State::Shown);
    if (seen)
        added.entries = {seen.reading->id};
    else
        ask(added, {Asked::Kind::Reading, std::move(step), FigureKind::Ohms, {}, {}, {}});
    return seen;
}

const Statement* Flow::statement(const std::string& id, Fact title, std::int64_t since)
{
    const Statement* found = told(id, since);
    Stage& added = stage(id, std::move(title), Stage::State::Shown);
    if (found) {
        added.entries = {found->id};
        added.says.push_back({"told", {{"words", found->found}}});
    } else {
        Asked asked;
        asked.kind = Asked::Kind::Statement;
        asked.statement = procedure_.id + (procedure_.subject.empty() ? "" : " " + procedure_.subject) + " " + id;
        ask(added, std::move(asked));
    }
    return found;
}

void Flow::notNeeded(const std::string& id, Fact title, Fact why)
{
    stage(id, std::move(title), Stage::State::NotNeeded).says.push_back(std::move(why));
}

void Flow::says(Fact fact)
{
    procedure_.stages.back().says.push_back(std::move(fact));
}

void Flow::fails(Fact fact)
{
    procedure_.stages.back().state = Stage::State::Failed;
    says(std::move(fact));
}

void Flow::undecided(Fact fact)
{
    procedure_.stages.back().state = Stage::State::Undecided;
    says(std::move(fact));
}

void Flow::caution(Fact fact)
{
    procedure_.cautions.push_back(std::move(fact));
}

void Flow::end(Ending::Kind kind, Fact fact, std::vector<std::string> places, Grade grade)
{
    if (!hasEnded()) procedure_.ending = Ending{kind, std::move(fact), grade, std::move(places)};
}

Procedure Flow::done()
{
    for (Stage& s : procedure_.stages) {
        if (hasEnded() && s.state == Stage::State::Next) s.state = Stage::State::Later;
    }
    return std::move(procedure_);
}

Step placed(const Map& map, int red, int black, int state)
{
    Step step;
    step.test = TestKind::Point;
    step.red = map.node(red), step.black = map.node(black), step.state = map.state(state).id;
    return step;
}

double batteryNow_V(const Bay& bay)
{
    const auto& readings = bay.assessment.evidence.readings;
    for (auto it = readings.rbegin(); it != readings.rend(); ++it) {
        if (it->test == TestKind::Battery && it->load.empty() && !implausible(bay.map, *it))
            return std::abs(it->value.value);
    }
    return bay.map.systemVoltage_V;
}

bool isThere(const Bay& bay, const Seen& seen)
{
    if (seen.reading->shows) return *seen.reading->shows == Shown::Bright;
    return seen.volts() >= thereShare * batteryNow_V(bay);
}

bool isAway(const Bay& bay, const Seen& seen)
{
    if (seen.reading->shows) return *seen.reading->shows == Shown::Dark;
    return seen.volts() <= awayShare * batteryNow_V(bay);
}

int stateFor(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    if (!t.neededIn.empty()) return t.neededIn.front();
    for (const int other : map.moduleTerminals()) {
        if (map.terminal(other).role == Role::SwitchedFeed && !map.terminal(other).neededIn.empty())
            return map.terminal(other).neededIn.front();
    }
    return map.states.size() > 1 ? 1 : 0;
}

int drivenState(const Map& map, int terminal)
{
    for (int s = 0; s < static_cast<int>(map.states.size()); ++s) {
        for (const Element& e : map.elements) {
            const bool low = e.kind == ElementKind::LowSideDriver, high = e.kind == ElementKind::HighSideDriver;
            if ((low || high) && e.isIn(s) && e.nodes[low ? 0 : 1] == map.terminal(terminal).b) return s;
        }
    }
    return -1;
}

int crankingState(const Map& map)
{
    return map.stateIndex("cranking");
}

std::string nameOf(const Map& map, int element)
{
    const Element& e = map.element(element);
    return e.name.empty() ? e.id : e.name;
}

std::string placeOf(const Map& map, int node)
{
    const std::string words = map.nodeWords(node);
    return words.substr(0, words.find(','));
}

std::vector<std::string> wayOf(const Map& map, int terminal, int node)
{
    std::vector<std::string> out{map.terminal(terminal).id};
    const auto way = conductorPath(map, map.terminal(terminal).a, node);
    for (const PathStep& s : way.value_or(Path{}))
        out.push_back(map.element(s.element).id);
    return out;
}

std::string voltsText(double v)
{
    return formatQuantity(volts(v));
}

std::string ampsText(double a)
{
    return formatQuantity(amperes(a));
}

std::string ohmsOfText(double r)
{
    return formatQuantity(ohms(r));
}

}  // namespace ilvek
