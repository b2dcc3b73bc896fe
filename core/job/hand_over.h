// A whole job as one open file: JSON with its map inside (docs/formats.md).
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "base/result.h"
#include "job/journal.h"

namespace ilvek {

std::string writeHandOver(const JobContent& content);
// ERRORS: all problems of the file at once; the map inside is checked too, and that every place, part, terminal, state
// and role that an entry names is on it, as the job corrected it.
Result<JobContent, Problems> readHandOver(std::string_view text, const std::string& fileName);

Result<JobContent, Problems> readHandOverFile(const std::filesystem::path& path);

// Makes a new job file from a hand-over file, whole or not at all; the entries keep their numbers.
Result<Journal, Problems> importJob(const std::filesystem::path& handOverFile, const std::filesystem::path& newJobFile);
// Writes the hand-over file of a job. ERRORS: the map of the job is no longer well-formed; the place cannot be written
// to, or is the job itself.
Result<void> exportJob(const Journal& journal, const std::filesystem::path& handOverFile);
// The same of what is in memory; `inputs`: files that must not be written over.
Result<void> exportContent(const JobContent& content, const std::filesystem::path& handOverFile,
                           const std::vector<std::filesystem::path>& inputs);

}  // namespace ilvek
