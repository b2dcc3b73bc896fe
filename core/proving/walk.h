// The segment walk (W13): the reachable points of a loop in order, what was read at them, and where the step is.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "machine/map.h"
#include "machine/paths.h"
#include "proving/reading.h"

namespace ilvek {

// A place on the unrolled loop where a lead can stand.
struct WalkPoint {
    int node = -1;
    std::string label;  // short, for the strip: "F15", "X4-7"
    double reach_s = 60;
    bool reachable = true;
    bool onReturn = false;
    std::optional<double> open_V;    // read against battery minus with no substitute load
    std::optional<double> loaded_V;  // read against battery minus with the load of the walk
    // Read loaded against the own return only: no potential yet, since the return may be what is low. A ground swap
    // turns it into one.
    std::optional<double> toReturn_V;
};

// The place of a node as a lead finds it.
WalkPoint pointAt(const Map& map, int node, bool onReturn);

// The widest step between two neighbouring points that were read, beyond what sound conductors lose.
struct LocatedStep {
    int from = -1, to = -1;  // indices of points
    double lost_V = 0;
    std::string words;  // "4.4 V lost between X4-7, source side and X4-7, far side"
};

struct Walk {
    std::vector<WalkPoint> points;  // from battery plus to the terminal, then from the own return to battery minus
    std::optional<LocatedStep> located;
    bool isSingleElement = false;  // nothing reachable lies between the two points
    std::string sentence;          // located step in one sentence with its resistance
};

// Readings of `terminal` under the substitute load used last; `current` is counted too when it is not yet in the
// evidence.
Walk walkOf(const Map& map, const Evidence& evidence, int terminal, const Reading* current = nullptr);

// The points of a circuit that is neither supply nor return, for showing it (shownCircuit in machine/paths). Readings
// of the terminal stand at it. No points when there is no such circuit.
Walk circuitOf(const Map& map, const Evidence& evidence, int terminal);

// The point to read next: the one that halves the suspect span at the least cost, weighing wet and moving places more.
// -1 when no reachable point is left to read.
int nextWalkPoint(const Map& map, const Walk& walk);

}  // namespace ilvek
