#include "proving/traps.h"

#include <algorithm>
#include <utility>

namespace ilvek {

namespace {

constexpr std::pair<std::string_view, std::string_view> names[] = {{"T1", "Drop without a current"},
                                                                   {"T2", "Open-circuit shortfall"},
                                                                   {"T3", "Battery of another minute"},
                                                                   {"T4", "Where the leads stood"},
                                                                   {"T5", "Body instead of its own return"},
                                                                   {"T6", "Load smaller than the real one"},
                                                                   {"T7", "Ohms lie"},
                                                                   {"T8", "Impossible together"},
                                                                   {"T9", "Continuity is not all"},
                                                                   {"T10", "Sum and difference"},
                                                                   {"T11", "Alive, but which one"},
                                                                   {"T12", "Assumed, not tested"},
                                                                   {"T13", "Shut down to protect itself"},
                                                                   {"T14", "Two changes at once"},
                                                                   {"T15", "Certain too early"},
                                                                   {"T16", "Unplugging changes more"},
                                                                   {"T17", "Another source"},
                                                                   {"T18", "The meter shows a mean"},
                                                                   {"T19", "Known weak and easy first"},
                                                                   {"T20", "Clamp: direction and zero"},
                                                                   {"T21", "Sound at this current"},
                                                                   {"T22", "Repair not proven"}};

}  // namespace

std::string_view trapName(std::string_view id)
{
    const auto at = std::find_if(std::begin(names), std::end(names), [&](const auto& n) { return n.first == id; });
    return at == std::end(names) ? id : at->second;
}

}  // namespace ilvek
