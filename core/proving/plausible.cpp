#include "proving/plausible.h"
#include "wording/words.h"

#include <fmt/format.h>

#include <cmath>

namespace ilvek {

namespace {

constexpr double mostOfSystem = 3;
constexpr double mostCurrent_A = 3000;
constexpr double mostResistance_ohm = 1e10;

}  // namespace

bool isPossibleVoltage(const Map& map, double volts)
{
    return std::abs(volts) <= mostOfSystem * map.systemVoltage_V;
}

std::optional<std::string> implausible(const Map& map, const Reading& r)
{
    const auto slip = [&](const Quantity& q) {
        return inWords("plausible.cannot-machine-decimal-sign", q.value, unitSymbol(q.unit), map.systemVoltage_V);
    };
    if (r.measuredCurrent_A && !(std::abs(*r.measuredCurrent_A) <= mostCurrent_A))
        return slip(amperes(*r.measuredCurrent_A));
    if (r.found || r.shows || r.value.overLimit) return std::nullopt;
    const double v = r.value.value;
    if (unitAsked(r.test) == Unit::Volt && !isPossibleVoltage(map, v)) return slip(r.value);
    if (unitAsked(r.test) == Unit::Ohm && !(v <= mostResistance_ohm)) return slip(r.value);
    return std::nullopt;
}

}  // namespace ilvek
