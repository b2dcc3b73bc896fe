// A reading anywhere: which test it is follows from where the leads stand, what was done to the machine and what kind
// of figure was read.
#pragma once

#include <string>

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

enum class FigureKind { Volts, AlternatingVolts, Ohms, Amperes, Percent, Hertz, Seconds, DiodeVolts, Shown, Reported };

struct PlacedTest {
    TestKind test = TestKind::Point;
    std::string terminal;  // the terminal it speaks about; empty where it is about a place only
};

// Whether a bridge of the set-up feeds the terminal past a part of its own way: what is read then says nothing of that
// part.
bool isBridged(const Map& map, const SetUp& setUp, int terminal);

// `currentKnown`: a clamp's figure comes with it. Of volts at a supply it is the supply's own test (open, absent,
// loaded, swapped), at a return the drop, at a fuse without a load the fuse check, on the way of a loaded terminal a
// point of its walk; where none of them fits, a reading at a point, judged against the computed circuit. REQUIRES: the
// names of the set-up are on the map.
PlacedTest placedTest(const Map& map, const SetUp& setUp, FigureKind kind, bool currentKnown);

}  // namespace ilvek
