// Round figures along an axis.
#pragma once

#include <vector>

namespace ilvek {

// A step of 1, 2 or 5 times a power of ten that divides `span` into `parts` or fewer. REQUIRES: span > 0.
double niceStep(double span, double parts);

// The multiples of `step` from `low` to `high`; none where they lie so far from nothing that they cannot be told apart.
std::vector<double> ticks(double low, double high, double step);

}  // namespace ilvek
