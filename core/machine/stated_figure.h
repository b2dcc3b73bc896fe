// What a page says of a part.
#pragma once

#include "machine/map.h"

namespace ilvek {

// The figure by which the part is told right or wrong is stated: of a sensor the level that it makes.
inline bool hasStatedFigure(const Element& e)
{
    return !e.assumed || (e.kind == ElementKind::Sensor && e.knownOf("output") == Known::Stated);
}

}  // namespace ilvek
