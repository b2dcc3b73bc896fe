// A reasoner whose whole table is built.
#pragma once

#include <memory>

#include "verdict/reasoner.h"

namespace ilvek::test {

inline std::unique_ptr<Reasoner> complete(const Map& map)
{
    auto reasoner = std::make_unique<Reasoner>(map, WayOfWorking{}, true);
    while (reasoner->buildNext()) {
    }
    return reasoner;
}

}  // namespace ilvek::test
