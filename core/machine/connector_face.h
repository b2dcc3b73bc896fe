// Finding the cavity (W6): where a number sits, seen from either side, and its neighbours in words.
#pragma once

#include <string>
#include <vector>

#include "machine/map.h"

namespace ilvek {

enum class Seen { WireSide, MatingSide };

struct CavityPlace {
    int row = 0;     // from the top
    int column = 0;  // from the left, as seen
};

// Place of a cavity number as seen from a side; the other side is its mirror image, left and right exchanged.
CavityPlace placeOf(const Connector& connector, int number, Seen seen);
// The number at a place, the inverse of placeOf.
int numberAt(const Connector& connector, CavityPlace place, Seen seen);

// The terminals in the cavities before and after that of a terminal, where something is listed.
std::vector<int> terminalsBeside(const Map& map, int terminal);

// "violet with white, corner of the upper row, next to violet with white (2), above pale green (8)".
std::string findingWords(const Map& map, int terminal, Seen seen);

}  // namespace ilvek
