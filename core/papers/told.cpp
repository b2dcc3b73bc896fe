#include "papers/told.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "base/text.h"
#include "bench_map/pin_sheet.h"
#include "papers/common_cause.h"
#include "wording/words.h"

namespace ilvek {

namespace {

bool isNamed(const Function& f, const std::string& words)
{
    const std::string wanted = lowered(trimmed(words));
    return lowered(f.id) == wanted || lowered(f.name) == wanted;
}

bool holds(const std::vector<std::string>& list, const Function& f)
{
    return std::any_of(list.begin(), list.end(), [&](const std::string& words) { return isNamed(f, words); });
}

bool isKnown(const Map& map, const std::string& words)
{
    return std::any_of(map.functions.begin(), map.functions.end(),
                       [&](const Function& f) { return isNamed(f, words); });
}

bool isKnownCode(const Map& map, const std::string& code)
{
    return std::any_of(map.codes.begin(), map.codes.end(),
                       [&](const CodeCondition& c) { return isSameCode(c.code, code); });
}

}  // namespace

std::string_view doesWord(Does does)
{
    static constexpr std::array<std::string_view, 5> words{"not tried", "fails", "is weak", "comes and goes", "works"};
    return words[static_cast<std::size_t>(does)];
}

std::vector<Does> toldOf(const Map& map, const Complaint& c)
{
    std::vector<Does> out;
    for (const Function& f : map.functions)
        out.push_back(holds(c.fails, f)          ? Does::Fails
                      : holds(c.weak, f)         ? Does::Weak
                      : holds(c.comesAndGoes, f) ? Does::ComesAndGoes
                      : holds(c.stillWorks, f)   ? Does::Works
                                                 : Does::NotTried);
    return out;
}

Complaint withTold(const Map& map, Complaint c, int function, Does does)
{
    const Function& f = map.functions[static_cast<std::size_t>(function)];
    for (auto* list : {&c.fails, &c.weak, &c.comesAndGoes, &c.stillWorks})
        std::erase_if(*list, [&](const std::string& words) { return isNamed(f, words); });
    switch (does) {
        case Does::Fails:
            c.fails.push_back(f.name);
            break;
        case Does::Weak:
            c.weak.push_back(f.name);
            break;
        case Does::ComesAndGoes:
            c.comesAndGoes.push_back(f.name);
            break;
        case Does::Works:
            c.stillWorks.push_back(f.name);
            break;
        case Does::NotTried:
            break;
    }
    return c;
}

std::vector<std::string> storedCodes(const Job& job)
{
    std::vector<std::string> out;
    for (const Code& code : job.codes)
        out.push_back(code.code);
    return out;
}

OnPaper onPaper(const Job& job)
{
    OnPaper out;
    const auto told = toldOf(job.map, job.complaint);
    for (std::size_t i = 0; i < told.size(); ++i) {
        if (told[i] == Does::Works)
            out.works.push_back(static_cast<int>(i));
        else if (told[i] != Does::NotTried)
            out.fails.push_back(static_cast<int>(i));
    }
    for (std::size_t c = 0; c < job.map.codes.size(); ++c) {
        const bool stored = std::any_of(job.codes.begin(), job.codes.end(),
                                        [&](const Code& code) { return isSameCode(code.code, job.map.codes[c].code); });
        if (stored) out.fails.push_back(static_cast<int>(job.map.functions.size() + c));
    }
    return out;
}

Reports paperReports(const Job& job)
{
    std::vector<std::string> failing = job.complaint.fails;
    for (const auto* list : {&job.complaint.weak, &job.complaint.comesAndGoes})
        failing.insert(failing.end(), list->begin(), list->end());
    return reportsOf(job.map, failing, job.complaint.stillWorks, storedCodes(job));
}

Reports weighedReports(const Map& map, const Complaint& c, const std::vector<std::string>& codes)
{
    Reports out = reportsOf(map, c.fails, c.stillWorks, codes);
    out.weak = reportsOf(map, c.weak, {}, {}).dead;
    return out;
}

std::vector<std::string> notWeighed(const Job& job)
{
    const Complaint& c = job.complaint;
    std::vector<std::string> out;
    for (const auto* list : {&c.fails, &c.weak, &c.comesAndGoes, &c.stillWorks}) {
        for (const std::string& words : *list) {
            if (!isKnown(job.map, words)) out.push_back(inWords("told.function-map-say-needs", words));
        }
    }
    for (const Function& f : job.map.functions) {
        if (holds(c.comesAndGoes, f)) out.push_back(inWords("told.comes-goes-counts-once", f.name));
    }
    if (!c.when.empty()) out.push_back(inWords("told.when-kept-watch-weighed", c.when));
    for (const std::string& words : job.notWeighed)
        out.push_back(inWords("told.done-before-names-nothing", words));
    for (const Code& code : job.codes) {
        const auto kept = std::find_if(job.map.keptCodes.begin(), job.map.keptCodes.end(),
                                       [&](const KeptCode& k) { return isSameCode(k.code, code.code); });
        if (kept != job.map.keptCodes.end())
            out.push_back(inWords("told.code-circuit-shows-kept", code.code, kept->setBy));
        else if (!isKnownCode(job.map, code.code))
            out.push_back(inWords("told.code-nobody-said-sets", code.code));
    }
    return out;
}

Result<std::string> functionRow(const Map& map, const std::string& name, const std::vector<std::string>& terminals)
{
    if (trimmed(name).empty()) return fail("a function", "has no name");
    if (isKnown(map, name)) return fail(name, "is a function of this map already");
    if (terminals.empty()) return fail(name, "needs at least one terminal: say which");
    PinRow row;
    row.loose = "function", row.circuit = std::string(trimmed(name)), row.whole = true;
    for (const std::string& t : terminals) {
        if (map.terminalIndex(t) < 0) return fail(t, "is no terminal of this map");
    }
    row.otherEnd = fmt::format("{}", fmt::join(terminals, ", "));
    return writePinRow(row);
}

Result<std::string> codeRow(const Map& map, const std::string& code, const std::string& terminal,
                            const std::string& sets, const std::string& text)
{
    if (trimmed(code).empty()) return fail("a code", "has no number");
    if (map.terminalIndex(terminal) < 0) return fail(terminal, "is no terminal of this map");
    if (sets != "low" && sets != "high" && sets != "no activity" && sets != "implausible")
        return fail(sets, "is not “low”, “high”, “no activity” or “implausible”");
    PinRow row;
    row.loose = "code", row.circuit = std::string(trimmed(code)), row.whole = true;
    row.otherEnd = terminal + " " + sets, row.source = text;
    return writePinRow(row);
}

}  // namespace ilvek
