#include "proving/series_resistance.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/expects.h"
#include "circuit/substitute_load.h"
#include "proving/judge.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// An offset of the meter and its last digit.
constexpr double digitsOff = 2;
// A current of which no more is known than this has no figure in its middle.
constexpr double widest = 3;

double digitOf(const Reading& r)
{
    return r.value.resolution > 0 ? r.value.resolution : r.instrument.resolution_V;
}

std::string about(double r)
{
    const double digit = std::pow(10.0, std::floor(std::log10(std::max(r, 1e-6))) - 1);
    return formatQuantity(ohms(std::round(r / digit) * digit));
}

}  // namespace

std::string SeriesResistance::words() const
{
    if (!isDark) return formatQuantity(ohms(likely_ohm));
    return most_ohm ? "about " + about(likely_ohm) : inWords("series-resistance.more-than") + about(least_ohm);
}

SeriesResistance seriesResistance(const Map& map, const Reading& open, const Reading& loaded, double current_A,
                                  std::optional<double> battery_V)
{
    EXPECTS(open.terminal == loaded.terminal);
    SeriesResistance r;
    const double vOpen = std::abs(open.value.value), vLoaded = std::abs(loaded.value.value);
    const double lost = std::max(0.0, vOpen - vLoaded);
    r.likely_ohm = r.least_ohm = lost / std::max(current_A, 1e-4);
    const auto load = findLoad(map.systemVoltage_V, loaded.load);
    if (!load || loaded.measuredCurrent_A) return r;
    const double off = digitsOff * digitOf(loaded);
    const double least_A = load->current_A(std::max(0.0, vLoaded - off)), most_A = load->current_A(vLoaded + off);
    r.least_ohm = std::max(0.0, lost - off) / most_A;
    if (least_A > 0) r.most_ohm = (lost + off) / least_A;
    r.isDark = most_A > widest * least_A;
    if (lost <= off || !r.isDark) {
        r.isDark = false;
        return r;
    }
    r.most_ohm.reset();
    r.likely_ohm = r.least_ohm;
    if (!battery_V || vOpen <= 0) return r;
    const double shortfall = *battery_V - vOpen, blur = digitsOff * digitOf(open) + 0.02;
    const double fromOpen = open.instrument.inputResistance_ohm * shortfall / vOpen;
    if (shortfall < 3 * blur || fromOpen < r.least_ohm) return r;
    r.likely_ohm = fromOpen;
    r.most_ohm = fromOpen * (1 + blur / shortfall);
    r.least_ohm = fromOpen * (1 - blur / shortfall);
    return r;
}

std::optional<SeriesResistance> seriesResistanceOf(const Map& map, const Evidence& evidence, const Reading& sample)
{
    const Reading *open = nullptr, *loaded = nullptr;
    for (const Reading& r : evidence.readings) {
        if (r.terminal != sample.terminal || r.state != sample.state || isStale(map, evidence, r)) continue;
        if (r.test == TestKind::OpenSupply && !r.value.overLimit) open = &r;
        if (r.test == TestKind::LoadedSupply && r.load == sample.load) loaded = &r;
    }
    if (!open || !loaded) return std::nullopt;
    return seriesResistance(map, *open, *loaded, currentDuring(map, evidence, *loaded),
                            batteryOfTheMinute(map, evidence, *open));
}

}  // namespace ilvek
