// A recording out of plain columns of figures.
#pragma once

#include "trace/formats/recording.h"

namespace ilvek {

// Where the first column runs evenly upwards it is the time; else the interval is taken as one second, with a note.
// ERRORS: a figure that is none.
Result<Recording> recordingOf(const std::string& path, std::vector<std::vector<double>> columns);

}  // namespace ilvek
