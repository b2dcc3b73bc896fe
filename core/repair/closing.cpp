#include "repair/closing.h"

#include <fmt/format.h>

#include <algorithm>

#include "repair/repeated.h"

namespace ilvek {

namespace {

std::int64_t lastRepair(const Evidence& e)
{
    std::int64_t out = 0;
    for (const Repair& r : e.repairs) {
        if (!r.ofMap) out = r.id;
    }
    return out;
}

// Whether the function was tried since, and works.
bool isTried(const Evidence& e, const std::string& id, std::int64_t since)
{
    return std::any_of(e.functions.begin(), e.functions.end(), [&](const FunctionsSeen& seen) {
        return seen.id > since && std::find(seen.works.begin(), seen.works.end(), id) != seen.works.end();
    });
}

}  // namespace

std::vector<std::string> openBeforeClosing(const Job& job, const Assessment& a)
{
    std::vector<std::string> out;
    for (const Owed& owed : job.debts) {
        if (owed.cleared) continue;
        out.push_back(fmt::format("Owed to the machine: {}{}{}.", owed.debt.what, owed.debt.place.empty() ? "" : ", ",
                                  owed.debt.place));
    }
    const std::int64_t repair = lastRepair(a.evidence);
    if (repair == 0) return out;
    for (const Repeated& r : repeatedAfterRepair(job.map, a)) {
        if (r.state == Repeated::State::Right) continue;
        const Reading& before = a.evidence.readings[r.before];
        out.push_back(fmt::format("{}{}{}: {}.", before.terminal, before.terminal.empty() ? "" : ", ",
                                  testName(before.test),
                                  r.state == Repeated::State::NotYet       ? "failed before the repair, not read again"
                                  : r.state == Repeated::State::StillFails ? "fails still after the repair"
                                                                           : "read again, and not decided"));
    }
    for (const Function& f : job.map.functions) {
        const auto& fails = job.complaint.fails;
        const bool failed = std::find(fails.begin(), fails.end(), f.id) != fails.end() ||
                            std::find(fails.begin(), fails.end(), f.name) != fails.end();
        if (failed && !isTried(a.evidence, f.id, repair))
            out.push_back(fmt::format("“{}” failed and was not tried since the repair.", f.name));
    }
    if (!job.codes.empty() && job.codesId < repair) out.push_back("Codes were not cleared and read again since.");
    return out;
}

Result<JobClosed> closing(const Job& job, const Assessment& a, const Gate& gate, JobClosed::Verdict verdict,
                          const std::string& reasons)
{
    if (verdict == JobClosed::Verdict::ModuleBad && gate.outcome != Outcome::MayBeCondemned)
        return fail(job.map.module, "may not be called bad yet: " + gate.sentence);
    if (verdict == JobClosed::Verdict::ModuleGood && gate.outcome != Outcome::ProvenGood)
        return fail(job.map.module, "was not shown to be good: " + gate.sentence);
    JobClosed out{verdict, gate.grade, reasons, gate.sentence, openBeforeClosing(job, a)};
    const bool claims = verdict != JobClosed::Verdict::NotFound && verdict != JobClosed::Verdict::AskedForHelp;
    if (!claims) out.grade.clear();
    if (reasons.empty() && (!claims || !out.left.empty()))
        return fail("closing", "a word is needed: " + (out.left.empty() ? "why it ends here" : out.left.front()));
    return out;
}

}  // namespace ilvek
