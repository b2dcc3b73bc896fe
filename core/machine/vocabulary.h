// The words of the trade that maps, readings and screens share: roles of terminals, measures, wire colours.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/quantity.h"

namespace ilvek {

enum class Role {
    PermanentFeed,
    SwitchedFeed,
    RelayFedSupply,
    Return,
    Reference,
    ReferenceReturn,
    AnalogueInput,
    ThermistorInput,
    SwitchInput,
    SenseInput,
    ReluctanceInput,
    HallInput,
    DutyInput,
    DifferentialBus,
    SingleWireBus,
    LowSideDrive,
    HighSideDrive,
    DutyDrive,
    DriveReturn,
    Empty
};

// The role's name in maps and on screen ("relay-fed supply").
std::string_view roleName(Role role);
// Understands the names of maps and the short forms people write in pin sheets ("gnd", "B+", "ign", "5V ref").
std::optional<Role> roleFromText(std::string_view text);
std::vector<std::string> roleNames();

// The group a role belongs to in the ledger and the gate, in proving order.
enum class Group { Returns, Supplies, References, Inputs, Drives, Networks, Empty };
Group groupOf(Role role);
std::string_view groupName(Group group);

bool isSupply(Role role);

// What an expected value is about.
enum class Measure {
    BelowBattery,  // battery of that minute minus the reading, V; open-circuit or loaded
    Level,         // reading to battery minus or to the circuit's own return, V
    Drop,          // along a return, V, at the circuit's own current
    Resistance,    // Ω, circuit dead
    Duty,          // %
    Frequency      // Hz
};
std::string_view measureName(Measure measure);
std::optional<Measure> measureFromText(std::string_view text);
Unit unitOf(Measure measure);

// Wire colour as drawn: base, and stripe when there is one. Names are lower-case English.
struct Colour {
    std::string base;
    std::string stripe;

    // "violet with white", "violet", "" when unknown.
    std::string words() const;
    bool operator==(const Colour&) const = default;
};
// "violet/white", "violet-white", "vi/wh", "VIO/WHT". ERRORS: a colour that is not known.
Result<Colour> parseColour(std::string_view text);
std::vector<std::string> colourNames();
// Red, green, blue as 0xRRGGBB, for drawing the wire; nullopt when the name is unknown.
std::optional<unsigned> colourRgb(std::string_view name);

}  // namespace ilvek
