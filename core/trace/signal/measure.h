// A figure taken from a recording, or the reason why there is none.
#pragma once

#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "quantity/quantity.h"

namespace ilvek {

struct TraceMeasure {
    std::string id;    // "resistance"; stable, for files and scripts
    std::string name;  // "End current over supply"
    Unit unit = Unit::None;
    std::optional<double> value;
    double sigma = 0;            // one sigma of it; 0 where it was counted
    std::string why;             // "not measurable, because …", where there is no value
    double at_s = std::nan("");  // where on the recording, from its first sample

    std::string words() const;  // "14.6 Ω ± 0.2 Ω", or the reason
};

TraceMeasure measured(std::string id, std::string name, Unit unit, double value, double sigma,
                      double at_s = std::nan(""));
TraceMeasure notMeasurable(std::string id, std::string name, Unit unit, std::string why);

// Something that differs from the rest of the recording.
struct TraceEvent {
    double at_s = 0, length_s = 0;  // from the first sample
    double tolerances = 0;          // how far off, in units of what is allowed
    std::string words;
};

// What one look at a recording tells.
struct TraceTold {
    std::vector<TraceMeasure> measures;
    std::vector<TraceEvent> events;  // by time
    std::string verdict;             // one or two sentences
    bool odd = false;                // something stands out

    const TraceMeasure* find(const std::string& id) const;
    std::optional<double> value(const std::string& id) const;
};

}  // namespace ilvek
