// What the eye tells of a lamp: how bright it burns for the volts across it.
#pragma once

#include <optional>
#include <string>

#include "proving/reading.h"

namespace ilvek {

// Shares of a lamp's rated volts. Light goes with about the 3.4th power of the voltage (SOURCE: photometric exponents
// of gas-filled incandescent lamps), so 0.8 leaves half of the light, which an eye calls dim, and 0.2 nothing. Between
// `brightFrom` and `dimBelow` people disagree, and between `darkBelow` and `dimFrom` too.
namespace lamp {
constexpr double brightFrom = 0.72, dimBelow = 0.88;
constexpr double dimFrom = 0.2, darkBelow = 0.35;
}  // namespace lamp

// The two places between which the lamp of the set-up burns and its rated volts: the substitute load, else the map's
// own lamp whose ends the leads are on. nullopt when there is none.
struct LampPlace {
    int from = -1, to = -1;
    double rated_V = 12;
};
std::optional<LampPlace> lampOf(const Map& map, const SetUp& setUp);

// What a lamp with these volts across it shows.
Shown lampAt(double volts, double rated_V);

}  // namespace ilvek
