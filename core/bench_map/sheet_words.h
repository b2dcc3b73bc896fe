// The words of a pin sheet, as people write them from diagrams and parts lists: a role with its relay, the way of a
// wire, what hangs at the far end, what is expected in which state.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "machine/vocabulary.h"

namespace ilvek {

// One place on the way of a wire, from the pin outwards.
struct RoutePlace {
    enum class Kind { Connector, Splice, Fuse, Relay, Ground, Battery, KeySwitch };
    Kind kind = Kind::Splice;
    std::string id;  // as written: "X2-3", "S1", "F5"; of a connector perhaps without the cavity: "X2"
    std::optional<double> rating_A;
};
// "X2-3 > S1 > F5 30 A > K2": parted by >, → or ->, or where there is none of them by commas, "/" or "via". What a name
// is, is told by its first letters (F fuse, K relay, S splice, G ground, X or C with a cavity: connector), or by a word
// beside it ("fuse 12", "splice J5", "main relay", "left frame ground", "C101 pin 3").
// ERRORS: a place that is none of these, with what to write instead.
Result<std::vector<RoutePlace>> parseRoute(std::string_view text);

// "supply, by relay K2", "drives coil of K2", "drive, low side", or a role by any of its short names.
struct SheetRole {
    Role role = Role::Empty;
    std::string relay;      // that feeds it by its contact, or whose coil it drives
    std::string fedBy;      // of a drive, the supply terminal behind it: "drive, high side, fed by A2"
    double level_V = 0;     // of a reference where it was told: "10 V reference"
    bool highLine = false;  // of a pair: the line that rises; of a pulsed drive: it feeds its part
    bool lowLine = false;
};
// ERRORS: no role that is known, with what can be written.
Result<SheetRole> parseRole(std::string_view text);
// Whether nothing of it is known, so that it cannot even be asked about.
bool isNoRole(std::string_view text);

// Its words as written, parted at blanks, commas and brackets; and in small letters.
std::vector<std::string> wordsIn(std::string_view text);
std::vector<std::string> loweredWords(std::string_view text);
// The word behind the first of these phrases that is there, in the letters of the text; empty: none of them is.
std::string behindWords(std::string_view text, std::initializer_list<std::string_view> phrases);
// The relay that a text names, "K2" of "coil of K2"; empty: none.
std::string relayIn(std::string_view text);

// Rows without a cavity.
enum class LooseRow { Consumer, Source, BusNode, Function, Code, Weak, Splice };
std::optional<LooseRow> looseRowFromText(std::string_view text);

// A figure with the range that was stated for it.
struct StatedFigure {
    double low = 0, high = 0;
    double middle() const { return 0.5 * (low + high); }
};
// "12–16 Ω", "0.9..1.2 A", "21 W", "11 to 14 ohm". nullopt: no figure of this unit.
std::optional<StatedFigure> parseStated(std::string_view text, Unit unit);

// What hangs at the far end of a wire.
struct FarEnd {
    enum class Kind {
        Unknown,
        Lamp,
        Winding,
        Motor,
        Heater,
        Thermistor,
        Switch,
        Sensor,
        PickUp,
        Hall,
        RelayCoil,
        Module
    };
    Kind kind = Kind::Unknown;
    std::string name;      // in the words of the sheet, without what follows
    bool isNamed = false;  // it says more than what kind of part it is: "pressure sensor", not "sensor, 3 wires"
    std::optional<StatedFigure> watts, ohms, amperes;
    std::optional<double> at_C;   // to which the ohms belong
    bool isRising = false;        // of a thermistor: its ohms grow with its warmth
    bool isSender = false;        // of a sensor: two wires, its ohms follow what it measures
    bool isClosedAtRest = false;  // of a switch
    bool isRestTold = false;
    std::string relay;            // of a relay's coil
    std::string plug;             // its own connector, "W1"
    std::string supply;           // of a sensor, what it is fed from: a terminal, or a route; empty: not stated
    std::string otherWire;        // a route, or a terminal that it returns to: "S1", "G2", "A8"; empty: not stated
    std::string fromNumber = {};  // "from 12": its other wire, where 12 is a terminal; else the number of a wire
};
// "solenoid 11–14 Ω at plug W1, other wire S1"; "thermistor 2.2 kΩ at 25 °C, returns A8"; "coil of K2, other end F4";
// "lamp 21 W"; "switch closed at rest"; "module CD-2, feed F7, ground G3". Anything else is a name.
FarEnd parseFarEnd(std::string_view text);
// Of remarks about a part the clauses that parseFarEnd() understands behind its name, each behind a comma.
std::string clausesOfPart(std::string_view remarks);

// One expected figure of a row.
struct ExpectedFigure {
    std::string state;  // as written: "key off", "commanded", "closed"; empty: none was
    Unit unit = Unit::Volt;
    std::optional<double> low, high;
    std::string source;  // where it has one of its own; empty: that of the row
};
// "key off 12.1..12.9 V", "commanded 0.9..1.2 A / off 12 V", "below 0.2 V". Several are parted by / or +; one of
// another source than the row's names it behind: "running 6..7 V (page 7) / running 13..14 V (label)". ERRORS: a part
// without a figure.
Result<std::vector<ExpectedFigure>> parseExpectedFigures(std::string_view text);

}  // namespace ilvek
