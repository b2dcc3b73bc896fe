#include "belief/spread.h"

#include <algorithm>
#include <cmath>

#include "belief/likelihood.h"

namespace ilvek {

namespace {

double followsOf(const Column& column, const Column& battery)
{
    return static_cast<double>(column.batterySlope[0]) / batterySlopeOf(battery, 0);
}

// What follows the battery is held against the battery as the same instrument read it: only the rest feels its scale.
double scaleOf(const Column& column, const Column* battery, const Observation& o)
{
    if (!battery || o.value == 0) return o.gain;
    return o.gain * (1 - followsOf(column, *battery) * *o.battery_V / o.value);
}

// What a part moves a reading by, held against the battery as it was read: what it moves the posts by, the reading of
// the posts has told already. Where the posts were read with less, or more, drawn from them than now, that is left.
std::vector<std::pair<int, double>> partsSeenFrom(const Column& column, const Column* battery)
{
    std::vector<std::pair<int, double>> parts(column.parts.begin(), column.parts.end());
    if (!battery || column.probe.ohms) return parts;
    const double follows = followsOf(column, *battery);
    for (const auto& [part, moved] : battery->parts) {
        const auto at = std::lower_bound(parts.begin(), parts.end(), std::pair{part, -1e300});
        if (at != parts.end() && at->first == part)
            at->second -= follows * static_cast<double>(moved);
        else
            parts.insert(at, {part, -follows * static_cast<double>(moved)});
    }
    return parts;
}

}  // namespace

Spread spreadOf(const Column& column, const Column* battery, const Observation& o)
{
    Spread s;
    s.column = &column;
    s.battery = battery;
    s.petty_V = o.petty_V;
    s.batteryRead = o.battery_V.has_value();
    s.scale = scaleOf(column, battery, o);
    s.parts = partsSeenFrom(column, battery);
    return s;
}

double varianceOf(const Spread& s, const Observation& o, double& untold)
{
    const double shiftSigma = s.battery ? batteryKnown_V / batterySlopeOf(*s.battery, 0) : batteryUnknown_V;
    const double battery = shiftSigma * static_cast<double>(s.column->batterySlope[0]);
    double parts = 0;
    for (const auto& [part, moved] : s.parts)
        parts += moved * moved;
    untold = o.untoldShare * o.untoldShare * parts;
    return o.sigma * o.sigma + o.petty_V * o.petty_V + s.scale * s.scale + battery * battery + parts + untold;
}

double covariance(const Spread& a, const Spread& b)
{
    // Volts lend nothing to ohms.
    if (a.column->probe.ohms != b.column->probe.ohms) return 0;
    double sum = a.scale * b.scale;
    if (a.column == b.column) sum += a.petty_V * b.petty_V;
    // Both lists are in the order of the elements.
    auto at = b.parts.begin();
    for (const auto& [part, moved] : a.parts) {
        while (at != b.parts.end() && at->first < part)
            ++at;
        if (at == b.parts.end()) break;
        if (at->first == part) sum += moved * at->second;
    }
    if (!a.batteryRead && !b.batteryRead)
        sum += batteryUnknown_V * batteryUnknown_V * static_cast<double>(a.column->batterySlope[0]) *
               static_cast<double>(b.column->batterySlope[0]);
    return sum;
}

}  // namespace ilvek
