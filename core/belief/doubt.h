// Readings that what is believed cannot have given.
#pragma once

#include <cstdint>
#include <vector>

#include "belief/belief.h"

namespace ilvek {

// Whether an observation, by its place in belief.taken(), is a reading out of a suspect's reach.
bool isDoubtful(const Belief& belief, const Belief::AsLikeliest& suspect, std::size_t observation);
// The readings, by their place in the journal, that are out of a suspect's reach: they are taken again first (T8). One
// that was taken again at the same place in the same set-up, and then was within reach, is settled.
std::vector<std::int64_t> doubtfulUnder(const Belief& belief, int suspect);

// The readings that are out of reach for more than half of the belief: these are asked for again. One that the
// likeliest cannot give, and others nearly as likely can, is evidence and no slip.
std::vector<std::int64_t> doubtfulReadings(const Belief& belief);
// These, and those that are settled.
std::vector<std::int64_t> likelySlips(const Belief& belief);

}  // namespace ilvek
