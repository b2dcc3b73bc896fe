// The cause behind the cause (W31): what must be asked before a new part goes in, of what was found or mended.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "job/job.h"
#include "verdict/reasoner.h"

namespace ilvek {

struct BehindQuestion {
    enum class By { Reading, Look, Told };
    std::string id;        // stable: the question and the part it is asked of, "ohms TILT"
    std::string question;  // "Ohms of the tilt solenoid?"
    std::string why;       // "A load that takes too much kills the driver again."
    By by = By::Told;
    int terminal = -1;                  // where a reading is asked for
    std::optional<TestKind> test = {};  // that answers it
    std::string answer = {};            // of a reading, or as it was told; empty: none
    bool good = true;                   // false: the answer is itself a finding
    bool leftOpen = false;              // on purpose
    bool isOpen() const { return answer.empty(); }
};

// What is at fault, as far as it was mended or concluded: parts of the map. `located` are the parts of the verdict.
std::vector<BehindQuestion> behindQuestions(const Job& job, const Assessment& assessment,
                                            const std::vector<int>& located);

// The parts that the reasoning holds to be at fault, once it has a verdict; empty while it has none.
std::vector<int> locatedParts(const Reasoning& reasoning);

}  // namespace ilvek
