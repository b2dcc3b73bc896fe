// What in a set-up can hurt someone or kill a part, said before the figure is taken. A reading taken so is evidence of
// nothing (W11, W22, W25).
#pragma once

#include <string>
#include <vector>

#include "proving/setup.h"

namespace ilvek {

// A lead without a fuse, or with a larger one than what it stands in for; battery power into a terminal of the mated
// module that is no supply, or into a conductor that something else hangs on. One sentence each; empty when all is
// well. REQUIRES: the names of the set-up are on the map.
std::vector<std::string> dangersOf(const Map& map, const SetUp& setUp);

}  // namespace ilvek
