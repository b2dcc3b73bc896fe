// Whole files in and out, with failures named.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"

namespace ilvek {

// The largest file any reader of Ilvek takes in whole. A map with ten thousand elements is about 3 MB; a hand-over
// file with years of readings about 20 MB.
constexpr std::size_t largestTextFile_bytes = 64U * 1024U * 1024U;

// The bytes of a regular file. ERRORS: missing, no permission, a folder or device, larger than `largestTextFile_bytes`.
Result<std::string> readFile(const std::filesystem::path& path);

// Writes beside the target and puts it in place in one step, so that the old file stays whole if anything fails and
// nothing half is left, not even by a kill. A link is followed; a device or a pipe is written into as it is.
// ERRORS: no permission, no such folder, disk full.
Result<void> writeFile(const std::filesystem::path& path, std::string_view bytes);

// The same for a file that must not be there yet; it is never seen half. ERRORS: as above, and the name is taken.
Result<void> writeNewFile(const std::filesystem::path& path, std::string_view bytes);

// Whether an output may go to `out`: not onto a file that is read for it, nor over a job. ERRORS: it may not.
Result<void> checkOutput(const std::filesystem::path& out, const std::vector<std::filesystem::path>& inputs);

// From here on a limit on the size of files, or a reader that goes away, is a failed write and no longer ends the
// program. Called first of all by every program.
void surviveFailedWrites();

}  // namespace ilvek
