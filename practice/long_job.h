// A job that has gone on for days: many readings of a sound machine, for measuring how the work grows with them.
#pragma once

#include "job/job_content.h"
#include "machine/map.h"

namespace ilvek::practice {

// `readings` of them: every test of the map in turn, again and again, with the battery of each minute and what the
// sound circuit gives, as a meter shows it. Same `seed`, same job.
JobContent longJob(const Map& map, int readings, unsigned seed = 1);

}  // namespace ilvek::practice
