#include "repair/ways.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "base/text.h"
#include "suspects/suspects.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// The elements that a name of a choice stands for; empty: none.
std::set<int> mendedBy(const Map& map, const std::string& raw)
{
    const std::string name(trimmed(raw));
    std::set<int> out;
    if (lowered(name) == lowered(map.module) || lowered(name) == "module") {
        const auto inside = insideModule(map);
        for (std::size_t i = 0; i < inside.size(); ++i) {
            if (inside[i]) out.insert(static_cast<int>(i));
        }
        return out;
    }
    if (const int e = map.elementIndex(name); e >= 0) out.insert(e);
    if (const int t = map.terminalIndex(name); t >= 0 && map.terminal(t).contact >= 0)
        out.insert(map.terminal(t).contact);
    if (const int c = map.connectorIndex(name); c >= 0) {
        for (const int t : map.connectors[static_cast<std::size_t>(c)].terminals) {
            if (t >= 0 && map.terminal(t).contact >= 0) out.insert(map.terminal(t).contact);
        }
    }
    return out;
}

std::string money(double x)
{
    return x < 10 && x != 0 ? fmt::format("{:.2f}", x) : fmt::format("{:.0f}", x);
}

}  // namespace

std::vector<PartBelief> partBeliefs(const Map& map, const Reasoning& reasoning)
{
    std::vector<PartBelief> out;
    for (const RankedSuspect& s : reasoning.suspects) {
        PartBelief belief{{}, s.probability};
        for (const Fault& f : s.faults) {
            if (f.element >= 0) belief.elements.push_back(f.element);
            for (std::size_t i = 0; f.element < 0 && i < map.elements.size(); ++i) {
                const auto& at = map.elements[i].nodes;
                const bool on = std::find(at.begin(), at.end(), f.nodeA) != at.end();
                if (on && map.elements[i].kind == ElementKind::Wire) belief.elements.push_back(static_cast<int>(i));
            }
        }
        if (!belief.elements.empty()) out.push_back(std::move(belief));
    }
    return out;
}

std::vector<std::string> unknownIn(const Map& map, const RepairChoice& choice)
{
    std::vector<std::string> out;
    std::copy_if(choice.mends.begin(), choice.mends.end(), std::back_inserter(out),
                 [&](const std::string& name) { return mendedBy(map, name).empty(); });
    return out;
}

std::vector<WayCost> waysOf(const Map& map, const RepairChoices& choices, const std::vector<PartBelief>& belief)
{
    std::vector<WayCost> out;
    for (const RepairChoice& c : choices.choices) {
        WayCost cost;
        cost.sure = c.labour_h * choices.hour + c.part + c.wait_h * choices.waitingHour;
        std::set<int> mended;
        for (const std::string& name : c.mends)
            mended.merge(mendedBy(map, name));
        for (const PartBelief& b : belief) {
            const bool cured =
                std::any_of(b.elements.begin(), b.elements.end(), [&](int e) { return mended.contains(e); });
            if (cured) cost.cures += b.probability;
        }
        cost.cures = std::min(1.0, cost.cures);
        out.push_back(cost);
    }
    for (std::size_t i = 0; i < out.size(); ++i) {
        WayCost& cost = out[i];
        cost.again = out.size() > 1 ? 1e300 : cost.sure;
        for (std::size_t j = 0; j < out.size(); ++j) {
            if (j != i) cost.again = std::min(cost.again, out[j].sure);
        }
        const double p = cost.cures, r = choices.choices[i].returns;
        cost.expected = cost.sure + (1 - p) * cost.again + p * r * cost.sure;
        cost.sums = fmt::format("{} + {:.0f} % × {} + {:.0f} % × {:.0f} % × {} = {}", money(cost.sure), 100 * (1 - p),
                                money(cost.again), 100 * p, 100 * r, money(cost.sure), money(cost.expected));
    }
    return out;
}

std::string waysTable(const RepairChoices& choices, const std::vector<WayCost>& costs)
{
    std::vector<std::string> lines;
    for (std::size_t i = 0; i < costs.size(); ++i) {
        const RepairChoice& c = choices.choices[i];
        lines.push_back(inWords("ways.part-wait-fails-again", c.name, c.labour_h, money(c.part), c.wait_h,
                                100 * c.returns, 100 * costs[i].cures, c.lasts.empty() ? "" : ", lasts " + c.lasts,
                                costs[i].sums));
    }
    return fmt::format("{}", fmt::join(lines, "\n"));
}

}  // namespace ilvek
