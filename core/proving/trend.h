// Recordings of one winding in one job that go one way: what weakens has announced itself (W24, W28).
#pragma once

#include <vector>

#include "proving/reading.h"

namespace ilvek {

struct Trend {
    std::vector<const TraceSeen*> recordings;  // of one part in one state, in the order taken, two or more
    // Of the current at the end of a pulse, brought to one supply, from the first to the last: 0.8.
    double left = 1;
    double minutes = 0;
    bool isLast(const TraceSeen& t) const { return recordings.back() == &t; }
};

// Those since the last repair whose currents fall, or rise, from each to the next and from first to last by more than
// their errors and a twentieth. What comes and goes is none. `evidence` must outlive it.
std::vector<Trend> trendsOf(const Evidence& evidence);

// The trend that a recording is of; nullptr: none.
const Trend* trendOf(const std::vector<Trend>& trends, const TraceSeen& recording);

}  // namespace ilvek
