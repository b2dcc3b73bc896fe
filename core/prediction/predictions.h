// What every suspect makes of every reading: the circuit solved for each fault in each set-up, kept for the whole job.
#pragma once

#include <cmath>
#include <memory>
#include <vector>

#include "base/result.h"
#include "circuit/condition.h"
#include "circuit/operating_point.h"
#include "suspects/suspects.h"

namespace ilvek {

// Something that can be seen in a set-up: a voltage between two nodes, or the current through a part.
struct Probe {
    int red = -1, black = -1;
    double inputResistance_ohm = 10e6;
    int element = -1;   // ≥ 0: the current through it, A; the nodes are then not used
    bool ohms = false;  // an ohmmeter between the nodes: decades of ohms, decadesOf()
    bool operator==(const Probe&) const = default;
};

// lg(R + 0.1 Ω), from −1 (leads together) to 7.8 (over limit).
double decadesOf(double resistance_ohm);
double ohmsOf(double decades);

// An ohmmeter on more than this shows nonsense.
constexpr double dead_V = 0.02;

// What a probe shows in a circuit as it stands, a FaultSweep or a WarmCircuit: V, A or decades of Ω; NaN for ohms where
// that is live.
template <class Circuit>
double shownBy(const Probe& p, Circuit& circuit)
{
    if (p.element >= 0) return circuit.currentThrough(p.element);
    if (!p.ohms) return circuit.voltage(p.red, p.black, p.inputResistance_ohm);
    const double open = circuit.voltage(p.red, p.black, INFINITY);
    if (std::abs(open) > dead_V) return std::nan("");
    return decadesOf(ohmmeterShows_ohm(open, circuit.sourceResistance_ohm(p.red, p.black)));
}

// By case: suspect by suspect, each with its severities, in the order of the list of suspects.
struct Column {
    Probe probe;
    std::vector<float> value;         // V, A or decades of Ω; NaN where a live circuit makes ohms meaningless
    std::vector<float> batterySlope;  // per volt of the battery's own voltage
    std::vector<int> moved;           // cases that do not read as the sound circuit does
    std::vector<int> chattering;      // cases in which the logic never rests: the value is a mean
    // What each sound part may move the reading by, one sigma, where that is worth counting: by element; −1 stands for
    // what is on no list, and those behind the elements for what a module draws otherwise in this state (partInState).
    std::vector<std::pair<int, float>> parts;
    float tolerance = 0;  // one sigma of what sound parts of this machine may differ by
    // Cases of a feed from another battery: what one sigma of that battery's voltage moves the reading by, beyond what
    // it moves the sound circuit's.
    std::vector<std::pair<int, float>> fed;
    double fedBy(int tableCase) const;
};

struct Prediction {
    Condition setup;  // neither faults nor meter
    std::vector<Column> columns;
    const Column* find(const Probe& probe) const;
};

// How far a sound part may differ from the map's figure, one sigma as a share: what the map says of it, else what is
// usual for its kind (quantity/trade.h). The main battery's own voltage is read at its posts and is none of them; of
// another one only that it is charged is known.
double toleranceOf(const Map& map, int part);
// Whether what it draws in one state tells little of another: a module of which only a sheet tells. Its part of a
// column that is this state's own.
bool drawsByState(const Map& map, int part);
int partInState(const Map& map, int part, int state);

// Where the cases of each suspect begin; one more entry than suspects.
std::vector<int> firstCases(const std::vector<Suspect>& suspects);

// Without `tolerances` the columns have none: where only the suspects' own readings are wanted.
// REQUIRES: suspects of this map. ERRORS: the healthy circuit has no solution in this set-up. Can be stopped
// (base/stop.h).
Result<Prediction> predict(const Map& map, const std::vector<Suspect>& suspects, const Condition& setup,
                           const std::vector<Probe>& probes, bool tolerances = true);

// Fills `moved`.
void findMoved(Column& column);

// All set-ups asked for so far. Blocks are never changed once in; copying the table shares them.
class PredictionTable {
public:
    const Column* find(const Condition& setup, const Probe& probe) const;
    void add(Prediction prediction);
    const std::vector<std::shared_ptr<const Prediction>>& all() const { return blocks_; }
    // The cases of further suspects behind the first `kept` ones, in every block.
    void extend(const Map& map, int kept, const std::vector<Suspect>& more);
    std::size_t bytes() const;

private:
    std::vector<std::shared_ptr<const Prediction>> blocks_;
};

}  // namespace ilvek
