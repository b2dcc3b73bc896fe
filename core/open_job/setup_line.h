// A set-up as one line of text: what stands above the figure, and what is typed in the window, on the command line and
// in stories.
#pragma once

#include <string>
#include <string_view>

#include "base/result.h"
#include "proving/setup.h"

namespace ilvek {

// "A2 > A7; key on; apart A; load 21 W lamp; pulled K2; bridged F5 in > F5 out 10 A; commanded B3 60 %; operated B8;
// clamp A2; warmed THERM to 60 °C; unpinned A4; leads 0.3 Ω; touched X2; shut down". In any order; the places of the
// leads stand alone, the state by its name or id; `load … at A2 > A7` where it is not between the leads. What is not
// said is not done; the state is then `state`. ERRORS: the part of the line, and what cannot be meant.
Result<SetUp> parseSetUp(const Map& map, std::string_view line, const std::string& state);

// The same line; parsing it gives the set-up again.
std::string setUpLine(const Map& map, const SetUp& setUp);

}  // namespace ilvek
