// The map: everything known about one machine around one module. It is the only truth about the machine; paths,
// neighbours, siblings and expected readings are computed from it.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "machine/element_kinds.h"
#include "machine/vocabulary.h"
#include "quantity/known.h"

namespace ilvek {

// Where a figure comes from.
struct Source {
    std::string id;
    std::string title;
    std::string kind;  // "maker", "measured", "customary" or "assumed"
};

// An operating state: key off, key on, cranking, idling, an actuator commanded.
struct OperatingState {
    std::string id;
    std::string name;
    std::string how;      // how to bring it about
    std::string caution;  // what can hurt someone in it; may be empty
    double effort_s = 0;  // time it takes to bring about
};

// One expected reading of a terminal. Bounds in the unit of the measure; either may be absent.
struct Expected {
    int state = 0;
    Measure measure = Measure::Level;
    bool loaded = false;  // with the circuit's own load or a substitute load, scaled to the circuit's own current
    std::optional<double> low;
    std::optional<double> high;
    int source = 0;
};

enum class AsFound { AsDrawn, Empty, Wired };

// A numbered place in a connector and the metal in it. `a` is the node on the harness (wire) side, `b` the node on the
// other half: inside the module, or the loom beyond an inline connector. Both are -1 in an empty cavity.
struct Terminal {
    std::string id;  // "J2-1"
    int connector = 0;
    int number = 0;
    std::string circuit;
    std::optional<Role> role;  // always there on the module's own connectors
    Colour colour;
    int a = -1;
    int b = -1;
    int contact = -1;                 // element index of the mated pair
    int ownReturn = -1;               // terminal index of the circuit's own return
    std::optional<double> current_A;  // what the module draws or sinks here at full work
    int currentSource = -1;
    std::vector<int> neededIn;  // states in which a supply must be present
    std::vector<int> absentIn;  // states in which it must be absent
    std::vector<int> moves;     // states between which its level must differ; one: it moves within it
    std::vector<Expected> expected;
    AsFound asFound = AsFound::AsDrawn;
    std::string foundNote;
    std::string
        hazard;  // why this circuit is not to be probed at all (restraint system, high voltage); empty: it may be
    bool assumed = false;  // its figures are defaults by role, not from a source about this machine
};

// Cavities in rows and columns. Numbers run along rows from the upper left corner as seen from `numberedFrom`.
struct Connector {
    std::string id;
    std::string name;
    std::string place;
    int rows = 1;
    int columns = 1;
    bool ofModule = false;
    bool numberedFromWireSide = true;
    bool wet = false;
    bool moving = false;
    double contact_ohm = 0.003;
    double reach_s = 60;  // time to get a probe there
    double unplug_s = 30;
    double weakness = 1;         // as of an element, for each of its terminals
    std::vector<int> terminals;  // by cavity number, 1 … rows × columns; -1 where nothing is listed
};

// A part between nodes. Values are in base units, by the keys of its kind.
struct Element {
    std::string id;
    std::string name;
    ElementKind kind = ElementKind::Wire;
    std::vector<int> nodes;
    std::map<std::string, double, std::less<>> values;
    std::vector<std::pair<double, double>> table;  // thermistors: °C and Ω, temperature rising; empty: beta equation
    std::vector<int> states;                       // closed, on or running in these
    std::map<int, double> currentIn_A;             // supply ports: draw per state, where it differs
    std::vector<int> needs;  // drivers: supply ports (element indices) that must be above brown-out
    Colour colour;
    std::string place;
    std::string loom;
    std::optional<double> reach_s;
    double weakness = 1;  // how many times likelier to fail than its kind: an old repair, a known weak part
    std::map<std::string, Known, std::less<>> known;  // of single figures, where it differs from the part's
    bool assumed = false;                             // its figures are known by nobody
    bool feedAssumed = false;                         // of a driver: which supply of several is behind it nobody stated

