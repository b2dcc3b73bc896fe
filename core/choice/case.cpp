#include "choice/case.h"

#include <algorithm>

#include "choice/test_cost.h"

namespace ilvek {

namespace {

constexpr double isACase = 0.85, isNone = 0.75;

// Whether the likeliest is something that would be mended.
bool accuses(const std::vector<Suspect>& suspects, const std::vector<SuspectGroup>& groups)
{
    if (groups.empty() || groups.front().members.empty() || groups.front().probability < isACase) return false;
    const SuspectKind kind = suspects[static_cast<std::size_t>(groups.front().members.front())].kind;
    return kind != SuspectKind::Nothing && kind != SuspectKind::NotOnMap;
}

}  // namespace

std::vector<std::size_t> caseRestsOn(const Map& map, const std::vector<Suspect>& suspects, const Belief& belief,
                                     const std::vector<SuspectGroup>& groups, const std::vector<Candidate>& candidates)
{
    if (!map.isOfSheet() || !accuses(suspects, groups)) return {};
    std::vector<char> once(belief.taken().size(), 0);
    for (const Candidate& c : candidates) {
        if (c.kind == Candidate::Kind::Look) continue;
        const std::vector<std::size_t> before = takenBefore(belief, c);
        if (before.size() == 1) once[before.front()] = 1;
    }
    std::vector<std::size_t> out;
    for (std::size_t o = 0; o < once.size(); ++o) {
        if (once[o] == 0 || belief.taken()[o].kind != Observation::Kind::Reading) continue;
        const std::vector<double> p = belief.probabilities(o);
        double without = 0;
        for (const int m : groups.front().members)
            without += p[static_cast<std::size_t>(m)];
        if (without < isNone) out.push_back(o);
    }
    return out;
}

}  // namespace ilvek
