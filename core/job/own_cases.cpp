#include "job/own_cases.h"

#include <fmt/format.h>

#include <algorithm>

namespace ilvek {

double ownMultiplier(const OwnCase& c)
{
    return std::clamp((tradeWeight + c.failed) / (tradeWeight + c.expected), 1 / mostFactor, mostFactor);
}

std::vector<std::string> ownCaseWords(const OwnCases& own)
{
    std::vector<std::string> out;
    for (const OwnCase& c : own.cases)
        out.push_back(fmt::format("{}: {} failed, {:.1f} expected: {:.1f} times the trade's figure", c.kind, c.failed,
                                  c.expected, ownMultiplier(c)));
    return out;
}

void weighOwnCases(Map& map, const OwnCases& own)
{
    for (const OwnCase& c : own.cases)
        map.kindFactor[c.kind] = ownMultiplier(c);
    const auto words = ownCaseWords(own);
    map.weighedBeside.insert(map.weighedBeside.end(), words.begin(), words.end());
}

}  // namespace ilvek
