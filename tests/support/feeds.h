// Feeds that are read under a lamp: of the PT-9, of which every figure is known, and of two machines of which few are.
#pragma once

#include <ostream>
#include <string>

#include "support/maps.h"

namespace ilvek::test {

struct Feed {
    const char* name;
    const Map& (*map)();
    const char *terminal, *apart, *load;
    const char* state;
    double battery_V;
};

inline void PrintTo(const Feed& feed, std::ostream* out)
{
    *out << feed.name;
}

inline const Feed someFeeds[] = {{"Pt9", pt9, "J2-1", "J2", "55 W lamp", "key on", 12.5},
                                 {"Hauler", hauler, "A3", "A", "55 W lamp", "key off", 25.0},
                                 {"Washer", washer, "A1", "A", "55 W lamp", "key off", 12.6}};

}  // namespace ilvek::test
