// How far what happened while one place was touched is chance. Internal to procedures.
#pragma once

namespace ilvek {

// Of `tries` tries with `events` events in all, the chance that as many as `here` of them or more fall on the `touches`
// of one place if the place had nothing to do with it: the upper tail of the hypergeometric law (Fisher's exact test).
// REQUIRES: 0 ≤ here ≤ events ≤ tries, here ≤ touches ≤ tries.
double chanceOfCoincidence(int here, int touches, int events, int tries);

}  // namespace ilvek
