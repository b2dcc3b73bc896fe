// Pin sheets of machines that nobody mapped, drawn at random, as technicians fill them in.
#pragma once

#include <random>
#include <string>

namespace ilvek::practice {

// How far the truth is from what nobody stated.
struct FieldSpread {
    double unknown = 0.5;      // sigma of the natural logarithm, of figures that nobody stated
    double stated = 0.05;      // and of those that were
    double wrongShare = 0.05;  // of those stated that are wrong by a factor of two or more
    double missingShare = 0.5;
    int mostTerminals = 16;
    bool flat = false;      // every factor within the spread alike, instead of a bell
    bool workshop = false;  // sheets as another workshop keeps them
};

// CSV. Modules from four terminals; half of the figures missing.
std::string technicianSheet(std::mt19937& random, const FieldSpread& spread);

// The same in other words, columns and order, and of other circuits: sensors with all of their wires, pick-ups,
// bridges, parts between two outputs, relays driven from plus, pairs and single wires with several units, senses, LEDs.
std::string workshopSheet(std::mt19937& random, const FieldSpread& spread);

}  // namespace ilvek::practice
