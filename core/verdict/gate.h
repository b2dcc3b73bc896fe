// The condemnation gate (W30): a module may be blamed only when everything it needs is proven at its own terminals and
// under load, what it drives is proven healthy, and its output is still wrong. Computed from the proof states.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "machine/map.h"
#include "proving/plan.h"
#include "proving/proof.h"

namespace ilvek {

enum class LineState { Earned, Missing, Failed };
std::string_view lineWord(LineState state);  // "earned", "missing", "failed"

struct GateLine {
    std::string id;  // stable name, as in checks ("returns", "shut-down")
    std::string title;
    LineState state = LineState::Missing;
    int earned = 0;
    int total = 0;       // 0 for lines that are a statement of the technician
    int failed = 0;      // terminals out of limits or failing under load
    int assumed = 0;     // terminals counted good without a reading (T12)
    std::string detail;  // what is missing, or what failed and by which reading
    std::vector<std::int64_t> readings;
};

enum class Outcome {
    Cleared,  // a fault is shown outside the module
    NotProven,
    MayBeCondemned,
    ProvenGood  // everything came back with fused power at one terminal (W17)
};
std::string_view outcomeWords(Outcome outcome);

struct Gate {
    Outcome outcome = Outcome::NotProven;
    std::string sentence;        // whether the module may be blamed, in one sentence
    std::string located;         // where the fault is so far; may be empty
    std::int64_t locatedBy = 0;  // the failed reading that says so; 0: no single one does
    std::string grade;           // "shown directly", "by elimination"; empty without a verdict
    std::string alternative;     // the best remaining alternative and what would exclude it (T15)
    std::vector<GateLine> lines;
    std::optional<Step> next;  // the plan's own next step
    std::string cheapest;      // the open requirement that takes the least time, in words; empty when none is open
};

// Statements only the technician can make; each is earned by an entry in the journal.
struct GateCheck {
    std::string id;
    std::string title;
    std::string question;
};
const std::vector<GateCheck>& gateChecks();
// Whether a statement says what was found: at least two words. "none" and "x" earn no line.
bool saysSomething(const std::string& found);

// By the proofs alone.
Gate gateOf(const Map& map, const Assessment& assessment, const Moment& moment);

// What the suspects add to it (W30): the module may be condemned only when whatever outside it still explains the
// readings has become less likely than `outsideAtMost` together, beside every line earned. Where the suspects locate
// the fault inside, levels that are out of limits are what a bad module gives: then they forbid nothing, but its feeds
// and returns must be proven, no terminal unread, and every statement made. A fault that the suspects locate outside
// clears it. Names the best remaining alternative and the reading that would exclude it.
struct Reasoning;
constexpr double outsideAtMost = 0.02;
void weigh(const Reasoning& reasoning, const std::string& module, Gate& gate);

// What the suspects say so far, and whether they have weighed every entry of the journal in full.
struct Suspicion {
    const Reasoning* reasoning = nullptr;  // they have not answered yet
    bool weighedAll = false;
    std::vector<std::string> dead = {};  // functions that fail by the complaint, by id
};
// The whole gate. While an entry is not weighed the module may not be condemned, whatever else is earned.
Gate gateOf(const Map& map, const Assessment& assessment, const Moment& moment, const Suspicion& suspicion);

}  // namespace ilvek
