// A machine with a hidden fault that answers a probe: the map's circuit, solved, read through a meter.
#pragma once

#include <cstdint>
#include <random>
#include <set>
#include <vector>

#include "circuit/condition.h"
#include "machine/map.h"
#include "proving/step.h"

namespace ilvek::practice {

// When an intermittent fault is there.
struct Timing {
    double presentShare = 1;  // chance that it is present at a reading; 1: always
    double absentFor_s = 0;   // it shows only once the machine has been on for so long (a part that opens when hot)
    std::vector<Fault> meanwhile = {};  // what is there while it is not, as the same fault, but slight
    bool operator==(const Timing&) const = default;
};

// How the machine and the meter differ from the book.
struct Imperfection {
    bool none = true;  // exact answers; what follows is then not used
    std::uint32_t seed = 1;
    double tip_V = 0.003;            // contact of the probe tips, one sigma
    double gain = 0.002;             // the meter's scale, one sigma, the same for all of a job
    double parts = 0.5;              // spread of sound parts, as a share of the tolerances of the trade
    double drift_V_per_min = 0.003;  // the battery while the key is on
    double battery_V = 0.12;         // spread of the battery's own voltage
    double wrongNeighbour = 0;       // chance that the red lead stands one cavity beside
};

class SimulatedMachine {
public:
    // `map` must outlive this.
    SimulatedMachine(const Map& map, std::vector<Fault> faults, Timing timing = {}, Imperfection imperfection = {});

    // What a meter of 6000 counts shows at the step's leads, `seconds` after the job began.
    // ERRORS: the step names a place the map does not have.
    Result<Quantity> read(const Step& step, double seconds = 0);

    // What an eye finds at a terminal (its place in the list), `drawn` being the map in the technician's hand: half of
    // the joints that went bad show, and a fiftieth of the sound ones look it.
    Found look(const Map& drawn, int terminal);
    // Whether the reading of this number, counted from 1 over all that were made, was of a neighbour.
    bool wasMisread(std::size_t number) const { return misread_.contains(number); }

    // A repair: the hidden faults are gone. A fuse that blew is replaced with it.
    void mend() { faults_.clear(), timing_.meanwhile.clear(); }
    const std::vector<Fault>& faults() const { return faults_; }

private:
    int neighbourOf(int node);
    double chanceOfDamage(const Terminal& terminal) const;

    const Map& map_;
    std::vector<Fault> faults_;
    Timing timing_;
    Imperfection imperfection_;
    std::vector<Fault> spread_;  // sound parts that differ from the book
    double gain_ = 1, batteryOffset_V_ = 0;
    std::mt19937 random_;
    std::size_t made_ = 0;
    std::set<std::size_t> misread_;
};

// As a display of 6000 counts rounds it: 0.1 mV below 0.6 V, 1 mV below 6 V, 10 mV below 60 V; ohms likewise.
Quantity asDisplayed(double value, Unit unit = Unit::Volt);

}  // namespace ilvek::practice
