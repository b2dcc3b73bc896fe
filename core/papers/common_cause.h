// Common cause on paper (W2): what one fault explains of all that fails, before anything is dismantled.
#pragma once

#include <string>
#include <vector>

#include "verdict/reasoner.h"

namespace ilvek {

struct CommonCause {
    int suspect = -1;
    double probability = 0;                // from functions and codes alone
    std::vector<std::string> explains;     // what fails and would fail with it
    std::vector<std::string> leavesOpen;   // what fails although it would not
    std::vector<std::string> contradicts;  // what works although it would fail
};

// Codes are the same in any letters and with blanks around them.
bool isSameCode(const std::string& a, const std::string& b);

// Functions that fail or work and codes, as they stand in a job's papers; names are taken as well as ids. Words that
// name no function of the map are left out.
Reports reportsOf(const Map& map, const std::vector<std::string>& fails, const std::vector<std::string>& works,
                  const std::vector<std::string>& codes);

// The likeliest single causes from the reports alone, best first, at most `most`; empty when they say nothing.
std::vector<CommonCause> commonCauses(Reasoner& reasoner, const Reports& reports, std::size_t most);

}  // namespace ilvek
