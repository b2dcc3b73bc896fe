#include "proving/plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "proving/absent_supply.h"
#include "proving/plausible.h"
#include "proving/unstated.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Time to connect and disconnect a substitute load.
constexpr double loadEffort_s = 60.0;

int rankOf(Role role, const WayOfWorking& working)
{
    const int inputs = working.signalFirst ? 1 : 6;
    switch (groupOf(role)) {
        case Group::Returns:
            return 0;
        case Group::Supplies:
            return role == Role::PermanentFeed ? 2 : role == Role::SwitchedFeed ? 3 : 4;
        case Group::References:
            return 5;
        case Group::Inputs:
            return inputs;
        case Group::Drives:
            return 7;
        case Group::Networks:
            return 8;
        case Group::Empty:
            return 9;
    }
    return 9;
}

// Latest judgement of a test on a terminal in a state that still counts.
const Judgement* latestOf(const Map& map, const Assessment& a, int terminal, TestKind test, int state,
                          const std::string& red = "", std::optional<bool> apart = std::nullopt)
{
    const std::string& id = map.terminal(terminal).id;
    for (std::size_t i = a.evidence.readings.size(); i-- > 0;) {
        const Reading& r = a.evidence.readings[i];
        const bool fits = r.terminal == id && r.test == test && stateOf(map, r) == state && !a.stale[i];
        const bool asAsked = !apart || test != TestKind::Level || isApart(map, r, terminal) == *apart;
        if (fits && asAsked && (red.empty() || r.red == red)) return &a.judgements[i];
    }
    return nullptr;
}

const Reading& readingOf(const Assessment& a, const Judgement& judgement)
{
    return a.evidence.readings[static_cast<std::size_t>(&judgement - a.judgements.data())];
}

bool batteryIsFresh(const Map& map, const Assessment& a, const Moment& moment, const std::string& state)
{
    for (auto it = a.evidence.readings.rbegin(); it != a.evidence.readings.rend(); ++it) {
        if (it->test != TestKind::Battery || it->state != state || implausible(map, *it)) continue;
        return static_cast<double>(moment.now_ms - it->time_ms) / 1000.0 <= trade::batteryFreshFor_s &&
               it->time_ms <= moment.now_ms;
    }
    return false;
}

bool isSettled(const Judgement* j)
{
    return j && j->verdict != Verdict::NotDecided && j->verdict != Verdict::NoEvidence &&
           j->verdict != Verdict::Conflict;
}

// A located step ends the walk; otherwise the point that cuts best.
std::optional<Step> walkOn(const Map& map, const Assessment& a, int terminal, int state)
{
    const Walk walk = walkOf(map, a.evidence, terminal);
    if (walk.located && walk.isSingleElement) return std::nullopt;
    const int next = nextWalkPoint(map, walk);
    if (next < 0) return std::nullopt;
    return walkStep(map, a.evidence.working, terminal, state, walk.points[static_cast<std::size_t>(next)].node);
}

// After a failure under load: which side, then where.
std::optional<Step> huntLoaded(const Map& map, const Assessment& a, int terminal, int state)
{
    const bool hasOwnReturn = map.terminal(terminal).ownReturn >= 0;
    if (hasOwnReturn && !isSettled(latestOf(map, a, terminal, TestKind::GroundSwap, state)))
        return swapStep(map, a.evidence.working, terminal, state);
    return walkOn(map, a, terminal, state);
}

std::optional<Step> loadedSupplyStep(const Map& map, const Assessment& a, int terminal, const Requirement& need,
                                     const Judgement* open)
{
    const WayOfWorking& working = a.evidence.working;
    if (!working.mated && !isSettled(open)) return openStep(map, working, terminal, need.state);
    const Judgement* loaded = latestOf(map, a, terminal, TestKind::LoadedSupply, need.state);
    if (loaded && loaded->verdict == Verdict::FailsLoaded) return huntLoaded(map, a, terminal, need.state);
    // Two readings that cannot both be: the earlier one is read again first (T8).
    if (loaded && open && loaded->verdict == Verdict::Conflict && loaded > open)
        return openStep(map, working, terminal, need.state);
    return loadStep(map, working, terminal, need.state);
}

std::optional<Step> supplyStep(const Map& map, const Assessment& a, int terminal, const Requirement& need)
{
    if (need.test == TestKind::AbsentSupply) {
        // Live when it must be dead is told once; what feeds it is a matter of the suspects. Where a little stands
        // there a lamp tells.
        const Judgement* absent = latestOf(map, a, terminal, TestKind::AbsentSupply, need.state);
        if (isSettled(absent)) return std::nullopt;
        const bool held = absent && mayBeHeldWire(map, readingOf(a, *absent));
        return absentStep(map, a.evidence.working, terminal, need.state, held);
    }
    const Judgement* open = latestOf(map, a, terminal, TestKind::OpenSupply, need.state);
    if (open && open->finding == Finding::SupplyAbsent) return absentSupplyStep(map, a, terminal, need.state);
    auto step = loadedSupplyStep(map, a, terminal, need, open);
    // What was proven with a lead in place of the module is proven with it to the end.
    if (!step || !open) return step;
    const auto& leads = readingOf(a, *open).jumpers;
    return leads.empty() ? step : withStandIn(map, std::move(*step), leads);
}

