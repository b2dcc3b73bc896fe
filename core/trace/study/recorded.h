// What a recording can be of.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include "trace/formats/recording.h"

namespace ilvek {

enum class Recorded { Windings, PulseWidth, Motor, Coil, ChargingField, PickUp, BusPair, Level };

// With what its channels are; an empty name: there is no such channel.
struct RecordedKind {
    Recorded kind = Recorded::Level;
    const char* id = "";      // in files and commands
    const char* name = "";    // for people
    const char* main = "";    // the channel that is measured
    const char* beside = "";  // and those beside it
    const char* sync = "";
    const char* feed = "";
};
const std::vector<RecordedKind>& recordedKinds();
const RecordedKind& kindOf(Recorded kind);
const RecordedKind* kindNamed(std::string_view id);

// From the names and units of its channels, and from whether a current dies between its pulses.
Recorded guessRecorded(const Recording& recording);

// Its name is that of a current, whatever unit it was recorded in.
bool isNamedCurrent(const Channel& channel);

// The channels of that kind by their names and units, -1 where none looks like it.
struct Roles {
    int main = -1, beside = -1, sync = -1, feed = -1;
};
Roles guessRoles(const Recording& recording, Recorded kind);

}  // namespace ilvek
