// A larger machine for measuring how the work grows: copies of one machine on one battery.
#pragma once

#include <string>

namespace ilvek::practice {

// `document` is the text of a map; the result is that of a map with everything but the battery, the states and the
// sources there `copies` times. The names of copies begin with "2:", "3:" and so on. REQUIRES: a map that reads without
// an error, whose battery is an element of its own.
std::string timesOver(const std::string& document, int copies);

}  // namespace ilvek::practice
