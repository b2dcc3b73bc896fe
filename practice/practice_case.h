// A practice case: a machine with a hidden fault, what is told of it, and the verdict that would be right.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "belief/observations.h"
#include "practice/simulated_machine.h"

namespace ilvek::practice {

struct PracticeCase {
    std::string id;  // the file's name without its ending
    std::string title;
    std::string complaint;
    Reports reports;  // functions and codes of the map
    std::vector<Fault> faults;
    Timing timing;
    std::vector<std::string> asDrawn;  // cavities that the learner's map shows wired though they are empty
    bool moduleBad = false;            // condemning is right
    std::vector<std::string> places;   // elements, nodes or terminals any of which is the right place
    std::string proof;                 // what a good technician would leave behind
};

// ERRORS: every field that is missing, unknown or names what the map does not have.
Result<PracticeCase, Problems> readCase(const Map& map, const std::string& file);
// All cases of a folder, by name. ERRORS: of any of them.
Result<std::vector<PracticeCase>, Problems> readCases(const Map& map, const std::string& folder);

// The map as the learner has it.
Map learnersMap(const Map& map, const PracticeCase& practice);

// Whether a place (element, node or terminal), or the module, is the right verdict.
bool isRight(const PracticeCase& practice, const std::string& place, bool module);

}  // namespace ilvek::practice
