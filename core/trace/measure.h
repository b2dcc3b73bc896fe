// A figure taken from a recording, or the reason why there is none.
#pragma once

#include <cmath>
#include <optional>
#include <string>

#include "quantity/quantity.h"

namespace ilvek {

struct TraceMeasure {
    std::string id;    // "resistance"; stable, for files and scripts
    std::string name;  // "End current over supply"
    Unit unit = Unit::None;
    std::optional<double> value;
    double sigma = 0;            // one sigma of it
    std::string why;             // "not measurable, because …", where there is no value
    double at_s = std::nan("");  // where on the recording, from its first sample

    std::string words() const;  // "14.6 Ω ± 0.2 Ω", or the reason
};

TraceMeasure measured(std::string id, std::string name, Unit unit, double value, double sigma,
                      double at_s = std::nan(""));
TraceMeasure notMeasurable(std::string id, std::string name, Unit unit, std::string why);

}  // namespace ilvek
