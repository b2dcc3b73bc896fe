// What may be concluded from the belief as it stands, and what keeps it open.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "reasoning/belief.h"
#include "reasoning/groups.h"
#include "reasoning/suspects.h"

namespace ilvek {

struct Conclusion {
    enum class Kind {
        Open,      // more than one group is left
        Outside,   // located outside the module
        Inside,    // what is left is inside the module
        Either,    // one group is left, and part of it is inside the module
        MapWrong,  // the map is likelier wrong than the machine
        Nothing,   // no fault is present now
        NotOnMap   // nothing that is on the map is at fault
    };
    Kind kind = Kind::Open;
    double probability = 0;
    std::string words;
};

// One verdict is given at this probability; what is left below it is named beside it.
constexpr double verdictAt = 0.95;
// Against the module only at this one: what lies outside must have become unlikely (W30).
constexpr double condemnAt = 0.98;

// `groups` are those of the belief, likeliest first. The suspects from `singles` on were added because no single one
// explained the readings, or a wire that ends elsewhere might.
Conclusion conclusionOf(const std::vector<Suspect>& suspects, const Belief& belief,
                        const std::vector<SuspectGroup>& groups, std::size_t singles);

// Whether an observation, by its place in belief.taken(), is a reading out of a suspect's reach.
bool isDoubtful(const Belief& belief, int suspect, std::size_t observation);
// The readings, by their place in the journal, that are out of a suspect's reach: they are taken again first (T8).
std::vector<std::int64_t> doubtfulUnder(const Belief& belief, int suspect);

// The readings that are out of reach for more than half of the belief: these are asked for again. One that the
// likeliest cannot give, and others nearly as likely can, is evidence and no slip.
std::vector<std::int64_t> doubtfulReadings(const Belief& belief);

// A wire that ends at another conductor reads like a short. Where shorts have most of the belief it is asked which it
// is.
bool restsOnShorts(const std::vector<Suspect>& suspects, const Belief& belief);

}  // namespace ilvek
