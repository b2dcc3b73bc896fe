#include "papers/common_cause.h"

#include <algorithm>
#include <numeric>

#include "base/text.h"

namespace ilvek {

bool isSameCode(const std::string& a, const std::string& b)
{
    return lowered(trimmed(a)) == lowered(trimmed(b));
}

Reports reportsOf(const Map& map, const std::vector<std::string>& fails, const std::vector<std::string>& works,
                  const std::vector<std::string>& codes)
{
    Reports reports;
    const auto function = [&](const std::string& words) -> std::string {
        const std::string wanted = lowered(trimmed(words));
        for (const Function& f : map.functions) {
            if (lowered(f.id) == wanted || lowered(f.name) == wanted) return f.id;
        }
        return "";
    };
    for (const std::string& words : fails) {
        if (const std::string id = function(words); !id.empty()) reports.dead.push_back(id);
    }
    for (const std::string& words : works) {
        if (const std::string id = function(words); !id.empty()) reports.works.push_back(id);
    }
    for (const CodeCondition& c : map.codes) {
        const bool stored =
            std::any_of(codes.begin(), codes.end(), [&](const std::string& code) { return isSameCode(code, c.code); });
        if (stored) reports.codes.push_back(c.code);
    }
    return reports;
}

std::vector<CommonCause> commonCauses(Reasoner& reasoner, const Reports& reports, std::size_t most)
{
    std::vector<CommonCause> out;
    if (reports.dead.empty() && reports.codes.empty()) return out;
    reasoner.observe({}, reports);
    const Belief& belief = reasoner.belief();
    const std::vector<double> p = belief.probabilities();
    std::vector<int> order(p.size());
    std::iota(order.begin(), order.end(), 0);
    std::sort(order.begin(), order.end(),
              [&](int a, int b) { return p[static_cast<std::size_t>(a)] > p[static_cast<std::size_t>(b)]; });
    for (const int s : order) {
        if (out.size() >= most) break;
        // One fault of the map that explains them all is asked for.
        const SuspectKind kind = reasoner.suspects()[static_cast<std::size_t>(s)].kind;
        if (kind == SuspectKind::Nothing || kind == SuspectKind::NotOnMap) continue;
        CommonCause cause;
        cause.suspect = s;
        cause.probability = p[static_cast<std::size_t>(s)];
        for (std::size_t o = 0; o < belief.taken().size(); ++o) {
            const Observation& seen = belief.taken()[o];
            const bool holds = belief.against(s, o).predicted > 0.5;  // the function works, the code is set
            switch (seen.kind) {
                case Observation::Kind::FunctionDead:
                    (holds ? cause.leavesOpen : cause.explains).push_back(seen.words);
                    break;
                case Observation::Kind::Code:
                    (holds ? cause.explains : cause.leavesOpen).push_back(seen.words);
                    break;
                case Observation::Kind::FunctionWorks:
                    if (!holds) cause.contradicts.push_back(seen.words);
                    break;
                case Observation::Kind::Look:
                case Observation::Kind::Reading:
                    break;
            }
        }
        out.push_back(std::move(cause));
    }
    return out;
}

}  // namespace ilvek
