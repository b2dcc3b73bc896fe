// How likely one observation is under one suspect: the laws that the belief is made of.
#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

#include "belief/observations.h"

namespace ilvek {

// Where a suspect leaves a reading free (a map that is wrong there, ohms on a live circuit).
constexpr double freeDensity = 1.0 / 15;
constexpr float freeSigma = 5;
constexpr double evenOdds = 0.5;
// A reading further than this many sigma from what a suspect gives was not given by it: it is a slip, or the suspect is
// wrong.
constexpr double doubtfulZ = 4.0;
// Severities lie as close as their cells: this share of the distance to the next one is one sigma.
constexpr double cellShare = 0.3;

inline double square(double x)
{
    return x * x;
}
// log(e^a + e^b).
double logAdd(double a, double b);
// log density of a reading z sigma away, which may be a slip that says nothing.
double logNormalOrSlip(double z, double sigma, const Observation& o);
// log P of a reading that the suspect does not foretell: its map is wrong there, or ohms are asked of a circuit that is
// live, where every other meter shows that they are beyond its range.
double logOfUnforetold(const Suspect& suspect, const Observation& o);
// The curve stays between its ends: where those lie closer than any display shows it is straight.
constexpr double bends_V = 1e-4;
// The voltage at severity x of a linear circuit, from the sound one (x = 0) and two others: V(x) = (V0 + b x)/(1 + c
// x). Straight between the two where they do not fit such a curve.
inline double between3(double v0, double x1, double v1, double x2, double v2, double x, double share)
{
    const double straight = (1 - share) * v1 + share * v2;
    if (std::abs(v2 - v1) < bends_V) return straight;
    const double c = ((v1 - v0) / x1 - (v2 - v0) / x2) / (v2 - v1);
    const double b = (v1 - v0) / x1 + c * v1;
    const double v = (v0 + b * x) / (1 + c * x);
    return v >= std::min(v1, v2) && v <= std::max(v1, v2) ? v : straight;
}

// How far the posts follow the battery's own voltage: about a fifth beside a running alternator. Below the least of it
// they say nothing of it.
constexpr double leastBatterySlope = 0.1;
inline double batterySlopeOf(const Column& battery, std::size_t at)
{
    return std::max(leastBatterySlope, static_cast<double>(battery.batterySlope[at]));
}

// What the battery's own voltage is moved by for its posts to read so, V. A weak battery that cranks falls to half.
inline double batteryShift(double is_V, double slope, double posts_V)
{
    constexpr double mostShare = 0.6, atLeast_V = 3;
    const double most = std::max(atLeast_V, mostShare * std::abs(is_V));
    return std::clamp((posts_V - is_V) / std::max(leastBatterySlope, slope), -most, most);
}
inline double batteryShift(const Column& battery, std::size_t at, double posts_V)
{
    const double is_V = static_cast<double>(battery.value[at]);
    return std::isnan(is_V) ? 0 : batteryShift(is_V, static_cast<double>(battery.batterySlope[at]), posts_V);
}

// A column's reading with the battery's own voltage that its posts show under the same fault.
inline double shiftedTo(const Column& column, std::size_t at, const Column& battery, double posts_V)
{
    return static_cast<double>(column.value[at]) +
           batteryShift(battery, at, posts_V) * static_cast<double>(column.batterySlope[at]);
}

// The same where the observation knows what the posts showed.
inline double shifted(const Column& column, std::size_t at, const Column* battery, const Observation& o)
{
    return battery && o.battery_V ? shiftedTo(column, at, *battery, *o.battery_V)
                                  : static_cast<double>(column.value[at]);
}

// The chance that a reading z sigma away is no slip. One that is a slip tells nothing about what it shares with others:
// z times this is what it hands on to them.
double chanceOfNoSlip(double z, double sigma, const Observation& o);
// log of the weighted mean of e^log.
double logMean(const std::vector<double>& logs, const std::vector<double>& weights);
// Chance that a need holds: inside its bounds, fading over `soft`.
double chance(const Observation::Need& need, double value);
// log P(what was reported), where it would hold with chance p.
double logOfReport(const Observation& o, double p);
// Chance that all needs of a report hold where each has the value that `value` gives for its place among them. What
// hangs on a feed by assumption may hang on another one: with that feed dead it holds as often as not.
template <class Value>
double chanceBy(const Observation& o, const Value& value)
{
    double p = 1;
    for (std::size_t n = 0; n < o.needs.size(); ++n) {
        const Observation::Need& need = o.needs[n];
        const double holds = chance(need, value(n));
        if (need.feed < 0) {
            p *= holds;
            continue;
        }
        const auto feed = static_cast<std::size_t>(need.feed);
        const double share = o.needs[feed].share, lives = 1 - (1 - chance(o.needs[feed], value(feed))) / share;
        p *= lives * holds + (1 - lives) * (1 - share * (1 - holds));
    }
    return p;
}
// Of one case of its columns.
double chanceOf(const Observation& o, const std::vector<const Column*>& columns, std::size_t at);
// What a map that is wrong at a terminal leaves open.
bool touches(const Suspect& s, const Observation& o);

}  // namespace ilvek
