// Whether a level can be what stands at the lead, or its attenuation was not said.
#pragma once

#include <optional>
#include <string>

namespace ilvek {

// What to say of a supply of `level_V` on that channel where `system_V` feeds the machine (nullopt: not known); empty
// where the one can be the other. A supply may be low, so that only what no circuit does is doubted: less than a fifth
// or more than twice.
std::string doubtOfLead(const std::string& channel, double level_V, std::optional<double> system_V);

}  // namespace ilvek
