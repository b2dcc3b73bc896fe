// Random faults to hide in a machine: drawn by how likely they are, of any severity that some test of the map can see.
#pragma once

#include <cstdint>
#include <random>

#include "practice/bench.h"

namespace ilvek::practice {

struct Hidden {
    std::vector<int> suspects;  // which of the reasoner's; two for a double fault
    std::vector<Fault> faults;
    Reports reports;  // what the owner would tell and the module would store; empty when nothing is told
    bool insideModule = false;
    std::vector<Fault> worst = {};  // the same fault as bad as it can be; of one that may grow
};

class HiddenFaults {
public:
    // REQUIRES: the table of `reasoner` is complete, and it outlives this.
    HiddenFaults(const Reasoner& reasoner, std::uint32_t seed);

    // One fault. With `told`, one that somebody would complain of, and what he would say.
    Hidden single(bool told);
    // Two at once, neither of which hides the other from every test.
    Hidden pair(bool told);

private:
    Hidden any();
    bool isVisible(int suspect, double severity) const;

    const Reasoner& reasoner_;
    std::vector<int> first_;
    std::vector<double> weights_;
    std::mt19937 random_;
};

// What works, fails and is stored on a machine with these faults, by the functions and codes of the map. `machine`:
// where it is wired otherwise than the map.
Reports reportOf(const Map& map, const std::vector<Fault>& faults, const Map* machine = nullptr);

// A machine that is wired otherwise than its map says, with the terminals at which it is.
struct OtherWiring {
    Map machine;
    std::vector<std::string> terminals;
    std::vector<int> wires;  // that end elsewhere
};
// In turn: a wire is joined to another conductor than the map says; the wires of two neighbours in a module connector
// are exchanged; a cavity that the map shows wired is empty. As of faults, one that no reading can see is none to look
// for.
OtherWiring otherWiring(const Map& map, std::uint32_t number);

}  // namespace ilvek::practice
