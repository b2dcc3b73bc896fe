// A whole job as one open file: JSON with its map inside (docs/formats.md).
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "base/result.h"
#include "job/journal.h"

namespace ilvek {

struct HandOver {
    std::string mapDocument;
    std::vector<Event> events;
};

std::string writeHandOver(const std::string& mapDocument, const std::vector<Event>& events);
// ERRORS: all problems of the file at once; the map inside is checked too.
Result<HandOver, Problems> readHandOver(std::string_view text, const std::string& fileName);

// Makes a new job file from a hand-over file; nothing is left behind when it fails.
Result<Journal, Problems> importJob(const std::filesystem::path& handOverFile, const std::filesystem::path& newJobFile);
// Writes the hand-over file of a job.
Result<void> exportJob(const Journal& journal, const std::filesystem::path& handOverFile);

}  // namespace ilvek
