// One device by itself: what leaves its nodes, and how that grows with their voltages.
#pragma once

#include <array>

#include "circuit/device.h"

namespace ilvek {

// At the nodes of the device, in their order; the reference node has none.
struct Linearised {
    std::array<double, 4> current{};
    std::array<std::array<double, 4>, 4> slope{};
};
Linearised linearised(const Device& device, const law::Voltages& v);

}  // namespace ilvek
