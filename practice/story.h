// A job told as a story: an invented machine as a pin sheet, what was read on it in which set-up, and what must and
// must not be said after each entry. Played through the same code as the window.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "job/job_content.h"
#include "machine/map.h"
#include "verdict/gate.h"
#include "verdict/reasoner.h"

namespace ilvek::practice {

// Facts, not texts. Empty: not asked.
struct Told {
    std::string test, terminal, verdict, finding;
    std::vector<std::string> traps, noTraps;
    std::vector<std::pair<std::string, std::string>> proofs;  // terminal, its proof state in words
    std::string gate;                                         // "cleared", "not-proven", "may-be-condemned"
    std::string conclusion;                                   // "open", "outside", "inside", "map-wrong", "nothing"
    // Elements or terminals: one of the likeliest group must be among them; all of a verdict's places must be.
    std::vector<std::string> first, verdictWithin;
    std::optional<double> loopFrom_ohm, loopTo_ohm;
    // How a procedure stands.
    struct ProcedureTold {
        std::string id, subject;
        std::string ending;               // "found", "sound", "elsewhere", "open"; "none": not yet
        std::string fact;                 // that stands at its end, or that one of its stages says
        std::string next;                 // id of the stage that is next
        std::vector<std::string> within;  // all of the places at its end are among these
        bool called = false;              // something calls for it
    };
    std::vector<ProcedureTold> procedures;
    // Before the first probe: parts of the branch that explains what fails; of each code a place that can set it.
    std::vector<std::string> shared;
    // After it: each failed test of a terminal as it stands since the repair ("in order"), each question by its name
    // ("open", "left open", "answered"), the cheapest way, how much is open before closing.
    std::vector<std::pair<std::string, std::string>> repeated, behind;
    std::string cheapest;
    std::optional<int> left;
};

struct StoryStep {
    std::string item;  // "entry 4", for messages
    double after_s = 0;
    std::vector<EventBody> bodies;          // entries other than readings
    std::vector<std::string> works, fails;  // functions tried in the set-up `at`
    std::string at, read;                   // or a reading: its set-up as a line, and the figure as it is typed
    std::string close, reasons;             // the end of the job: its verdict in files, why
    bool isHandedOver = false;              // the job goes on with another technician, from its hand-over file
    bool isSlip = false;                    // a figure that was read wrongly on purpose
    bool isDanger = false;                  // done as it must not be, on purpose
    Told told;
};

struct Story {
    std::string file, title;
    std::string mapDocument;
    bool isSound = false;  // nothing is wrong with the machine: nothing may fail, nothing may be accused
    std::vector<StoryStep> steps;
};

// ERRORS: what cannot be read of the story or its sheet, by its place.
Result<Story, Problems> readStory(const std::string& file);

// What was not as told, each named with its entry; none when all was. Beside what the story tells: no reading that is
// no slip is called one, the module is not condemned unless it is told, there is always a next test until the fault
// stands, every entry reads again as it was written, and no text holds an internal name or a figure that is none.
struct StoryRun {
    Problems failures;
    int entries = 0, facts = 0;
    std::vector<std::string> lines;  // what was said after each entry, for people
    JobContent content;              // the journal that it became
    Gate gate;                       // and what is said of it at its end
    Reasoning reasoning;
};
StoryRun run(const Story& story);

}  // namespace ilvek::practice
