#include "papers/shared_branches.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>
#include <tuple>

#include "belief/likelihood.h"
#include "papers/common_cause.h"
#include "prediction/predictions.h"
#include "suspects/suspects.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Faults that take a conductor or a supply away altogether.
bool takesAway(const Suspect& s)
{
    return s.kind == SuspectKind::Resistance || s.kind == SuspectKind::Coil || s.kind == SuspectKind::ModuleDead;
}

// The order in which the parts of a branch are named: what a technician looks at first.
int rankOf(const Map& map, int element)
{
    switch (map.element(element).kind) {
        case ElementKind::Fuse:
            return 0;
        case ElementKind::Relay:
            return 1;
        case ElementKind::Switch:
            return 2;
        case ElementKind::Joint:
            return 3;
        case ElementKind::Contact:
            return 4;
        case ElementKind::Wire:
            return 6;
        default:
            return 5;
    }
}

struct Stops {
    std::set<int> surely, maybe;
};

// Beyond these chances it is known that something stops, or that it goes on.
constexpr double surelyStops = 0.25, surelyGoes = 0.75;

// By suspect and severity, the functions that stop and the codes that are set. A code that a sound machine sets as well
// says nothing.
std::vector<std::vector<Stops>> stopped(const Map& map, const std::vector<Suspect>& suspects,
                                        const std::vector<std::string>& codes)
{
    std::vector<std::vector<Stops>> out;
    for (const Suspect& s : suspects)
        out.emplace_back(std::max<std::size_t>(1, s.severities.size()));
    Reports reports;
    for (const Function& f : map.functions)
        reports.works.push_back(f.id);
    const auto isWanted = [&](const CodeCondition& c) {
        return std::any_of(codes.begin(), codes.end(),
                           [&](const std::string& code) { return isSameCode(code, c.code); });
    };
    for (const CodeCondition& c : map.codes) {
        if (isWanted(c)) reports.codes.push_back(c.code);
    }
    const auto first = firstCases(suspects);
    PredictionTable table;
    const auto all = observationsOf(map, {}, reports);
    for (const Wanted& wanted : wantedBy(map, all)) {
        if (auto prediction = predict(map, suspects, wanted.setup, wanted.probes, false))
            table.add(std::move(*prediction));
    }
    // Observations stand as functions that this variant has, then codes.
    std::vector<int> indices;
    for (std::size_t f = 0; f < map.functions.size(); ++f) {
        if (map.has(map.functions[f])) indices.push_back(static_cast<int>(f));
    }
    for (std::size_t c = 0; c < map.codes.size(); ++c) {
        if (isWanted(map.codes[c])) indices.push_back(static_cast<int>(map.functions.size() + c));
    }
    for (std::size_t at = 0; at < all.size(); ++at) {
        const Observation& o = all[at];
        std::vector<const Column*> columns;
        for (const auto& need : o.needs)
            columns.push_back(table.find(o.setup, need.probe));
        if (columns.empty() || std::find(columns.begin(), columns.end(), nullptr) != columns.end()) continue;
        const bool isCode = o.kind == Observation::Kind::Code;
        const auto goesOn = [&](int which) {
            const double holds = chanceOf(o, columns, static_cast<std::size_t>(which));
            return isCode ? 1 - holds : holds;
        };
        if (goesOn(first[0]) < evenOdds) continue;
        for (std::size_t s = 0; s < suspects.size(); ++s) {
            for (int which = first[s]; which < first[s + 1]; ++which) {
                Stops& stops = out[s][static_cast<std::size_t>(which - first[s])];
                const double goes = goesOn(which);
                if (goes < surelyStops) stops.surely.insert(indices[at]);
                if (goes >= surelyStops && goes < surelyGoes) stops.maybe.insert(indices[at]);
            }
        }
    }
    return out;
}

}  // namespace

