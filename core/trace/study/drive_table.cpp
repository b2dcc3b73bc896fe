#include "trace/study/drive_table.h"

namespace ilvek {

DriveFault driveFault(const DriveSeen& s)
{
    using Current = DriveSeen::Current;
    const bool flows = s.current == Current::Low || s.current == Current::Right || s.current == Current::High ||
                       s.current == Current::Always;
    if (s.feed && !*s.feed) return flows ? DriveFault::Contradiction : DriveFault::OpenFeed;
    const bool off = s.highWhenOff.value_or(true), on = s.highWhenOn.value_or(false);
    if (!flows && s.current == Current::None) {
        // Nothing lifts the control side: the way through the winding is open.
        if (!off) return on ? DriveFault::Contradiction : DriveFault::OpenWinding;
        // Lifted and never pulled down.
        if (on) return DriveFault::NoDrive;
        // Pulled down against a whole winding, and yet no current.
        return s.highWhenOff && s.highWhenOn ? DriveFault::Contradiction : DriveFault::None;
    }
    if (!flows) return DriveFault::None;
    if (on) return DriveFault::Contradiction;
    if (s.current == Current::Always) return off && s.highWhenOff ? DriveFault::Contradiction : DriveFault::StuckOn;
    if (!off) return DriveFault::Contradiction;
    if (s.current == Current::High) return DriveFault::ShortedWinding;
    return s.current == Current::Low ? DriveFault::TooMuchResistance : DriveFault::None;
}

std::string words(DriveFault fault)
{
    switch (fault) {
        case DriveFault::None:
            return "nothing speaks against the drive and the winding";
        case DriveFault::OpenFeed:
            return "nothing at the feed side: the feed is open";
        case DriveFault::OpenWinding:
            return "nothing lifts the control side: the winding, its feed, or the wire between it and the lead is open";
        case DriveFault::NoDrive:
            return "the control side is never pulled down: not commanded, the driver dead, or the wire from the lead "
                   "to the module open";
        case DriveFault::StuckOn:
            return "it is never let go: the driver stuck on, or the control wire shorted to ground";
        case DriveFault::ShortedWinding:
            return "too much current: turns of the winding are shorted";
        case DriveFault::TooMuchResistance:
            return "too little current: too much resistance in feed, winding, control wire or driver";
        case DriveFault::Contradiction:
            return "current and voltages do not go together: look at the clamp (one conductor only) and at the leads "
                   "first";
    }
    return "";
}

}  // namespace ilvek
