// A reading is a place, not a number: what was read, between which two points, in which state, with what connected.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "proving/setup.h"
#include "quantity/quantity.h"

namespace ilvek {

enum class TestKind {
    Battery,         // W8: the battery, posts or through the leads (W7)
    ReturnDrop,      // W9: a return against battery minus while current flows
    OpenSupply,      // W10: a supply with no current asked of it
    AbsentSupply,    // W10: a supply in a state in which it must be absent
    LoadedSupply,    // W11: a supply with a substitute load, or mated with the module as load
    GroundSwap,      // W12: the loaded supply against battery minus instead of its own return
    SegmentWalk,     // W13: a point on the way, loaded
    FuseCheck,       // W14: one test point of a fuse, powered
    Reference,       // W18: a reference with its consumers, or without
    Level,           // any other terminal's voltage against its expected value
    Resistance,      // W26: through a terminal, circuit dead
    Point,           // any place against any other, judged against the computed circuit
    PartResistance,  // between any two places of a dead circuit, judged against the computed circuit (W26, T7)
    Look,            // a terminal and its wire as the eye finds them (W5, W6, W13)
    Current,         // amperes in a conductor, by clamp (W27)
    Alternating,     // alternating volts, of a pick-up (W21)
    Duty,            // per cent of the time that a place is low, or on (W21, W26)
    Frequency,       // hertz (W21)
    Duration,        // of a pulse (W27)
    Junction,        // diode mode across a dead part (W29)
    Shown,           // what a lamp, a breaker or a pulsing signal shows without a figure
    Reported         // what the module itself says that it reads (W19)
};
std::string_view testName(TestKind test);  // "open-circuit supply"
std::string_view testId(TestKind test);    // in files: "open-supply"
std::optional<TestKind> testFromId(std::string_view id);
Unit unitAsked(TestKind test);
// Whether its figure is a steady voltage between the leads.
bool isVoltageTest(TestKind test);

// What a look at a terminal finds, instead of a figure.
enum class Found {
    AsDrawn,    // a wire of the drawn colours; the metal clean, tight and pushed home
    Damaged,    // corroded, burnt, spread, pushed back, parted from its wire, chafed, or an old repair
    OtherWire,  // a wire of other colours, or more wires than drawn
    Empty       // no terminal in the cavity
};
constexpr std::size_t kindsOfFound = 4;
std::string_view foundWords(Found found);  // "as drawn"
std::string_view foundId(Found found);     // in files: "as-drawn"
std::optional<Found> foundFromId(std::string_view id);
// As people type it: its number from 1, or how its words begin.
std::optional<Found> parseFound(std::string_view text);

// What a lamp, a breaker or a signal shows instead of a figure.
enum class Shown { Bright, Dim, Dark, Tripped, Holds, Moves, StuckHigh, StuckLow };
constexpr std::size_t kindsOfShown = 8;
std::string_view shownWords(Shown shown);  // "lamp bright", "breaker tripped", "stuck high"
std::string_view shownId(Shown shown);     // in files: "bright", "tripped", "stuck-high"
std::optional<Shown> shownFromId(std::string_view id);

struct Instrument {
    std::string name = "multimeter";
    double inputResistance_ohm = 10e6;
    double accuracy = 0.005;       // share of the reading
    double resolution_V = 0.01;    // last digit in the range used, where the typed figure does not tell
    double clampScale_mVPerA = 0;  // of the clamp that goes with it; 0 when it shows amperes itself

    bool operator==(const Instrument&) const = default;
};

// The figure and when it was read, in a set-up.
struct Reading : SetUp {
    std::int64_t id = 0;       // number of its event in the journal; rising
    std::int64_t time_ms = 0;  // since 1970-01-01 UTC
    TestKind test = TestKind::Battery;
    std::string terminal;                     // the terminal it is about; empty for the battery
    std::optional<double> measuredCurrent_A;  // by clamp, when it was read
    Instrument instrument;
    Quantity value;
    std::optional<double> most;       // highest over the time of the reading, of which `value` is the lowest
    std::optional<Found> found;       // of a look, instead of the value
    std::optional<Shown> shows;       // of what has no figure, instead of the value
    std::optional<double> battery_V;  // the battery reading that was current when this was taken
    std::optional<double> batteryAge_s;

