// Which test to take next: the one that tells most about the suspects per minute.
#pragma once

#include <string>
#include <vector>

#include "choice/groups.h"
#include "choice/test_cost.h"

namespace ilvek {

struct RankedTest {
    int candidate = -1;
    double bits = 0;     // expected information about which group it is
    double minutes = 0;  // state change, unplugging, load and reach counted from where the machine stands
    double worth = 0;    // bits per minute, the way of working counted
    std::string reason;  // one sentence
    bool ohms = false;
    // What the likeliest groups would make it read: group, V or decades of Ω.
    std::vector<std::pair<int, double>> outcomes;
    bool look = false;     // a look: the chance that it finds something else than is drawn
    bool again = false;    // was read once, and the case rests on it, or
    bool doubted = false;  // the likeliest suspect cannot have given it
};

// What bears on the choice beside what a test tells.
struct Aims {
    // Candidates that were read and whose reading was evidence of nothing, as they would be again; by candidate, or
    // empty.
    std::vector<char> passedOver = {};
    std::vector<std::size_t> restsOn = {};  // read once more before all else, by place in belief.taken(); see case.h
    std::vector<int> inTheWay = {};         // suspects to be ruled out, however unlikely
};

// Best first, at most `most`; only tests that tell something. Tests that were taken already under the same set-up tell
// nothing new and are left out; but what the likeliest suspect cannot have given is read once more before all else, for
// it is a slip or all that is believed is wrong (T8).
// SOURCE: D. V. Lindley, "On a measure of the information provided by an experiment" (1956).
std::vector<RankedTest> rankTests(const Map& map, const std::vector<Suspect>& suspects, const Belief& belief,
                                  const std::vector<SuspectGroup>& groups, const PredictionTable& table,
                                  const std::vector<Candidate>& candidates, const WayOfWorking& working,
                                  const Standing& standing, std::size_t most, const Aims& aims = {});

}  // namespace ilvek
