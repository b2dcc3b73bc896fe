#include "proving/proof.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

constexpr std::array<std::string_view, 10> words{
    "proof.not-read",     "proof.open-circuit", "proof.loaded", "proof.proven", "proof.out-of-limits",
    "proof.fails-loaded", "proof.assumed",      "proof.stale",  "proof.empty",  "proof.nothing-to-judge-by"};

bool showsLevel(TestKind test)
{
    return test == TestKind::Level || test == TestKind::Shown || test == TestKind::Frequency ||
           test == TestKind::Duty || test == TestKind::Alternating || test == TestKind::Reported;
}

bool isRead(const Judgement& j)
{
    return j.verdict != Verdict::NoEvidence && j.verdict != Verdict::Conflict && !isFailure(j.verdict);
}

bool settles(const Map& map, const Requirement& requirement, const Reading& reading)
{
    if (requirement.need == Requirement::Need::Moves) return showsLevel(reading.test);
    // What the module itself sees is read under its own load.
    const bool reported = requirement.test == TestKind::LoadedSupply && reading.test == TestKind::Reported;
    if (requirement.test != reading.test && !reported) return false;
    if (requirement.test == TestKind::Level &&
        requirement.apart != isApart(map, reading, map.terminalIndex(reading.terminal)))
        return false;
    if (requirement.state == stateOf(map, reading)) return true;
    // The module as load may be read in any working state; it answers for the states the supply is needed in.
    return requirement.test == TestKind::LoadedSupply && reading.load.empty();
}

// Latest judgement per requirement, and what the rest of the readings say.
struct Tally {
    bool anyGood = false, anyMet = false, anyRead = false, anyStale = false, fails = false, outOfLimits = false;
    std::vector<bool> met;
    std::vector<std::int64_t> good, bad;
    std::string figure, badFigure;
};

void tallyOne(const Map& map, const std::vector<Requirement>& requirements, const Reading& r, const Judgement& j,
              Tally& tally)
{
    const std::string figure = figureOf(r);
    // That it was dead when it must be says less than what it gave.
    if (r.test != TestKind::AbsentSupply || tally.figure.empty()) tally.figure = figure;
    for (std::size_t i = 0; i < requirements.size(); ++i) {
        if (!settles(map, requirements[i], r)) continue;
        switch (requirements[i].need) {
            case Requirement::Need::Limits:
                tally.met[i] = j.verdict == Verdict::Good;
                break;
            case Requirement::Need::Read:
                tally.met[i] = isRead(j);
                break;
            case Requirement::Need::Moves:
                // That it moved once stands, whatever one more level reads.
                tally.met[i] = tally.met[i] || j.moved;
                break;
        }
    }
    tally.anyRead = tally.anyRead || j.verdict == Verdict::NotDecided;
    if (isFailure(j.verdict)) {
        (j.verdict == Verdict::FailsLoaded ? tally.fails : tally.outOfLimits) = true;
        tally.bad.push_back(r.id);
        tally.badFigure = figure;
    } else if (j.verdict == Verdict::Good || j.verdict == Verdict::OpenOnly) {
        tally.anyGood = true;
        tally.good.push_back(r.id);
    }
}

// Whether a later sound reading of the same kind takes the sting out of an earlier one, the `at`th on its terminal.
bool isSuperseded(const Map& map, const Assessment& a, const std::vector<std::size_t>& ofTerminal, std::size_t at)
{
    const std::size_t index = ofTerminal[at];
    const Reading& r = a.evidence.readings[index];
    for (std::size_t n = at + 1; n < ofTerminal.size(); ++n) {
        const std::size_t i = ofTerminal[n];
        const Reading& later = a.evidence.readings[i];
        if (stateOf(map, later) != stateOf(map, r) || a.stale[i]) continue;
        const int terminal = map.terminalIndex(r.terminal);
        const bool asApart =
            terminal < 0 || r.test != TestKind::Level || isApart(map, later, terminal) == isApart(map, r, terminal);
        if (!asApart) continue;
        const Verdict verdict = a.judgements[i].verdict;
        const bool decides = verdict == Verdict::Good || verdict == Verdict::OpenOnly || isFailure(verdict);
        // A failure under load stands until something is mended or the entry is withdrawn: a pass after it is an
        // intermittent, not a proof.
        const bool failedLoaded = a.judgements[index].verdict == Verdict::FailsLoaded;
        if (later.test == r.test && decides && !failedLoaded) return true;
        if (r.test == TestKind::OpenSupply && later.test == TestKind::LoadedSupply && verdict == Verdict::Good)
            return true;
    }
    return false;
}

