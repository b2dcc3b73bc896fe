// What may stand at a place of a machine that is sound, where nobody stated it: levels and ohms that the trade makes in
// several ways. Such a reading neither fails nor proves anything.
#pragma once

#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

// A line of a differential bus, at a terminal of the module.
bool isLineOfPair(const Map& map, int node);

// Whether a maker's page or a measurement tells what the terminal reads in the state.
bool isLevelStated(const Map& map, int terminal, int state);

// Whether anything tells the level of the terminal in the state, custom too.
bool hasLevel(const Map& map, int terminal, int state);

// A switch's line that the sheet has open in the state stands open from here on, wherever its pull-up leaves it.
constexpr double switchOpenFrom_V = 2.5;

// A switch's line that stands down where the sheet, or what is apart, has it open: whatever it is pulled up to, it is
// held there, or the pull-up does not reach it.
bool isHeldDown(const Map& map, int terminal, const Reading& reading);

// A sensor supply of which no page gives the level, at one that sensors are made for besides 5 V: 8, 9, 10 or 12 V, or
// the battery's own. SOURCE: sensor makers' data sheets.
bool mayBeOtherReference(const Map& map, int terminal, int state, double volts);

// Ohms across the two lines of a bus below what its listed units make, as one termination of 120 Ω or two would be that
// nobody listed. SOURCE: ISO 11898-2.
bool mayBeFurtherTerminations(const Map& map, const Reading& reading);

// The terminal of a drive that is off, with its part taken from it: the module may hold its wire anywhere to find that
// out, or nowhere.
bool isReleasedDrive(const Map& map, int terminal, const Reading& reading);

}  // namespace ilvek
