// The machine as it stands at one moment: state, what is unplugged or removed, what is connected, what is broken.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <vector>

#include "circuit/substitute_load.h"

namespace ilvek {

// A substitute load between two nodes of the map.
struct AppliedLoad {
    SubstituteLoad load;
    int from = -1;
    int to = -1;
    bool operator==(const AppliedLoad&) const = default;
};

// A meter between two nodes; it is in the circuit like any part.
struct Meter {
    enum class Mode {
        Volts,  // its input resistance
        Ohms,   // a small test voltage behind a known resistance; right on a dead circuit only
        Diode   // about a milliampere into the red lead's circuit, up to the meter's own 2.5 V
    };
    int red = -1;
    int black = -1;
    double inputResistance_ohm = 10e6;
    Mode mode = Mode::Volts;
    bool operator==(const Meter&) const = default;
};

// A wire with clips, and a fuse or breaker of `rating_A` in it; 0: none.
struct Jumper {
    int from = -1;
    int to = -1;
    double rating_A = 0;
    double resistance_ohm = 0.02;
    bool operator==(const Jumper&) const = default;
};

// A fault is an edit of the healthy circuit.
struct Fault {
    enum class Kind {
        AddedResistance,      // in a conducting element or a load
        AddedCoilResistance,  // in a relay's coil
        Open,                 // a part that no longer conducts; a relay's contact that never closes, a dead driver
        ShortBetween,         // two nodes; with an element inside that one, and gone when it is taken out
        StuckClosed,          // a relay's contact, a switch, a driver or a Hall sensor's output that never opens
        OutOfValue,           // a load, sensor, regulator or pull-up whose figure is `factor` times what it should be
        Dead,                 // a supply port and what the module does with it: draws nothing, regulates nothing
        Blown                 // a fuse that another fault has blown: open, and no fault of its own
    };
    Kind kind = Kind::AddedResistance;
    int element = -1;
    int nodeA = -1, nodeB = -1;  // for ShortBetween
    double resistance_ohm = 0;
    double factor = 1;
    bool operator==(const Fault&) const = default;
};

struct Condition {
    int state = 0;
    std::map<int, double> commands;  // switches, drivers, alternators told otherwise than the state says: 0 to 1, the
                                     // share of time they are on
    std::set<int> unplugged;         // connectors apart
    std::set<int> unpinned;          // terminals whose wire was taken out of the connector
    std::set<int> removed;           // elements taken out (fuses, relays)
    int alone = -1;                  // ≥ 0: a part taken out that is measured on its own; nothing else is there
    std::map<int, double> celsius;   // parts warmed or cooled, instead of the map's temperature
    std::set<int> latchedOff;        // drivers that shut themselves down earlier and wait for the key
    std::optional<AppliedLoad> load;
    std::vector<Jumper> jumpers;
    std::optional<Meter> meter;
    std::vector<Fault> faults;
    std::optional<double> batteryEmf_V;  // instead of the map's
    bool operator==(const Condition&) const = default;
};

}  // namespace ilvek
