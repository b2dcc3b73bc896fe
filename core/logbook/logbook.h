// The shop's jobs as a list that can be searched: what a technician knows a job by, and every word in it.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "base/result.h"

namespace ilvek {

struct LoggedJob {
    std::filesystem::path file;
    std::string title, machine, complaint;
    std::string closed;        // how it ended, in words; empty: open
    bool owes = false;         // something is owed to the machine
    bool waits = false;        // it was decided how to mend it, and the part is waited for
    std::int64_t last_ms = 0;  // its last entry; 0: none
    int entries = 0;
    std::string trouble;  // why it cannot be read; the rest is empty then
};

// An index beside the job files, derived from them: it may be deleted at any time. Not thread-safe; several may be open
// on one index.
class Logbook {
public:
    // Made where there is none; a damaged one, or one of another version, is made anew. ERRORS: the place cannot be
    // written to.
    static Result<Logbook> open(const std::filesystem::path& index);

    Logbook(Logbook&&) noexcept;
    Logbook& operator=(Logbook&&) noexcept;
    ~Logbook();

    // Reads the job files of the folder that are new or changed since, forgets those that are gone. Returns how many
    // were read. Can be stopped (base/stop.h), and goes on where it was. ERRORS: the index cannot be written.
    Result<int> bringUpToDate(const std::filesystem::path& folder);

    // Jobs that hold every word, or one that begins with it, anywhere; all of them without words. The last used first.
    std::vector<LoggedJob> find(const std::string& words, int most = 500) const;

private:
    struct Index;
    explicit Logbook(std::unique_ptr<Index> index);
    std::unique_ptr<Index> index_;
};

}  // namespace ilvek
