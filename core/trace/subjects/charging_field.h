// The drive of an alternator's field against the electrical load: does the regulation answer?
#pragma once

#include "trace/formats/recording.h"
#include "trace/signal/measure.h"

namespace ilvek {

struct FieldBeside {
    const Channel* load = nullptr;    // current that the machine takes
    const Channel* system = nullptr;  // its voltage
    bool drivenLow = false;           // the field is driven while the channel is low
};

// Frequency and duty, lowest and highest, and by how much the duty grows with each ampere of load.
// SOURCE: a straight line by least squares through the duty of each stretch of ten periods and the load then.
// ERRORS: too few samples.
Result<TraceTold> measureChargingField(const Recording& recording, const Channel& field, const FieldBeside& beside);

}  // namespace ilvek
