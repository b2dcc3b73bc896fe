// A job opened for a command: folded and judged, and reasoned about where it is asked for.
#pragma once

#include <chrono>
#include <functional>

#include "job/hand_over.h"
#include "open_job/open_job.h"
#include "report/report.h"

namespace ilvek::cli {

struct Opened {
    OpenJob open;
    Gate gate;  // with the suspects' say only after weighGate()
    std::int64_t now_ms = 0;
    std::vector<Event> events;
    ReportInput input() const { return {open.job, open.assessment, gate, now_ms, &events}; }
};

void print(const Problems& problems);
// Milliseconds since 1970-01-01 UTC.
std::int64_t clock_ms();
// A job file, or a hand-over file by its first byte. ERRORS: neither, or faulty.
Result<Opened, Problems> openEither(const std::string& file);
// The same as it is kept.
Result<JobContent, Problems> contentOf(const std::string& file);

// Entries more in a job file, made from the job as it stands. Gives the exit code; problems are printed.
using Entries = Result<std::vector<EventBody>>;
int appendTo(const std::string& file, const std::function<Entries(const OpenJob&)>& made);

// The whole gate; takes some seconds.
void weighGate(Opened& opened);

}  // namespace ilvek::cli
