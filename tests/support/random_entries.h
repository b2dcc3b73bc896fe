// Entries of every kind with anything in them: for what is taken must be readable.
#pragma once

#include <random>
#include <string>

#include "job/event.h"

namespace ilvek::test {

// Empty, blank, long, any letters of the world, bytes that are no text at all.
std::string randomText(std::mt19937& random);
// Any figure: usual ones, their negatives, very large and very small ones, and what is no figure.
double randomFigure(std::mt19937& random);
// With a map, every place, part, terminal and state that it names is on it.
EventBody randomEntry(std::mt19937& random, const Map* names = nullptr);
// What people and their gloves type as a figure.
std::string randomTyping(std::mt19937& random);

}  // namespace ilvek::test
