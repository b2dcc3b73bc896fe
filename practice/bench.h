// A technician who does what is suggested: follows the first suggested test on a simulated machine until a verdict, and
// enters what is read in a job like any other.
#pragma once

#include <functional>

#include "open_job/open_job.h"
#include "practice/simulated_machine.h"

namespace ilvek::practice {

struct Run {
    JobContent content;  // the journal that it became
    OpenJob open;        // and as it stands at the end
    Reasoning last;
    int tests = 0;       // battery readings not counted
    double minutes = 0;  // battery readings counted
    std::int64_t now_ms() const { return content.events.empty() ? 0 : content.events.back().time_ms; }
};

// Chooses the next test; nullopt ends the run.
using Choice = std::function<std::optional<Step>(const Reasoning&, const OpenJob&)>;
// The first one suggested, until a verdict stands.
std::optional<Step> firstSuggestion(const Reasoning& reasoning, const OpenJob&);

// What is told before the first probe: `reports` by functions and codes; without a complaint nothing need be wrong.
struct Told {
    Reports reports;
    bool complaint = true;
};

// Reads the battery first and again when its reading is older than a minute or of another state.
// `reasoner` starts from nothing and is left as it stands at the end.
Run follow(Reasoner& reasoner, SimulatedMachine& machine, const Told& told, const WayOfWorking& working, int mostTests,
           const Choice& choice = firstSuggestion);

// Elements, nodes and terminals of the group that the run ended with, by their names on the map; of a pair both.
std::vector<std::string> placesOf(const Reasoner& reasoner, const Run& run);

}  // namespace ilvek::practice
