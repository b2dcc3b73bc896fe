#include "repair/closing.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/text.h"
#include "repair/behind.h"
#include "repair/repeated.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Whether the function was tried since, and works.
bool isTried(const Evidence& e, const std::string& id, std::int64_t since)
{
    return std::any_of(e.functions.begin(), e.functions.end(), [&](const FunctionsSeen& seen) {
        return seen.id > since && std::find(seen.works.begin(), seen.works.end(), id) != seen.works.end();
    });
}

bool holds(const std::vector<std::string>& told, const Function& f)
{
    return std::any_of(told.begin(), told.end(),
                       [&](const std::string& name) { return name == f.id || name == f.name; });
}

}  // namespace

std::vector<std::string> openBeforeClosing(const Job& job, const Assessment& a)
{
    std::vector<std::string> out;
    for (const Owed& owed : job.debts) {
        if (owed.cleared) continue;
        out.push_back(
            inWords("closing.owed-machine", owed.debt.what, owed.debt.place.empty() ? "" : ", ", owed.debt.place));
    }
    const std::int64_t repair = lastRepairOf(a.evidence);
    if (repair == 0) return out;
    for (const Repeated& r : repeatedAfterRepair(a)) {
        if (r.state == Repeated::State::Right) continue;
        const Reading& before = a.evidence.readings[r.before];
        const std::string place = repeatedPlace(job.map, before);
        out.push_back(fmt::format("{}{}{}: {}.", place, place.empty() ? "" : ", ", testName(before.test),
                                  r.state == Repeated::State::NotYet ? inWords("closing.failed-before-repair-read")
                                  : r.state == Repeated::State::StillFails ? inWords("closing.fails-still-after-repair")
                                                                           : inWords("closing.read-again-decided")));
    }
    std::vector<std::string> shared;
    for (const int t : sharedWithRepair(job.map, a))
        shared.push_back(job.map.terminal(t).id);
    if (!shared.empty()) out.push_back(inWords("closing.shares-mended-read-again") + listed(shared) + ".");
    for (const Function& f : job.map.functions) {
        const Complaint& c = job.complaint;
        const bool failed = holds(c.fails, f) || holds(c.weak, f) || holds(c.comesAndGoes, f);
        if (failed && !isTried(a.evidence, f.id, repair))
            out.push_back(inWords("closing.failed-tried-since-repair", f.name));
    }
    if (!job.codes.empty() && job.codesId < repair) out.push_back(inWords("closing.codes-were-cleared-read"));
    for (const Code& code : job.codes) {
        if (job.codesId > repair) out.push_back(inWords("closing.code-came-back-after", code.code));
    }
    const auto& tests = job.workTests;
    if (!tests.empty() && tests.back().id > repair && !tests.back().tried.held)
        out.push_back(inWords("closing.work-test-order", tests.back().tried.what));
    return out;
}

std::vector<std::string> openBehind(const Job& job, const Assessment& a)
{
    std::vector<std::string> out;
    for (const BehindQuestion& q : behindQuestions(job, a, {})) {
        if (q.isOpen()) out.push_back(inWords("closing.lies-behind") + q.question);
    }
    return out;
}

std::string gradeOfRepair(const Assessment& a)
{
    const auto all = repeatedAfterRepair(a);
    const bool proven = !all.empty() && std::all_of(all.begin(), all.end(), [](const Repeated& r) {
        return r.state == Repeated::State::Right;
    });
    if (!proven) return "";
    // Mended since what had failed was read last.
    std::int64_t failed = 0;
    for (const Repeated& r : all)
        failed = std::max(failed, a.evidence.readings[r.before].id);
    std::size_t parts = 0;
    for (const Repair& repair : a.evidence.repairs) {
        if (!repair.ofMap && repair.id > failed) parts += std::max<std::size_t>(1, repair.elements.size());
    }
    return parts == 1 ? inWords("closing.shown-directly") : inWords("closing.on-likelihood");
}

Result<JobClosed> closing(const Job& job, const Assessment& a, const Gate& gate, JobClosed::Verdict verdict,
                          const std::string& reasons)
{
    if (verdict == JobClosed::Verdict::ModuleBad && gate.outcome != Outcome::MayBeCondemned)
        return fail(job.map.module, "may not be called bad yet: " + gate.sentence);
    if (verdict == JobClosed::Verdict::ModuleGood && gate.outcome != Outcome::ProvenGood)
        return fail(job.map.module, "was not shown to be good: " + gate.sentence);
    if (verdict == JobClosed::Verdict::Repaired && lastRepairOf(a.evidence) == 0)
        return fail("closing", "nothing was mended yet: enter first which part it was and what was done");
    JobClosed out{verdict, gate.grade, reasons, gate.sentence, openBeforeClosing(job, a)};
    const auto behind = openBehind(job, a);
    out.left.insert(out.left.end(), behind.begin(), behind.end());
    if (verdict == JobClosed::Verdict::Repaired && out.grade.empty()) out.grade = gradeOfRepair(a);
    const bool claims = verdict != JobClosed::Verdict::NotFound && verdict != JobClosed::Verdict::AskedForHelp;
    if (!claims) out.grade.clear();
    if (reasons.empty() && (!claims || !out.left.empty()))
        return fail("closing",
                    "a word is needed: " + (out.left.empty() ? inWords("closing.why-ends-here") : out.left.front()));
    return out;
}

}  // namespace ilvek
