#include "machine/charging.h"

#include <algorithm>

namespace ilvek {

bool isChargedIn(const Map& map, int state)
{
    return std::any_of(map.elements.begin(), map.elements.end(),
                       [&](const Element& e) { return e.kind == ElementKind::Alternator && e.isIn(state); });
}

}  // namespace ilvek
