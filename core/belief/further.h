// Suspects beyond the single faults of the map, looked for only where those do not explain the readings: two faults at
// once, a wire that ends elsewhere, and a fault on a machine of which a figure is told wrongly.
#pragma once

#include <vector>

#include "belief/belief.h"

namespace ilvek {

struct Search {
    const Map& map;
    const std::vector<Suspect>& suspects;
    std::size_t singles = 0;  // of them, before any further ones
    const Belief& belief;     // over `suspects`
    const PredictionTable& table;
    const std::vector<Observation>& observations;
};

// Pairs that explain the observations better than any single fault, best first, each about its likeliest severities.
std::vector<Suspect> explainingPairs(const Search& search);

// Wires of the module's terminals that may end at another terminal's conductor, as far as the observations leave them
// likely; likeliest first. Everywhere, or only where the readings speak for a wrong map by themselves.
std::vector<Suspect> explainingOtherEnds(const Search& search, bool everywhere);

// Where a wrong figure of the sheet leads and leaves something unexplained, the faults that may be there beside it;
// each is to be weighed against that figure alone and not against a machine that is as the sheet tells.
std::vector<Suspect> faultsBesideWrongFigure(const Search& search);
bool doesWrongFigureHide(const Search& search);

// Every way in which the wire of one module terminal ends at the conductor of another one, each as likely as the map
// being wrong there in just this way.
std::vector<Suspect> otherEndsOf(const Map& map, const std::vector<Suspect>& suspects);

}  // namespace ilvek
