#include "logbook/logged_job.h"

#include <algorithm>
#include <set>

#include "bench_map/sheet_map.h"
#include "job/job.h"

namespace ilvek {

namespace {

std::vector<const Event*> standing(const JobContent& content)
{
    std::set<std::int64_t> withdrawn;
    for (const Event& event : content.events) {
        if (const auto* undo = std::get_if<Undo>(&event.body)) withdrawn.insert(undo->event);
    }
    std::vector<const Event*> out;
    for (const Event& event : content.events) {
        if (!withdrawn.contains(event.id) && !std::holds_alternative<Undo>(event.body)) out.push_back(&event);
    }
    return out;
}

bool waitsFor(const RepairChoices& choices, const std::string& decided)
{
    return std::any_of(choices.choices.begin(), choices.choices.end(),
                       [&](const RepairChoice& c) { return c.name == decided && c.wait_h > 0; });
}

}  // namespace

LoggedJob loggedJob(const std::filesystem::path& file, const JobContent& content)
{
    LoggedJob out;
    out.file = file;
    out.machine = knownWords(machineNamedIn(content.mapDocument));
    std::set<std::int64_t> owed;
    RepairChoices choices;
    for (const Event* event : standing(content)) {
        if (opensAgain(event->body)) out.closed.clear();
        if (const auto* details = std::get_if<JobDetails>(&event->body)) out.title = details->title;
        if (const auto* complaint = std::get_if<Complaint>(&event->body)) out.complaint = complaint->text;
        if (const auto* ways = std::get_if<RepairChoices>(&event->body)) choices = *ways;
        if (const auto* decided = std::get_if<Decided>(&event->body)) out.waits = waitsFor(choices, decided->choice);
        if (std::holds_alternative<Repair>(event->body)) out.waits = false;
        if (std::holds_alternative<Debt>(event->body)) owed.insert(event->id);
        if (const auto* good = std::get_if<DebtCleared>(&event->body)) owed.erase(good->debt);
        if (const auto* closed = std::get_if<JobClosed>(&event->body)) out.closed = verdictWords(closed->verdict);
    }
    out.owes = !owed.empty();
    if (!out.closed.empty()) out.waits = false;
    out.entries = static_cast<int>(content.events.size());
    if (!content.events.empty()) out.last_ms = content.events.back().time_ms;
    return out;
}

std::string allWords(const LoggedJob& job, const JobContent& content)
{
    std::string out = job.file.stem().string() + "\n" + job.title + "\n" + job.machine + "\n";
    for (const Event* event : standing(content)) {
        if (!std::holds_alternative<JobDetails>(event->body)) out += entryWords(*event) + "\n";
        if (const auto* details = std::get_if<JobDetails>(&event->body))
            out += details->customer + " " + details->serial + " " + details->technician + "\n";
        if (const auto* told = std::get_if<Complaint>(&event->body)) {
            for (const auto* list : {&told->fails, &told->weak, &told->comesAndGoes, &told->replaced}) {
                for (const std::string& words : *list)
                    out += words + "\n";
            }
        }
        if (const auto* codes = std::get_if<CodesRead>(&event->body)) {
            for (const Code& code : codes->codes)
                out += code.code + " " + code.text + "\n";
        }
    }
    return out;
}

}  // namespace ilvek
