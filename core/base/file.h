// Whole files in and out, with failures named.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "base/result.h"

namespace ilvek {

// The largest file any reader of Ilvek takes in whole. A map with ten thousand elements is about 3 MB; a hand-over
// file with years of readings about 20 MB.
constexpr std::size_t largestTextFile_bytes = 64U * 1024U * 1024U;

// The bytes of a regular file. ERRORS: missing, no permission, a folder or device, larger than `largestTextFile_bytes`.
Result<std::string> readFile(const std::filesystem::path& path);

// Writes beside the target and renames over it, so that the old file stays whole if anything fails.
// ERRORS: no permission, no such folder, disk full.
Result<void> writeFile(const std::filesystem::path& path, std::string_view bytes);

}  // namespace ilvek
