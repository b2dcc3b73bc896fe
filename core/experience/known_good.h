// What sound machines of one type read: kept from jobs with its conditions, and told beside the map's figures (W34).
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "job/job.h"

namespace ilvek {

struct GoodReading {
    std::string machine;  // which one: its serial number, or the job where it has none
    Reading reading;
};

// By which readings of machines are held together: maker, model, variant and module, in small letters.
std::string machineType(const Map& map);

// The readings of a job that may be kept: figures that stand, were judged good, on terminals that did not fail, with
// nothing touched, warmed or shut down. After a repair only those that were taken since.
std::vector<GoodReading> goodReadings(const Job& job, const Assessment& assessment, const std::string& jobName);

// The known-good figures of one machine type.
class KnownGood {
public:
    // The file of a machine type in a folder.
    static std::filesystem::path fileIn(const std::filesystem::path& folder, const Map& map);
    // Where there is none yet, an empty one. ERRORS: it cannot be read, or is none.
    static Result<KnownGood> read(const std::filesystem::path& file);
    // The same of a file's text. ERRORS: it is none.
    static Result<KnownGood> of(const std::string& text, const std::string& name);
    std::string text() const;
    // Whole or not at all. ERRORS: the place cannot be written to.
    Result<void> write(const std::filesystem::path& file) const;

    // A machine's newer figure takes the place of its older one. How many were new or others.
    std::size_t add(const std::vector<GoodReading>& readings);
    const std::vector<GoodReading>& readings() const { return readings_; }

    // "Measured on 3 machines of this type: 410 to 470 mV, at 12.4 to 12.7 V of battery"; empty: none in this set-up.
    std::string words(TestKind test, const std::string& terminal, const SetUp& setUp) const;

private:
    std::vector<GoodReading> readings_;
};

}  // namespace ilvek
