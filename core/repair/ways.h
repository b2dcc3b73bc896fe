// Repair or replace (W32): what each way to mend it is likely to cost, with the belief in what it mends.
#pragma once

#include <string>
#include <vector>

#include "job/event.h"
#include "machine/map.h"
#include "verdict/reasoner.h"

namespace ilvek {

// One suspected fault: mending any of these elements mends it. Of a short those are the wires that it may sit on.
struct PartBelief {
    std::vector<int> elements;
    double probability = 0;
};
std::vector<PartBelief> partBeliefs(const Map& map, const Reasoning& reasoning);

struct WayCost {
    double sure = 0;   // C: labour, part and wait, in the shop's currency
    double cures = 0;  // p: the belief that what it mends is what is wrong, 0 … 1
    double again =
        0;  // C₂: the cheapest other way, paid as well where this one does not cure; its own where it is alone
    double expected = 0;  // E
    std::string sums;     // the arithmetic in one line
};

// C = labour · hour + part + wait · waiting hour;  E = C + (1 − p) C₂ + p r C, with r the chance that it fails again.
// Plain expected cost; what a lost customer or a wrong verdict's name costs is not in it. One for each choice, in their
// order. What a choice says it mends is looked up on the map: parts, terminals (their contact), connectors (all of
// their contacts), the module (all that is inside it).
std::vector<WayCost> waysOf(const Map& map, const RepairChoices& choices, const std::vector<PartBelief>& belief);

// The names in a choice that are not on the map.
std::vector<std::string> unknownIn(const Map& map, const RepairChoice& choice);

// The choices as lines of text, for the entry that keeps the decision.
std::string waysTable(const RepairChoices& choices, const std::vector<WayCost>& costs);

}  // namespace ilvek
