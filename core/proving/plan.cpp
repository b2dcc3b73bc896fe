#include "proving/plan.h"

#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "proving/absent_supply.h"
#include "proving/plausible.h"
#include "proving/rules.h"

namespace ilvek {

namespace {

// Time to connect and disconnect a substitute load.
constexpr double loadEffort_s = 60.0;

int rankOf(Role role, const School& school)
{
    const int inputs = school.signalFirst ? 1 : 6;
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
                          const std::string& red = "")
{
    const std::string& id = map.terminal(terminal).id;
    for (std::size_t i = a.evidence.readings.size(); i-- > 0;) {
        const Reading& r = a.evidence.readings[i];
        const bool fits = r.terminal == id && r.test == test && r.state == map.state(state).id && !a.stale[i];
        if (fits && (red.empty() || r.red == red)) return &a.judgements[i];
    }
    return nullptr;
}

bool batteryIsFresh(const Map& map, const Assessment& a, const Moment& moment, const std::string& state)
{
    for (auto it = a.evidence.readings.rbegin(); it != a.evidence.readings.rend(); ++it) {
        if (it->test != TestKind::Battery || it->state != state || implausible(map, *it)) continue;
        return static_cast<double>(moment.now_ms - it->time_ms) / 1000.0 <= rules::batteryFreshFor_s &&
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
    return walkStep(map, a.evidence.school, terminal, state, walk.points[static_cast<std::size_t>(next)].node);
}

// After a failure under load: which side, then where.
std::optional<Step> huntLoaded(const Map& map, const Assessment& a, int terminal, int state)
{
    const bool hasOwnReturn = map.terminal(terminal).ownReturn >= 0;
    if (hasOwnReturn && !isSettled(latestOf(map, a, terminal, TestKind::GroundSwap, state)))
        return swapStep(map, a.evidence.school, terminal, state);
    return walkOn(map, a, terminal, state);
}

std::optional<Step> loadedSupplyStep(const Map& map, const Assessment& a, int terminal, const Requirement& need,
                                     const Judgement* open)
{
    const School& school = a.evidence.school;
    if (!school.mated && !isSettled(open)) return openStep(map, school, terminal, need.state);
    const Judgement* loaded = latestOf(map, a, terminal, TestKind::LoadedSupply, need.state);
    if (loaded && loaded->verdict == Verdict::FailsLoaded) return huntLoaded(map, a, terminal, need.state);
    // Two readings that cannot both be: the earlier one is read again first (T8).
    if (loaded && open && loaded->verdict == Verdict::Conflict && loaded > open)
        return openStep(map, school, terminal, need.state);
    return loadStep(map, school, terminal, need.state);
}

std::optional<Step> supplyStep(const Map& map, const Assessment& a, int terminal, const Requirement& need)
{
    if (need.test == TestKind::AbsentSupply) {
        // Live when it must be dead is told once; what feeds it is a matter of the suspects.
        if (isSettled(latestOf(map, a, terminal, TestKind::AbsentSupply, need.state))) return std::nullopt;
        return absentStep(map, a.evidence.school, terminal, need.state);
    }
    const Judgement* open = latestOf(map, a, terminal, TestKind::OpenSupply, need.state);
    if (open && open->finding == Finding::SupplyAbsent) return absentSupplyStep(map, a, terminal, need.state);
    auto step = loadedSupplyStep(map, a, terminal, need, open);
    // What was proven with a lead in place of the module is proven with it to the end.
    if (!step || !open) return step;
    const auto& leads = a.evidence.readings[static_cast<std::size_t>(open - a.judgements.data())].jumpers;
    return leads.empty() ? step : withStandIn(map, std::move(*step), leads);
}

std::optional<Step> returnHunt(const Map& map, const Assessment& a, int terminal, const Requirement& need)
{
    const Judgement* drop = latestOf(map, a, terminal, TestKind::ReturnDrop, need.state);
    if (drop && drop->verdict == Verdict::FailsLoaded) return walkOn(map, a, terminal, need.state);
    return returnStep(map, a.evidence.school, terminal, need.state);
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
            const Judgement* done = latestOf(map, a, terminal, need.test, need.state);
            if (isSettled(done)) return std::nullopt;
            return tableStep(map, terminal, need);
        }
    }
}

// Readings of just this step decided nothing: its limits disagree, or it was read twice for nothing.
bool isPutOff(const Map& map, const Assessment& a, const Step& step)
{
    int forNothing = 0;
    for (std::size_t i = a.evidence.readings.size(); i-- > 0 && forNothing < 2;) {
        const Reading& r = a.evidence.readings[i];
        const bool same = r.terminal == map.terminal(step.terminal).id && r.test == step.test && r.red == step.red &&
                          r.black == step.black && r.state == step.state && r.load == step.load && !a.stale[i];
        if (!same) continue;
        if (isSettled(&a.judgements[i])) return false;
        forNothing += a.judgements[i].finding == Finding::SourcesDisagree ? 2 : 1;
    }
    return forNothing >= 2;
}

// `again`: also what was read in vain.
std::optional<Step> stepAt(const Map& map, const Assessment& a, int terminal, const Moment& moment, bool again)
{
    if (!map.terminal(terminal).hazard.empty() || locatedFault(map, a, terminal)) return std::nullopt;
    Proof proof = proofOf(map, a, terminal);
    // The state the machine stands in is cheapest: no key has to be turned.
    std::stable_sort(proof.missing.begin(), proof.missing.end(), [&](const Requirement& x, const Requirement& y) {
        return (map.state(x.state).id == moment.state) > (map.state(y.state).id == moment.state);
    });
    for (const Requirement& need : proof.missing) {
        auto step = stepForNeed(map, a, terminal, need);
        if (!step || (!again && isPutOff(map, a, *step))) continue;
        if (comparesWithBattery(map, *step) && !batteryIsFresh(map, a, moment, step->state)) {
            Step battery = batteryStep(map, step->state);
            battery.why += " Then: " + step->title + ".";
            return battery;
        }
        return step;
    }
    return std::nullopt;
}

bool isFailed(ProofState state)
{
    return state == ProofState::FailedLoaded || state == ProofState::OutOfLimits;
}

}  // namespace

std::vector<int> provingOrder(const Map& map, const School& school)
{
    std::vector<int> order;
    for (const int terminal : map.moduleTerminals()) {
        const Terminal& t = map.terminal(terminal);
        if (t.role && *t.role != Role::Empty && t.asFound != AsFound::Empty) order.push_back(terminal);
    }
    std::stable_sort(order.begin(), order.end(), [&](int x, int y) {
        return rankOf(*map.terminal(x).role, school) < rankOf(*map.terminal(y).role, school);
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

std::optional<Step> nextStep(const Map& map, const Assessment& a, const Moment& moment)
{
    const auto order = provingOrder(map, a.evidence.school);
    for (const int terminal : order) {
        if (!isFailed(proofOf(map, a, terminal).state)) continue;
        if (locatedFault(map, a, terminal)) return std::nullopt;
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
    for (const int terminal : provingOrder(map, a.evidence.school)) {
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
