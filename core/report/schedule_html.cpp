// The test schedule of a module (W4): every terminal with what it must read in each state, to be taken to the machine.
#include <fmt/format.h>

#include "bench_map/sheet_map.h"
#include "machine/connector_face.h"
#include "machine/paths.h"
#include "machine/schedule_gaps.h"
#include "proving/proof.h"
#include "report/html_parts.h"
#include "report/report.h"

namespace ilvek {

namespace {

std::string figure(double value, Unit unit)
{
    return formatQuantity({value, unit});
}

// "0 V to 0.3 V below the battery", "at least 70 %".
std::string limits(const Expected& x)
{
    const Unit unit = unitOf(x.measure);
    std::string out;
    if (x.low && x.high)
        out = figure(*x.low, unit) + " to " + figure(*x.high, unit);
    else if (x.high)
        out = "at most " + figure(*x.high, unit);
    else if (x.low)
        out = "at least " + figure(*x.low, unit);
    if (x.measure == Measure::BelowBattery && x.high) out = "at most " + figure(*x.high, unit) + " below the battery";
    if (x.measure == Measure::Drop && x.high) out = "at most " + figure(*x.high, unit) + " lost";
    return out;
}

std::string expected(const Map& map, const Terminal& t)
{
    std::string out;
    for (const Expected& x : t.expected) {
        const std::string words = limits(x);
        if (words.empty()) continue;
        const Source& source = map.sources[static_cast<std::size_t>(x.source)];
        out += fmt::format("{}{}, {}: {}<span class=\"dim\"> ({})</span>", out.empty() ? "" : "<br>",
                           e(map.state(x.state).name), x.loaded ? "loaded" : "open", words,
                           source.kind == "customary" ? "customary" : e(source.title));
    }
    if (!t.moves.empty()) {
        std::string states;
        for (const int s : t.moves)
            states += (states.empty() ? "" : ", ") + map.state(s).name;
        out += (out.empty() ? "" : "<br>") + std::string("moves between: ") + e(states);
    }
    return out.empty() ? "nothing stated" : out;
}

// Fuses, relays, splices and connectors on its way.
std::string way(const Map& map, int terminal)
{
    std::vector<std::string> out;
    const auto& role = map.terminal(terminal).role;
    const auto path = role && isSupply(*role)         ? supplyPath(map, terminal)
                      : role && *role == Role::Return ? returnPath(map, terminal)
                                                      : shownCircuit(map, terminal);
    for (const PathStep& step : path.value_or(Path{})) {
        const Element& x = map.element(step.element);
        const bool named = x.kind == ElementKind::Fuse || x.kind == ElementKind::Relay || x.kind == ElementKind::Joint;
        if (!named || x.place == "inside the module") continue;
        std::string word = x.id;
        if (x.kind == ElementKind::Fuse) word += " " + figure(x.value("rating"), Unit::Ampere);
        if (out.empty() || out.back() != word) out.push_back(std::move(word));
    }
    return fmt::format("{}", fmt::join(out, ", "));
}

std::string row(const Map& map, const Assessment& a, int index)
{
    const Terminal& t = map.terminal(index);
    const std::string caution =
        t.hazard.empty() ? "" : "<br><span class=\"caution\">Not to be probed: " + e(t.hazard) + "</span>";
    const ProofState state = proofOf(map, a, index).state;
    return fmt::format(
        "<tr><td><b>{}</b><br>{}</td><td>{}{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td "
        "width=\"90\">&nbsp;</td></tr>\n",
        e(t.id), e(t.circuit), t.role ? e(roleName(*t.role)) : "", caution,
        e(findingWords(map, index, ilvek::Seen::WireSide)), e(way(map, index)), expected(map, t), e(proofWords(state)));
}

}  // namespace

std::string scheduleHtml(const Map& map, const Assessment& a)
{
    std::string out = fmt::format(
        "<!DOCTYPE html>\n<html lang=\"en\"><head><meta "
        "charset=\"utf-8\"><title>Schedule</title><style>{}</style></head>"
        "<body>\n<h1>Test schedule, {}</h1>\n<p class=\"dim\">{}, every terminal as seen from the wire side</p>\n",
        pageStyle(), e(map.module), e(knownWords(machineNamedIn(map.document))));
    out += list("Gaps of the map:", scheduleGaps(map));
    out +=
        "<table cellpadding=\"3\" cellspacing=\"0\"><tr><th>Terminal</th><th>Role</th><th>Where</th><th>Way</th>"
        "<th>Must read</th><th>So far</th><th>Read</th></tr>\n";
    for (const int t : provingOrder(map, {}))
        out += row(map, a, t);
    return out + "</table>\n</body></html>\n";
}

}  // namespace ilvek
