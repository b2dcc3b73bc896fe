// Entries from the bytes of a job file that SQLite cannot read any more.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "job/job_file.h"

namespace ilvek {

// Looks for rows of the journal and of the map at every byte, and takes those whose checksum fits (of version 1 those
// that read well), so that neither a damaged page nor a cut-off file hides what is whole behind it. Rows that were
// found but do not fit are set aside. `beside`: what SQLite left beside the file (its journal), or empty.
// SOURCE: the layout of a table leaf cell, SQLite's "Database File Format", sections 1.5, 1.6 and 2.1.
JobFile salvage(std::string_view bytes, std::string_view beside);

// The same from a file and what lies beside it. Nothing found, or nothing to be read: an empty content.
JobFile salvageFile(const std::filesystem::path& path);

}  // namespace ilvek