// How many readings at the front are the same, when nothing else that judging depends on has changed.
std::size_t sameReadings(const Evidence& now, const Evidence& before)
{
    if (now.repairs.size() != before.repairs.size()) return 0;
    std::size_t same = 0;
    while (same < now.readings.size() && same < before.readings.size() && now.readings[same] == before.readings[same])
        ++same;
    // A withdrawn reading may have been the partner of any later one.
    return same == before.readings.size() ? same : 0;
}

// Whether a battery reading that came since may be the one of this reading's minute.
bool newBatteryFor(const Reading& reading, const Evidence& now, std::size_t since)
{
    for (std::size_t i = since; i < now.readings.size(); ++i) {
        const double apart_s = std::abs(static_cast<double>(now.readings[i].time_ms - reading.time_ms)) / 1000.0;
        if (now.readings[i].test == TestKind::Battery && apart_s <= trade::batteryFreshFor_s) return true;
    }
    return false;
}

bool speaksForTerminal(TestKind test)
{
    // A swap and a walk say where, a fuse check is about the fuse: the terminal's own state comes from its own
    // readings.
    // What the eye sees proves no current.
    return test != TestKind::Look && test != TestKind::GroundSwap && test != TestKind::SegmentWalk &&
           test != TestKind::FuseCheck;
}

Tally tallyOf(const Map& map, const Assessment& a, const std::string& id, const std::vector<Requirement>& requirements)
{
    Tally tally;
    tally.met.assign(requirements.size(), false);
    const int node = map.terminal(map.terminalIndex(id)).a;
    const std::string own = node < 0 ? "" : map.node(node);
    for (const std::size_t i : a.on(id)) {
        const Reading& r = a.evidence.readings[i];
        if (!speaksForTerminal(r.test)) continue;
        if (r.test == TestKind::Point && r.red != own) continue;  // of another place of its circuit
        if (a.stale[i]) {
            tally.anyStale = true;
            continue;
        }
        if (!a.superseded[i]) tallyOne(map, requirements, r, a.judgements[i], tally);
    }
    return tally;
}

// Where nobody stated what it reads: each level produced and read, and that they differ.
void addMovement(const Map& map, const Terminal& t, std::vector<Requirement>& out)
{
    using Need = Requirement::Need;
    for (std::size_t i = 0; i < t.moves.size(); ++i) {
        const int state = t.moves[i];
        const bool last = i + 1 == t.moves.size();
        const bool listed = std::any_of(out.begin(), out.end(), [&](const Requirement& r) {
            return r.test == TestKind::Level && r.state == state;
        });
        if (last)
            out.push_back({TestKind::Level, state, "moves, " + map.state(state).name, Need::Moves});
        else if (!listed && t.moves.size() == 2)
            out.push_back({TestKind::Level, state, "level, " + map.state(state).name, Need::Read});
    }
}

}  // namespace

std::string_view proofWords(ProofState state)
{
    return inWords(words[static_cast<std::size_t>(state)]);
}

Assessment assess(const Map& map, Evidence evidence, const Assessment* before)
{
    Assessment a;
    a.evidence = std::move(evidence);
    const std::size_t same = before ? sameReadings(a.evidence, before->evidence) : 0;
    for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
        const Reading& reading = a.evidence.readings[i];
        const bool keeps = i < same && !newBatteryFor(reading, a.evidence, same);
        a.judgements.push_back(keeps ? before->judgements[i] : judge(map, a.evidence, reading));
        a.stale.push_back(i < same ? before->stale[i]
                                   : reading.inShutDown ||
                                         (reading.test != TestKind::Battery && isStale(map, a.evidence, reading)));
        if (!reading.terminal.empty()) a.ofTerminal[reading.terminal].push_back(i);
    }
    a.superseded.assign(a.evidence.readings.size(), false);
    for (const auto& [terminal, indices] : a.ofTerminal) {
        for (std::size_t n = 0; n < indices.size(); ++n)
            a.superseded[indices[n]] = isSuperseded(map, a, indices, n);
    }
    return a;
}

