// A recording looked at as a whole: what it is of, which channel is what, its measures, what stands out, a verdict in a
// sentence.
#pragma once

#include <memory>

#include "proving/reading.h"
#include "trace/study/compare.h"
#include "trace/study/cylinders.h"
#include "trace/study/drive_table.h"
#include "trace/study/recorded.h"
#include "trace/subjects/bus_pair.h"

namespace ilvek {

// A winding of the map that the pulses are compared with.
struct ExpectedPart {
    std::shared_ptr<const Map> map;
    std::string element;
    ReferenceWish wish;  // its length of pulse is taken from the recording
};

struct StudyWishes {
    std::optional<Recorded> kind;          // else guessed
    std::string main, beside, sync, feed;  // names of channels; empty: guessed, "-": none
    std::optional<double> supply_V;        // else that of the feed side, or of the control channel between pulses
    std::optional<double> system_V;        // the job's battery or the machine's: what a level at a lead is held against
    FiringOrder order;
    std::optional<double> resistance_ohm;  // of one winding with its loop, as it should be at this temperature
    std::optional<ExpectedPart> part;
    std::optional<WindingReference> kept;
    std::optional<int> bars, teeth, missing;
    bool drivenLow = false;         // the charging field is driven while its channel is low
    bool traffic = false;           // nodes are known to send
    std::optional<double> allowed;  // by which a steady level may move
    PairLevels levels;
};

struct Compared {
    WindingReference reference;
    WindingComparison result;
};

struct Study {
    Recorded kind = Recorded::Windings;
    int main = -1, beside = -1, sync = -1, feed = -1;  // channels
    std::optional<double> supply_V;
    TraceTold told;                           // of the whole, whatever it is of
    std::vector<TraceSeen::Touched> touched;  // of a level: what was touched meanwhile
    std::string verdict;
    // Of windings:
    Pulses pulses;
    std::optional<CylinderSet> cylinders;
    std::vector<Compared> compared;
    std::string notCylinders, notCompared;  // why not, where it was asked for
    DriveSeen drive;                        // what the control channel and the current say together (W27)
    DriveFault driveFault = DriveFault::None;
};

// ERRORS: a channel that is not there, none for what is to be measured, a current whose clamp's scale is not said,
// nothing in it.
Result<Study> study(const Recording& recording, const StudyWishes& wishes);

// The channel of that name or number ("2"), -1 when there is none.
int channelNamed(const Recording& recording, const std::string& name);

}  // namespace ilvek
