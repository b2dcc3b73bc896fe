// Recordings as NumPy arrays: figures only, so the interval comes beside them.
#pragma once

#include "trace/formats/recording.h"

namespace ilvek {

// SOURCE: the published NPY format, versions 1 to 3. One row of samples, or rows × channels, or channels × rows (fewer
// rows than columns); little or big endian, floats and whole numbers of 16 to 64 bits. Where the first column runs
// evenly upwards it is the time, else the interval is taken as one second, with a note.
// ERRORS: no such file, not this format, a kind of number that is not read, shorter than its head says, no figure.
Result<Recording> readNpy(const std::string& path);

// Rows × (time and channels), 64-bit floats in base units. ERRORS: cannot be written.
Result<void> writeNpy(const std::string& path, const Recording& recording);

}  // namespace ilvek
