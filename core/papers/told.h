// What was told and stored before the first probe (W1, W3), as it speaks on paper; and what of it is not weighed.
#pragma once

#include <string>
#include <vector>

#include "belief/observations.h"
#include "job/job.h"
#include "papers/shared_branches.h"

namespace ilvek {

// How a function of the machine does, as it was told.
enum class Does { NotTried, Fails, Weak, ComesAndGoes, Works };
std::string_view doesWord(Does does);  // "fails", "comes and goes"

// Of each function of the map, by its index. A function that stands in several lists fails.
std::vector<Does> toldOf(const Map& map, const Complaint& complaint);
// The complaint with one function told anew; what is no function of the map stays where it stands.
Complaint withTold(const Map& map, Complaint complaint, int function, Does does);

// The codes as they were read.
std::vector<std::string> storedCodes(const Job& job);
// All that was told and stored, for the branches that functions share.
OnPaper onPaper(const Job& job);

// For the common cause, where it does not matter whether a function fails now: all that fails, is weak or comes and
// goes counts as failing.
Reports paperReports(const Job& job);
// For the suspects, together with readings of now: what comes and goes is left out, what is weak tells half. Only what
// still stands after a repair is given here by the caller.
Reports weighedReports(const Map& map, const Complaint& complaint, const std::vector<std::string>& codes);

// Each in a sentence: functions, codes and repairs that the map does not know, what comes and goes, when it happens.
std::vector<std::string> notWeighed(const Job& job);

// A row of a bench map for a function that was typed: it needs these terminals. As pin row JSON, for a map correction.
// ERRORS: no name; no terminal; one that the map does not have.
Result<std::string> functionRow(const Map& map, const std::string& name, const std::vector<std::string>& terminals);
// The same for a code: `sets` is "low", "high", "no activity" or "implausible". ERRORS: as above; another word.
Result<std::string> codeRow(const Map& map, const std::string& code, const std::string& terminal,
                            const std::string& sets, const std::string& text);

}  // namespace ilvek
