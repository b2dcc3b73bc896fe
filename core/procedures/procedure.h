// The procedures that a technician follows step by step. Each is a file of its own: from the map and what was read it
// says which of its stages are shown, which is next, and what stands at its end. Nothing of it is stored: it can be
// left and taken up at any time, and takes readings that are there already. What is said of it are facts; the sentences
// are made of the tables of wording/.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "machine/map.h"
#include "proving/anywhere.h"
#include "proving/plan.h"

namespace ilvek {

// What is said, by its name ("battery.rest.low"), with the names and figures that the sentence holds.
struct Fact {
    std::string id;
    std::vector<std::pair<std::string, std::string>> of;  // {"figure", "12.1 V"}
    bool operator==(const Fact&) const = default;
};

// What a stage wants from the technician.
struct Asked {
    enum class Kind {
        Reading,    // a figure, or what a lamp shows, in the set-up
        Statement,  // what was found, in words; kept as a check under `statement`
        Functions,  // which functions of the machine came back in the set-up
        States      // the states to go through, in order
    };
    Kind kind = Kind::Reading;
    // The reading to take. Without a title its words are still to be made of its set-up (open_job/procedure_step.h).
    Step step;
    FigureKind figure = FigureKind::Volts;
    std::string statement;            // "instruments clip"
    std::vector<std::string> states;  // ids
    std::optional<double> within_s;   // the next reading counts only so long after the last state was entered
};

struct Stage {
    enum class State { Shown, Failed, Undecided, Next, Later, NotNeeded };
    std::string id;
    Fact title;
    State state = State::Later;
    std::vector<Fact> says;  // what was read, and what it means
    std::vector<std::int64_t> entries;
    std::optional<Asked> asked;
};
std::string_view stageWord(Stage::State state);  // "shown", "fails", "undecided", "next", "later", "not needed"

// How firmly an end stands (W30).
enum class Grade { ShownDirectly, ByElimination, OnLikelihood };

struct Ending {
    enum class Kind {
        Sound,      // what the procedure is about is sound, as far as it goes
        Found,      // the fault, or the piece that holds it
        Elsewhere,  // another thing must be put right or proven first
        Open        // all that can be done was done, and it is not decided
    };
    Kind kind = Kind::Open;
    Fact fact;
    Grade grade = Grade::ShownDirectly;
    std::vector<std::string> places;  // parts and terminals of the map that it is about
};

// Stages that are read side by side: where, against when or by whom.
struct Grid {
    std::vector<Fact> columns, rows;
    std::vector<std::vector<std::string>> stages;  // ids, a list for each row; empty: nothing is read there
};

struct Procedure {
    std::string id, subject;
    std::vector<Fact> cautions;
    std::vector<Stage> stages;
    std::optional<Grid> grid;
    std::optional<Ending> ending;
    std::optional<Fact> calledBy;  // why it is worth following now; none: it is there, and nothing calls for it

    const Stage* next() const;  // nullptr when none is
    bool isBegun() const;
};

// What a procedure is made of.
struct Bay {
    const Map& map;
    const Assessment& assessment;
    Moment moment;
    std::vector<std::string> dead;  // functions that fail, by id
};

// One kind of procedure: its file gives the subjects that it can be about, and the procedure itself.
struct ProcedureKind {
    std::string_view id;
    std::vector<std::string> (*subjects)(const Map& map);  // ids of terminals or parts; one empty: the machine
    Procedure (*follow)(const Bay& bay, const std::string& subject);
};
const std::vector<ProcedureKind>& procedureKinds();

// nullopt: there is no such procedure, or it is not about that on this map.
std::optional<Procedure> procedureOf(const Bay& bay, std::string_view id, const std::string& subject);
// All of the machine: those that something calls for first, then those that were begun.
std::vector<Procedure> proceduresOf(const Bay& bay);

}  // namespace ilvek