std::optional<Step> returnHunt(const Map& map, const Assessment& a, int terminal, const Requirement& need)
{
    const Judgement* drop = latestOf(map, a, terminal, TestKind::ReturnDrop, need.state);
    if (drop && drop->verdict == Verdict::FailsLoaded) return walkOn(map, a, terminal, need.state);
    return returnStep(map, a.evidence.working, terminal, need.state);
}

bool comparesWithBattery(const Map& map, const Step& step)
{
    if (step.test == TestKind::OpenSupply || step.test == TestKind::ReturnDrop) return true;
    if (step.test == TestKind::LoadedSupply) return step.load.empty();
    if (step.test != TestKind::Level || step.terminal < 0) return false;
    const auto& expected = map.terminal(step.terminal).expected;
    return std::any_of(expected.begin(), expected.end(), [&](const Expected& e) {
        return e.measure == Measure::BelowBattery && map.state(e.state).id == step.state;
    });
}

}  // namespace

std::optional<Step> batteryFirst(const Map& map, const Assessment& a, const Moment& moment, const Step& step)
{
    if (!comparesWithBattery(map, step) || batteryIsFresh(map, a, moment, step.state)) return std::nullopt;
    Step battery = batteryStep(map, step.state);
    battery.why += inWords("plan.then", step.title);
    return battery;
}

namespace {

std::optional<Step> stepForNeed(const Map& map, const Assessment& a, int terminal, const Requirement& need)
{
    switch (groupOf(map.terminal(terminal).role.value_or(Role::Empty))) {
        case Group::Supplies:
            return supplyStep(map, a, terminal, need);
        case Group::Returns:
            return returnHunt(map, a, terminal, need);
        case Group::Empty:
            return std::nullopt;
        default: {
            const Judgement* done = latestOf(map, a, terminal, need.test, need.state, "", need.apart);
            if (isSettled(done)) return std::nullopt;
            return tableStep(map, terminal, need);
        }
    }
}

// Readings of just this step decided nothing: its limits disagree, or it was read twice for nothing, or it was right at
// the largest load that there is and the terminal's own current, which nobody stated, may be larger.
bool isPutOff(const Map& map, const Assessment& a, const Step& step)
{
    int forNothing = 0;
    for (std::size_t i = a.evidence.readings.size(); i-- > 0 && forNothing < 2;) {
        const Reading& r = a.evidence.readings[i];
        const bool same = r.terminal == map.terminal(step.terminal).id && r.test == step.test && r.red == step.red &&
                          r.black == step.black && r.state == step.state && r.load == step.load && !a.stale[i];
        if (!same) continue;
        const bool loaded = step.test == TestKind::ReturnDrop || step.test == TestKind::LoadedSupply;
        if (loaded && a.judgements[i].verdict == Verdict::OpenOnly) return true;
        if (isSettled(&a.judgements[i])) return false;
        forNothing += a.judgements[i].finding == Finding::SourcesDisagree ? 2 : 1;
    }
    return forNothing >= 2;
}

// The fuse that was found blown on this terminal's way; −1 when none was.
int blownFuse(const Map& map, const Assessment& a, int terminal)
{
    for (const std::size_t i : a.on(map.terminal(terminal).id)) {
        if (a.stale[i] || a.judgements[i].finding != Finding::FuseBlown) continue;
        for (const int fuse : fusesOf(map, terminal)) {
            const auto& nodes = map.element(fuse).nodes;
            const std::string& red = a.evidence.readings[i].red;
            if (red == map.node(nodes[0]) || red == map.node(nodes[1])) return fuse;
        }
    }
    return -1;
}

// Connectors that what the fuse feeds passes through, those of the module first: parted one after the other they free
// the branch piece by piece.
std::vector<int> connectorsBehind(const Map& map, int fuse)
{
    std::vector<int> out;
    for (const bool ofModule : {true, false}) {
        for (std::size_t c = 0; c < map.connectors.size(); ++c) {
            const Connector& connector = map.connectors[c];
            if (connector.ofModule != ofModule) continue;
            const bool behind = std::any_of(connector.terminals.begin(), connector.terminals.end(), [&](int t) {
                return t >= 0 && map.terminal(t).a >= 0 &&
                       conductorPath(map, map.element(fuse).nodes[1], map.terminal(t).a) && passesThrough(map, t, fuse);
            });
            if (behind) out.push_back(static_cast<int>(c));
        }
    }
    return out;
}

// W22: what blew the fuse. A lamp in its place limits the current and shows the short; connector after connector is
// parted until it goes out. nullopt once it is out, or when all that can be parted is.
std::optional<Step> huntForShort(const Map& map, const Assessment& a, int fuse, int state)
{
    const auto lamp = findLoad(map.systemVoltage_V, "lamp-21w");
    const Element& e = map.element(fuse);
    std::size_t tried = 0;
    for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
        const Reading& r = a.evidence.readings[i];
        const bool same = r.removed == std::vector<std::string>{e.id} && r.loadFrom == map.node(e.nodes[0]) &&
                          r.loadTo == map.node(e.nodes[1]) && !a.stale[i];
        if (!same) continue;
        const bool out = r.shows ? *r.shows == Shown::Dark : std::abs(r.value.value) > 0.8 * map.systemVoltage_V;
        if (out) return std::nullopt;
        ++tried;
    }
    const auto connectors = connectorsBehind(map, fuse);
    if (!lamp || tried > connectors.size()) return std::nullopt;
    return lampForFuseStep(map, fuse, *lamp, state,
                           {connectors.begin(), connectors.begin() + static_cast<std::ptrdiff_t>(tried)});
}

