// Values with units: what people type and how figures are written.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "base/result.h"

namespace ilvek {

// The units Ilvek works in. Values are always held in these base units, never in prefixed ones.
enum class Unit {
    None,
    Volt,
    Ampere,
    Ohm,
    Watt,
    Percent,
    Hertz,
    Celsius,
    Second,
    Metre,
    SquareMillimetre,
    MilliVoltPerAmpere,
    Kelvin,
    Henry
};

// "V", "Ω", "mm²" …; empty for None.
std::string_view unitSymbol(Unit unit);
// "volts", "ohms" … for sentences.
std::string_view unitName(Unit unit);

// One figure. `value` is in the base unit; `overLimit` says that the instrument showed OL: larger than it can show, and
// `value` then means nothing. `resolution` is the worth of the last digit typed (base unit), 0 when computed.
struct Quantity {
    double value = 0.0;
    Unit unit = Unit::None;
    bool overLimit = false;
    double resolution = 0.0;

    bool operator==(const Quantity&) const = default;
};

inline Quantity volts(double value)
{
    return {value, Unit::Volt};
}
inline Quantity amperes(double value)
{
    return {value, Unit::Ampere};
}
inline Quantity ohms(double value)
{
    return {value, Unit::Ohm};
}
inline Quantity watts(double value)
{
    return {value, Unit::Watt};
}

// Reads what a person types: `11.84`, `11,84 V`, `-0.02`, `4k7`, `23.8M`, `0.4 ohm`, `140 mA`, `OL`, `62 %`, `250 Hz`.
// The unit is `expected` when left out. With `clampScale_mVPerA` given and amperes expected, a figure in volts is the
// clamp's output and is turned into the current it stands for.
// ERRORS: the item is the text as typed; the reason says what cannot be meant (no figure, two decimal signs, another
// unit than the test asks for).
Result<Quantity> parseQuantity(std::string_view text, Unit expected,
                               std::optional<double> clampScale_mVPerA = std::nullopt);

// The same for a file, where the unit must be written and fit. ERRORS as above, and a missing unit.
Result<Quantity> parseQuantityWithUnit(std::string_view text, Unit expected);

// For people: sensible digits and SI prefixes ("12.41 V", "18 mV", "4.7 kΩ", "1.75 A", "OL"). A figure with a
// resolution keeps the digits it was read with.
std::string formatQuantity(const Quantity& quantity);

// For files: the shortest text that reads back as the same value, with its unit ("0.0185 V").
std::string exactQuantity(const Quantity& quantity);

// Whole and fraction of a ratio as per cent, "3 %", "0.4 %".
std::string formatShare(double share);

}  // namespace ilvek
