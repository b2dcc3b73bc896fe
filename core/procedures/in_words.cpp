#include "procedures/in_words.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/expects.h"
#include "procedures/flow.h"
#include "wording/tables.h"

namespace ilvek {

namespace {

const std::string* partOf(const Fact& fact, std::string_view name)
{
    const auto at = std::find_if(fact.of.begin(), fact.of.end(), [&](const auto& p) { return p.first == name; });
    return at == fact.of.end() ? nullptr : &at->second;
}

std::string_view wordsOf(std::string_view id)
{
    const auto& table = procedureWords();
    const auto at = std::find_if(table.begin(), table.end(), [&](const Words& w) { return w.id == id; });
    return at == table.end() ? std::string_view{} : at->words;
}

}  // namespace

bool isWorded(const Fact& fact)
{
    const std::string_view words = wordsOf(fact.id);
    if (words.empty()) return false;
    for (std::size_t at = words.find('{'); at != std::string_view::npos; at = words.find('{', at + 1)) {
        const std::size_t end = words.find('}', at);
        if (end == std::string_view::npos || !partOf(fact, words.substr(at + 1, end - at - 1))) return false;
    }
    return true;
}

std::string sentence(const Fact& fact)
{
    EXPECTS(isWorded(fact));
    std::string out;
    const std::string_view words = wordsOf(fact.id);
    for (std::size_t i = 0; i < words.size();) {
        const std::size_t open = words.find('{', i);
        out += words.substr(i, open - i);
        if (open == std::string_view::npos) break;
        const std::size_t close = words.find('}', open);
        if (const std::string* part = partOf(fact, words.substr(open + 1, close - open - 1))) out += *part;
        i = close + 1;
    }
    return out;
}

std::string procedureTitle(const Map& map, const Procedure& procedure)
{
    std::string subject = procedure.subject;
    const int element = map.elementIndex(subject);
    if (procedure.id == "wire" && element >= 0) {
        const auto end = [&](int node) {
            const std::string words = map.nodeWords(node);
            return words.substr(0, words.find(','));
        };
        subject = end(map.element(element).nodes[0]) + " – " + end(map.element(element).nodes[1]);
    } else if (procedure.id == "bench" && element >= 0) {
        subject = nameOf(map, element);
    } else if (const int t = map.terminalIndex(subject); t >= 0 && !map.terminal(t).circuit.empty()) {
        subject += " " + map.terminal(t).circuit;
    }
    return sentence({"title." + procedure.id, {{"subject", subject}}});
}

std::string procedurePurpose(const Procedure& procedure)
{
    return sentence({"purpose." + procedure.id, {}});
}

std::string_view gradeWords(Grade grade)
{
    static constexpr std::string_view words[] = {"shown directly", "by elimination", "on likelihood"};
    return words[static_cast<std::size_t>(grade)];
}

std::string trendWords(const Map& map, const Trend& trend)
{
    std::vector<std::string> figures;
    for (const TraceSeen* t : trend.recordings)
        figures.push_back(formatQuantity(amperes(*t->current_A)));
    const int element = map.elementIndex(trend.recordings.back()->element);
    const std::string name = element < 0 ? trend.recordings.back()->element : nameOf(map, element);
    return fmt::format("{}: {} in {:.0f} min, recording after recording: {}.", name, fmt::join(figures, ", "),
                       trend.minutes,
                       trend.left < 1 ? "it weakens, and what weakens step by step has announced its failure"
                                      : "it takes more and more");
}

}  // namespace ilvek
