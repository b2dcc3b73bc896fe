// The wake-up chain of a module (S2): returns, permanent supplies, key, its own relay control, what the relay feeds,
// its bus. Each stage is asked only when the one before stands.
#include <algorithm>

#include "machine/paths.h"
#include "procedures/flow.h"

namespace ilvek {

namespace {

class WakeUp {
public:
    explicit WakeUp(const Bay& bay) : flow_(bay, "wake-up", "") {}

    Procedure follow()
    {
        const auto is = [](Role role) { return [role](Role r) { return r == role; }; };
        group("returns", is(Role::Return));
        group("permanent", is(Role::PermanentFeed));
        group("key", is(Role::SwitchedFeed));
        controls();
        group("relay-fed", is(Role::RelayFedSupply));
        group("bus", [](Role r) { return groupOf(r) == Group::Networks; });
        if (!flow_.hasEnded() && !isOpen_)
            flow_.end(Ending::Kind::Sound, {"wake-up.end.all", {{"module", flow_.map().module}}}, {},
                      Grade::ByElimination);
        Procedure out = flow_.done();
        if (called_) out.calledBy = Fact{"wake-up.called", {{"module", flow_.map().module}}};
        return out;
    }

private:
    template <class Is>
    std::vector<int> terminalsWhere(const Is& is) const
    {
        std::vector<int> out;
        for (const int t : provingOrder(flow_.map(), {})) {
            if (is(*flow_.map().terminal(t).role)) out.push_back(t);
        }
        return out;
    }

    template <class Is>
    void group(const std::string& id, const Is& is)
    {
        terminals(id, terminalsWhere(is));
    }

    // Drives of the module whose current flows through the coil of a relay that feeds it.
    void controls()
    {
        const Map& map = flow_.map();
        std::vector<int> out;
        for (const int fed : terminalsWhere([](Role r) { return r == Role::RelayFedSupply; })) {
            const auto path = supplyPath(map, fed);
            for (const PathStep& s : path.value_or(Path{})) {
                const Element& e = map.element(s.element);
                if (e.kind != ElementKind::Relay) continue;
                for (const int t : terminalsWhere([](Role r) { return groupOf(r) == Group::Drives; })) {
                    const int a = map.terminal(t).a;
                    const bool drives = conductorPath(map, a, e.nodes[2]) || conductorPath(map, a, e.nodes[3]);
                    if (drives && std::find(out.begin(), out.end(), t) == out.end()) out.push_back(t);
                }
            }
        }
        terminals("control", out);
    }

    void terminals(const std::string& id, const std::vector<int>& which)
    {
        const Map& map = flow_.map();
        const Fact title{"wake-up." + id, {}};
        if (which.empty()) return flow_.notNeeded(id, title, {"wake-up.none", {}});
        Stage& stage = flow_.stage(id, title, Stage::State::Shown);
        std::vector<std::string> proven, open, failing;
        for (const int t : which) {
            const Proof proof = proofOf(map, flow_.bay().assessment, t);
            stage.entries.insert(stage.entries.end(), proof.readings.begin(), proof.readings.end());
            const std::string& name = map.terminal(t).id;
            // It carries what was tried: enough to go on with; the gate asks for all of it.
            if (proof.state == ProofState::ProvenLoaded || proof.state == ProofState::PartlyLoaded ||
                (proof.state == ProofState::OpenOnly && hasCarried(t)))
                proven.push_back(name);
            else if (proof.state == ProofState::FailedLoaded || proof.state == ProofState::OutOfLimits)
                failing.push_back(name);
            else
                open.push_back(name);
        }
        if (!failing.empty()) return stopsAt(id, failing, stage);
        if (open.empty()) return flow_.says({"wake-up.stage.stands", {{"terminals", joined(proven)}}});
        flow_.says({"wake-up.stage.open", {{"terminals", joined(open)}}});
        askFor(map.terminalIndex(open.front()), stage);
        isOpen_ = true;
    }

    // Under some load, in some state, it was right.
    bool hasCarried(int terminal) const
    {
        const Assessment& a = flow_.bay().assessment;
        const auto& on = a.on(flow_.map().terminal(terminal).id);
        return std::any_of(on.begin(), on.end(), [&](std::size_t i) {
            const TestKind test = a.evidence.readings[i].test;
            const Verdict v = a.judgements[i].verdict;
            const bool underLoad = test == TestKind::LoadedSupply || test == TestKind::ReturnDrop;
            return !a.stale[i] && underLoad && a.judgements[i].current_A > 0 &&
                   (v == Verdict::Good || v == Verdict::OpenOnly);
        });
    }

    void stopsAt(const std::string& id, const std::vector<std::string>& failing, Stage& stage)
    {
        called_ = true;
        const Fact fact{"wake-up.stage.fails", {{"terminals", joined(failing)}}};
        const int terminal = flow_.map().terminalIndex(failing.front());
        const auto located = locatedFault(flow_.map(), flow_.bay().assessment, terminal);
        if (isOpen_) return flow_.fails(fact);      // what comes before it does not stand yet
        if (!located && askFor(terminal, stage)) {  // where it is lost is still asked
            isOpen_ = true;
            return flow_.says(fact);
        }
        flow_.fails(fact);
        if (located) flow_.says({"said", {{"words", *located}}});
        flow_.end(Ending::Kind::Elsewhere, {"wake-up.end.stops." + id, {{"terminals", joined(failing)}}}, failing);
    }

    // False: nothing is left to read for it.
    bool askFor(int terminal, Stage& stage)
    {
        auto step = nextStepFor(flow_.map(), flow_.bay().assessment, terminal, flow_.bay().moment);
        if (!step) {
            stage.state = Stage::State::Later;
            return false;
        }
        flow_.ask(stage, {Asked::Kind::Reading, std::move(*step), FigureKind::Volts, {}, {}, {}});
        return true;
    }

    static std::string joined(const std::vector<std::string>& names)
    {
        std::string out;
        for (const std::string& n : names)
            out += (out.empty() ? "" : ", ") + n;
        return out;
    }

    Flow flow_;
    bool isOpen_ = false, called_ = false;
};

}  // namespace

Procedure wakeUpChain(const Bay& bay, const std::string&)
{
    return WakeUp(bay).follow();
}

}  // namespace ilvek