    bool operator==(const Reading&) const = default;
};

// "12.41 V", "11.8 V to 12.4 V", or what a look or a lamp showed.
std::string figureOf(const Reading& reading);

// As of its set-up; of ohms across a part that was taken out that part alone.
std::optional<Condition> conditionOf(const Map& map, const SetUp& setUp, TestKind test);
std::optional<Condition> conditionOf(const Map& map, const Reading& reading);

// Of an ohmmeter's figure what is not its own leads, Ω; they count below ten ohms.
double partOhms(const Reading& reading);

// A repair or a change that makes earlier readings of what it touches stale.
struct Repair {
    std::int64_t id = 0;
    std::vector<std::string> elements;  // ids; empty: everything
    std::string what;
    bool ofMap = false;  // the map was corrected; nothing was mended
};

// A statement for a line of the gate that only the technician can make.
struct Statement {
    std::string line, found;
    std::int64_t id = 0;  // number of its event in the journal
};

// Which functions of the machine were tried in a set-up, and came or did not (W17): with fused power at one terminal,
// or as built.
struct FunctionsSeen : SetUp {
    std::int64_t id = 0;  // number of its event in the journal
    std::int64_t time_ms = 0;
    std::vector<std::string> works, fails;  // ids of functions of the map

    bool operator==(const FunctionsSeen&) const = default;
};

// An operating state that was entered.
struct StateSeen {
    std::int64_t id = 0;  // number of its event in the journal
    std::int64_t time_ms = 0;
    std::string state;
};

// What a recording said of a winding, taken into the job (W27, W28).
struct TraceSeen {
    struct Figure {
        std::string name, words;  // "Current at the end", "905 mA ± 9 mA"
        bool operator==(const Figure&) const = default;
    };
    std::int64_t id = 0;  // number of its event in the journal
    std::int64_t time_ms = 0;
    std::string recording;  // name of the file
    std::string verdict;
    std::vector<Figure> figures;
    // What it was of, and driven how; without a part it is kept and read, and is no evidence for suspects.
    std::string element;  // the winding
    std::string drive;    // the driver that is commanded
    std::string state;
    std::optional<double> current_A;  // while its drive is on, at the end; 0 where nothing flows
    double currentSigma_A = 0;
    std::optional<double> supply_V;     // of the recording
    std::string lead;                   // node at which the control side was recorded; empty: it was not
    std::optional<double> off_V, on_V;  // there, before and while it is commanded
    // Of a signal or a level: the module's terminal at which it was recorded; empty: not said.
    std::string terminal;
    // How often a place of the loom was touched in it, by the channels that mark that, and at how many of these touches
    // the level left its rest (W24). An empty place: the stretches in which nothing was touched.
    struct Touched {
        std::string place;
        int touches = 0, events = 0;
        bool operator==(const Touched&) const = default;
    };
    std::vector<Touched> touched;
    // The picture for the report: least and most of the channel in columns of one width.
    std::string unit;  // of the picture
    double from_s = 0, to_s = 0;
    std::vector<double> least, most;

    bool operator==(const TraceSeen&) const = default;
};

// How the job is worked ("Where people work differently").
struct WayOfWorking {
    bool mated = false;  // back-probed with the module as load, instead of unmated with a substitute load
    bool signalFirst = false;
    std::string load;            // preferred load; empty: recommended per circuit
    bool strictBattery = false;  // a full battery is asked for before cranking and charging are judged
    // What stands in for the fuse where a short is looked for: "breaker", "fuse", "ohms" (the meter first); empty: a
    // lamp.
    std::string shortBy = {};
    bool operator==(const WayOfWorking&) const = default;
};

// One step of a maker's chart (school 6): a test, and where it leads. Leads are ids of steps, or words: an end.
struct ChartStep : SetUp {
    std::string id, words;
    std::string unit = "V";              // of the figure that is asked: V, Ω, A
    std::optional<double> below, above;  // `then` where the figure lies beyond one of them
    std::string then, otherwise;
    bool operator==(const ChartStep&) const = default;
};

// All that the journal holds for judging, withdrawn entries left out, in the order of the journal.
struct Evidence {
    std::vector<Reading> readings;
    std::vector<Repair> repairs;
    std::vector<TraceSeen> traces;
    std::vector<std::pair<std::string, std::string>> assumed;  // terminal, reason
    std::vector<Statement> checks;
    std::vector<FunctionsSeen> functions;
    std::vector<StateSeen> states;
    std::vector<ChartStep> chart;  // the one that was entered last
    std::string chartName;
    WayOfWorking working;
    Instrument instrument;
    std::int64_t instrumentSince = 0;  // entry that told it; what was proven of the one before holds no longer
};

}  // namespace ilvek
