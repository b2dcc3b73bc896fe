// The map in one condition as equations, solved: what every node reads.
#pragma once

#include <vector>

#include "base/result.h"
#include "circuit/condition.h"
#include "machine/map.h"

namespace ilvek {

// Potentials against battery minus, V, and the currents that belong to them. Where drivers are pulsed, means over the
// period, which is what a voltmeter and a clamp's display show.
class OperatingPoint {
public:
    // What a meter between the nodes would show, V.
    double voltage(int red, int black) const;
    // Potential against battery minus, V.
    double potential(int node) const;
    // Current through an element from its first node to its second, A; 0 for elements that are open.
    double currentThrough(int element) const;
    // Current through a clamp around several conductors, A: each counted from its first node to its second, or the
    // other way when it passes the jaws backwards.
    struct InJaws {
        int element = -1;
        bool backwards = false;
    };
    double currentThrough(const std::vector<InJaws>& bundle) const;
    // Power that an element takes up, W; negative when it gives.
    double power(int element) const;
    // Current through the substitute load, A; 0 without one.
    double loadCurrent() const { return loadCurrent_; }
    // Whether a switch, a relay's contact or a driver is closed; true for all other kinds that are not open.
    bool isClosed(int element) const;
    // A node that nothing but its leak holds: a reading there is no reading.
    bool isFloating(int node) const;
    // Relays never came to rest; the potentials are the mean over its rounds.
    bool chatters() const { return chatters_; }
    // Fuses that carried too much, and drivers that shut themselves down; those stay so until the key is cycled.
    const std::vector<int>& blownFuses() const { return blown_; }
    bool jumperBlew() const { return jumperBlew_; }  // the fuse in a jumper
    const std::vector<int>& shutDown() const { return shutDown_; }

private:
    friend Result<OperatingPoint> solvedPoint(const Map& map, const Condition& condition);
    std::vector<double> potentials_;
    std::vector<double> currents_;
    std::vector<double> powers_;
    std::vector<bool> floating_;
    std::vector<bool> closed_;
    std::vector<int> blown_, shutDown_;
    double loadCurrent_ = 0;
    bool chatters_ = false, jumperBlew_ = false;
};

// REQUIRES: indices of the condition exist in the map.
// ERRORS: the solution did not converge (names the state); does not happen with the laws of laws.h.
Result<OperatingPoint> operatingPoint(const Map& map, const Condition& condition);

// What the meter of the condition displays.
struct Display {
    double value = 0;  // V, or Ω in ohms mode
    bool overLimit = false;
    bool floating = false;  // one of its leads stands on nothing: no reading
    bool live = false;      // ohms or diode mode on a circuit that is not dead: the figure means nothing (W7)
    OperatingPoint point;   // the circuit with the meter in it
};
// REQUIRES: condition.meter. ERRORS: as operatingPoint().
Result<Display> displayOf(const Map& map, const Condition& condition);

// What an ohmmeter makes of a circuit that gives open_V by itself behind source_ohm, Ω: with E behind R_t of its own,
// U = (E R + U0 R_t)/(R + R_t) and R_shown = U R_t/(E − U) = (E R + U0 R_t)/(E − U0).
// REQUIRES: open_V is below the meter's own volts.
double ohmmeterShows_ohm(double open_V, double source_ohm);

}  // namespace ilvek
