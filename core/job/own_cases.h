// What failed in the shop's own closed jobs, beside what the trade expects.
#pragma once

#include <string>
#include <vector>

#include "job/event.h"
#include "machine/map.h"

namespace ilvek {

// How many failures of a kind the trade's own figure is worth: below it own cases move little.
constexpr double tradeWeight = 5;
// However often a shop has seen something: no kind becomes so much likelier or less likely.
constexpr double mostFactor = 4;

// m = (a + n)/(a + e): the mean of a gamma law for the multiplier with shape and rate a, after n failures where e were
// expected (gamma–Poisson; Gelman et al., Bayesian Data Analysis, 2.6); within mostFactor.
double ownMultiplier(const OwnCase& ownCase);

// "contact: 9 failed, 5.2 expected: 1.4 times the trade's figure", for each kind.
std::vector<std::string> ownCaseWords(const OwnCases& own);

// Makes each kind of part likelier or less likely to fail by its multiplier. What a job says of it stands in its
// journal, so that it reads the same everywhere.
void weighOwnCases(Map& map, const OwnCases& own);

}  // namespace ilvek
