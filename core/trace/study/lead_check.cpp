#include "trace/study/lead_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "quantity/quantity.h"

namespace ilvek {

namespace {

constexpr double leastShare = 0.2, mostShare = 2;
constexpr double least_V = 4, most_V = 60;  // of any machine that these recordings are of
constexpr double ratios[] = {10, 20, 50, 100};
constexpr double nearRatio = 0.25;

}  // namespace

std::string doubtOfLead(const std::string& channel, double level_V, std::optional<double> system_V)
{
    const double low = system_V ? leastShare * *system_V : least_V, high = system_V ? mostShare * *system_V : most_V;
    if (level_V >= low && level_V <= high) return "";
    std::string out = fmt::format("The lead first: “{}” stands at {}", channel, formatQuantity(volts(level_V)));
    if (system_V) out += fmt::format(" where {} feed the machine", formatQuantity(volts(*system_V)));
    const double divided = system_V && level_V > 0 ? *system_V / level_V : 0;
    const auto* ratio = std::find_if(std::begin(ratios), std::end(ratios),
                                     [&](double x) { return std::abs(divided / x - 1) < nearRatio; });
    out += ratio != std::end(ratios) ? fmt::format(": does it divide by {:.0f}?", *ratio)
                                     : ": does it divide, and does it touch?";
    return out + " Say its attenuation; until then nothing is compared by it.";
}

}  // namespace ilvek
