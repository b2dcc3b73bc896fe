// The machine as it stands at one moment: state, what is unplugged or removed, what is connected, what is broken.
#pragma once

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

// A voltmeter between two nodes; it is in the circuit like any resistor.
struct Meter {
    int red = -1;
    int black = -1;
    double inputResistance_ohm = 10e6;
    bool operator==(const Meter&) const = default;
};

// A fault is an edit of the healthy circuit.
struct Fault {
    enum class Kind { AddedResistance, Open, ShortBetween };
    Kind kind = Kind::AddedResistance;
    int element = -1;            // for AddedResistance and Open: a conducting element or a load
    int nodeA = -1, nodeB = -1;  // for ShortBetween
    double resistance_ohm = 0;
    bool operator==(const Fault&) const = default;
};

struct Condition {
    int state = 0;
    std::set<int> unplugged;  // connectors apart
    std::set<int> removed;    // elements taken out (fuses, relays)
    std::optional<AppliedLoad> load;
    std::optional<Meter> meter;
    std::vector<Fault> faults;
    std::optional<double> batteryEmf_V;  // instead of the map's
    bool operator==(const Condition&) const = default;
};

}  // namespace ilvek