    double value(std::string_view key, double otherwise = 0.0) const;
    Known knownOf(std::string_view key) const;
    bool isIn(int state) const;
};

// A place where several conductors are joined inside a loom.
struct Splice {
    std::string id;
    int node = -1;
    std::string place;
    double reach_s = 600;
};

// What a function of the machine needs to work: current through parts, levels at the module, supplies of modules.
struct Function {
    std::string id;
    std::string name;           // "tiller lifts"
    int state = 0;              // in which it is tried
    std::vector<int> currents;  // elements that carry at least 0.7 of their healthy current
    std::vector<int> levels;    // module terminals whose level is within a tenth of the healthy one
    std::vector<int> ports;     // supply ports above their brown-out
    std::vector<int> rests;     // elements that carry no current, 20 mA at most
};

// A fault code of the module, and what sets it: the level at one of its terminals against the module's ground, or that
// no current flows in what the terminal drives.
struct CodeCondition {
    std::string code;
    std::string text;
    int state = 0;
    int terminal = -1;
    std::optional<double> below_V, above_V;
    int quiet = -1;  // ≥ 0: the element that carries less than a fifth of its current
};

// A code that is set by nothing that a circuit shows: that a signal is implausible, or that pulses stay away.
struct KeptCode {
    std::string code, text, setBy;  // "B6 implausible"
};

struct Map {
    // The JSON text it was read from. Two maps of one document are taken for the same: whoever changes one adds to it.
    std::string document;
    // What a job adds to the document, in words: it has made places likelier to fail (job/worked_on.h,
    // job/own_cases.h), and nothing else.
    std::vector<std::string> weighedBeside;
    // By kind of part (suspects.h, caseKindOf()) how many times as often as the trade says; none: as the trade says.
    std::map<std::string, double> kindFactor;
    std::string maker, model, kind, variant;
    std::string module;  // "DCU-54"
    double systemVoltage_V = 12.0;
    int battery = -1;  // element index of the main battery
    std::vector<Source> sources;
    std::vector<OperatingState> states;
    std::vector<Connector> connectors;
    std::vector<Terminal> terminals;
    std::vector<Splice> splices;
    std::vector<Element> elements;
    std::vector<std::string> nodes;
    std::vector<std::string> cautions;
    std::vector<Function> functions;
    std::vector<CodeCondition> codes;
    std::vector<KeptCode> keptCodes;
    std::vector<Expected> batteryExpected;  // level across the battery posts, per state

    std::string title() const { return maker + " " + model; }
    // Made of a pin sheet: lengths, sections and currents between its rows are assumed, and not all that hangs on them
    // is listed.
    bool isOfSheet() const { return element(battery).assumed; }
    // Index of the thing so named, or -1.
    int terminalIndex(std::string_view id) const;
    int elementIndex(std::string_view id) const;
    int connectorIndex(std::string_view id) const;
    int stateIndex(std::string_view id) const;
    int nodeIndex(std::string_view name) const;
    int batteryPlus() const { return elements[static_cast<std::size_t>(battery)].nodes[0]; }
    int batteryMinus() const { return elements[static_cast<std::size_t>(battery)].nodes[1]; }
    const Terminal& terminal(int index) const { return terminals[static_cast<std::size_t>(index)]; }
    const Element& element(int index) const { return elements[static_cast<std::size_t>(index)]; }
    const std::string& node(int index) const { return nodes[static_cast<std::size_t>(index)]; }
    const OperatingState& state(int index) const { return states[static_cast<std::size_t>(index)]; }
    // Whether somebody stated what the circuit carries at full work.
    bool isCurrentStated(const Terminal& terminal) const;
    // Terminals of the module's own connectors, by connector and cavity.
    std::vector<int> moduleTerminals() const;
    // Resistance of a conducting element when it is sound, Ω. Wire: R = ρ l / A, ρ of copper at 20 °C; fuse: its own
    // value or 0.09 V at its rating. SOURCE: IEC 60028 (copper); typical blade-fuse drop at rated current.
    double soundResistance_ohm(const Element& element) const;
    // Whether this variant has the function: every terminal it is read at is wired.
    bool has(const Function& function) const;
    // Index of the source, for its id; "" when there is none.
    std::string sourceId(int source) const { return source < 0 ? "" : sources[static_cast<std::size_t>(source)].id; }
    // A node in the words of the bay: "J2-1, wire side", "F15, far side", "battery minus".
    std::string nodeWords(int node) const;
    // Of a part at the end of a wire what the wire at a node is for: "control side", "feed side"; of others the name of
    // the node in the file. Empty: it has none there.
    std::string sideOf(int element, int node) const;
};

}  // namespace ilvek
