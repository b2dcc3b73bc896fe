// What looking at a terminal would find under a suspect.
#pragma once

#include "suspects/suspects.h"

namespace ilvek {

// Where the suspect would look otherwise than a sound terminal does.
std::vector<Sight> sightsOf(const Map& map, const Suspect& suspect);

// P(found | suspect) of a look at a terminal.
double chanceOfFinding(const Suspect& suspect, int terminal, Found found);
// A look there tells it from a sound terminal.
bool showsAt(const Suspect& suspect, int terminal);

}  // namespace ilvek
