// What stands in the way of closing a job (W30, W33, W34): nothing forbids it, but what is left open needs a word.
#pragma once

#include <string>
#include <vector>

#include "job/job.h"
#include "verdict/gate.h"

namespace ilvek {

// What is still open, each in words: debts first, then failed tests that were not repeated or fail still, functions
// that failed and were not tried since the last repair, codes that were not read after it.
std::vector<std::string> openBeforeClosing(const Job& job, const Assessment& assessment);

// Questions about the cause behind the cause (behind.h) that have no answer, of what was repaired; "left open" is none.
std::vector<std::string> openBehind(const Job& job, const Assessment& assessment);

// What the mending itself showed (W33): "shown directly" where one part was mended since the last failure and all that
// had failed reads right; "on likelihood" where several were mended at once, so that which of them it was stays open;
// empty while it is not proven.
std::string gradeOfRepair(const Assessment& assessment);

// The end as an entry, with the gate's sentence of the day, and with the grade of the gate or, once it was mended, of
// the mending. ERRORS: something is open and no reason was given; it is to be called repaired and nothing was mended;
// the module is to be called bad or good and the gate does not say so.
Result<JobClosed> closing(const Job& job, const Assessment& assessment, const Gate& gate, JobClosed::Verdict verdict,
                          const std::string& reasons);

}  // namespace ilvek
