// Ohms of parts that nobody gives in ohms: what they take at work tells nothing of them at rest.
#pragma once

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

// By its name.
bool isLed(const Element& element);

// An LED lamp, a buzzer, a unit of its own: whatever an ohmmeter finds in its electronics, from some tens of ohms to
// nothing at all.
bool isElectronic(const Map& map, const Element& element);

// Whether the ohms that were read between two places of a dead circuit are right by the electronics on the way, or by a
// motor at rest: that has a small share of what it takes running, and its brushes add to it. They say nothing then.
// SOURCE: a motor started takes five to ten times its current; brushes at an ohmmeter's milliampere read several ohms.
bool mayBeOfPartAtRest(const Map& map, const Reading& reading);

}  // namespace ilvek
