#include "repair/repeated.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/text.h"
#include "suspects/suspects.h"
#include "wording/words.h"

namespace ilvek {

namespace {

template <class List>
bool sameNames(List a, List b)
{
    std::sort(a.begin(), a.end()), std::sort(b.begin(), b.end());
    return a == b;
}

bool isUnderLoad(const Reading& r)
{
    return r.test == TestKind::LoadedSupply || r.test == TestKind::ReturnDrop || !r.load.empty();
}

// Read as the other was: less proves nothing of it.
bool isSameTest(const Reading& a, const Reading& b)
{
    const bool placed = (a.red == b.red && a.black == b.black) || (a.red == b.black && a.black == b.red);
    return placed && a.test == b.test && a.terminal == b.terminal && a.state == b.state && a.load == b.load &&
           a.commands == b.commands && a.conductor == b.conductor && sameNames(a.unplugged, b.unplugged) &&
           sameNames(a.removed, b.removed) && sameNames(a.unpinned, b.unpinned) && a.jumpers == b.jumpers;
}

bool isFigure(const Reading& r)
{
    return !r.found && !r.shows && !r.value.overLimit;
}

Repeated compared(const Assessment& a, std::size_t before, std::int64_t repair)
{
    const auto& all = a.evidence.readings;
    Repeated out;
    out.before = before;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (all[i].id > repair && !all[i].inShutDown && isSameTest(all[i], all[before])) out.after = i;
    }
    if (!out.after) return out;
    const Judgement& j = a.judgements[*out.after];
    const Verdict v = j.verdict;
    // A place that reads as in a sound circuit is only noted, and proves that what moved it is gone.
    const bool asSound = v == Verdict::Noted && !j.proves.empty();
    out.state = isFailure(v)                                              ? Repeated::State::StillFails
                : v == Verdict::Good || v == Verdict::OpenOnly || asSound ? Repeated::State::Right
                                                                          : Repeated::State::Otherwise;
    const Reading &was = all[before], &is = all[*out.after];
    if (isFigure(was) && isFigure(is) && was.value.unit == is.value.unit) out.change = is.value.value - was.value.value;
    return out;
}

}  // namespace

std::int64_t lastRepairOf(const Evidence& evidence)
{
    const auto& repairs = evidence.repairs;
    const auto last = std::find_if(repairs.rbegin(), repairs.rend(), [](const Repair& r) { return !r.ofMap; });
    return last == repairs.rend() ? 0 : last->id;
}

Evidence beforeRepair(const Evidence& evidence)
{
    Evidence out = evidence;
    const std::int64_t repair = lastRepairOf(evidence);
    if (repair == 0) return out;
    const auto since = [&](const auto& entry) { return entry.id >= repair; };
    std::erase_if(out.readings, since), std::erase_if(out.repairs, since), std::erase_if(out.functions, since);
    std::erase_if(out.traces, since);
    return out;
}

std::vector<Repeated> repeatedAfterRepair(const Assessment& a)
{
    const std::int64_t repair = lastRepairOf(a.evidence);
    if (repair == 0) return {};
    const auto& all = a.evidence.readings;
    std::vector<Repeated> out;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (all[i].id > repair || all[i].inShutDown || !isFailure(a.judgements[i].verdict)) continue;
        const auto same =
            std::find_if(out.begin(), out.end(), [&](const Repeated& r) { return isSameTest(all[r.before], all[i]); });
        if (same == out.end())
            out.push_back(compared(a, i, repair));
        else
            *same = compared(a, i, repair);
    }
    std::stable_sort(out.begin(), out.end(), [&](const Repeated& x, const Repeated& y) {
        return isUnderLoad(all[x.before]) > isUnderLoad(all[y.before]);
    });
    return out;
}

std::vector<int> sharedWithRepair(const Map& map, const Assessment& a)
{
    if (lastRepairOf(a.evidence) == 0) return {};
    const auto repeated = repeatedAfterRepair(a);
    std::vector<int> out;
    for (const int t : map.moduleTerminals()) {
        if (!map.terminal(t).role || proofOf(map, a, t).state != ProofState::Stale) continue;
        const bool listed = std::any_of(repeated.begin(), repeated.end(), [&](const Repeated& r) {
            return a.evidence.readings[r.before].terminal == map.terminal(t).id;
        });
        if (!listed) out.push_back(t);
    }
    return out;
}

std::string mendedName(const Map& map, const std::string& typed)
{
    const std::string name = lowered(trimmed(typed));
    if (name.empty()) return "";
    for (const Element& e : map.elements) {
        if (lowered(e.id) == name) return e.id;
    }
    for (const Terminal& t : map.terminals) {
        if (lowered(t.id) == name) return t.id;
    }
    if (name != "module" && name != lowered(map.module)) return "";
    const auto inside = insideModule(map);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        if (inside[i] && map.elements[i].kind == ElementKind::SupplyPort) return map.elements[i].id;
    }
    return "";
}

int mendedElement(const Map& map, const std::string& name)
{
    const int terminal = map.terminalIndex(name);
    return terminal >= 0 ? map.terminal(terminal).contact : map.elementIndex(name);
}

std::string mendedWords(const Map& map, const std::string& name)
{
    const int element = mendedElement(map, name);
    if (element < 0) return name;
    return caseKindOf(map, element) == "module" ? inWords("repeated.the-module") + map.module : partWords(map, element);
}

std::string repeatedPlace(const Map& map, const Reading& reading)
{
    const int node = map.nodeIndex(reading.red);
    if (!reading.terminal.empty() || node < 0) return reading.terminal;
    return map.nodeWords(node);
}

std::string_view repeatedWord(Repeated::State state)
{
    static constexpr std::string_view words[] = {"not read again", "in order", "fails still", "not decided"};
    return words[static_cast<std::size_t>(state)];
}

std::string repeatedWords(const Assessment& a, const Repeated& r)
{
    const Reading& before = a.evidence.readings[r.before];
    if (!r.after) return inWords("repeated.before-read-again-yet", figureOf(before));
    const Reading& after = a.evidence.readings[*r.after];
    std::string out = fmt::format("{}, {} before", figureOf(after), figureOf(before));
    if (r.change) {
        const std::string change = formatQuantity({std::abs(*r.change), after.value.unit});
        out += fmt::format(": {}{}", *r.change < 0 ? "−" : "+", change);
    }
    return out;
}

}  // namespace ilvek
