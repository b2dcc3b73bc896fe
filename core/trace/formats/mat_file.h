// Recordings as MATLAB files, level 5.
#pragma once

#include "trace/formats/recording.h"

namespace ilvek {

// Every real numeric vector or table in the file; vectors of the commonest length are channels under their own names. A
// vector that runs evenly upwards, or a figure named as the interval (dt, interval, Ts) or rate (fs, rate), is the
// time. ERRORS: not this format, no channel in it, a figure that is none.
Result<Recording> readMat(const std::string& path);

}  // namespace ilvek
