// Any bytes as a map: read whole or refused with a reason; what is read can be solved and unrolled.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "circuit/operating_point.h"
#include "machine/map_reader.h"
#include "machine/paths.h"
#include "machine/schedule_gaps.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto map = ilvek::readMap({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!map) {
        if (map.error().empty()) std::abort();
        return 0;
    }
    for (const int terminal : map->moduleTerminals())
        (void)ilvek::loopOf(*map, terminal);
    (void)ilvek::operatingPoint(*map, {});
    (void)ilvek::scheduleGaps(*map);
    return 0;
}
