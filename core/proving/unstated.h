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

// The signal of a sensor that moves: of which a page gives a range of more than a volt, or of which anything is apart,
// so that no page tells where its input is held. Between two readings it may have gone anywhere in its range.
bool mayStandAnywhere(const Map& map, int terminal, const Reading& reading);

// Whether anything tells the level of the terminal in the state, custom too.
bool hasLevel(const Map& map, int terminal, int state);

// A switch's line that stands down where the sheet, or what is apart, has it open: whatever it is pulled up to, it is
// held there, or the pull-up does not reach it.
bool isHeldDown(const Map& map, int terminal, const Reading& reading);

// A sensor supply of which no page gives the level, at one that sensors are made for besides 5 V: 8, 9, 10 or 12 V, or
// the battery's own. SOURCE: sensor makers' data sheets.
bool mayBeOtherReference(const Map& map, int terminal, int state, double volts);

// Ohms across the two lines of a bus below what its listed units make, as one termination of 120 Ω or two would be that
// nobody listed. SOURCE: ISO 11898-2.
bool mayBeFurtherTerminations(const Map& map, const Reading& reading);

// Kilohms at a feed of a module that is plugged in, or from a line of a bus to ground, by a sheet: they are of
// electronics, of which no page tells.
bool mayBeElectronics(const Map& map, const Reading& reading);

// What the ohms between two places of a dead circuit would be right by, though they are not what the sheet's figures
// make: by how warm a winding or a thermistor is, −20 to 100 or 120 °C, where the reading does not tell, or by figures
// that nobody stated, within two and a half times either way. `dead`: as read, with the ohmmeter in it.
enum class RightBy { Nothing, Warmth, Unstated };
RightBy ohmsRightBy(const Map& map, const Reading& reading, const Condition& dead);

// The terminal of a drive that is off, with its part taken from it, or with an LED lamp that lets it float: the module
// may hold its wire anywhere to find that out, or nowhere.
bool isReleasedDrive(const Map& map, int terminal, const Reading& reading);

// A drive while the engine turns that does not stand as when it is off: what the module does with it then no sheet
// tells.
bool mayBeCommandedByItself(const Map& map, int terminal, const Reading& reading);

// Of the time that the driver behind a terminal is on, 0 to 1: as it is commanded, else as the state has it.
double drivenShare(const Map& map, int terminal, const SetUp& setUp);

// A pulsed drive that is on for a share of the time that nobody told: a meter shows any mean.
bool isPulsedByUnknownShare(const Map& map, int terminal, const Reading& reading);

// Volts with no load on them, where the sound circuit is dead with the key off, of a machine whose module is plugged
// in: it may hold the wires of its drives by some ten kilohms then too, and what hangs on them with them. Up to half of
// the system voltage; behind a relay's contact up to nine tenths, as a resistor across it may charge what is there. A
// lamp tells whether anything feeds the place.
bool mayBeHeldWire(const Map& map, const Reading& reading);

}  // namespace ilvek
