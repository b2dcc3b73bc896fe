// How bad a fault is: in words, as a number to interpolate with, and as faults between two computed severities.
#pragma once

#include <optional>

#include "suspects/suspects.h"

namespace ilvek {

// The severity as people say it: "about 4 Ω added", "nearly open". `at` counts in severities and may lie between two.
// Empty where there is but one, and of a pair.
std::string severityWords(const Suspect& suspect, double at);
// The suspect's own words with its severity; of a pair a sentence for each fault.
std::string wordsAt(const Suspect& suspect, double at);

// A severity as the number x in which every voltage of a linear circuit is (a + b x)/(1 + c x), 0 when sound: the added
// resistance, a short's conductance, the deviation of a value as a share.
double severityNumber(const std::vector<Fault>& faults);
// Between the numbers of two severities that follow each other, evenly by ratio.
double numberBetween(const Suspect& suspect, std::size_t low, double share);
// The faults of a severity between two that follow each other; of `low` itself at share 0 or where it is the last. Of
// the nearer where one has blown a fuse and the other not.
std::vector<Fault> faultsBetween(const Suspect& suspect, std::size_t low, double share);

// Leaves about `mostCases` severities of all suspects together: each graded one keeps its slightest, its worst and as
// many evenly between as that allows. What lies between is computed for those that come to matter.
void thinOut(std::vector<Suspect>& suspects, std::size_t mostCases);

// Whether it may be slight at one time and open at another: a weak contact, joint or winding opens when it is warm.
bool mayGrow(const Suspect& suspect);

// Whether some of its severities stand once more with a fuse blown (blown_by.h).
bool mayBlow(const Suspect& suspect);
// The same severity with what it has blown, or without: blown_by.h puts the one behind the other. nullopt where there
// is but one.
std::optional<double> withOrWithoutBlown(const Suspect& suspect, double severity);

// The faults at a severity counted in severities, which may lie between two of a graded suspect.
std::vector<Fault> faultsAt(const Suspect& suspect, double severity);

}  // namespace ilvek
