// One job as it stands: everything computed from its journal and its map, in one place. Window and command line show
// it.
#pragma once

#include <cstdint>

#include "job/job.h"
#include "papers/common_cause.h"
#include "verdict/gate.h"
#include "verdict/reasoner.h"

namespace ilvek {

struct OpenJob {
    Job job;
    Assessment assessment;
    // Number of the last entry that this is made of; 0 for none. What was computed of an older one lags.
    std::int64_t revision = 0;

    // ERRORS: the map document cannot be read (all of its problems). With `before`, an earlier stand of the same job,
    // what nothing new can have changed is taken over.
    static Result<OpenJob, Problems> of(const JobContent& content, const OpenJob* before = nullptr);

    // What the complaint and the codes say to the suspects.
    Reports reports() const;
    // Whether anything fails at all.
    bool hasComplaint() const;
    // Where the machine stands after the last reading.
    Standing standing() const;
    // The battery reading last taken in the state that the machine stands in; nullopt when none.
    struct BatteryNow {
        double volts = 0;
        std::optional<double> age_s;       // not known where the clock was set back since
        const Reading* reading = nullptr;  // stays until the next entry
    };
    std::optional<BatteryNow> batteryNow(std::int64_t now_ms) const;
    // The gate with what the suspects say; nullptr: they have not answered yet. Where they have not weighed every entry
    // they cannot give the module free to be condemned (W30).
    Gate gate(std::int64_t now_ms, const Reasoning* reasoning) const;
};

// The suspects of a job with every prediction built and all that was read weighed in full; takes some seconds.
std::unique_ptr<Reasoner> weighedInFull(const OpenJob& open);

}  // namespace ilvek
