#include "procedures/module_feeds.h"

namespace ilvek {

namespace {

Feeds proven(Flow& flow, bool (*isAsked)(Role))
{
    const Map& map = flow.map();
    std::string failing, open;
    Stage& stage = flow.stage("feeds", {"feeds", {{"module", map.module}}}, Stage::State::Shown);
    int first = -1;
    for (const int t : provingOrder(map, {})) {
        const Role role = *map.terminal(t).role;
        if (!isAsked(role)) continue;
        const Proof proof = proofOf(map, flow.bay().assessment, t);
        stage.entries.insert(stage.entries.end(), proof.readings.begin(), proof.readings.end());
        const bool fails = proof.state == ProofState::FailedLoaded || proof.state == ProofState::OutOfLimits;
        if (!fails && proof.state == ProofState::ProvenLoaded) continue;
        (fails ? failing : open) += ((fails ? failing : open).empty() ? "" : ", ") + map.terminal(t).id;
        if (first < 0) first = t;
    }
    if (!failing.empty()) {
        flow.fails({"feeds.fail", {{"terminals", failing}}});
        flow.end(Ending::Kind::Elsewhere, {"feeds.end", {{"terminals", failing}, {"module", map.module}}});
        return Feeds::Fail;
    }
    if (open.empty()) {
        flow.says({"feeds.stand", {}});
        return Feeds::Stand;
    }
    flow.says({"feeds.open", {{"terminals", open}}});
    if (auto step = nextStepFor(map, flow.bay().assessment, first, flow.bay().moment))
        flow.ask(stage, {Asked::Kind::Reading, std::move(*step), FigureKind::Volts, {}, {}, {}});
    return Feeds::Open;
}

}  // namespace

Feeds moduleFeeds(Flow& flow)
{
    return proven(flow, [](Role role) { return isSupply(role) || role == Role::Return; });
}

Feeds moduleReturns(Flow& flow)
{
    return proven(flow, [](Role role) { return role == Role::Return; });
}

}  // namespace ilvek
