// Where most of the belief in an added resistance lies, part after part along a way.
#pragma once

#include <string>
#include <vector>

#include "choice/groups.h"
#include "machine/map.h"

namespace ilvek {

// "Between F3 and A1, or between A7 and battery minus: added resistance in one of 7 places (93 %)." Of the fewest
// groups that hold nine tenths of the belief; empty: those are not resistances in one or two unbranched pieces, or
// there are fewer than three places.
std::string stretchOf(const Map& map, const std::vector<Suspect>& suspects, const std::vector<SuspectGroup>& groups);

}  // namespace ilvek
