// A job opened for a command: folded and judged, and reasoned about where it is asked for.
#pragma once

#include <chrono>

#include "job/hand_over.h"
#include "open_job/open_job.h"
#include "report/report.h"

namespace ilvek::cli {

struct Opened {
    OpenJob open;
    Gate gate;  // with the suspects' say only after weighGate()
    std::int64_t now_ms = 0;
    ReportInput input() const { return {open.job, open.assessment, gate, now_ms}; }
};

void print(const Problems& problems);
// Milliseconds since 1970-01-01 UTC.
std::int64_t clock_ms();
// A job file, or a hand-over file by its first byte. ERRORS: neither, or faulty.
Result<Opened, Problems> openEither(const std::string& file);

// The whole gate; takes some seconds.
void weighGate(Opened& opened);

}  // namespace ilvek::cli
