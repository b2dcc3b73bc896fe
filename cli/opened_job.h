// A job opened for a command: folded and judged.
#pragma once

#include <chrono>

#include "job/hand_over.h"
#include "job/job.h"
#include "reasoning/common_cause.h"
#include "reasoning/gate.h"
#include "report/report.h"

namespace ilvek::cli {

struct Opened {
    Job job;
    Assessment assessment;
    Gate gate;
    std::int64_t now_ms = 0;
    ReportInput input() const { return {job, assessment, gate, now_ms}; }
};

void print(const Problems& problems);
// A job file, or a hand-over file by its first byte. ERRORS: neither, or faulty.
Result<Opened, Problems> openEither(const std::string& file);

// The reasoning about the job with every prediction built; takes some seconds.
std::unique_ptr<Reasoner> reasonerFor(const Opened& opened);
// Where the machine stands after the last reading.
Standing standingOf(const Opened& opened);
// What the suspects add to the gate.
void weighGate(Opened& opened);

}  // namespace ilvek::cli
