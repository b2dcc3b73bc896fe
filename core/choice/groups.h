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
    std::string words;          // "X4-7: added resistance" or "X4-7 or the wire from S3 to X4-7"
};

// All suspects of more than a ten-thousandth, grouped, likeliest first; what is left is one last group "anything else"
// without members.
std::vector<SuspectGroup> groupsOf(const std::vector<Suspect>& suspects, const Belief& belief,
                                   const PredictionTable& table, const std::vector<Candidate>& candidates);

// For when no test tells more: groups of groupsOf() that were kept apart only by the likeliest severity of each, and
// that read alike at others that are nearly as likely, are one.
std::vector<SuspectGroup> joinedAtAnySeverity(std::vector<SuspectGroup> groups, const std::vector<Suspect>& suspects,
                                              const Belief& belief, const PredictionTable& table,
                                              const std::vector<Candidate>& candidates);

// The group's words with all of its places named, as far as anybody would read: for a verdict.
std::string everyPlaceOf(const std::vector<Suspect>& suspects, const SuspectGroup& group);

}  // namespace ilvek
