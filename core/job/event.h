// The journal's entries. Append-only: an entry is never changed; an undo is an entry of its own.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "base/result.h"
#include "proving/reading.h"

namespace ilvek {

// A maker's chart; without steps the one before is put away.
struct ChartEntered {
    std::string name;
    std::vector<ChartStep> steps;
    bool operator==(const ChartEntered&) const = default;
};

struct JobDetails {
    std::string title, customer, serial, hours, technician;
    bool operator==(const JobDetails&) const = default;
};
struct Complaint {
    std::string text, when;
    std::vector<std::string> stillWorks, replaced;
    std::vector<std::string> fails = {};  // functions of the map, by name or id
    bool operator==(const Complaint&) const = default;
};
struct Code {
    std::string code, text, condition;  // what sets it, and the stored conditions
    bool operator==(const Code&) const = default;
};
struct CodesRead {
    std::vector<Code> codes;
};
struct Note {
    std::string text;
};
struct Undo {
    std::int64_t event = 0;
};
struct StateChange {
    std::string state;
};
struct Assumption {
    std::string terminal, reason;
};
struct CheckMade {
    std::string check, found;
};
struct WayOfWorkingChange {
    WayOfWorking working;
};
// The meter and clamp used from here on (W7).
struct InstrumentChange {
    Instrument instrument;
};
// A step-by-step procedure that is followed from here on; without a name it was left.
struct ProcedureFollowed {
    std::string procedure, subject;
};
// What was done to the machine for a test and is owed to it: a wire cut, a bridge made, a terminal unpinned, a panel
// off.
struct Debt {
    std::string what, place;
};
struct DebtCleared {
    std::int64_t debt = 0;  // the entry
    std::string how;
};
// The end of a job (W30). Whatever is entered after it as evidence opens the job again.
struct JobClosed {
    enum class Verdict { Repaired, ModuleBad, ModuleGood, NotFound, AskedForHelp };
    Verdict verdict = Verdict::Repaired;
    std::string grade;    // "shown directly", "by elimination", "on likelihood"; empty where nothing is claimed
    std::string reasons;  // in the technician's words
    std::string gate;     // what the gate said on that day
    std::vector<std::string> left;  // what was still open then, in words
};
std::string_view verdictWords(JobClosed::Verdict verdict);  // "repaired", "the module is bad"
std::string_view verdictId(JobClosed::Verdict verdict);     // in files: "repaired", "module-bad"
std::optional<JobClosed::Verdict> closingFromId(std::string_view id);
// A cavity as found, or corrected or added by hand; see bench_map/pin_sheet.h for the row.
struct MapCorrection {
    std::string terminal;
    std::string row;  // one pin sheet row as JSON text
};

using EventBody = std::variant<JobDetails, Complaint, CodesRead, Reading, Note, Undo, StateChange, Repair, Assumption,
                               CheckMade, WayOfWorkingChange, MapCorrection, InstrumentChange, TraceSeen, FunctionsSeen,
                               ProcedureFollowed, ChartEntered, Debt, DebtCleared, JobClosed>;

// Whether it opens a closed job again: evidence does; a note, a detail, and what is made good do not.
bool opensAgain(const EventBody& body);

struct Event {
    std::int64_t id = 0;  // 1, 2, 3 … in the order taken
    std::int64_t time_ms = 0;
    EventBody body;
};

std::string_view eventKind(const EventBody& body);  // "reading", "undo" …

// Bodies as JSON text, for the store and the hand-over file (docs/formats.md).
std::string writeBody(const EventBody& body);
// ERRORS: the field and the reason; `item` names the event in messages.
Result<EventBody> readBody(std::string_view kind, std::string_view json, const std::string& item);

// 2026-11-23T15:04:05.123Z, both ways. ERRORS: not in this form, no such date.
std::string writeTime(std::int64_t time_ms);
Result<std::int64_t> readTime(std::string_view text);

}  // namespace ilvek