// What is left to read once the place is known: of a blown fuse what blew it.
std::optional<Step> afterLocated(const Map& map, const Assessment& a, int terminal)
{
    const int fuse = blownFuse(map, a, terminal);
    if (fuse < 0) return std::nullopt;
    std::optional<int> state;
    for (const std::size_t i : a.on(map.terminal(terminal).id)) {
        if (!a.stale[i] && a.judgements[i].finding == Finding::FuseBlown)
            state = map.stateIndex(a.evidence.readings[i].state);
    }
    return state ? huntForShort(map, a, fuse, *state) : std::nullopt;
}

// `again`: also what was read in vain.
std::optional<Step> stepAt(const Map& map, const Assessment& a, int terminal, const Moment& moment, bool again)
{
    if (!map.terminal(terminal).hazard.empty()) return std::nullopt;
    if (locatedFault(map, a, terminal)) return afterLocated(map, a, terminal);
    Proof proof = proofOf(map, a, terminal);
    // The state the machine stands in is cheapest: no key has to be turned.
    std::stable_sort(proof.missing.begin(), proof.missing.end(), [&](const Requirement& x, const Requirement& y) {
        return (map.state(x.state).id == moment.state) > (map.state(y.state).id == moment.state);
    });
    for (const Requirement& need : proof.missing) {
        auto step = stepForNeed(map, a, terminal, need);
        if (!step || (!again && isPutOff(map, a, *step))) continue;
        auto battery = batteryFirst(map, a, moment, *step);
        return battery ? battery : step;
    }
    return std::nullopt;
}

bool isFailed(ProofState state)
{
    return state == ProofState::FailedLoaded || state == ProofState::OutOfLimits;
}

}  // namespace

std::vector<int> provingOrder(const Map& map, const WayOfWorking& working)
{
    std::vector<int> order;
    for (const int terminal : map.moduleTerminals()) {
        const Terminal& t = map.terminal(terminal);
        if (t.role && *t.role != Role::Empty && t.asFound != AsFound::Empty) order.push_back(terminal);
    }
    std::stable_sort(order.begin(), order.end(), [&](int x, int y) {
        return rankOf(*map.terminal(x).role, working) < rankOf(*map.terminal(y).role, working);
    });
    return order;
}

std::optional<std::string> locatedFault(const Map& map, const Assessment& a, int terminal)
{
    const std::string& id = map.terminal(terminal).id;
    for (std::size_t i = a.evidence.readings.size(); i-- > 0;) {
        if (a.stale[i] || a.evidence.readings[i].terminal != id) continue;
        if (a.judgements[i].finding == Finding::FuseBlown) return a.judgements[i].arithmetic;
        if (a.judgements[i].finding != Finding::StepFound) continue;
        const Walk walk = walkOf(map, a.evidence, terminal);
        if (walk.located && walk.isSingleElement) return walk.sentence;
    }
    for (std::size_t state = 0; state < map.states.size(); ++state) {
        const int at = static_cast<int>(state);
        const Judgement* open = latestOf(map, a, terminal, TestKind::OpenSupply, at);
        if (!open || open->finding != Finding::SupplyAbsent) continue;
        if (auto relay = relayFault(map, a, terminal, at)) return relay;
    }
    return std::nullopt;
}

std::optional<Step> nextStepFor(const Map& map, const Assessment& a, int terminal, const Moment& moment)
{
    return stepAt(map, a, terminal, moment, true);
}

