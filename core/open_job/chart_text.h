// A maker's chart as a short text table (school 6).
#pragma once

#include <string_view>

#include "base/result.h"
#include "job/event.h"
#include "machine/map.h"

namespace ilvek {

// One step a line, its columns parted by “|”: step | test | if | then | else, the test a set-up in one line as it is
// typed elsewhere. `if` holds one limit: “below 11.5 V”, “above 2 ohm”; `then` and `else` name a step or end the chart
// in words. A line that begins with # is a remark; `state` stands where a test names none.
//     1 | A2 > A7; key on | below 11.5 V | 3 | 2
//     2 | A3 > A7; key on | above 5.2 V | Replace the sensor | The module
// ERRORS: the line, the column and what cannot be meant; a step that is named and not there; no step.
Result<std::vector<ChartStep>> parseChart(const Map& map, std::string_view text, const std::string& state);

}  // namespace ilvek
