// Suspects that no allowed reading can tell apart form one group: the verdict can be no finer.
#pragma once

#include <string>
#include <vector>

#include "belief/belief.h"
#include "choice/candidates.h"

namespace ilvek {

struct SuspectGroup {
    std::vector<int> members;  // suspects, likeliest first
    double probability = 0;
    bool insideModule = false;  // all of its members are
    bool partlyInside = false;  // some are
    // "X4-7: added resistance", "X4-7: added resistance, or the wire from S3 to X4-7"; of parts that follow each other
    // the stretch: "Between S3 and J2-1: added resistance, in one of 5 places".
    std::string words;
};

// All suspects of more than a ten-thousandth, grouped, likeliest first; what is left is one last group "anything else"
// without members.
std::vector<SuspectGroup> groupsOf(const Map& map, const std::vector<Suspect>& suspects, const Belief& belief,
                                   const PredictionTable& table, const std::vector<Candidate>& candidates);

// For when no test tells more: groups of groupsOf() that were kept apart only by the likeliest severity of each, and
// that read alike at others that are nearly as likely, are one.
std::vector<SuspectGroup> joinedAtAnySeverity(const Map& map, std::vector<SuspectGroup> groups,
                                              const std::vector<Suspect>& suspects, const Belief& belief,
                                              const PredictionTable& table, const std::vector<Candidate>& candidates);

// The group's words with all of its places named, as far as anybody would read: for a verdict.
std::string everyPlaceOf(const std::vector<Suspect>& suspects, const SuspectGroup& group);

}  // namespace ilvek
