// Of very many readings those that say most.
#pragma once

#include <set>
#include <vector>

#include "belief/observations.h"

namespace ilvek {

// Weighing a reading costs as much as there are others before it, and from some hundred on a further one of a machine
// says next to nothing. From `mostWeighed` readings on they are cut down to `leftAfterCut`: what is out of limits stays
// first (`failures`: numbers of such readings), and of each place and set-up the last, with the least and the most
// where those differ; of the rest the newest. Reports, codes, looks and the battery always stay. What is left out can
// only leave more open. The same readings in the same order give the same choice, however they came in.
constexpr std::size_t mostWeighed = 160, leftAfterCut = 100;
std::vector<Observation> condensed(std::vector<Observation> observations, const std::set<std::int64_t>& failures);

}  // namespace ilvek
