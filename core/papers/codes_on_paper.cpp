#include "papers/codes_on_paper.h"

#include <fmt/format.h>
#include <algorithm>
#include <numeric>
#include <set>

#include "base/text.h"
#include "belief/likelihood.h"
#include "machine/paths.h"
#include "papers/common_cause.h"
#include "prediction/predictions.h"
#include "quantity/quantity.h"
#include "suspects/suspects.h"
#include "wording/words.h"

namespace ilvek {

namespace {

const CodeCondition* conditionOf(const Map& map, const std::string& code)
{
    const auto at = std::find_if(map.codes.begin(), map.codes.end(),
                                 [&](const CodeCondition& c) { return isSameCode(c.code, code); });
    return at == map.codes.end() ? nullptr : &*at;
}

std::string setByWords(const Map& map, const CodeCondition& c)
{
    std::string words = map.terminal(c.terminal).id;
    if (c.quiet >= 0)
        return inWords("codes-on-paper.no-current-in", words, partWords(map, c.quiet),
                       lowered(map.state(c.state).name));
    if (c.below_V) words += " below " + formatQuantity(volts(*c.below_V));
    if (c.below_V && c.above_V) words += " or";
    if (c.above_V) words += " above " + formatQuantity(volts(*c.above_V));
    return words + ", " + lowered(map.state(c.state).name);
}

// What belongs to the circuit of a terminal: its way as the map shows it, its contact, and what hangs on it inside.
struct OwnCircuit {
    std::set<int> elements, nodes;

    OwnCircuit(const Map& map, int terminal)
    {
        const Terminal& t = map.terminal(terminal);
        for (const PathStep& step : shownCircuit(map, terminal).value_or(Path{}))
            elements.insert(step.element);
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            const auto& at = map.elements[i].nodes;
            const bool on = std::any_of(at.begin(), at.end(), [&](int node) { return node == t.a || node == t.b; });
            if (on) elements.insert(static_cast<int>(i));
        }
        elements.erase(map.battery);
        for (const int e : elements)
            nodes.insert(map.element(e).nodes.begin(), map.element(e).nodes.end());
        nodes.erase(map.batteryPlus()), nodes.erase(map.batteryMinus());
    }
    bool holds(const Suspect& s) const
    {
        return elements.contains(s.element) || (s.element < 0 && (nodes.contains(s.node) || nodes.contains(s.node2)));
    }
};

// Whether how the module holds this line, or what the sensor on it gives, is only assumed.
bool isHeldByGuess(const Map& map, const OwnCircuit& own)
{
    return std::any_of(own.elements.begin(), own.elements.end(), [&](int e) {
        const ElementKind kind = map.element(e).kind;
        return map.element(e).assumed && kind != ElementKind::Wire && kind != ElementKind::Contact;
    });
}

// How each suspect does with the code: at any of its severities.
std::vector<bool> setting(const Map& map, const std::vector<Suspect>& suspects, const CodeCondition& c)
{
    std::vector<bool> sets(suspects.size(), false);
    Reports reports;
    reports.codes = {c.code};
    const auto seen = observationsOf(map, {}, reports);
    if (seen.empty()) return sets;
    const Observation& o = seen.front();
    std::vector<Probe> probes;
    for (const auto& need : o.needs)
        probes.push_back(need.probe);
    const auto prediction = predict(map, suspects, o.setup, probes, false);
    if (!prediction) return sets;
    std::vector<const Column*> columns;
    for (const Probe& probe : probes)
        columns.push_back(prediction->find(probe));
    const auto first = firstCases(suspects);
    for (std::size_t s = 0; s < suspects.size(); ++s) {
        for (int at = first[s]; at < first[s + 1] && !sets[s]; ++at)
            sets[s] = chanceOf(o, columns, static_cast<std::size_t>(at)) > evenOdds;
    }
    return sets;
}

}  // namespace

std::vector<CodeOnPaper> codesOnPaper(const Map& map, const std::vector<std::string>& codes)
{
    std::vector<CodeOnPaper> out;
    const auto suspects = suspectsOf(map, true);
    std::vector<std::size_t> order(suspects.size());
    std::iota(order.begin(), order.end(), 0U);
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return suspects[a].prior > suspects[b].prior; });
    for (const std::string& code : codes) {
        CodeOnPaper paper;
        paper.code = code;
        for (const KeptCode& k : map.keptCodes) {
            if (isSameCode(k.code, code)) paper.text = k.text, paper.setBy = k.setBy, paper.kept = true;
        }
        if (const CodeCondition* c = conditionOf(map, code)) {
            paper.known = true;
            paper.text = c->text;
            paper.terminal = c->terminal;
            paper.setBy = setByWords(map, *c);
            const auto sets = setting(map, suspects, *c);
            paper.always = sets.front();
            const OwnCircuit own(map, c->terminal);
            const bool guess = isHeldByGuess(map, own);
            for (const std::size_t s : order) {
                if (!isFault(suspects[s]) || paper.always) continue;
                if (sets[s])
                    paper.can.push_back(suspects[s].words);
                else if (own.holds(suspects[s]))
                    (guess ? paper.unlikely : paper.cannot).push_back(suspects[s].words);
            }
        }
        out.push_back(std::move(paper));
    }
    return out;
}

}  // namespace ilvek
