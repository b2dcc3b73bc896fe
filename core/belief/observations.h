// What speaks for or against suspects: readings, functions that work or do not, codes; each as probes of the circuit in
// a set-up and the chance of what was seen.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "prediction/predictions.h"
#include "proving/proof.h"

namespace ilvek {

// What is known without a meter (W1, W3).
struct Reports {
    std::vector<std::string> dead;       // ids of functions of the map that fail
    std::vector<std::string> works;      // that work now
    std::vector<std::string> codes;      // stored codes
    std::vector<std::string> weak = {};  // functions that do less than they should: half of what a dead one says
};

struct Observation {
    enum class Kind { Reading, FunctionDead, FunctionWorks, Code, Look };
    struct Need {
        Probe probe;
        double low = -1e9, high = 1e9;  // holds inside
        double soft = 0.1;              // and fades over this much
        double share = 1;               // chance that it is needed at all
        int feed = -1;  // which need is of the feed that it is assumed to hang on: without that one it may hold or not
    };
    Kind kind = Kind::Reading;
    std::int64_t id = 0;  // of the reading or recording; 0 of what was told
    std::string words;    // "J2-1, supply under load"
    Condition setup;
    // Readings:
    Probe probe;
    double value = 0;
    double sigma = 0;  // of the display's last digit and the tip's contact, one sigma
    // What drops that no sheet lists make of it, one sigma; the same each time that it is read.
    double petty_V = 0;
    double gain = 0;  // what the instrument's scale may be off by, one sigma; the same share in all of its readings
    // Sound parts beside a fault differ too: this share of what the fault moved, one sigma. More where what flows
    // through the fault is a draw that nobody stated.
    double besideShare = 0.01;
    // Of what the parts may move it, the share that no other reading tells: where nobody stated their figures, current
    // and resistance multiply, and what one reading says of their product another cannot take apart.
    double untoldShare = 0;
    // Chance that it was read wrongly. Beside a lamp one sees what the meter shows.
    double slip = 0.01;
    // How densely what is read wrongly lies about this value, per volt or decade: anything, or what the cavity beside
    // it shows.
    double slipDensity = 1.0 / 20;
    std::optional<double> battery_V;
    Probe batteryProbe;
    Condition batterySetup;  // in which the battery was read: what is apart then draws nothing from it
    // Functions and codes:
    std::vector<Need> needs;
    // What somebody told; what tells half; two figures of a signal that may have moved between them; what the
    // technician saw, as a lamp's light; what a meter showed.
    enum class Source { Told, Vague, MayMove, Seen, Read };
    Source source = Source::Told;
    // Looks:
    int terminal = -1;
    Found found = Found::AsDrawn;
    bool operator==(const Observation& other) const
    {
        return kind == other.kind && id == other.id && words == other.words && value == other.value &&
               battery_V == other.battery_V && batterySetup == other.batterySetup;
    }
};

// Readings that count as evidence of now: volts, ohms, a clamp's amperes, a lamp's light, a breaker, the supply that
// the module reports; at places of the map, steady, not stale, not withdrawn; of the battery the first one in each
// state. What cannot be foretold (hertz, per cent, a signal that moves) is no observation. Functions and codes that the
// map does not know are left out.
std::vector<Observation> observationsOf(const Map& map, const Assessment& assessment, const Reports& reports);

// The set-up and probes that an observation needs.
struct Wanted {
    Condition setup;
    std::vector<Probe> probes;
};
std::vector<Wanted> wantedBy(const Map& map, const std::vector<Observation>& observations);

// One sigma of an ohmmeter's reading, in decades: what circuits beside unpowered electronics make of it counts too.
double ohmsSigmaAt(double decades);

// A meter on the battery's posts.
Probe batteryProbeOf(const Map& map);

// Uncertainty of a displayed figure, V, one sigma: its last digit and the contact of the tip.
double sigmaOf(const Instrument& instrument, const Quantity& value);

}  // namespace ilvek
