// The kinds of element a map may hold: which nodes each has, which values it needs and what is possible for them.
// A new kind is one entry here and one law in circuit/.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include "quantity/quantity.h"

namespace ilvek {

enum class ElementKind {
    Battery,
    Alternator,
    Wire,
    Fuse,
    Joint,
    Contact,  // a mated terminal pair; made by the reader for each wired cavity, never written in a file
    Switch,
    Relay,
    Resistor,
    Winding,
    Motor,
    Lamp,
    Diode,
    Sensor,
    Thermistor,
    Hall,
    SupplyPort,
    Regulator,
    PullUp,
    Input,
    LowSideDriver,
    HighSideDriver,
    BusPort
};

// One value of an element, as written in the file.
struct ValueSpec {
    std::string_view key;
    Unit unit;
    bool required;
    double low;
    double high;
};

struct ElementKindSpec {
    ElementKind kind;
    std::string_view name;                // in the file
    std::vector<std::string_view> nodes;  // names of its nodes, in the order of the file
    std::vector<ValueSpec> values;
    bool conducts = false;    // a part of a conductor (nodes 0 and 1): wire, fuse, contact …
    bool isLoad = false;      // current through nodes 0 and 1 does work
    bool usesStates = false;  // has a list "in" of states in which it is closed, on or running
};

const ElementKindSpec& specOf(ElementKind kind);
const ElementKindSpec* specNamed(std::string_view name);

}  // namespace ilvek
