// Proof is a state of each terminal, computed from the journal.
#pragma once

#include <functional>
#include <map>
#include <string>
#include <vector>

#include "machine/map.h"
#include "proving/judge.h"
#include "proving/reading.h"

namespace ilvek {

enum class ProofState {
    Untouched,
    OpenOnly,
    PartlyLoaded,
    ProvenLoaded,
    OutOfLimits,
    FailedLoaded,
    Assumed,
    Stale,
    EmptyCavity,
    ReadOnly  // read, and nothing is known to judge it by
};
std::string_view proofWords(ProofState state);

// All readings with their judgements, made once per change of the journal.
struct Assessment {
    Evidence evidence;
    std::vector<Judgement> judgements;  // of the same index as evidence.readings
    std::vector<bool> stale;            // likewise
    std::vector<bool> superseded;       // likewise: a later sound reading of the same kind takes the sting out of it
    std::map<std::string, std::vector<std::size_t>, std::less<>> ofTerminal;  // their indices, rising

    // Indices of the readings on a terminal.
    const std::vector<std::size_t>& on(const std::string& terminal) const;
};
// With `before`, judgements that nothing new can have changed are taken over from it: the readings up to there are the
// same, no repair or correction came, and no battery reading of the same minute. REQUIRES: `before` was made on the
// same map but for corrections, which stand in the evidence.
Assessment assess(const Map& map, Evidence evidence, const Assessment* before = nullptr);

// What a terminal must pass before it is proven.
struct Requirement {
    // What it takes: a figure inside its limits, any figure (one of two levels), or that the level is seen to move.
    enum class Need { Limits, Read, Moves };
    TestKind test = TestKind::Level;
    int state = 0;
    std::string words;  // "loaded, key on"
    Need need = Need::Limits;
    bool apart = false;  // with the terminal's connector apart
};
std::vector<Requirement> requirementsOf(const Map& map, int terminal);

struct Proof {
    ProofState state = ProofState::Untouched;
    std::vector<Requirement> missing;    // not yet passed
    std::vector<std::int64_t> readings;  // ids that earned or failed it
    // The figure to show in the ledger: of the failing, else of the last reading, of a supply the last one that was
    // fed.
    std::string figure;
};
Proof proofOf(const Map& map, const Assessment& assessment, int terminal);

}  // namespace ilvek
