// What may be concluded from the belief as it stands, and what keeps it open.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "belief/belief.h"
#include "choice/groups.h"
#include "suspects/suspects.h"

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

// What keeps a verdict on a part back until a reading rules it out, however little it is believed in: the sound
// machine, where no reading by itself speaks against it; and where all else is inside the module, suspects outside it
// that still explain every reading (W30).
std::vector<int> inTheWay(const std::vector<Suspect>& suspects, const Belief& belief,
                          const std::vector<SuspectGroup>& groups);

// A wire that ends at another conductor reads like a short. Where shorts have most of the belief it is asked which it
// is.
bool restsOnShorts(const std::vector<Suspect>& suspects, const Belief& belief);

}  // namespace ilvek
