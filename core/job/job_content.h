// What one job consists of, wherever it is kept: the map it was made with, and the journal's entries.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "job/event.h"

namespace ilvek {

// An entry that cannot be read: kept as it stands in the file, and never counted for anything.
struct SetAside {
    std::int64_t id = 0;
    std::string time, kind, body;  // as found; may be any bytes
    std::string reason;
    bool operator==(const SetAside&) const = default;
};

struct JobContent {
    std::string mapDocument;
    std::vector<Event> events;            // numbers rising, gaps allowed
    std::vector<SetAside> setAside = {};  // numbers rising
};

// "Entry 7 (reading, 2026-11-23T15:04:05.123Z) cannot be read and is set aside: …", for screen and report.
std::string setAsideWords(const SetAside& entry);

}  // namespace ilvek
