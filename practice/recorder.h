// The simulated recorder: what a channel of so many bits with noise makes of a waveform.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "trace/formats/recording.h"

namespace ilvek::practice {

struct Recorder {
    double interval_s = 5e-6;
    int bits = 12;
    double current_A = 4, voltage_V = 100;  // full scale, both ways
    double noise = 0.01;                    // of what is recorded, one sigma of its largest value
    double drift_A = 0;                     // of the clamp's zero over the recording
    double zero_A = 0;
    std::uint32_t seed = 1;
};

// One channel before it is recorded, a value every interval.
struct Track {
    std::string name;
    Unit unit = Unit::Volt;
    std::vector<double> values;
    double full = 20;  // full scale, both ways
    double noise = 0;  // as in Recorder
};

// All tracks through the converter; those of current with the clamp's zero and drift. REQUIRES: tracks of one length.
Recording recorded(const std::vector<Track>& tracks, const Recorder& recorder);

}  // namespace ilvek::practice
