// The procedures of an open job, and the steps that they ask for.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include "open_job/open_job.h"
#include "procedures/procedure.h"

namespace ilvek {

// All that the machine has, those worth following first.
std::vector<Procedure> proceduresOf(const OpenJob& open, std::int64_t now_ms);
std::optional<Procedure> procedureOf(const OpenJob& open, std::string_view id, const std::string& subject,
                                     std::int64_t now_ms);
// The one that is followed; nullopt: none is, or the map no longer has it.
std::optional<Procedure> followed(const OpenJob& open, std::int64_t now_ms);

// The reading that is asked for, complete with words; its test follows from its set-up where the procedure left that
// open. nullopt: what is asked is no reading.
std::optional<Step> stepOf(const Map& map, const Asked& asked);

}  // namespace ilvek