const std::vector<std::size_t>& Assessment::on(const std::string& terminal) const
{
    static const std::vector<std::size_t> none;
    const auto at = ofTerminal.find(terminal);
    return at == ofTerminal.end() ? none : at->second;
}

std::vector<Requirement> requirementsOf(const Map& map, int terminal)
{
    std::vector<Requirement> out;
    const Terminal& t = map.terminal(terminal);
    if (!t.role || t.role == Role::Empty || t.asFound == AsFound::Empty) return out;
    const auto add = [&](TestKind test, int state, const std::string& how) {
        out.push_back({test, state, how + ", " + map.state(state).name});
    };
    switch (groupOf(*t.role)) {
        case Group::Supplies:
            for (const int state : t.neededIn)
                add(TestKind::LoadedSupply, state, "loaded");
            for (const int state : t.absentIn)
                add(TestKind::AbsentSupply, state, "absent");
            break;
        case Group::Returns:
            for (const int state : t.neededIn)
                add(TestKind::ReturnDrop, state, "loaded");
            if (t.neededIn.empty()) add(TestKind::ReturnDrop, 0, "loaded");
            break;
        case Group::References: {
            std::vector<int> seen;
            for (const Expected& e : t.expected) {
                if (!e.loaded || std::find(seen.begin(), seen.end(), e.state) != seen.end()) continue;
                seen.push_back(e.state);
                add(TestKind::Reference, e.state, inWords("proof.with-its-consumers"));
            }
            break;
        }
        default: {
            std::vector<std::tuple<TestKind, int, bool>> seen;
            for (const Expected& e : t.expected) {
                const TestKind test = e.measure == Measure::Resistance ? TestKind::Resistance : TestKind::Level;
                const bool apart = test == TestKind::Level && !e.loaded;
                const std::tuple key{test, e.state, apart};
                if (e.measure == Measure::Duty || e.measure == Measure::Frequency) continue;
                if (std::find(seen.begin(), seen.end(), key) != seen.end()) continue;
                seen.push_back(key);
                add(test, e.state,
                    test == TestKind::Resistance ? "resistance"
                    : apart                      ? inWords("proof.level-module-apart")
                                                 : "level");
                out.back().apart = apart;
            }
            addMovement(map, t, out);
        }
    }
    return out;
}

Proof proofOf(const Map& map, const Assessment& a, int terminal)
{
    Proof proof;
    const Terminal& t = map.terminal(terminal);
    if (t.role == Role::Empty || t.asFound == AsFound::Empty) {
        proof.state = ProofState::EmptyCavity;
        return proof;
    }
    const auto requirements = requirementsOf(map, terminal);
    Tally tally = tallyOf(map, a, t.id, requirements);
    for (std::size_t i = 0; i < requirements.size(); ++i) {
        if (!tally.met[i]) proof.missing.push_back(requirements[i]);
    }
    for (std::size_t i = 0; i < requirements.size(); ++i)
        tally.anyMet = tally.anyMet || (tally.met[i] && requirements[i].need != Requirement::Need::Read);
    const bool bad = tally.fails || tally.outOfLimits;
    proof.readings = bad ? tally.bad : tally.good;
    proof.figure = bad ? tally.badFigure : tally.figure;
    const bool isAssumed = std::any_of(a.evidence.assumed.begin(), a.evidence.assumed.end(),
                                       [&](const auto& x) { return x.first == t.id; });
    if (tally.fails)
        proof.state = ProofState::FailedLoaded;
    else if (tally.outOfLimits)
        proof.state = ProofState::OutOfLimits;
    else if (tally.anyGood && proof.missing.empty() && !requirements.empty())
        proof.state = ProofState::ProvenLoaded;
    else if (tally.anyMet)
        proof.state = ProofState::PartlyLoaded;
    else if (tally.anyGood)
        proof.state = ProofState::OpenOnly;
    else if (tally.anyRead)
        proof.state = ProofState::ReadOnly;
    else if (tally.anyStale)
        proof.state = ProofState::Stale;
    else if (isAssumed)
        proof.state = ProofState::Assumed;
    return proof;
}

}  // namespace ilvek
