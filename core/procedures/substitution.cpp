// Supply by substitution (W17): fused power to one terminal, first at the source end of its conductor, then at the
// module's end, all else as built; and which functions of the machine come back.
#include <algorithm>

#include "machine/paths.h"
#include "procedures/flow.h"
#include "procedures/substituted.h"
#include "proving/dangers.h"
#include "proving/walk.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

class Substitution {
public:
    Substitution(const Bay& bay, const std::string& subject)
        : flow_(bay, "substitution", subject),
          terminal_(bay.map.terminalIndex(subject)),
          state_(stateFor(bay.map, terminal_))
    {
    }

    Procedure follow()
    {
        flow_.caution({"substitution.caution.fuse", of()});
        flow_.caution({"substitution.caution.module", of()});
        sourceEnd();
        const Seen near = moduleEnd();
        functions(near);
        Procedure out = flow_.done();
        const ProofState state = proofOf(flow_.map(), flow_.bay().assessment, terminal_).state;
        if (state == ProofState::FailedLoaded || state == ProofState::OutOfLimits)
            out.calledBy = Fact{"substitution.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        return {{"terminal", flow_.map().terminal(terminal_).id},
                {"fuse", ampsText(fuse_A())},
                {"module", flow_.map().module},
                {"source", source_ >= 0 ? placeOf(flow_.map(), source_) : ""}};
    }

    double fuse_A() const
    {
        const auto fuses = fusesOf(flow_.map(), terminal_);
        return fuses.empty() ? trade::fusedFeedLead_A
                             : flow_.map().element(fuses.back()).value("rating", trade::fusedFeedLead_A);
    }

    Step fedAt(int node) const
    {
        const Map& map = flow_.map();
        const Terminal& t = map.terminal(terminal_);
        const int own = t.ownReturn >= 0 ? map.terminal(t.ownReturn).a : map.batteryMinus();
        Step step = placed(map, t.a, own, state_);
        step.terminal = terminal_;
        step.jumpers = {{map.node(map.batteryPlus()), map.node(node), fuse_A()}};
        return step;
    }

    // What is behind the last fuse: the source end of the terminal's own conductor.
    int sourceNode() const
    {
        const auto fuses = fusesOf(flow_.map(), terminal_);
        return fuses.empty() ? -1 : flow_.map().element(fuses.back()).nodes[1];
    }

    // Read against either ground: both tell whether the terminal is fed.
    Flow::Fits fedFrom(int node) const
    {
        return [this, node](const Reading& r) {
            const Map& map = flow_.map();
            const std::string& own = map.node(map.terminal(terminal_).a);
            return isVoltageTest(r.test) && (r.red == own || r.black == own) && r.jumpers.size() == 1 &&
                   r.jumpers.front().from == map.node(map.batteryPlus()) && r.jumpers.front().to == map.node(node);
        };
    }

    void sourceEnd()
    {
        source_ = sourceNode();
        if (source_ < 0)
            return flow_.notNeeded("source-end", {"substitution.source-end", of()}, {"substitution.no-end", {}});
        const Seen seen =
            flow_.reading("source-end", {"substitution.source-end", of()}, fedAt(source_), fedFrom(source_));
        if (!seen) return;
        auto says = of();
        says.emplace_back("figure", seen.figure());
        passes_ = isThere(flow_.bay(), seen);
        flow_.says({passes_ ? "substitution.source-end.passes" : "substitution.source-end.dead", says});
        if (passes_) flow_.end(Ending::Kind::Elsewhere, {"substitution.end.before", says}, {}, Grade::ShownDirectly);
    }

    Seen moduleEnd()
    {
        const int node = flow_.map().terminal(terminal_).a;
        const Seen seen = flow_.reading("module-end", {"substitution.module-end", of()}, fedAt(node), fedFrom(node));
        if (!seen) return seen;
        auto says = of();
        says.emplace_back("figure", seen.figure());
        if (isThere(flow_.bay(), seen)) {
            flow_.says({"substitution.module-end.fed", says});
        } else {
            // Fused power on the very terminal collapses: what hangs on it takes it, or the return is open.
            flow_.fails({"substitution.module-end.dead", says});
            flow_.end(Ending::Kind::Elsewhere, {"substitution.end.collapses", says},
                      {flow_.map().terminal(terminal_).id});
        }
        return seen;
    }

    void functions(const Seen& near)
    {
        const Map& map = flow_.map();
        Stage& stage = flow_.stage("functions", {"substitution.functions", of()}, Stage::State::Shown);
        const auto result = substituted(map, flow_.bay().assessment.evidence, flow_.bay().dead, terminal_);
        if (!result) {
            Asked asked;
            asked.kind = Asked::Kind::Functions;
            asked.step = fedAt(map.terminal(terminal_).a);
            if (near) static_cast<SetUp&>(asked.step) = *near.reading;
            flow_.ask(stage, std::move(asked));
            return;
        }
        stage.entries = {result->entry};
        auto says = of();
        says.emplace_back("works", std::to_string(result->works));
        says.emplace_back("fails", std::to_string(result->fails));
        if (result->provesModule) {
            flow_.says({"substitution.functions.all", says});
            flow_.end(Ending::Kind::Found, {passes_ ? "substitution.end.contact" : "substitution.end.conductor", says},
                      {map.terminal(terminal_).id});
        } else if (result->works > 0) {
            flow_.says({"substitution.functions.some", says});
            flow_.end(Ending::Kind::Open, {"substitution.end.some", says}, {map.terminal(terminal_).id});
        } else {
            flow_.fails({"substitution.functions.none", says});
            flow_.end(Ending::Kind::Elsewhere, {"substitution.end.none", says});
        }
    }

    Flow flow_;
    int terminal_, state_;
    int source_ = -1;
    bool passes_ = false;
};

}  // namespace

std::optional<Substituted> substituted(const Map& map, const Evidence& evidence, const std::vector<std::string>& dead,
                                       int terminal)
{
    const std::string& node = map.node(map.terminal(terminal).a);
    const std::string& plus = map.node(map.batteryPlus());
    for (auto it = evidence.functions.rbegin(); it != evidence.functions.rend(); ++it) {
        // One lead to this terminal, and nothing else changed.
        const bool here = it->jumpers.size() == 1 && it->jumpers.front().from == plus &&
                          it->jumpers.front().to == node && it->removed.empty() && it->unplugged.empty() &&
                          it->unpinned.empty() && it->load.empty();
        if (!here || isBeforeRepair(evidence, it->id) || !dangersOf(map, *it).empty()) continue;
        Substituted out;
        out.entry = it->id;
        out.works = static_cast<int>(it->works.size()), out.fails = static_cast<int>(it->fails.size());
        const auto came = [&](const std::string& id) {
            return std::find(it->works.begin(), it->works.end(), id) != it->works.end();
        };
        out.provesModule = !dead.empty() && it->fails.empty() && std::all_of(dead.begin(), dead.end(), came);
        return out;
    }
    return std::nullopt;
}

std::vector<std::string> suppliesOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : provingOrder(map, {})) {
        if (isSupply(*map.terminal(t).role) && map.terminal(t).hazard.empty() && map.terminal(t).a >= 0)
            out.push_back(map.terminal(t).id);
    }
    return out;
}

Procedure supplyBySubstitution(const Bay& bay, const std::string& subject)
{
    return Substitution(bay, subject).follow();
}

}  // namespace ilvek
