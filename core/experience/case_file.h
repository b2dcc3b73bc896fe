// The shop's own cases as a file: which jobs were counted, and what they say together.
#pragma once

#include <filesystem>
#include <map>
#include <string>

#include "experience/counted_cases.h"

namespace ilvek {

class CaseFile {
public:
    // Where there is none yet, an empty one. ERRORS: it cannot be read, or is none.
    static Result<CaseFile> read(const std::filesystem::path& file);
    // Whole or not at all. ERRORS: the place cannot be written to.
    Result<void> write(const std::filesystem::path& file) const;

    // A job by its name, counted once: what it taught before is replaced. False where it teaches nothing; it is then
    // no longer counted either.
    bool count(const std::string& name, const Job& job, const Assessment& assessment);
    OwnCases all() const;
    std::size_t size() const { return jobs_.size(); }

private:
    std::map<std::string, OwnCases> jobs_;
};

}  // namespace ilvek
