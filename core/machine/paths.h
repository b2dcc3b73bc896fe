// Paths through the map, found from the graph each time and never stored.
#pragma once

#include <optional>
#include <set>
#include <vector>

#include "machine/map.h"

namespace ilvek {

// One element passed on the way, entered at `from` and left at `to`.
struct PathStep {
    int element = -1;
    int from = -1;
    int to = -1;
};

using Path = std::vector<PathStep>;

// The path with the fewest elements through conductors only (wires, fuses, joints, mated contacts, switches, relay
// contacts), whatever their momentary position. Empty when start and end are the same node; nullopt when there is none.
std::optional<Path> conductorPath(const Map& map, int start, int end);

// The terminal of the module whose own wire a node is, over whatever plugs and splices and up to the switch at its end;
// −1: of none, or of several.
int terminalOnWire(const Map& map, int node);

// As above, but one or more loads may be passed where no conductor leads on; used for drives and their actuators.
std::optional<Path> circuitPath(const Map& map, int start, int end);

// The circuit that a terminal works in, as far as the map shows one outside the module. Supplies, drives and loads of
// the module: by way of the fewest loads, from battery plus to the terminal, or from it to its own return where it has
// one, else to battery minus. Where neither is joined to it (a pick-up, a bus line, a drive with its own return): from
// it across what hangs on it to the other end of that, towards a drive return rather than away from it. A line that is
// only pulled up: from battery plus by way of that pull-up. nullopt where nothing is connected.
std::optional<Path> shownCircuit(const Map& map, int terminal);

// The only wire that ends at a node, and which of its ends: element −1 where none does or several do.
struct WireEnd {
    int element = -1;
    std::size_t end = 0;
};
WireEnd onlyWireAt(const Map& map, int node);

// Where the second lead of an ohmmeter goes that measures what hangs on a terminal: across the nearest load outside the
// module, at a terminal of the module where wires lead back to one, else at the load itself; for a line of a
// differential bus at the other line. −1 where nothing hangs on it.
int farEndOf(const Map& map, int terminal);

// From battery plus to the terminal's wire side; and from its wire side to battery minus.
std::optional<Path> supplyPath(const Map& map, int terminal);
std::optional<Path> returnPath(const Map& map, int terminal);

// The whole loop of a supply: battery plus, its path, the module, its own return, battery minus.
struct Loop {
    Path feed;  // battery plus … wire side of the terminal
    Path back;  // wire side of its own return … battery minus; empty when it has none
    int terminal = -1;
    int ownReturn = -1;
};
// nullopt when the terminal has no path to battery plus (supplies) or minus (returns).
std::optional<Loop> loopOf(const Map& map, int terminal);

// Fuses on the path from battery plus to the terminal, nearest the battery first.
std::vector<int> fusesOf(const Map& map, int terminal);
// The ground point (joint) nearest battery minus on the return path of the terminal, or -1.
int groundPointOf(const Map& map, int terminal);
// Other module terminals of the same group fed by the same last fuse, or returned at the same ground point.
std::vector<int> siblingsOf(const Map& map, int terminal);

// The nodes that conductors join to a node, without one of them; up to the battery's posts.
std::set<int> joinedTo(const Map& map, int node, int without = -1);

// Whether the element lies on the feed of the terminal (supplies, references: none) or on its way to battery minus.
bool passesThrough(const Map& map, int terminal, int element);

}  // namespace ilvek
