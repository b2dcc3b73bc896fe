#include "verdict/gate.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "procedures/substituted.h"
#include "proving/walk.h"
#include "verdict/reasoner.h"
#include "wording/words.h"

namespace ilvek {

namespace {

struct GroupLine {
    Group group;
    std::string_view id, title;
};

constexpr GroupLine groupLines[] = {
    {Group::Returns, "returns", "Returns loaded"},         {Group::Supplies, "supplies", "Supplies loaded"},
    {Group::References, "references", "References clean"}, {Group::Inputs, "inputs", "Inputs it needs"},
    {Group::Drives, "drives", "Loads and wiring"},         {Group::Networks, "bus", "Bus terminals"}};

void addReadings(std::vector<std::int64_t>& into, const std::vector<std::int64_t>& more)
{
    into.insert(into.end(), more.begin(), more.end());
}

std::string namesOf(const std::vector<std::string>& ids)
{
    constexpr std::size_t most = 4;
    if (ids.size() <= most) return listed(ids);
    return inWords("gate.and-more", fmt::join(ids.begin(), ids.begin() + most, ", "), ids.size() - most);
}

GateLine lineOf(const Map& map, const Assessment& a, const GroupLine& which)
{
    GateLine line;
    line.id = which.id;
    line.title = which.title;
    std::vector<std::string> failed, missing;
    for (const int terminal : provingOrder(map, {})) {
        const Terminal& t = map.terminal(terminal);
        if (groupOf(*t.role) != which.group) continue;
        ++line.total;
        const Proof proof = proofOf(map, a, terminal);
        if (proof.state == ProofState::ProvenLoaded) {
            ++line.earned;
            addReadings(line.readings, proof.readings);
        } else if (proof.state == ProofState::FailedLoaded || proof.state == ProofState::OutOfLimits) {
            failed.push_back(t.id);
            ++line.failed;
            addReadings(line.readings, proof.readings);
        } else {
            if (proof.state == ProofState::Assumed) ++line.assumed;
            missing.push_back(t.id);
        }
    }
    line.state = !failed.empty() ? LineState::Failed : missing.empty() ? LineState::Earned : LineState::Missing;
    if (!failed.empty())
        line.detail = namesOf(failed) + (failed.size() == 1 ? " fails" : " fail");
    else if (!missing.empty())
        line.detail = namesOf(missing) + inWords("gate.not-proven");
    if (line.assumed > 0) line.detail += inWords("gate.only-assumed", line.assumed);
    return line;
}

GateLine lineOf(const Assessment& a, const GateCheck& check)
{
    GateLine line;
    line.id = check.id;
    line.title = check.title;
    line.detail = check.question;
    for (const Statement& s : a.evidence.checks) {
        if (s.line != check.id) continue;
        line.state = LineState::Missing;
        line.detail = s.found;
        if (!saysSomething(s.found))
            line.detail = check.question;
        else if (isBeforeRepair(a.evidence, s.id))
            line.detail = inWords("gate.told-before-repair") + s.found + inWords("gate.tell-anew");
        else
            line.state = LineState::Earned;
    }
    return line;
}

// A machine without a network has no nodes to unplug.
bool isAsked(const Map& map, const GateCheck& check)
{
    if (check.id != "network") return true;
    const bool terminals = std::any_of(map.terminals.begin(), map.terminals.end(),
                                       [](const Terminal& t) { return t.role && groupOf(*t.role) == Group::Networks; });
    return terminals || std::any_of(map.elements.begin(), map.elements.end(),
                                    [](const Element& e) { return e.kind == ElementKind::BusPort; });
}

// A single part or a blown fuse shown directly: the fault is outside the module.
std::string locatedOutside(const Map& map, const Assessment& a)
{
    for (const int terminal : provingOrder(map, {})) {
        if (const auto located = locatedFault(map, a, terminal)) return *located;
    }
    return "";
}

// The last reading that failed at a terminal, by its place in the evidence; not of places on the way.
std::optional<std::size_t> lastFailed(const Map& map, const Assessment& a)
{
    for (std::size_t i = a.evidence.readings.size(); i-- > 0;) {
        const Reading& r = a.evidence.readings[i];
        const bool onTheWay = r.test == TestKind::Point || r.test == TestKind::FuseCheck;
        if (!a.stale[i] && isFailure(a.judgements[i].verdict) && map.terminalIndex(r.terminal) >= 0 && !onTheWay)
            return i;
    }
    return std::nullopt;
}

// What it says about where to look.
std::string suspicion(const Map& map, const Assessment& a, std::size_t failed)
{
    const std::string& id = a.evidence.readings[failed].terminal;
    const int terminal = map.terminalIndex(id);
    if (a.evidence.readings[failed].test == TestKind::AbsentSupply)
        return inWords("gate.something-feeds-when-must", id);
    const Walk walk = walkOf(map, a.evidence, terminal);
    if (walk.located) return walk.sentence;
    switch (a.judgements[failed].finding) {
        case Finding::FeedBad:
            return inWords("gate.feed-between-battery-plus", id);
        case Finding::ReturnBad:
            return inWords("gate.the-return-of", id);
        case Finding::SupplyAbsent:
            return inWords("gate.feeds-switches-relay", id);
        case Finding::BothSidesBad:
            return inWords("gate.feed-return", id);
        default:
            if (groupOf(map.terminal(terminal).role.value_or(Role::Empty)) == Group::Supplies)
                return inWords("gate.feed-return-2", id);
            return "";  // a level alone says nothing of the place
    }
}

std::string count(int n, std::string_view one, std::string_view many)
{
    static constexpr std::string_view small[] = {"No", "One", "Two", "Three", "Four"};
    const std::string number = n < 5 ? std::string(small[static_cast<std::size_t>(n)]) : fmt::format("{}", n);
    return number + " " + std::string(n == 1 ? one : many);
}

std::string failureSentence(const Map& map, const Assessment& a)
{
    int supplies = 0, returns = 0, other = 0;
    for (const int terminal : provingOrder(map, {})) {
        const ProofState state = proofOf(map, a, terminal).state;
        if (state != ProofState::FailedLoaded && state != ProofState::OutOfLimits) continue;
        const Group group = groupOf(*map.terminal(terminal).role);
        ++(group == Group::Supplies ? supplies : group == Group::Returns ? returns : other);
    }
    if (returns > 0)
        return count(returns, inWords("gate.return-fails"), inWords("gate.returns-fail")) +
               inWords("gate.before-module");
    if (supplies > 0)
        return count(supplies, inWords("gate.supply-fails"), inWords("gate.supplies-fail")) +
               inWords("gate.before-module");
    return count(other, inWords("gate.reading-is"), inWords("gate.readings-are")) +
           inWords("gate.out-limits-yet-explained");
}

void conclude(const Map& map, const Assessment& a, Gate& gate)
{
    const bool anyFailed = std::any_of(gate.lines.begin(), gate.lines.end(),
                                       [](const GateLine& l) { return l.state == LineState::Failed; });
    const bool allEarned = std::all_of(gate.lines.begin(), gate.lines.end(),
                                       [](const GateLine& l) { return l.state == LineState::Earned; });
    const std::string located = locatedOutside(map, a);
    if (!located.empty()) {
        gate.outcome = Outcome::Cleared;
        gate.sentence = inWords("gate.fault-shown-outside") + map.module + ".";
        gate.located = located;
        gate.grade = inWords("gate.shown-directly");
        gate.alternative = inWords("gate.second-fault-behind-one");
    } else if (anyFailed) {
        gate.sentence = "No. " + failureSentence(map, a);
        if (const auto failed = lastFailed(map, a)) {
            gate.located = suspicion(map, a, *failed);
            gate.locatedBy = a.evidence.readings[*failed].id;
        }
        gate.alternative = inWords("gate.meter-leads-load-ground");
    } else if (allEarned) {
        gate.outcome = Outcome::MayBeCondemned;
        gate.sentence = inWords("gate.may-condemned-all-needs", map.module);
        gate.grade = inWords("gate.by-elimination");
        gate.alternative = inWords("gate.by-substitution");
    } else {
        const auto open = std::count_if(gate.lines.begin(), gate.lines.end(),
                                        [](const GateLine& l) { return l.state == LineState::Missing; });
        gate.sentence = inWords("gate.proven-lines-still-open", open, gate.lines.size());
        gate.alternative = inWords("gate.any-conductor-yet-read");
    }
}

}  // namespace

std::string_view lineWord(LineState state)
{
    return state == LineState::Earned ? "earned" : state == LineState::Failed ? "failed" : "missing";
}

std::string_view outcomeWords(Outcome outcome)
{
    switch (outcome) {
        case Outcome::Cleared:
            return "cleared";
        case Outcome::NotProven:
            return inWords("gate.not-proven-2");
        case Outcome::MayBeCondemned:
            return inWords("gate.may-condemned");
        case Outcome::ProvenGood:
            return inWords("gate.proven-good");
    }
    return "";
}

const std::vector<GateCheck>& gateChecks()
{
    static const std::vector<GateCheck> checks{
        {"output", inWords("gate.output-still-wrong"), inWords("gate.output-wrong-reproduced-today")},
        {"shut-down", inWords("gate.shut-down-excluded"), inWords("gate.key-cycled-read-inside")},
        {"codes", inWords("gate.codes-read-last"), inWords("gate.codes-cleared-read-again")},
        {"network", inWords("gate.network-tried"), inWords("gate.nodes-unplugged-one-time")},
        {"alternatives", inWords("gate.alternatives-named"), inWords("gate.other-causes-fit-reading")}};
    return checks;
}

bool saysSomething(const std::string& found)
{
    const std::string_view text = trimmed(found);
    return text.find(' ') != std::string_view::npos && text.size() >= 6;
}

Gate gateOf(const Map& map, const Assessment& assessment, const Moment& moment)
{
    Gate gate;
    for (const GroupLine& which : groupLines) {
        GateLine line = lineOf(map, assessment, which);
        // Without a single supply and return on the map nothing can be proven.
        const bool essential = which.group == Group::Returns || which.group == Group::Supplies;
        if (line.total == 0 && essential) {
            line.state = LineState::Missing;
            line.detail = inWords("gate.map-lists-none");
        }
        if (line.total > 0 || essential) gate.lines.push_back(std::move(line));
    }
    for (const GateCheck& check : gateChecks()) {
        if (isAsked(map, check)) gate.lines.push_back(lineOf(assessment, check));
    }
    conclude(map, assessment, gate);
    gate.next = nextStep(map, assessment, moment);
    if (const auto open = cheapestOpen(map, assessment, moment))
        gate.cheapest = inWords("gate.about-min", map.terminal(open->terminal).id, open->requirement.words,
                                std::max(1L, std::lround(open->effort_s / 60)));
    return gate;
}

namespace {

std::string percent(double p)
{
    return p > 0.995 ? "over 99 %" : fmt::format("{:.0f} %", 100 * p);
}

// All that the module needs is proven and all is read; what is out of limits is only what may come from the module
// itself.
bool onlyLevelsFail(const std::vector<GateLine>& lines)
{
    return std::all_of(lines.begin(), lines.end(), [](const GateLine& l) {
        const bool need = l.id == "returns" || l.id == "supplies";
        return l.state == LineState::Earned ||
               (l.state == LineState::Failed && !need && l.earned + l.failed == l.total);
    });
}

// The likeliest group that is not the verdict, and what would exclude it.
std::string alternativeTo(const Reasoning& r, std::size_t verdict)
{
    for (std::size_t g = 0; g < r.groups.size(); ++g) {
        if (g == verdict || r.groups[g].members.empty()) continue;
        const bool some = g < r.exclusions.size() && r.exclusions[g];
        const std::string& none =
            r.built < r.toBuild ? inWords("gate.none-tests-computed-far") : inWords("gate.test-map-excludes");
        return fmt::format("{} ({}). {}", r.groups[g].words, percent(r.groups[g].probability),
                           some ? r.exclusions[g]->words : none);
    }
    return "";
}

// What most of the belief cannot give: one reading alone, or the one that the place is told by, or any while all else
// reads as on a sound machine, or as what no map knows.
bool isLikelierASlip(const Reasoning& r, std::int64_t locatedBy)
{
    double sound = r.notOnMap;
    for (const RankedSuspect& s : r.suspects)
        sound += s.suspect == 0 ? s.probability : 0;
    const bool toldByOne = std::count(r.slips.begin(), r.slips.end(), locatedBy) > 0;
    return !r.slips.empty() &&
           (sound > 0.5 || (r.conclusion.kind == Conclusion::Kind::Open && (r.slips.size() == 1 || toldByOne)));
}

}  // namespace

void weigh(const Reasoning& r, const std::string& module, Gate& gate)
{
    const bool read =
        !r.suspects.empty() && std::any_of(r.suspects.front().readings.begin(), r.suspects.front().readings.end(),
                                           [](const SuspectReading& x) { return x.isReading; });
    if (!read) return;
    using Kind = Conclusion::Kind;
    if (gate.outcome == Outcome::MayBeCondemned && r.outsideProbability > outsideAtMost) {
        gate.outcome = Outcome::NotProven;
        gate.grade.clear();
        gate.sentence = inWords("gate.proven-lies-outside-still", module, percent(r.outsideProbability));
        gate.alternative = alternativeTo(r, r.groups.size());
    } else if (gate.outcome == Outcome::NotProven && r.conclusion.kind == Kind::Outside) {
        gate.outcome = Outcome::Cleared;
        gate.grade = inWords("gate.on-likelihood");
        gate.sentence = inWords("gate.fault-lies-outside", module, percent(r.conclusion.probability));
        gate.located = r.conclusion.words + ".";
        gate.alternative = alternativeTo(r, 0);
    } else if (gate.outcome == Outcome::NotProven && r.conclusion.kind == Kind::Inside && onlyLevelsFail(gate.lines) &&
               r.outsideProbability <= outsideAtMost) {
        gate.outcome = Outcome::MayBeCondemned;
        gate.grade = inWords("gate.by-elimination");
        gate.sentence = inWords("gate.may-condemned-all-needs-2", module, percent(r.conclusion.probability));
        gate.located = r.conclusion.words + ".";
        gate.alternative = alternativeTo(r, 0);
        if (gate.alternative.empty()) gate.alternative = inWords("gate.by-substitution");
    } else if (gate.outcome == Outcome::NotProven && r.conclusion.kind == Kind::Inside) {
        gate.sentence = inWords("gate.proven-yet-likeliest-all", module, percent(r.conclusion.probability));
        gate.located = r.conclusion.words + ".";
        gate.alternative = alternativeTo(r, 0);
    } else if (gate.outcome == Outcome::NotProven && r.conclusion.kind == Kind::Either) {
        gate.sentence = inWords("gate.proven-test-tells-apart", percent(r.conclusion.probability), module);
        gate.located = r.conclusion.words + ".";
        gate.alternative = alternativeTo(r, 0);
    } else if (gate.outcome == Outcome::NotProven && r.conclusion.kind == Kind::MapWrong) {
        gate.sentence = inWords("gate.proven-map-likelier-wrong") + r.conclusion.words + ".";
        gate.located.clear();  // what is out of limits is the map's
    } else if (gate.outcome == Outcome::NotProven && r.conclusion.kind == Kind::NotOnMap) {
        gate.sentence = inWords("gate.proven-all-read-sound");
    } else if (!r.groups.empty() && gate.outcome == Outcome::NotProven) {
        gate.alternative = alternativeTo(r, r.groups.size());
    }
    if (gate.outcome == Outcome::NotProven && !gate.located.empty() && isLikelierASlip(r, gate.locatedBy)) {
        gate.located.clear();
        gate.sentence = r.doubtful.empty() ? inWords("gate.proven-failed-right-again")
                                           : inWords("gate.proven-failed-likelier-slip");
    }
    if (gate.next && !r.steps.empty() && r.conclusion.kind == Kind::Open) gate.next = r.steps.front();
}

namespace {

// Fused power to one terminal, and everything that failed works: that is the module's own word (W17).
bool provenGood(const Map& map, const Assessment& a, const std::vector<std::string>& dead, Gate& gate)
{
    for (const int terminal : provingOrder(map, {})) {
        if (!isSupply(*map.terminal(terminal).role) || map.terminal(terminal).a < 0) continue;
        const auto result = substituted(map, a.evidence, dead, terminal);
        if (!result || !result->provesModule) continue;
        const std::string& id = map.terminal(terminal).id;
        gate.outcome = Outcome::ProvenGood;
        gate.grade = inWords("gate.shown-directly");
        gate.sentence = inWords("gate.proven-good-fused-power", map.module, id);
        if (gate.located.empty()) gate.located = inWords("gate.conductor-feeds", id);
        gate.alternative = inWords("gate.second-fault-absent-now");
        return true;
    }
    return false;
}

}  // namespace

Gate gateOf(const Map& map, const Assessment& assessment, const Moment& moment, const Suspicion& suspicion)
{
    Gate gate = gateOf(map, assessment, moment);
    if (suspicion.reasoning) weigh(*suspicion.reasoning, map.module, gate);
    if (provenGood(map, assessment, suspicion.dead, gate)) return gate;
    if (gate.outcome != Outcome::MayBeCondemned || suspicion.weighedAll) return gate;
    gate.outcome = Outcome::NotProven;
    gate.grade.clear();
    gate.sentence = inWords("gate.yet-last-entries-still");
    return gate;
}

}  // namespace ilvek
