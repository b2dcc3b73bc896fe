// What a fault code can mean and what it rules out, before anything is read (W3).
#pragma once

#include <string>
#include <vector>

#include "machine/map.h"

namespace ilvek {

struct CodeOnPaper {
    std::string code, text;
    bool known = false;                 // the map tells what sets it
    bool kept = false;                  // somebody told, and it is nothing that a circuit shows
    int terminal = -1;                  // of the map, where it is known
    std::string setBy;                  // "B6 below 0.25 V, key on"
    bool always = false;                // by the map's figures a sound machine sets it too: it says nothing
    std::vector<std::string> can;       // single faults that set it, likeliest first
    std::vector<std::string> unlikely;  // of its own circuit: does not set it, by figures that nobody stated
    std::vector<std::string> cannot;    // of its own circuit: does not set it
};

// Each code as it was stored, in that order. Of one that the map does not know only the code is filled in. The circuit
// is solved for every fault in the state that the code is set in: seconds on a large machine, can be stopped
// (base/stop.h).
std::vector<CodeOnPaper> codesOnPaper(const Map& map, const std::vector<std::string>& codes);

}  // namespace ilvek
