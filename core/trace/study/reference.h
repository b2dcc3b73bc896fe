// What the current of a winding should look like: computed from the map, or kept from a sound machine with its
// conditions.
#pragma once

#include <map>

#include "machine/map.h"
#include "trace/subjects/winding.h"

namespace ilvek {

// A measure as it should be, at the reference's supply.
struct ReferenceFeature {
    double value = 0;
    double allowed = 0;  // as a share of it
};

struct WindingReference {
    std::string of;      // id of the element, "INJ3"
    std::string name;    // "injector 3"
    std::string source;  // "computed from the map, 20 °C", "kept from a sound machine, hot, idling"
    double supply_V = 0;
    double temperature_C = 20;
    std::string state;                                 // in which it was kept; may be empty
    std::map<std::string, ReferenceFeature> features;  // by the ids of a pulse's measures
    // The current from `before_s` before switching on, and what it may differ by; empty where it is not known.
    double interval_s = 0, before_s = 0;
    double pulse_s = 0;  // on for so long
    std::vector<double> current_A, tolerance_A;
};

struct ReferenceWish {
    double temperature_C = 20;
    std::string state;  // empty: the one in which most current flows when it is commanded
    double pulse_s = 5e-3;
};

// The current when its drive is switched on: end current from the solved circuit, resistance of the winding corrected
// to the temperature; the rise where the map gives the inductance. SOURCE: i = I (1 − e^(−t R/L)) with R and I of the
// whole loop; R = R₂₀ (1 + 0.0039 (T − 20 °C)), IEC 60028. ERRORS: no such part, no winding, no drive of the map lets
// current through it.
Result<WindingReference> expectedWinding(const Map& map, const std::string& element, const ReferenceWish& wish);

// The drive whose command makes current flow through the part, and the state in which most flows.
struct DrivenBy {
    int driver = -1;
    int state = 0;
    double current_A = 0;  // while it is on
    double supply_V = 0;   // across the part and its drive while it is off
};
Result<DrivenBy> drivenBy(const Map& map, int element, const std::string& state);

// Of sound pulses: their features with the spread that they have, and their mean shape.
// ERRORS: the supply is not known, no whole pulse.
Result<WindingReference> keptFrom(const Recording& recording, const Channel& current, const Pulses& pulses,
                                  std::optional<double> supply_V, WindingReference conditions);

// As a file (docs/formats.md). ERRORS: with the field and the reason.
std::string writeReference(const WindingReference& reference);
Result<WindingReference, Problems> readReference(std::string_view text, const std::string& fileName);

}  // namespace ilvek
