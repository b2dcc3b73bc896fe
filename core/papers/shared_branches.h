// What the functions of a machine share, as branches that split (W2): found by opening one conductor after the other
// in the solved circuit and seeing what stops.
#pragma once

#include <string>
#include <vector>

#include "machine/map.h"

namespace ilvek {

struct Branch {
    std::vector<std::string> parts;  // what it is made of, fuses and relays first; none: only joins what is behind it
    // Of the map, that stop when it opens; behind them, as functions.size() + its index, codes that it sets.
    std::vector<int> functions;
    // That stop if it feeds them, which nobody stated.
    std::vector<int> maybe;
    // What stops where it does not open but carries too little: what draws most goes first. Each set once.
    std::vector<std::vector<int>> starved;
    int parent = -1;   // the smallest branch that holds all of these; −1: the battery
    double prior = 0;  // how likely one of its parts fails, of all single faults
};

// What a branch makes of what was told.
struct Explained {
    int branch = -1;       // −1: none explains anything
    int explains = 0;      // of what fails
    int against = 0;       // of what works and would stop
    int maybe = 0;         // of what it explains, what it explains only if it feeds them
    bool starved = false;  // not when it opens, but when it carries too little
};

// Parts that stop the same functions are one branch. Larger ones first, so that a parent stands before its children.
// Only functions that this variant has, and of its codes those that are named. Seconds on a large machine, can be
// stopped (base/stop.h).
std::vector<Branch> sharedBranches(const Map& map, const std::vector<std::string>& codes = {});

// What was told and stored, as indices: of functions that fail or work, and of codes behind them as in a branch.
struct OnPaper {
    std::vector<int> fails, works;
};

// One branch, opened or starved, whichever fits better.
Explained explainedBy(const Branch& branch, const OnPaper& told);
// Which branch explains best what was told: most of what fails less what works against it, then the likeliest.
Explained explaining(const std::vector<Branch>& branches, const OnPaper& told);
// "explains 2 of 3, nothing against it".
std::string explainedWords(const Explained& explained, std::size_t fails);

}  // namespace ilvek
