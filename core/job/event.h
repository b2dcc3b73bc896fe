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
    // Whether the complaint was there when the machine came in.
    enum class Today { NotTried, Seen, Absent };
    std::string text, when;
    std::vector<std::string> stillWorks, replaced;
    // Functions of the map, by name or id: those that fail, those that do less than they should, those that come and
    // go.
    std::vector<std::string> fails = {}, weak = {}, comesAndGoes = {};
    Today today = Today::NotTried;
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
// An answer to what lies behind what was found (W31): by a reading, by a look, or left open.
struct CauseAnswered {
    std::string question, answer;  // the question's id and subject, "ohms:M-TILT"
    bool leftOpen = false;
    bool operator==(const CauseAnswered&) const = default;
};
// One way to mend it (W32). Money in the shop's own currency.
struct RepairChoice {
    std::string name;
    std::vector<std::string> mends;  // parts, terminals and connectors of the map
    double labour_h = 0, part = 0, wait_h = 0;
    double returns = 0;  // chance that it fails again within the time that counts, 0 … 1
    std::string lasts;   // what is left of the machine's or the part's life, in words
    bool operator==(const RepairChoice&) const = default;
};
struct RepairChoices {
    std::vector<RepairChoice> choices;
    double hour = 0, waitingHour = 0;  // what an hour of labour costs, and one that the machine stands still
    bool operator==(const RepairChoices&) const = default;
};
struct Decided {
    std::string choice, reasons;
    std::string table;  // the choices as they stood on that day, a line each
};
// A road or work test after a repair (W33).
struct WorkTried {
    std::string what, values;
    bool held = false;  // everything did as it should
};
// A photo of what was looked at, kept in the job.
struct Photo {
    std::string name, words;  // of the file; what it shows
    std::string base64;
    std::int64_t of = 0;  // the entry that it belongs to; 0: none
};
// How often parts of this kind failed in the shop's own closed jobs, against what the trade expects; read when the job
// began, so that the job says by itself what it was reasoned from.
struct OwnCase {
    std::string kind;     // of part, "contact"
    int failed = 0;       // in the shop's jobs
    double expected = 0;  // by the trade's figures in the same jobs
    bool operator==(const OwnCase&) const = default;
};
struct OwnCases {
    std::vector<OwnCase> cases;
    int jobs = 0;
};
// A cavity as found, or corrected or added by hand; see bench_map/pin_sheet.h for the row.
struct MapCorrection {
    std::string terminal;
    std::string row;  // one pin sheet row as JSON text
};

using EventBody = std::variant<JobDetails, Complaint, CodesRead, Reading, Note, Undo, StateChange, Repair, Assumption,
                               CheckMade, WayOfWorkingChange, MapCorrection, InstrumentChange, TraceSeen, FunctionsSeen,
                               ProcedureFollowed, ChartEntered, Debt, DebtCleared, JobClosed, CauseAnswered,
                               RepairChoices, Decided, WorkTried, Photo, OwnCases>;

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
