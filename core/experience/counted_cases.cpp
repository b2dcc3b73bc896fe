#include "experience/counted_cases.h"

#include <algorithm>
#include <map>
#include <set>

#include "repair/repeated.h"

namespace ilvek {

namespace {

// The one kind of all that was mended; empty: several, or none.
std::string mendedKind(const Job& job)
{
    std::set<std::string> kinds;
    for (const Repair& repair : job.evidence.repairs) {
        for (const std::string& name : repair.ofMap ? std::vector<std::string>{} : repair.elements) {
            const int element = mendedElement(job.map, name);
            kinds.insert(element >= 0 ? caseKindOf(job.map, element) : "");
        }
    }
    return kinds.size() == 1 ? *kinds.begin() : "";
}

bool isProven(const Assessment& assessment)
{
    const auto all = repeatedAfterRepair(assessment);
    return !all.empty() &&
           std::all_of(all.begin(), all.end(), [](const Repeated& r) { return r.state == Repeated::State::Right; });
}

OwnCase& caseOf(OwnCases& own, const std::string& kind)
{
    const auto at = std::find_if(own.cases.begin(), own.cases.end(), [&](const OwnCase& c) { return c.kind == kind; });
    return at != own.cases.end() ? *at : own.cases.emplace_back(OwnCase{kind, 0, 0});
}

}  // namespace

bool countCase(const Job& job, const Assessment& assessment, OwnCases& own)
{
    if (!job.closed) return false;
    const auto verdict = job.closed->how.verdict;
    if (verdict != JobClosed::Verdict::Repaired && verdict != JobClosed::Verdict::ModuleBad) return false;
    const std::string kind = mendedKind(job);
    if (kind.empty() || !isProven(assessment)) return false;
    Map byTrade = job.map;
    byTrade.kindFactor.clear();
    std::map<std::string, double> share;
    double sum = 0;
    for (const Suspect& s : suspectsOf(byTrade, true)) {
        const std::string of = caseKindOf(byTrade, s);
        if (of.empty()) continue;
        share[of] += s.prior, sum += s.prior;
    }
    for (const auto& [of, prior] : share)
        caseOf(own, of).expected += prior / sum;
    ++caseOf(own, kind).failed;
    ++own.jobs;
    return true;
}

OwnCases together(OwnCases a, const OwnCases& b)
{
    for (const OwnCase& c : b.cases) {
        OwnCase& mine = caseOf(a, c.kind);
        mine.failed += c.failed, mine.expected += c.expected;
    }
    a.jobs += b.jobs;
    return a;
}

}  // namespace ilvek