namespace {

// The same test of the same terminal, with the same load.
std::optional<Step> sameAgain(const Map& map, const Assessment& a, const Reading& r)
{
    const int terminal = map.terminalIndex(r.terminal), state = map.stateIndex(r.state);
    if (terminal < 0 || state < 0 || map.terminal(terminal).asFound == AsFound::Empty) return std::nullopt;
    WayOfWorking working = a.evidence.working;
    if (!r.load.empty()) working.load = r.load, working.mated = false;
    switch (r.test) {
        case TestKind::LoadedSupply:
            return loadStep(map, working, terminal, state);
        case TestKind::ReturnDrop:
            return returnStep(map, working, terminal, state);
        case TestKind::OpenSupply:
            return openStep(map, working, terminal, state);
        case TestKind::AbsentSupply:
            return absentStep(map, working, terminal, state, !r.load.empty());
        case TestKind::Reference:
        case TestKind::Level:
        case TestKind::Resistance:
            return tableStep(map, terminal, {r.test, state, ""});
        default:
            return std::nullopt;
    }
}

// W33: what failed before the repair is read again first, as it was read then; the test under load before the others.
std::optional<Step> proofOfRepair(const Map& map, const Assessment& a)
{
    if (a.evidence.repairs.empty() || a.evidence.repairs.back().ofMap) return std::nullopt;
    const std::int64_t repair = a.evidence.repairs.back().id;
    for (const bool loadedFirst : {true, false}) {
        for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
            const Reading& failed = a.evidence.readings[i];
            const bool loaded = failed.test == TestKind::LoadedSupply || failed.test == TestKind::ReturnDrop;
            if (failed.id > repair || !a.stale[i] || failed.inShutDown || loaded != loadedFirst ||
                !isFailure(a.judgements[i].verdict))
                continue;
            auto step = sameAgain(map, a, failed);
            if (!step) continue;
            const bool done =
                std::any_of(a.evidence.readings.begin(), a.evidence.readings.end(), [&](const Reading& r) {
                    return r.id > repair && r.terminal == failed.terminal && r.test == failed.test &&
                           r.state == step->state && r.load == step->load;
                });
            if (done) continue;
            step->title = inWords("plan.after-repair") + step->title;
            step->why = inWords("plan.read-before-same-test", figureOf(failed), a.judgements[i].word);
            return step;
        }
    }
    return std::nullopt;
}

}  // namespace

std::optional<Step> nextStep(const Map& map, const Assessment& a, const Moment& moment)
{
    if (auto step = proofOfRepair(map, a)) {
        // A loaded pair needs its open reading anew, and that the battery of the minute.
        const int terminal = step->terminal, state = map.stateIndex(step->state);
        if (step->test == TestKind::LoadedSupply && !step->load.empty() &&
            !isSettled(latestOf(map, a, terminal, TestKind::OpenSupply, state))) {
            Step open = openStep(map, a.evidence.working, terminal, state);
            open.why += inWords("plan.then", step->title);
            step = std::move(open);
        }
        auto battery = batteryFirst(map, a, moment, *step);
        return battery ? battery : step;
    }
    const auto order = provingOrder(map, a.evidence.working);
    for (const int terminal : order) {
        if (!isFailed(proofOf(map, a, terminal).state)) continue;
        if (locatedFault(map, a, terminal)) return afterLocated(map, a, terminal);
        if (auto step = stepAt(map, a, terminal, moment, false)) return step;
    }
    for (const int terminal : order) {
        if (auto step = stepAt(map, a, terminal, moment, false)) return step;
    }
    return std::nullopt;
}

std::optional<CheapestOpen> cheapestOpen(const Map& map, const Assessment& a, const Moment& moment)
{
    std::optional<CheapestOpen> best;
    for (const int terminal : provingOrder(map, a.evidence.working)) {
        const Terminal& t = map.terminal(terminal);
        if (!t.hazard.empty()) continue;
        const Connector& connector = map.connectors[static_cast<std::size_t>(t.connector)];
        for (const Requirement& need : proofOf(map, a, terminal).missing) {
            const Judgement* done = latestOf(map, a, terminal, need.test, need.state);
            // No reading settles it: its sources disagree, or it failed and waits for its fault to be found.
            if (done && (done->finding == Finding::SourcesDisagree || isFailure(done->verdict))) continue;
            const bool loads = need.test == TestKind::LoadedSupply || need.test == TestKind::ReturnDrop;
            const OperatingState& state = map.state(need.state);
            const double effort_s = connector.reach_s + (loads ? connector.unplug_s + loadEffort_s : 0.0) +
                                    (state.id == moment.state ? 0.0 : state.effort_s);
            if (!best || effort_s < best->effort_s) best = CheapestOpen{terminal, need, effort_s};
        }
    }
    return best;
}

}  // namespace ilvek
