// From what is typed to the entries of the journal: at a step of the plan, or anywhere.
#pragma once

#include <string_view>
#include <vector>

#include "job/event.h"
#include "open_job/open_job.h"
#include "open_job/typed_reading.h"

namespace ilvek {

// The reading of a step. Of a look its number or words, "2" or "damaged"; where a lamp is the load it may be told how
// it burns instead. ERRORS: the text is no figure of what the step asks for.
Result<Reading> readingAtStep(const OpenJob& open, const Step& step, std::string_view typed, std::int64_t now_ms);

// A reading anywhere: which test it is follows from the set-up and the figure. ERRORS: no figure; a lead or a conductor
// is missing for this kind of figure; a name that is not on the map.
Result<Reading> readingAnywhere(const OpenJob& open, const SetUp& setUp, std::string_view typed, std::int64_t now_ms);

// The set-up as a step: where the leads go, what is done first, what a sound circuit reads, and what could hurt.
// REQUIRES: the names of the set-up are on the map.
Step stepAnywhere(const Map& map, const SetUp& setUp);

// Functions that were tried in a set-up, by name or id. ERRORS: a name that is no function of the map, with those that
// there are; none at all.
Result<FunctionsSeen> functionsTried(const OpenJob& open, const SetUp& setUp, const std::vector<std::string>& works,
                                     const std::vector<std::string>& fails);

// The reading, behind the change of state that it tells.
std::vector<EventBody> entriesOf(const OpenJob& open, Reading reading);

}  // namespace ilvek
