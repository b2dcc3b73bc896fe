// Where a suspect's fine severities go over to those that have a fuse blown.
#pragma once

#include "belief/severity_grid.h"

namespace ilvek {

// Between a fine severity, counted from the suspect's first, and the next lies nothing: the one has a fuse blown and
// the other not.
inline bool isBreak(const Suspect& s, std::size_t fine)
{
    const std::size_t low = fine / SeverityGrid::between;
    return s.graded && low + 1 < s.severities.size() && s.severities[low].size() != s.severities[low + 1].size() &&
           fine % SeverityGrid::between == SeverityGrid::between / 2 - 1;
}

}  // namespace ilvek
