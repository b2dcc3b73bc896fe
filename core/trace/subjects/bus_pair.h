// Two bus lines that are driven against each other: their levels, how they mirror, how long a bit is, what is wrong.
#pragma once

#include "trace/formats/recording.h"
#include "trace/signal/measure.h"

namespace ilvek {

// What the lines of a sound pair rest at and are driven to.
struct PairLevels {
    double recessive_V = 2.5, highDominant_V = 3.5, lowDominant_V = 1.5;
    double allowed_V = 0.5;
};

enum class PairState {
    Sound,
    SilentOrTogether,  // both at rest and never apart: idle, or shorted to each other
    Together,          // the same while traffic is expected
    HighToGround,
    HighToSupply,
    LowToGround,
    LowToSupply,
    HighOpen,  // the high line follows the low one
    LowOpen,
    Termination,  // driven further apart than two terminations let it
    HeldDominant,
    OneToGround,  // or supply, and none is driven: which of them cannot be told
    OneToSupply,
    Hidden,  // by the noise
    Unclear
};
std::string words(PairState state);

struct PairTold {
    TraceTold told;
    PairState state = PairState::Unclear;
};

// Recessive and dominant level of each line, their sum in both, the bit time, the slowest return to rest.
// SOURCE: with the difference d = H − L told apart into its two levels, H + L stays at twice the resting level in both;
// runs of d are whole numbers of bits. `traffic`: it is known that the nodes send.
// ERRORS: too few samples; channels of different length.
Result<PairTold> measureBusPair(const Recording& recording, const Channel& high, const Channel& low,
                                const PairLevels& levels = {}, bool traffic = false);

}  // namespace ilvek
