// What a file is, by what is in it.
#pragma once

#include <filesystem>

namespace ilvek {

enum class FileKind { None, Job, HandOver, Machine, Map, PinSheet, Recording };

// Looks at the beginning only; whether all of it can be read is found by its reader. None: missing, empty, a folder, or
// nothing that is known.
FileKind fileKindOf(const std::filesystem::path& path);

}  // namespace ilvek
