// Where the time of a job went, from its journal (W34).
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "job/event.h"

namespace ilvek {

enum class Phase { Papers, SetUp, Tests, Repair, Proof };
std::string_view phaseName(Phase phase);  // "papers", "setting up" …

struct TimeSpent {
    std::vector<std::pair<Phase, double>> phases;  // s, of those that took any, in the order above
    double waiting_s = 0;                          // between entries, longer than a test takes
    double away_s = 0;                             // overnight and the like: not counted
    double total_s() const;                        // without what was away
};

// Between two entries longer than this somebody waited; longer than that nobody was there.
constexpr double waitingFrom_s = 15 * 60, awayFrom_s = 4 * 3600;

// The time before an entry belongs to what it is: to a reading that was taken as the one before it, to the tests; to
// one for which the machine was changed, to setting up. Readings after the last repair are its proof. Of a gap that is
// too long a quarter of an hour is work and the rest is waiting.
TimeSpent timeSpent(const std::vector<Event>& events);

std::string durationWords(double seconds);  // "1 h 25 min", "4 min", "less than a minute"

}  // namespace ilvek
