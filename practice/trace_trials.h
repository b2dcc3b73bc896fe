// Random draws of what recordings are made of, measured and held against the truth that made them: what the accuracy
// tables print and the tests ask for. Fixed seeds.
#pragma once

#include <vector>

#include "practice/bus_pair.h"
#include "practice/drives.h"

namespace ilvek::practice {

struct Trial {
    int of = 0, right = 0, wrong = 0;  // the rest: it says that it cannot tell
    std::vector<double> off;           // by how much the figures given were off, each in its own measure
    double offAt(double quantile) const;
};

// Duty of a freewheeling winding from its current; noise of `share` of the ripple. Right: within three points.
Trial trialPulseWidth(int draws, double rate_Hz, double share);
// Bar rate within two per cent; noise as a share of the highest current. `bad`: a bar that differs must be named, else
// none may be.
Trial trialBarRate(int draws, double noise);
Trial trialBadBar(int draws, double noise, bool bad);
Trial trialStall(int draws, double noise);
// Charges of a coil: sound, limited, with shorted turns, with a missing one; right: all told as it is, dwell within
// 0.1 ms.
Trial trialCoil(int draws, double noise);
// Teeth, gap and speed of a wheel; of a reluctance pick-up its polarity as well.
Trial trialPickUp(int draws, double noise, bool reluctance);
// A broken tooth must be told.
Trial trialBrokenTooth(int draws, double noise, bool reluctance);
// The class of fault, silent and shorted together being one; where none is driven "one of the lines" is right too.
Trial trialBusPair(int draws, double noise, PairFault fault);
Trial trialField(int draws, double noise, FieldFault fault);
// A winding of `ratio` times its resistance from 11.5 to 14.6 V against what it should be. Right: flagged; wrong when
// the ratio is 1. `shorted`: turns are gone, and that is what must be named.
Trial trialWinding(int draws, double noise, double ratio, bool shorted = false);
// Closing of the armature within 0.1 ms, by the hump of a clamped drive or the kink of a freewheeling current.
Trial trialClosing(int draws, double noise, bool freewheels);
// A level with dips: every one found at its place, and nothing else.
Trial trialDips(int draws, double noise);

}  // namespace ilvek::practice
