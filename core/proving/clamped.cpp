#include "proving/clamped.h"

#include "circuit/operating_point.h"
#include "proving/judge.h"

namespace ilvek {

double clampedCurrent_A(const Map& map, const Reading& reading)
{
    const double read = reading.value.value;
    const int element = map.elementIndex(reading.conductor);
    if (!map.isOfSheet() || element < 0 || read <= 0) return read;
    const auto set = conditionOf(map, reading);
    const auto sound = set ? operatingPoint(map, *set) : fail("", "");
    return sound && sound->currentThrough(element) < 0 ? -read : read;
}

}  // namespace ilvek
