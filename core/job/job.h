// A job as it stands: the journal's entries folded, withdrawn ones left out, and the map with its corrections.
#pragma once

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "job/job_content.h"
#include "machine/map.h"
#include "proving/plan.h"
#include "proving/proof.h"

namespace ilvek {

struct TimedNote {
    std::int64_t time_ms = 0;
    std::string text;
};

// What is owed to the machine, or was.
struct Owed {
    std::int64_t id = 0;  // the entry
    std::int64_t time_ms = 0;
    Debt debt;
    std::optional<TimedNote> cleared;
};

// A photo without its bytes, which stay in the journal.
struct Pictured {
    std::int64_t id = 0;  // the entry
    std::int64_t time_ms = 0;
    std::int64_t of = 0;  // the entry that it belongs to; 0: none
    std::string name, words;
};

struct WorkDone {
    std::int64_t id = 0;
    std::int64_t time_ms = 0;
    WorkTried tried;
};

struct Closed {
    std::int64_t id = 0;
    std::int64_t time_ms = 0;
    JobClosed how;
};

struct Job {
    Map map;
    JobDetails details;
    Complaint complaint;
    std::vector<Code> codes;
    std::int64_t complaintId = 0, codesId = 0;  // the entries they are of; 0: none
    std::vector<TimedNote> notes;
    std::vector<TimedNote> repairs;
    std::vector<TimedNote> corrections;
    std::vector<std::string> notWeighed;  // what was worked on before and names nothing on the map
    std::vector<Owed> debts;
    std::vector<CauseAnswered> behind;  // the last answer to each question
    RepairChoices choices;
    std::optional<Decided> decided;
    std::vector<WorkDone> workTests;
    std::vector<Pictured> photos;
    OwnCases ownCases;
    std::optional<Closed> closed;  // nullopt: open, or opened again by what came after
    std::string state;             // operating state now; the map's first one when none was entered
    Evidence evidence;
    ProcedureFollowed followed;               // by name and subject; empty: none
    std::set<std::int64_t> withdrawn;         // entries that an undo took back
    std::vector<std::int64_t> correctionIds;  // of the corrections that are on the map or were left out of it
    std::vector<SetAside> setAside;           // entries that cannot be read
    Problems problems;  // corrections of the map that no longer apply; each named, none applied by half
};

// ERRORS: the map document cannot be read (all of its problems).
// With `before`, an earlier fold of the same journal, its map is taken over when no correction came or went since.
Result<Job, Problems> foldJob(const JobContent& content, const Job* before = nullptr);

// The entry that an undo would take back now: the last that is neither an undo nor withdrawn; nullopt when there is
// none.
std::optional<std::int64_t> lastEntry(const std::vector<Event>& events);

// One line for people: "Reading on J2-1, supply under load: 7.90 V".
std::string entryWords(const Event& event);

}  // namespace ilvek
