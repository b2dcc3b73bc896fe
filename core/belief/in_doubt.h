// What a fit had to assume of figures that nobody stated, in words.
#pragma once

#include <string>
#include <vector>

#include "belief/fit.h"
#include "machine/map.h"

namespace ilvek {

// "the module behind A2 draws about 2.4 A, not 8 A".
std::string assumedWords(const Map& map, int element, double factor);
// What a clamp or an ohmmeter would find at once: "a clamp on A2"; empty: nothing that is easily read.
std::string settledBy(const Map& map, int element);

// Those of a fit that are worth saying, furthest first, at most `most`: "fits if … and …". Empty: the map's own figures
// do.
std::string fitsIf(const Map& map, const Fit& fit, std::size_t most);
// "The solenoid of B3 has about 8 Ω, not 12 Ω? An ohmmeter on it, unplugged, would settle it."
std::string inDoubtWords(const Map& map, const Fit& fit);

}  // namespace ilvek
