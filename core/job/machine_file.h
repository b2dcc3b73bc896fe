// Machines kept for the next job: the map as it was drawn, and beside it what jobs found to be otherwise.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "job/journal.h"

namespace ilvek {

struct FoundOnMachine {
    std::string row;           // a correction, as the journal keeps it
    std::int64_t time_ms = 0;  // when it was found
    std::string job;           // the title of the job that found it; may be empty
    bool operator==(const FoundOnMachine&) const = default;
};

struct Machine {
    std::string document;  // the map as drawn
    std::vector<FoundOnMachine> found;
};

// "bin lift, second series · BL-3", with its maker where that is known: what tells machines apart.
std::string machineTitle(const std::string& mapDocument);

// The machine file (ilvek-machine, docs/formats.md). ERRORS of reading: every problem of it; the map inside is checked
// with all that was found on it.
std::string writeMachine(const Machine& machine);
Result<Machine, Problems> readMachine(std::string_view text, const std::string& fileName);
Result<Machine, Problems> readMachineFile(const std::filesystem::path& path);

// Those of a folder, by title; what is no machine is left out.
struct KeptMachine {
    std::filesystem::path path;
    std::string title;
};
std::vector<KeptMachine> machinesIn(const std::filesystem::path& folder);

// Keeps one in a folder under its title; one of the same title is replaced. Returns where. ERRORS: the place cannot be
// written to.
Result<std::filesystem::path> keepMachine(const std::filesystem::path& folder, const Machine& machine);

// The machine of a job as it stands: its map as drawn, what was found before, and every correction of the job. What the
// job took back is taken back; what other jobs found meanwhile stays. REQUIRES: `before` has the job's map as drawn.
Machine machineOf(const Journal& journal, const Machine* before = nullptr);

// Whether two map documents say the same, however they are laid out.
bool isSameDrawing(const std::string& a, const std::string& b);

// A new job on it; what was found is its first entries, so that as drawn and as found stay apart.
// ERRORS: as of Journal::create.
Result<Journal> newJobOn(const Machine& machine, const std::filesystem::path& path, std::int64_t now_ms);

}  // namespace ilvek
