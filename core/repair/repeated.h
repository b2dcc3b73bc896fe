// The proof after a repair (W33): what failed before it, read again with the same leads, load and state.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "proving/plan.h"
#include "proving/proof.h"

namespace ilvek {

struct Repeated {
    enum class State { NotYet, Right, StillFails, Otherwise };  // Otherwise: read again, and not decided
    std::size_t before = 0;                                     // reading of the evidence that failed
    std::optional<std::size_t> after;                           // the same since the last repair
    State state = State::NotYet;
    std::optional<double> change;  // after − before, where both are figures of one unit
};

// Of every terminal's every test the last that failed before the last repair, those under load first: touched by it or
// not, what failed is right again only when it was read. Empty: nothing was repaired, or nothing had failed.
std::vector<Repeated> repeatedAfterRepair(const Assessment& assessment);

// The name by which a mended part stands in the journal: of an element or a terminal, in any letters; the module by the
// first of its supply ports. Empty: the machine has no such part.
std::string mendedName(const Map& map, const std::string& typed);
// The element that such a name stands for, of a terminal its contact; −1: none.
int mendedElement(const Map& map, const std::string& name);
// As it is named at the machine: "fuse F3", "the module LCU".
std::string mendedWords(const Map& map, const std::string& name);

// Terminals that were proven before and share what was mended since: to be read again (map indices).
std::vector<int> sharedWithRepair(const Map& map, const Assessment& assessment);

// What was read, seen and tried before the last repair, as it stood then. Everything where nothing was repaired.
Evidence beforeRepair(const Evidence& evidence);
// Number of the entry of the last repair; 0: none.
std::int64_t lastRepairOf(const Evidence& evidence);

// Where it was read: the terminal, else the place of the red lead.
std::string repeatedPlace(const Map& map, const Reading& reading);
// "12.1 V, 7.9 V before: +4.2 V", "not read again yet".
std::string repeatedWords(const Assessment& assessment, const Repeated& repeated);
std::string_view repeatedWord(Repeated::State state);  // "in order", "fails still", "not read again"

}  // namespace ilvek
