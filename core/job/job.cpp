#include "job/job.h"

#include <fmt/format.h>
#include <algorithm>

#include "bench_map/map_correction.h"
#include "job/own_cases.h"
#include "job/worked_on.h"
#include "machine/map_reader.h"

namespace ilvek {

namespace {

// T14
constexpr const char* severalAtOnce = " (Several changes at once: which of them mended it stays open.)";

template <class... Ts>
struct Overloaded : Ts... {
    using Ts::operator()...;
};
template <class... Ts>
Overloaded(Ts...) -> Overloaded<Ts...>;

std::set<std::int64_t> withdrawnOf(const std::vector<Event>& events)
{
    std::set<std::int64_t> withdrawn;
    for (const Event& event : events) {
        if (const auto* undo = std::get_if<Undo>(&event.body)) withdrawn.insert(undo->event);
    }
    return withdrawn;
}

// The map with every correction on it; a correction that does not apply is left out whole and named.
Result<Map, Problems> correctedMap(const std::string& document, const std::vector<Event>& events, Job& job)
{
    std::string text = document;
    auto map = readMap(text, "the map of the job");
    if (!map) return map;
    for (const Event& event : events) {
        const auto* correction = std::get_if<MapCorrection>(&event.body);
        if (!correction || job.withdrawn.contains(event.id)) continue;
        auto changed = withCorrection(text, correction->row);
        auto reread =
            changed ? readMap(*changed, "the map of the job") : Result<Map, Problems>(tl::unexpected(changed.error()));
        if (!reread) {
            job.problems.push_back(
                {fmt::format("correction of {}", correction->terminal), reread.error().front().message()});
            continue;
        }
        text = *changed;
        map = std::move(reread);
        job.corrections.push_back({event.time_ms, correctionWords(correction->row)});
    }
    return map;
}

// The shop's own cases as they stood when the job began, or were taken over last.
OwnCases ownCasesOf(const std::vector<Event>& events, const std::set<std::int64_t>& withdrawn)
{
    OwnCases out;
    for (const Event& event : events) {
        const auto* own = std::get_if<OwnCases>(&event.body);
        if (own && !withdrawn.contains(event.id)) out = *own;
    }
    return out;
}

// What the complaint that stands says was replaced or repaired already.
std::vector<std::string> workedOnBefore(const std::vector<Event>& events, const std::set<std::int64_t>& withdrawn)
{
    std::vector<std::string> out;
    for (const Event& event : events) {
        const auto* complaint = std::get_if<Complaint>(&event.body);
        if (complaint && !withdrawn.contains(event.id)) out = complaint->replaced;
    }
    return out;
}

void fold(const Event& event, Job& job)
{
    if (opensAgain(event.body)) job.closed.reset();
    std::visit(
        Overloaded{[&](const JobDetails& b) { job.details = b; },
                   [&](const Complaint& b) { job.complaint = b, job.complaintId = event.id; },
                   [&](const CodesRead& b) { job.codes = b.codes, job.codesId = event.id; },
                   [&](const Reading& b) {
                       job.evidence.readings.push_back(b);
                       job.evidence.readings.back().id = event.id;
                       job.evidence.readings.back().time_ms = event.time_ms;
                   },
                   [&](const Note& b) {
                       job.notes.push_back({event.time_ms, b.text});
                   },
                   [](const Undo&) {},
                   [&](const StateChange& b) {
                       job.state = b.state;
                       job.evidence.states.push_back({event.id, event.time_ms, b.state});
                   },
                   [&](const Repair& b) {
                       const bool untested = !job.evidence.repairs.empty() && !job.evidence.repairs.back().ofMap &&
                                             (job.evidence.readings.empty() ||
                                              job.evidence.readings.back().id < job.evidence.repairs.back().id);
                       job.evidence.repairs.push_back({event.id, b.elements, b.what});
                       const bool several = b.elements.size() > 1 || untested;
                       job.repairs.push_back({event.time_ms, b.what + (several ? severalAtOnce : "")});
                   },
                   [&](const Assumption& b) { job.evidence.assumed.emplace_back(b.terminal, b.reason); },
                   [&](const CheckMade& b) {
                       job.evidence.checks.push_back({b.check, b.found, event.id});
                   },
                   [&](const WayOfWorkingChange& b) { job.evidence.working = b.working; },
                   [&](const InstrumentChange& b) {
                       job.evidence.instrument = b.instrument;
                       job.evidence.instrumentSince = event.id;
                   },
                   [&](const FunctionsSeen& b) {
                       job.evidence.functions.push_back(b);
                       job.evidence.functions.back().id = event.id;
                       job.evidence.functions.back().time_ms = event.time_ms;
                   },
                   [&](const ProcedureFollowed& b) { job.followed = b; },
                   [&](const Debt& b) {
                       job.debts.push_back({event.id, event.time_ms, b, std::nullopt});
                   },
                   [&](const DebtCleared& b) {
                       for (Owed& owed : job.debts) {
                           if (owed.id == b.debt) owed.cleared = TimedNote{event.time_ms, b.how};
                       }
                   },
                   [&](const CauseAnswered& b) {
                       std::erase_if(job.behind, [&](const CauseAnswered& a) { return a.question == b.question; });
                       job.behind.push_back(b);
                   },
                   [&](const RepairChoices& b) { job.choices = b; }, [&](const Decided& b) { job.decided = b; },
                   [&](const WorkTried& b) {
                       job.workTests.push_back({event.id, event.time_ms, b});
                   },
                   [&](const Photo& b) {
                       job.photos.push_back({event.id, event.time_ms, b.of, b.name, b.words});
                   },
                   [&](const OwnCases& b) { job.ownCases = b; },
                   [&](const JobClosed& b) {
                       job.closed = Closed{event.id, event.time_ms, b};
                   },
                   [&](const ChartEntered& b) { job.evidence.chart = b.steps, job.evidence.chartName = b.name; },
                   [&](const TraceSeen& b) {
                       job.evidence.traces.push_back(b);
                       job.evidence.traces.back().id = event.id;
                       job.evidence.traces.back().time_ms = event.time_ms;
                   },
                   // A corrected terminal's earlier readings were made with another map in mind; a figure that was only
                   // stated leaves them as they are.
                   [&](const MapCorrection& b) {
                       if (onlyStatesFigures(b.row)) return;
                       job.evidence.repairs.push_back({event.id, {b.terminal}, "map corrected at " + b.terminal, true});
                   }},
        event.body);
}

}  // namespace

Result<Job, Problems> foldJob(const JobContent& content, const Job* before)
{
    const std::vector<Event>& events = content.events;
    Job job;
    job.setAside = content.setAside;
    job.withdrawn = withdrawnOf(events);
    for (const Event& event : events) {
        if (std::holds_alternative<MapCorrection>(event.body) && !job.withdrawn.contains(event.id))
            job.correctionIds.push_back(event.id);
    }
    const auto workedOn = workedOnBefore(events, job.withdrawn);
    const OwnCases own = ownCasesOf(events, job.withdrawn);
    std::vector<std::string> beside = workedOn;
    for (const std::string& words : ownCaseWords(own))
        beside.push_back(words);
    if (before && before->correctionIds == job.correctionIds && before->map.weighedBeside == beside) {
        job.map = before->map;
        job.notWeighed = before->notWeighed;
        job.corrections = before->corrections;
        job.problems = before->problems;
    } else {
        auto map = correctedMap(content.mapDocument, events, job);
        if (!map) return tl::unexpected(map.error());
        job.map = std::move(*map);
        job.notWeighed = raiseWorkedOn(job.map, workedOn);
        weighOwnCases(job.map, own);
    }
    job.state = job.map.states.front().id;
    for (const Event& event : events) {
        if (!job.withdrawn.contains(event.id)) fold(event, job);
    }
    if (job.map.stateIndex(job.state) < 0) job.state = job.map.states.front().id;
    return job;
}

std::optional<std::int64_t> lastEntry(const std::vector<Event>& events)
{
    const auto withdrawn = withdrawnOf(events);
    for (auto it = events.rbegin(); it != events.rend(); ++it) {
        if (!std::holds_alternative<Undo>(it->body) && !withdrawn.contains(it->id)) return it->id;
    }
    return std::nullopt;
}

std::string entryWords(const Event& event)
{
    return std::visit(
        Overloaded{
            [](const JobDetails& b) { return "Job details: " + b.title; },
            [](const Complaint& b) { return "Complaint: " + b.text; },
            [](const CodesRead& b) { return fmt::format("{} codes read", b.codes.size()); },
            [](const Reading& b) {
                const std::string on = b.terminal.empty() ? "" : " on " + b.terminal;
                return fmt::format("Reading{}, {}: {}", on, testName(b.test), figureOf(b));
            },
            [](const Note& b) { return "Note: " + b.text; },
            [](const Undo& b) { return fmt::format("Entry {} withdrawn", b.event); },
            [](const StateChange& b) { return "State: " + b.state; },
            [](const Repair& b) { return "Repair: " + b.what; },
            [](const Assumption& b) { return fmt::format("{} assumed good: {}", b.terminal, b.reason); },
            [](const CheckMade& b) {
                const bool ofGate = b.check.find(' ') == std::string::npos;
                return fmt::format("{}{}: {}", ofGate ? "Gate, " : "", b.check, b.found);
            },
            [](const FunctionsSeen& b) {
                return fmt::format("Functions tried: {} work, {} fail", b.works.size(), b.fails.size());
            },
            [](const ChartEntered& b) {
                return b.steps.empty() ? std::string("Maker's chart put away")
                                       : fmt::format("Maker's chart: {}, {} steps", b.name, b.steps.size());
            },
            [](const Debt& b) { return fmt::format("Owed: {}{}{}", b.what, b.place.empty() ? "" : ", ", b.place); },
            [](const DebtCleared& b) { return fmt::format("Entry {} made good: {}", b.debt, b.how); },
            [](const JobClosed& b) { return fmt::format("Closed: {}. {}", verdictWords(b.verdict), b.reasons); },
            [](const CauseAnswered& b) {
                return fmt::format("What lies behind, {}: {}", b.question, b.leftOpen ? "left open" : b.answer);
            },
            [](const RepairChoices& b) {
                return fmt::format("{} ways to mend it, with their costs", b.choices.size());
            },
            [](const Decided& b) { return fmt::format("Decided: {}. {}", b.choice, b.reasons); },
            [](const WorkTried& b) {
                return fmt::format("Work test, {}: {}{}", b.what, b.held ? "in order" : "not in order",
                                   b.values.empty() ? "" : ", " + b.values);
            },
            [](const Photo& b) { return fmt::format("Photo {}: {}", b.name, b.words); },
            [](const OwnCases& b) { return fmt::format("The shop's own {} closed jobs weigh along", b.jobs); },
            [](const ProcedureFollowed& b) {
                return b.procedure.empty() ? std::string("Procedure left")
                                           : fmt::format("Procedure: {} {}", b.procedure, b.subject);
            },
            [](const WayOfWorkingChange&) { return std::string("Way of working changed"); },
            [](const InstrumentChange& b) { return "Instrument: " + b.instrument.name; },
            [](const TraceSeen& b) { return fmt::format("Recording {}: {}", b.recording, b.verdict); },
            [](const MapCorrection& b) { return "Map corrected: " + correctionWords(b.row); }},
        event.body);
}

}  // namespace ilvek
