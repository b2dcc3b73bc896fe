// Recordings as sound files.
#pragma once

#include "trace/formats/recording.h"

namespace ilvek {

// Samples of 8 and 16 bits stay as they are. ERRORS: not read by the sound library, no samples, ends early.
Result<Recording> readWav(const std::string& path);

}  // namespace ilvek
