// The places of a machine as people name them: where a lead, a load or a bridge can be put.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "machine/map.h"

namespace ilvek {

struct Place {
    int node = -1;
    std::string name;   // as it is typed and shown in a line: "A2", "F5 far side", "battery plus"
    std::string words;  // with what tells it apart: "A2, wire side (red/white), main supply"
    bool reachable = true;
};

// Every place of the map once, those where a lead can stand first: battery, terminals in the order of the map, test
// points, parts.
std::vector<Place> placesOf(const Map& map);
// The name of a node in a line of a set-up; reading it with placeNamed() gives the node again.
std::string placeName(const Map& map, int node);

// The node that is meant by "A2", "a2", "A2 inside", "A2 end", "F5 in", "F5 far side", "X3-1 module side", "K2 30",
// "S1", "G1", "battery minus", "B-" or a node's own name. ERRORS: nothing of that name, with the nearest that there
// are; several.
Result<int> placeNamed(const Map& map, std::string_view text);

// The part, connector or terminal that is meant; case and separators do not matter. ERRORS: as above.
Result<int> elementNamed(const Map& map, std::string_view text);
Result<int> connectorNamed(const Map& map, std::string_view text);
Result<int> terminalNamed(const Map& map, std::string_view text);
Result<int> stateNamed(const Map& map, std::string_view text);

}  // namespace ilvek
