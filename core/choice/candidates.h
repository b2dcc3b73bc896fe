// Every test that may be taken on a machine: place, state, what is apart, load, and what it costs.
#pragma once

#include <vector>

#include "prediction/predictions.h"
#include "proving/step.h"

namespace ilvek {

struct Candidate {
    enum class Kind {
        Mated,
        Absent,
        Loaded,
        Swap,
        Walk,
        Return,
        Released,
        Freed,
        Ohms,
        LampForFuse,
        IsolatedWire,
        Look
    };
    Kind kind = Kind::Mated;
    int terminal = -1;  // module terminal it is about, or any that is looked at; -1 for other places
    int part = -1;      // element that a hunt is about
    int red = -1, black = -1;
    Condition setup;
    double effort_s = 60;  // reach, unplugging and load; the state counts apart
};

// Tests of the map: levels at every terminal and reachable point with all mated in every state, supplies and returns
// under the load that fits them with their walks, references with consumers released, wires freed from the module; a
// look at every terminal of a connector.
// Left out for safety: circuits that are not to be probed, loads on anything that must not be loaded, and on a
// conductor that still has a module on it. By set-up, those that cost least first.
std::vector<Candidate> candidatesOf(const Map& map, const WayOfWorking& working);

// The complete step with its words. The table's own test where the candidate is one.
Step stepFor(const Map& map, const WayOfWorking& working, const Candidate& candidate);

// REQUIRES: no look, which probes nothing.
Probe probeOf(const Candidate& candidate);

// Candidates by set-up, for building predictions.
struct SetupProbes {
    Condition setup;
    std::vector<Probe> probes;
};
std::vector<SetupProbes> setupsOf(const std::vector<Candidate>& candidates);

}  // namespace ilvek