std::vector<Branch> sharedBranches(const Map& map, const std::vector<std::string>& codes)
{
    std::vector<Suspect> suspects;
    for (const Suspect& s : suspectsOf(map, true)) {
        if (s.kind == SuspectKind::Nothing || takesAway(s)) suspects.push_back(s);
    }
    const auto stops = stopped(map, suspects, codes);
    struct Alike {
        std::map<int, std::set<int>> parts;  // by rank
        std::set<std::set<int>> starved;
        double prior = 0;
    };
    std::map<std::pair<std::set<int>, std::set<int>>, Alike> bySet;
    for (std::size_t s = 1; s < suspects.size(); ++s) {
        const Stops& worst = stops[s].back();
        if (worst.surely.empty() && worst.maybe.empty()) continue;
        Alike& found = bySet[{worst.surely, worst.maybe}];
        for (const Stops& some : stops[s]) {
            if (!some.surely.empty() && some.surely != worst.surely) found.starved.insert(some.surely);
        }
        found.prior += suspects[s].prior;
        if (suspects[s].element >= 0) found.parts[rankOf(map, suspects[s].element)].insert(suspects[s].element);
    }
    std::vector<Branch> out;
    for (const auto& [stopping, found] : bySet) {
        Branch branch;
        branch.functions.assign(stopping.first.begin(), stopping.first.end());
        branch.maybe.assign(stopping.second.begin(), stopping.second.end());
        branch.prior = found.prior;
        for (const std::set<int>& some : found.starved)
            branch.starved.emplace_back(some.begin(), some.end());
        for (const auto& [rank, elements] : found.parts) {
            for (const int e : elements)
                branch.parts.push_back(partWords(map, e));
        }
        out.push_back(std::move(branch));
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const Branch& a, const Branch& b) { return a.functions.size() > b.functions.size(); });
    for (std::size_t i = 0; i < out.size(); ++i) {
        const auto& mine = out[i].functions;
        for (std::size_t j = 0; j < i; ++j) {
            const auto& theirs = out[j].functions;
            if (theirs.size() > mine.size() && std::includes(theirs.begin(), theirs.end(), mine.begin(), mine.end()))
                out[i].parent = static_cast<int>(j);  // a later one is smaller
        }
    }
    return out;
}

Explained explainedBy(const Branch& branch, const OnPaper& told)
{
    const auto shared = [](const std::vector<int>& list, const std::vector<int>& stops) {
        return static_cast<int>(std::count_if(
            list.begin(), list.end(), [&](int f) { return std::find(stops.begin(), stops.end(), f) != stops.end(); }));
    };
    Explained best;
    best.maybe = shared(told.fails, branch.maybe);
    best.explains = shared(told.fails, branch.functions) + best.maybe;
    best.against = shared(told.works, branch.functions);
    for (const std::vector<int>& some : branch.starved) {
        const int explains = shared(told.fails, some), against = shared(told.works, some);
        if (explains - against > best.explains - best.against) best = {-1, explains, against, 0, true};
    }
    return best;
}

Explained explaining(const std::vector<Branch>& branches, const OnPaper& told)
{
    Explained best;
    const auto worth = [&](const Explained& e, double prior) {
        // What it only may explain counts a little less.
        return std::tuple(4 * (e.explains - e.against) - e.maybe, e.explains, !e.starved, prior);
    };
    for (int i = 0; i < static_cast<int>(branches.size()); ++i) {
        const Branch& b = branches[static_cast<std::size_t>(i)];
        Explained now = explainedBy(b, told);
        now.branch = i;
        if (now.explains == 0) continue;
        if (best.branch < 0 || worth(now, b.prior) > worth(best, branches[static_cast<std::size_t>(best.branch)].prior))
            best = now;
    }
    return best;
}

std::string explainedWords(const Explained& e, std::size_t fails)
{
    std::string out = inWords("shared-branches.explains-of", e.explains, fails);
    if (e.explains == 0) return out;
    if (e.starved) out += inWords("shared-branches.where-carries-too-little");
    if (e.maybe > 0)
        out += e.maybe == 1 ? inWords("shared-branches.one-them-only-if")
                            : inWords("shared-branches.them-only-if-feeds", e.maybe);
    if (e.against == 0) return out + inWords("shared-branches.nothing-against");
    return out + (e.against == 1 ? inWords("shared-branches.one-works-needs-too")
                                 : inWords("shared-branches.work-need-too", e.against));
}

}  // namespace ilvek
