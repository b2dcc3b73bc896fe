// What was touched while a level was recorded (W24): channels that only mark it, as a button that is held.
#pragma once

#include "proving/reading.h"
#include "trace/formats/recording.h"
#include "trace/signal/measure.h"

namespace ilvek {

// Every other channel of two levels that stays at its rarer one for a while marks a place, by the channel's name. An
// event counts for a touch from its beginning to shortly after its end; a touch has one at most, and so has each
// stretch between the touches. Empty: no channel marks anything. `main`: the channel of the level.
std::vector<TraceSeen::Touched> touchedIn(const Recording& recording, int main, const std::vector<TraceEvent>& events);

}  // namespace ilvek
