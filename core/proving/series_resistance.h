// The resistance in series with a supply, from the same terminal read open-circuit and loaded: one figure for one
// conductor, with its range.
#pragma once

#include <optional>
#include <string>

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

struct SeriesResistance {
    double likely_ohm = 0;  // of one that has no upper end: the least
    double least_ohm = 0;
    std::optional<double> most_ohm;  // none: open is possible
    bool isDark = false;  // the load's own volts lie within the meter's last digits: next to no current flowed

    // "0.26 Ω", "about 450 kΩ", "more than 3.3 kΩ".
    std::string words() const;
};

// R = (U_open − U_loaded) / I(U_loaded), I by the law of the load, each voltage known to its last digit. Where the load
// stays dark that has no upper end; then the shortfall of the open reading behind the meter's own resistance tells it,
// R = R_in (U_bat − U_open) / U_open, where it is more than its last digits and lies in the range.
// REQUIRES: both of one terminal, `loaded` with its load on.
SeriesResistance seriesResistance(const Map& map, const Reading& open, const Reading& loaded, double current_A,
                                  std::optional<double> battery_V);

// The same of the last loaded reading across the load of a terminal's walk; nullopt where it or its open partner is
// missing.
std::optional<SeriesResistance> seriesResistanceOf(const Map& map, const Evidence& evidence, const Reading& sample);

}  // namespace ilvek
