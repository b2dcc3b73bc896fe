// One page for the owner of the machine, in plain words: what was wrong, how it is known, what was done, what is left.
#include <fmt/format.h>

#include <algorithm>

#include "bench_map/sheet_map.h"
#include "repair/behind.h"
#include "repair/closing.h"
#include "repair/repeated.h"
#include "report/html_parts.h"
#include "report/report.h"

namespace ilvek {

namespace {

constexpr std::size_t mostTests = 6;

// What was mended, as it is named at the machine.
std::vector<std::string> mendedParts(const Job& job)
{
    std::vector<std::string> out;
    for (const Repair& repair : job.evidence.repairs) {
        for (const std::string& name : repair.ofMap ? std::vector<std::string>{} : repair.elements) {
            const std::string words = mendedWords(job.map, name);
            if (std::find(out.begin(), out.end(), words) == out.end()) out.push_back(words);
        }
    }
    return out;
}

std::string wrong(const ReportInput& in)
{
    const Job& job = in.job;
    if (job.closed) {
        switch (job.closed->how.verdict) {
            case JobClosed::Verdict::ModuleBad:
                return fmt::format("The control module {} is faulty.", job.map.module);
            case JobClosed::Verdict::ModuleGood:
                return fmt::format("The control module {} is sound; the fault lay outside it.", job.map.module);
            case JobClosed::Verdict::NotFound:
                return "The fault was not found, and the search was stopped.";
            case JobClosed::Verdict::AskedForHelp:
                return "The fault was not found yet; the machine was handed on.";
            case JobClosed::Verdict::Repaired:
                break;
        }
    }
    if (!in.gate.located.empty()) return in.gate.located;
    if (const auto parts = mendedParts(job); !parts.empty() && !gradeOfRepair(in.assessment).empty())
        return parts.size() == 1
                   ? fmt::format("At fault was {}.", parts.front())
                   : fmt::format("At fault was one of these, mended together: {}.", fmt::join(parts, "; "));
    return job.repairs.empty() ? "Not known yet." : "See below, what was done.";
}

// Grades in the words of somebody who has never heard of them.
std::string howKnown(const ReportInput& in)
{
    std::string grade = in.job.closed ? in.job.closed->how.grade : in.gate.grade;
    if (grade.empty()) grade = gradeOfRepair(in.assessment);
    if (grade == "shown directly") return "It was measured directly at the place.";
    if (grade == "by elimination") return "What else could cause it was ruled out by measuring.";
    if (!grade.empty()) return "It is the likeliest cause by far; it was not shown beyond doubt.";
    return "";
}

std::string tests(const ReportInput& in)
{
    const auto& readings = in.assessment.evidence.readings;
    std::string rows;
    std::size_t shown = 0;
    for (const Repeated& r : repeatedAfterRepair(in.assessment)) {
        if (!r.after || ++shown > mostTests) continue;
        const Reading& before = readings[r.before];
        const int terminal = in.job.map.terminalIndex(before.terminal);
        const std::string circuit =
            terminal < 0 ? repeatedPlace(in.job.map, before) : in.job.map.terminal(terminal).circuit;
        rows += fmt::format("<tr><td>{}</td><td>{}</td><td><b>{}</b></td><td>{}</td></tr>\n", e(circuit),
                            e(figureOf(before)), e(figureOf(readings[*r.after])),
                            r.state == Repeated::State::Right        ? "in order"
                            : r.state == Repeated::State::StillFails ? "not in order"
                                                                     : "not decided");
    }
    if (rows.empty()) return "";
    return "<table cellpadding=\"4\" cellspacing=\"0\"><tr><th>Measured "
           "at</th><th>Before</th><th>After</th><th></th></tr>\n" +
           rows + "</table>\n";
}

}  // namespace

std::string customerHtml(const ReportInput& in)
{
    const Job& job = in.job;
    const std::string machine = knownWords(machineNamedIn(job.map.document));
    const std::string title = job.details.title.empty() ? machine : job.details.title;
    std::string out = fmt::format(
        "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>{}</title><style>{}</style></head>"
        "<body>\n<h1>{}</h1>\n<p class=\"dim\">{}{}{} · {}</p>\n",
        e(title), pageStyle(), e(title), e(machine),
        job.details.serial.empty() ? "" : ", serial " + e(job.details.serial),
        job.details.customer.empty() ? "" : " · for " + e(job.details.customer), readableTime(in.written_ms));
    out += paragraph("You told us:", job.complaint.text);
    out += "<h2>What was wrong</h2>\n<p class=\"verdict\">" + e(wrong(in)) + "</p>\n";
    out += paragraph("How we know:", howKnown(in)) + tests(in);
    std::vector<std::string> done, left;
    for (const TimedNote& repair : job.repairs)
        done.push_back(repair.text);
    for (const WorkDone& w : job.workTests) {
        if (w.tried.held)
            done.push_back("Tried: " + w.tried.what + (w.tried.values.empty() ? "" : ", " + w.tried.values));
    }
    if (!done.empty()) out += "<h2>What was done</h2>\n" + list("", done);
    for (const Owed& owed : job.debts) {
        if (!owed.cleared)
            left.push_back(owed.debt.what + (owed.debt.place.empty() ? "" : ", " + owed.debt.place) +
                           ": still to be put right");
    }
    for (const CauseAnswered& answer : job.behind) {
        if (!answer.leftOpen) continue;
        for (const BehindQuestion& q : behindQuestions(job, in.assessment, {})) {
            if (q.id == answer.question) left.push_back("Not looked at: " + q.question);
        }
    }
    const bool open = !openBeforeClosing(job, in.assessment).empty();
    if (open && left.empty()) left.emplace_back("Not everything that had failed was measured again.");
    out += left.empty() ? "<h2>What is left</h2>\n<p>Nothing.</p>\n" : "<h2>What is left</h2>\n" + list("", left);
    // Why a job ends as it does is not what was wrong with the machine.
    if (job.closed) out += paragraph("Remarks:", job.closed->how.reasons);
    return out + paragraph("Technician:", job.details.technician) + "</body></html>\n";
}

}  // namespace ilvek
