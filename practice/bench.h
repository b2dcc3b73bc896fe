// A technician who does what is suggested: follows the first suggested test on a simulated machine until a verdict.
#pragma once

#include <functional>

#include "practice/simulated_machine.h"
#include "reasoning/reasoner.h"

namespace ilvek::practice {

struct Run {
    Reasoning last;
    Evidence evidence;
    int tests = 0;       // battery readings not counted
    double minutes = 0;  // battery readings counted
};

// Chooses the next test; nullopt ends the run.
using Choice = std::function<std::optional<Step>(const Reasoning&, const Assessment&, const Standing&)>;
// The first one suggested, until a verdict stands.
std::optional<Step> firstSuggestion(const Reasoning& reasoning, const Assessment&, const Standing&);

// Reads the battery first and again when its reading is older than a minute or of another state.
// `reasoner` starts from nothing and is left as it stands at the end.
Run follow(Reasoner& reasoner, SimulatedMachine& machine, const Paper& paper, const School& school, bool complaint,
           int mostTests, const Choice& choice = firstSuggestion);

// Elements, nodes and terminals of the group that the run ended with, by their names on the map; of a pair both.
std::vector<std::string> placesOf(const Reasoner& reasoner, const Run& run);

}  // namespace ilvek::practice
