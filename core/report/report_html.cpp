#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <iterator>

#include "base/stop.h"
#include "papers/common_cause.h"
#include "procedures/in_words.h"
#include "procedures/procedure.h"
#include "proving/traps.h"
#include "proving/trend.h"
#include "repair/behind.h"
#include "repair/repeated.h"
#include "repair/time_spent.h"
#include "report/html_parts.h"
#include "report/report.h"

namespace ilvek {

namespace {

std::string jobPart(const Job& job)
{
    const JobDetails& d = job.details;
    std::string out = "<h2>Job</h2>\n";
    out += paragraph("Machine:", job.map.title() + (job.map.variant.empty() ? "" : ", " + job.map.variant) +
                                     (d.serial.empty() ? "" : ", serial " + d.serial) +
                                     (d.hours.empty() ? "" : ", " + d.hours));
    out += paragraph("Suspected module:", job.map.module);
    out += paragraph("Customer:", d.customer);
    out += paragraph("Technician:", d.technician);
    out += paragraph("Complaint:", job.complaint.text);
    out += paragraph("When:", job.complaint.when);
    static constexpr std::string_view today[] = {"", "It was there when the machine came in.",
                                                 "It was not there when the machine came in."};
    out += paragraph("Today:", today[static_cast<std::size_t>(job.complaint.today)]);
    out += list("Fails:", job.complaint.fails) + list("Does less than it should:", job.complaint.weak) +
           list("Comes and goes:", job.complaint.comesAndGoes);
    out += list("Still works:", job.complaint.stillWorks);
    out += list("Replaced already:", job.complaint.replaced);
    std::vector<std::string> codes;
    for (const Code& code : job.codes)
        codes.push_back(code.code + ": " + code.text + (code.condition.empty() ? "" : " (" + code.condition + ")"));
    return out + list("Codes:", codes);
}

std::string gatePart(const Gate& gate, const std::string& module)
{
    std::string out =
        fmt::format("<h2>May the {} be blamed?</h2>\n<p class=\"verdict\">{}</p>\n", e(module), e(gate.sentence));
    out += paragraph("Located so far:", gate.located) + paragraph("Grade:", gate.grade) +
           paragraph("Still possible:", gate.alternative);
    out +=
        "<table cellpadding=\"4\" "
        "cellspacing=\"0\"><tr><th>Line</th><th>State</th><th>Count</th><th>Detail</th><th>Entries</th></tr>\n";
    for (const GateLine& line : gate.lines) {
        std::string count = line.total > 0 ? fmt::format("{} of {}", line.earned, line.total) : "";
        if (line.assumed > 0) count += fmt::format(", {} assumed", line.assumed);
        out += fmt::format("<tr><td>{}</td><td class=\"{}\">{}</td><td>{}</td><td>{}</td><td>{}</td></tr>\n",
                           e(line.title), line.state == LineState::Failed ? "bad" : "", lineWord(line.state), count,
                           e(line.detail), fmt::join(line.readings, ", "));
    }
    return out + "</table>\n";
}

std::string placeWords(const Map& map, const Reading& r)
{
    if (r.found) return map.nodeWords(map.nodeIndex(r.red)) + ", by eye";
    std::string out =
        fmt::format("R {}, B {}", map.nodeWords(map.nodeIndex(r.red)), map.nodeWords(map.nodeIndex(r.black)));
    if (!r.unplugged.empty()) out += fmt::format("; {} apart", fmt::join(r.unplugged, ", "));
    if (!r.load.empty()) out += fmt::format("; {}", r.load);
    return out;
}

std::string readingRow(const Map& map, const Reading& r, const Judgement& j, bool stale)
{
    std::string verdict = e(j.word);
    if (stale) verdict += " (stale)";
    std::string detail = e(j.arithmetic);
    if (!j.limits.empty()) detail += "<br><span class=\"dim\">limit: " + e(j.limits) + "</span>";
    if (!j.proves.empty()) detail += fmt::format("<br>Proves: {}", e(fmt::format("{}", fmt::join(j.proves, " "))));
    if (!j.doesNotProve.empty())
        detail += fmt::format("<br>Does not prove: {}", e(fmt::format("{}", fmt::join(j.doesNotProve, " "))));
    for (const Trap& trap : j.traps)
        detail += fmt::format("<br>{}: {}", e(trapName(trap.id)), e(trap.line));
    const int state = map.stateIndex(r.state);
    const std::string battery = r.battery_V ? formatQuantity(volts(*r.battery_V)) : "–";
    return fmt::format(
        "<tr><td>{}<br><span class=\"dim\">{}</span></td><td>{}<br>{}</td><td><b>{}</b></td><td "
        "class=\"{}\">{}</td><td>{}<br><span class=\"dim\">{}; {}; battery then {}; {}</span></td></tr>\n",
        r.id, readableTime(r.time_ms), e(r.terminal), testName(r.test), e(figureOf(r)),
        isFailure(j.verdict) ? "bad" : "", verdict, detail, e(placeWords(map, r)),
        state < 0 ? e(r.state) : e(map.state(state).name), battery, e(r.instrument.name));
}

// The readings from `first` to before `last`.
std::string readingsPart(const ReportInput& in, std::size_t first, std::size_t last)
{
    std::string out =
        "<h2>Readings</h2>\n<table cellpadding=\"4\" "
        "cellspacing=\"0\"><tr><th>Entry</th><th>Test</th><th>Figure</th><th>Verdict</th><th>Arithmetic and "
        "place</th></tr>\n";
    const auto& readings = in.assessment.evidence.readings;
    for (std::size_t i = first; i < std::min(last, readings.size()); ++i)
        out += readingRow(in.job.map, readings[i], in.assessment.judgements[i], in.assessment.stale[i]);
    return out + "</table>\n";
}

std::string staircasePart(const ReportInput& in, const PictureHtml& picture)
{
    std::string out;
    for (const int terminal : failedTerminals(in.job.map, in.assessment)) {
        const std::string drawn =
            picture ? picture(terminal) : staircaseSvg(in.job.map, in.assessment.evidence, terminal);
        if (drawn.empty()) continue;
        out += fmt::format("<h2>Potential staircase of {}, {}</h2>\n{}\n", e(in.job.map.terminal(terminal).id),
                           e(in.job.map.terminal(terminal).circuit), drawn);
    }
    return out;
}

std::string recordingsPart(const ReportInput& in)
{
    std::string out;
    for (const Trend& trend : trendsOf(in.job.evidence))
        out += fmt::format("<p>{}</p>\n", e(trendWords(in.job.map, trend)));
    for (const TraceSeen& t : in.job.evidence.traces) {
        out += fmt::format("<h3>{}</h3>\n<p><b>{}</b></p>\n<p class=\"dim\">{}{}{}{}</p>\n", e(t.recording),
                           e(t.verdict), readableTime(t.time_ms), t.element.empty() ? "" : ", " + e(t.element),
                           t.state.empty() ? "" : ", " + e(t.state),
                           t.supply_V ? ", supply " + formatQuantity(volts(*t.supply_V)) : "");
        out += traceSvg(t);
        if (t.figures.empty()) continue;
        out += "<table cellpadding=\"4\" cellspacing=\"0\"><tr><th>Measure</th><th>Figure</th></tr>\n";
        for (const auto& [name, words] : t.figures)
            out += fmt::format("<tr><td>{}</td><td>{}</td></tr>\n", e(name), e(words));
        out += "</table>\n";
    }
    return out.empty() ? "" : "<h2>Recordings</h2>\n" + out;
}

// What failed, before the repair and after it (W33).
std::string afterRepairPart(const ReportInput& in)
{
    const auto all = repeatedAfterRepair(in.assessment);
    if (all.empty()) return "";
    std::string out =
        "<h2>After the repair</h2>\n<table cellpadding=\"4\" cellspacing=\"0\"><tr><th>Terminal, "
        "test</th><th>Before</th><th>After</th><th></th></tr>\n";
    const auto& readings = in.assessment.evidence.readings;
    for (const Repeated& r : all) {
        const Reading& before = readings[r.before];
        const bool bad = r.state != Repeated::State::Right;
        out += fmt::format("<tr><td>{}<br>{}</td><td>{}</td><td><b>{}</b></td><td class=\"{}\">{}</td></tr>\n",
                           e(repeatedPlace(in.job.map, before)), testName(before.test), e(figureOf(before)),
                           r.after ? e(figureOf(readings[*r.after])) : "–", bad ? "bad" : "", repeatedWord(r.state));
    }
    return out + "</table>\n";
}

// How the job ended, and what is owed to the machine.
std::string closingPart(const Job& job)
{
    std::string out;
    std::vector<std::string> owed, good;
    for (const Owed& o : job.debts) {
        const std::string what = o.debt.what + (o.debt.place.empty() ? "" : ", " + o.debt.place);
        if (o.cleared)
            good.push_back(fmt::format("{}: {}", what, o.cleared->text));
        else
            owed.push_back(what);
    }
    if (!owed.empty())
        out +=
            fmt::format("<p class=\"bad\">Owed to the machine: {}</p>\n", e(fmt::format("{}", fmt::join(owed, "; "))));
    out += list("Made good:", good);
    if (!job.closed) return out;
    const JobClosed& how = job.closed->how;
    out += fmt::format("<h2>Closed</h2>\n<p class=\"verdict\">{}{}</p>\n", e(verdictWords(how.verdict)),
                       how.grade.empty() ? "" : " (" + e(how.grade) + ")");
    out += paragraph("On:", readableTime(job.closed->time_ms)) + paragraph("Reasons:", how.reasons) +
           paragraph("The gate that day:", how.gate) + list("Still open then:", how.left);
    return out;
}

// Repair or replace as it was decided, and what lies behind what was found (W31, W32).
std::string decisionPart(const ReportInput& in)
{
    std::string out;
    if (const auto& decided = in.job.decided) {
        std::string table = e(decided->table);
        for (auto at = table.find('\n'); at != std::string::npos; at = table.find('\n', at + 1))
            table.replace(at, 1, "<br>");
        out += fmt::format("<h2>Repair or replace</h2>\n<p class=\"verdict\">{}</p>\n", e(decided->choice)) +
               paragraph("Reasons:", decided->reasons) + "<p>" + table + "</p>\n";
    }
    std::vector<std::string> answered, open;
    for (const BehindQuestion& q : behindQuestions(in.job, in.assessment, {}))
        (q.isOpen() ? open : answered).push_back(q.question + (q.isOpen() ? "" : " " + q.answer));
    if (answered.empty() && open.empty()) return out;
    return out + "<h2>What lies behind it</h2>\n" + list("", answered) + list("Left open:", open);
}

std::string workPart(const Job& job)
{
    std::vector<std::string> lines;
    for (const WorkDone& w : job.workTests)
        lines.push_back(fmt::format("{}: {}, {}{}", readableTime(w.time_ms), w.tried.what,
                                    w.tried.held ? "in order" : "not in order",
                                    w.tried.values.empty() ? "" : ": " + w.tried.values));
    return list("Road or work test:", lines);
}

std::string timePart(const ReportInput& in)
{
    if (!in.events) return "";
    const TimeSpent time = timeSpent(*in.events);
    if (time.total_s() < 60) return "";
    std::vector<std::string> words;
    for (const auto& [phase, seconds] : time.phases)
        words.push_back(fmt::format("{} {}", phaseName(phase), durationWords(seconds)));
    if (time.waiting_s > 0) words.push_back("waiting " + durationWords(time.waiting_s));
    return paragraph("Time:", fmt::format("{}: {}", durationWords(time.total_s()), fmt::join(words, ", ")));
}

// Letters of base64 and no others.
std::string e64(const std::string& base64)
{
    std::string out;
    std::copy_if(base64.begin(), base64.end(), std::back_inserter(out),
                 [](unsigned char c) { return std::isalnum(c) || c == '+' || c == '/' || c == '='; });
    return out;
}

std::string photosPart(const ReportInput& in)
{
    std::string out;
    for (const Event& event : in.events ? *in.events : std::vector<Event>{}) {
        const auto* photo = std::get_if<Photo>(&event.body);
        if (!photo || in.job.withdrawn.contains(event.id)) continue;
        out += fmt::format("<p><img src=\"data:image/jpeg;base64,{}\" width=\"600\"><br>{}{}</p>\n", e64(photo->base64),
                           e(photo->words), photo->of > 0 ? fmt::format(" (entry {})", photo->of) : "");
    }
    return out.empty() ? "" : "<h2>Photos</h2>\n" + out;
}

std::string recordPart(const ReportInput& in)
{
    std::string out;
    const auto timed = [&](std::string_view label, const std::vector<TimedNote>& notes) {
        std::vector<std::string> lines;
        for (const TimedNote& note : notes)
            lines.push_back(readableTime(note.time_ms) + ": " + note.text);
        out += list(label, lines);
    };
    std::vector<std::string> aside;
    for (const SetAside& entry : in.job.setAside)
        aside.push_back(setAsideWords(entry));
    out += list("Entries that cannot be read:", aside);
    timed("Repairs and changes:", in.job.repairs);
    out += workPart(in.job) + timePart(in);
    timed("Map as found:", in.job.corrections);
    timed("Notes:", in.job.notes);
    std::vector<std::string> assumed;
    for (const auto& [terminal, reason] : in.job.evidence.assumed)
        assumed.push_back(terminal + ": " + reason);
    out += list("Assumed, not tested:", assumed);
    return out.empty() ? "" : "<h2>Record</h2>\n" + out;
}

// Procedures that came to an end: what each showed, stage by stage.
std::string proceduresPart(const ReportInput& in)
{
    const auto dead = reportsOf(in.job.map, in.job.complaint.fails, {}, {}).dead;
    std::string out;
    for (const Procedure& p : proceduresOf({in.job.map, in.assessment, {in.written_ms, in.job.state}, dead})) {
        stopPoint();
        if (!p.ending || !p.isBegun()) continue;
        out += fmt::format("<h3>{}</h3>\n<p><b>{}</b> <span class=\"dim\">({})</span></p>\n<ul>",
                           e(procedureTitle(in.job.map, p)), e(sentence(p.ending->fact)), gradeWords(p.ending->grade));
        for (const Stage& stage : p.stages) {
            if (stage.entries.empty()) continue;
            out += "<li>" + e(sentence(stage.title));
            for (const Fact& fact : stage.says)
                out += " – " + e(sentence(fact));
            out += "</li>";
        }
        out += "</ul>\n";
    }
    return out.empty() ? "" : "<h2>Procedures</h2>\n" + out;
}

std::string cautionsPart(const Map& map)
{
    std::string out = "<h2>Cautions</h2>\n<ul class=\"caution\">";
    for (const std::string& caution : map.cautions)
        out += "<li>" + e(caution) + "</li>";
    out +=
        "<li>Restraint-system and high-voltage circuits are not probed; the maker's procedure and licensed practice "
        "apply.</li>"
        "<li>Local codes and the maker's procedure come first.</li></ul>\n";
    return out;
}

// The beginning of the page, its title, and what the gate says.
std::string headPart(const ReportInput& in)
{
    const std::string title = in.job.details.title.empty() ? in.job.map.title() : in.job.details.title;
    return fmt::format(
               "<!DOCTYPE html>\n<html lang=\"en\"><head><meta "
               "charset=\"utf-8\"><title>{}</title><style>{}</style></head><body>\n<h1>{}</h1>\n"
               "<p class=\"dim\">{} · {} · written {}</p>\n",
               e(title), pageStyle(), e(title), e(in.job.map.title()), e(in.job.map.module),
               readableTime(in.written_ms)) +
           closingPart(in.job) + gatePart(in.gate, in.job.map.module) + afterRepairPart(in) + decisionPart(in);
}

constexpr std::string_view foot = "</body></html>\n";

}  // namespace

std::vector<int> failedTerminals(const Map& map, const Assessment& assessment)
{
    std::vector<int> out;
    for (const int terminal : provingOrder(map, {})) {
        const ProofState state = proofOf(map, assessment, terminal).state;
        const Group group = groupOf(*map.terminal(terminal).role);
        const bool hasLoop = group == Group::Supplies || group == Group::Returns;
        if (hasLoop && (state == ProofState::FailedLoaded || state == ProofState::OutOfLimits)) out.push_back(terminal);
    }
    for (const Repeated& r : repeatedAfterRepair(assessment)) {
        const int terminal = map.terminalIndex(assessment.evidence.readings[r.before].terminal);
        const auto role = terminal < 0 ? std::nullopt : map.terminal(terminal).role;
        const bool hasLoop = role && (groupOf(*role) == Group::Supplies || groupOf(*role) == Group::Returns);
        if (hasLoop && std::find(out.begin(), out.end(), terminal) == out.end()) out.push_back(terminal);
    }
    return out;
}

std::string reportHtml(const ReportInput& in, const PictureHtml& picture)
{
    return headPart(in) + staircasePart(in, picture) + jobPart(in.job) + readingsPart(in, 0, SIZE_MAX) +
           recordingsPart(in) + proceduresPart(in) + recordPart(in) + photosPart(in) + cautionsPart(in.job.map) +
           std::string(foot);
}

std::vector<std::string> reportPages(const ReportInput& in, std::size_t readingsOnEach, const PictureHtml& picture)
{
    std::vector<std::string> pages{headPart(in) + staircasePart(in, picture) + jobPart(in.job) + std::string(foot)};
    const std::string begin = fmt::format("<html><head><style>{}</style></head><body>\n", pageStyle());
    for (std::size_t first = 0; first < in.assessment.evidence.readings.size(); first += readingsOnEach) {
        stopPoint();
        pages.push_back(begin + readingsPart(in, first, first + readingsOnEach) + std::string(foot));
    }
    pages.push_back(begin + recordingsPart(in) + proceduresPart(in) + recordPart(in) + photosPart(in) +
                    cautionsPart(in.job.map) + std::string(foot));
    return pages;
}

}  // namespace ilvek
