// Suspects: every fault of one part that the map allows, each with its severities and how likely it is before anything
// was read.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "circuit/condition.h"
#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

enum class SuspectKind {
    Nothing,        // no fault present
    Resistance,     // added resistance in a conductor, up to open
    ShortToGround,  // of a conductor
    ShortToSupply,
    ShortToNeighbour,  // in the connector or the loom
    BackFeed,          // another source joined to a conductor
    StuckClosed,       // relay contact or switch
    Coil,              // a relay's coil, added resistance up to open
    Low,               // a load, sensor or pull-up below its value
    High,              // above it, up to open
    ModulePart,        // inside a module: regulator, pull-up, driver, input
    ModuleDead,        // a module's supply without function
    BusHeld,           // a node of the network holds a line
    EmptyCavity,       // no wire where the map shows one: another variant
    Exchanged,         // the wires of two neighbours in a connector, against what the map says
    EndsElsewhere,     // a terminal's wire ends at the conductor of another one, against what the map says
    FigureWrong,       // a figure that the map states is not that of this part, which is sound
    MapWrong,          // what the map says of this terminal is not what is there, whatever it is
    NotOnMap           // what is wrong is on no map: every reading is as of a sound machine
};

// What a look at a terminal would find under a suspect: the chance of each kind of Found.
struct Sight {
    int terminal = -1;
    std::array<double, kindsOfFound> chance{};
};

struct Suspect {
    SuspectKind kind = SuspectKind::Nothing;
    int element = -1;           // of the map, or -1
    int node = -1;              // shorts: the conductor; otherwise wired: one terminal; a wrong map: its wire side
    int node2 = -1;             // shorts to a neighbour; otherwise wired: the other terminal; a wrong map: its far side
    int terminal = -1;          // a wrong map, of one terminal
    std::vector<int> also;      // a wrong map of several terminals: the nodes of the others
    bool insideModule = false;  // inside the module under suspicion
    double prior = 0;           // of all suspects they add up to 1
    // Severities from slight to complete. What lies between two that follow each other in a `graded` suspect is
    // possible too.
    std::vector<std::vector<Fault>> severities;
    bool graded = true;
    std::vector<Sight> sights;  // where it would look otherwise than a sound terminal
    std::string id;             // "X4-7 resistance"; stable, for files and scripts
    std::string place;          // "X4-7", "the wire from S4 to J2-1"
    std::string words;          // "X4-7: added resistance"
    // Of two faults together the words of each; the faults of the second begin at `secondAt` of a severity.
    std::vector<std::string> sentences;
    std::size_t secondAt = 0;
    // What it is weighed against before it is named: the sound machine, or of a fault beside a wrong figure of the
    // sheet the suspect that has that figure alone.
    int besides = 0;
};

// Suspect 0 is Nothing. `complaint`: something is known to be wrong, so that nothing being wrong is unlikely.
// SOURCE of the weights: base rates of the trade ("modules fail seldom, wires and terminals often") as rough ratios;
// a map's own figures (weakness of a part or a connector) multiply them.
std::vector<Suspect> suspectsOf(const Map& map, bool complaint);

// Whether it says that the map and the machine differ, not that a part has failed.
inline bool isOfTheMap(const Suspect& s)
{
    return s.kind == SuspectKind::MapWrong || s.kind == SuspectKind::FigureWrong || s.kind == SuspectKind::Exchanged ||
           s.kind == SuspectKind::EndsElsewhere || s.kind == SuspectKind::EmptyCavity;
}

// Whether the map is wrong there under it, so that anything may be read.
bool leavesOpen(const Suspect& s, int node);

// Whether it is a fault of something that is on the map.
inline bool isFault(const Suspect& s)
{
    return s.kind != SuspectKind::Nothing && s.kind != SuspectKind::NotOnMap && !isOfTheMap(s);
}

// What kind of part a fault counts as in a shop's own cases: "wire" for shorts, "module" for all that is inside the
// module, else the kind of its element; empty for what is no fault of the map.
std::string caseKindOf(const Map& map, const Suspect& suspect);
std::string caseKindOf(const Map& map, int element);

// Elements that are inside the suspected module, by element.
std::vector<bool> insideModule(const Map& map);
// A part of the machine as it is named at the machine: "X4-7", "fuse F16", "the wire from S4 to J2-1".
std::string partWords(const Map& map, int element);

}  // namespace ilvek
