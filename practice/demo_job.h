// The demonstration job: a PT-9 whose drive supply fails at terminal 7 of X4.
#pragma once

#include <string>
#include <vector>

#include "circuit/condition.h"
#include "job/event.h"
#include "machine/map.h"

namespace ilvek::practice {

// The hidden fault of the demonstration: about 4 Ω at X4-7.
std::vector<Fault> demoFaults(const Map& map);

// Complaint, codes and a dozen readings, each answered by the simulated machine. ERRORS: the map lacks a terminal.
Result<std::vector<Event>> demoEvents(const Map& map);

// What the machine answers for the rest of the hunt, as a text table: step and figure, for whoever plays the
// technician.
Result<std::string> demoAnswers(const Map& map);

}  // namespace ilvek::practice
