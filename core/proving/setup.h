// The circumstances of a reading: where the leads stand, in which state, and everything that was done to the machine
// for it. Step, reading and suggestion share it; nodes, states, connectors and terminals are named, because the map may
// be corrected later.
#pragma once

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "circuit/condition.h"
#include "machine/map.h"

namespace ilvek {

// A lead with a fuse or breaker in it, between two nodes; 0 A: none in it.
struct FusedLead {
    std::string from, to;
    double fuse_A = 0;
    bool operator==(const FusedLead&) const = default;
};

// A switch, drive or alternator told otherwise than the state says.
struct Command {
    std::string element;
    double share = 1;  // of the time it is on, 0 to 1
    bool operator==(const Command&) const = default;
};

// A part that was warmed or cooled.
struct PartAt {
    std::string element;
    double celsius = 20;
    bool operator==(const PartAt&) const = default;
};

struct SetUp {
    std::string red, black, state;
    std::vector<std::string> unplugged;  // connectors apart
    std::vector<std::string> unpinned;   // terminals whose wire was taken out of its cavity
    std::vector<std::string> removed;    // fuses and relays pulled, parts unplugged at their own plugs
    std::string load;                    // catalogue id of the substitute load; empty: none
    std::string loadFrom, loadTo;
    std::vector<FusedLead> jumpers;
    std::vector<Command> commands;
    std::vector<PartAt> warmed;
    std::string conductor;  // element that a clamp sits on; its sign counts from the first node to the second
    std::optional<double> testLeads_ohm;  // of the ohmmeter's own leads, contained in the figure
    std::string touched;                  // what was moved, pressed or wetted meanwhile, in words
    // Taken while the module had shut something down to protect itself: no evidence of anything (W16).
    bool inShutDown = false;

    bool operator==(const SetUp&) const = default;
};

// The machine as it stands in the set-up, healthy; nullopt when a name is not on the map.
std::optional<Condition> conditionOf(const Map& map, const SetUp& setUp);

// What goes with a part that is taken out: on a sheet a unit and its end of a bus are two parts in one housing,
// and parts may hang on one plug.
void takeAlong(const Map& map, std::set<int>& removed);

// The part that an ohmmeter in this set-up measures on its own: taken out, with a lead on either end of it; -1: none.
int partAlone(const Map& map, const SetUp& setUp);

// The state that the machine really stands in: where a drive is commanded or a switch told otherwise, the one of the
// map in which just those are on. −1: the state is not on the map.
int stateOf(const Map& map, const SetUp& setUp);

// Whether the terminal is off its mate: its connector apart, or its wire taken out.
bool isApart(const Map& map, const SetUp& setUp, int terminal);

// The first name of the set-up that is not on the map, as "the state “idling”"; nullopt when all are.
std::optional<std::string> unknownName(const Map& map, const SetUp& setUp);

}  // namespace ilvek
