// A machine with a hidden fault that answers a probe: the map's circuit, solved, read through a meter.
#pragma once

#include <vector>

#include "circuit/condition.h"
#include "machine/map.h"
#include "proving/step.h"

namespace ilvek::practice {

class SimulatedMachine {
public:
    // `map` must outlive this.
    SimulatedMachine(const Map& map, std::vector<Fault> faults) : map_(map), faults_(std::move(faults)) {}

    // What a meter of 6000 counts shows at the step's leads. ERRORS: the step names a place the map does not have, or
    // asks for ohms (not simulated).
    Result<Quantity> read(const Step& step) const;

private:
    const Map& map_;
    std::vector<Fault> faults_;
};

// As a display of 6000 counts rounds it: 0.1 mV below 0.6 V, 1 mV below 6 V, 10 mV below 60 V.
Quantity asDisplayed(double volts_V);

}  // namespace ilvek::practice
