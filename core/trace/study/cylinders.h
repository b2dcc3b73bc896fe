// Several actuators on one feed, seen by one clamp: which pulse belongs to which cylinder, and which of them is
// missing, weak or late.
#pragma once

#include "trace/subjects/winding.h"

namespace ilvek {

struct FiringOrder {
    std::vector<int> cylinders = {1, 3, 4, 2};
    int known = 1;  // the cylinder that the synchronising channel is on
};

// One turn of one cylinder.
struct Turn {
    int cylinder = 0;
    double expected_s = 0;             // from the synchronising pulse and the order
    std::optional<std::size_t> pulse;  // of the pulses measured; none: nothing came
    double late_s = 0;                 // against the middle of all turns
};

// What one cylinder shows beside its siblings.
struct TraceFinding {
    enum class Verdict { Alike, Low, High, Missing, Late, CannotTell };
    int cylinder = 0;
    std::string feature;  // id of a measure, or "firing"
    Verdict verdict = Verdict::Alike;
    double ratio = 1;       // to the middle of the siblings
    double tolerances = 0;  // how far off, in units of what is allowed
    std::string words;      // "end current 22 % low: about 1.28 times the resistance of its siblings"
};

struct CylinderSet {
    std::vector<Turn> turns;
    std::vector<TraceFinding> findings;  // by cylinder, worst first
    std::string verdict;                 // one sentence
};

// When the channel becomes active: the level that it holds for the shorter time, from the recording's first sample.
// Bounces shorter than a fiftieth of the mean distance count with the edge before them.
// ERRORS: it never changes, or its two levels are not clear of its noise.
Result<std::vector<double>> activeEdges(const Recording& recording, const Channel& channel);

// REQUIRES: `order.known` is in the order. ERRORS: fewer than two synchronising edges.
Result<CylinderSet> assignCylinders(const Pulses& pulses, const std::vector<double>& syncEdges_s,
                                    const FiringOrder& order);

std::string words(TraceFinding::Verdict verdict);

}  // namespace ilvek
