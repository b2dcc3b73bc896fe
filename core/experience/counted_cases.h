// The shop's closed jobs as cases: which kinds of parts failed, of which machines.
#pragma once

#include "job/own_cases.h"
#include "open_job/open_job.h"

namespace ilvek {

// Counts one job more, where it teaches something: closed as repaired or with the module bad, all that was mended of
// one kind, and proven by a test that failed before and reads right. What was expected is the share of each kind in the
// trade's figures for this machine. False: it teaches nothing, and `own` is as it was.
bool countCase(const Job& job, const Assessment& assessment, OwnCases& own);

// Two counts together.
OwnCases together(OwnCases a, const OwnCases& b);

}  // namespace ilvek
