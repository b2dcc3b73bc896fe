// What the voltages and the current of a low-side driven winding say together (W27).
#pragma once

#include <optional>
#include <string>

namespace ilvek {

enum class DriveFault {
    None,            // it works as far as these say
    OpenFeed,        // nothing at the feed side
    OpenWinding,     // the winding, or the wire between it and the lead on the control side
    NoDrive,         // not commanded, the driver dead, or the wire between the lead and the module open
    StuckOn,         // the driver, or the control wire shorted to ground
    ShortedWinding,  // too much current
    TooMuchResistance,
    Contradiction  // these do not go together: look at the clamp and the leads first
};

struct DriveSeen {
    std::optional<bool> feed;         // the supply is there, at the feed side
    std::optional<bool> highWhenOff;  // the control side stands at the supply
    std::optional<bool> highWhenOn;   // still, while it is commanded
    enum class Current { Unknown, None, Low, Right, High, Always } current = Current::Unknown;
};

// SOURCE: the loop itself: off, the winding lifts the control side to the supply; on, the driver pulls it down and the
// supply over the winding's resistance flows.
DriveFault driveFault(const DriveSeen& seen);
std::string words(DriveFault fault);

}  // namespace ilvek
