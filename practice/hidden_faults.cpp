#include "practice/hidden_faults.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "circuit/blown_fuses.h"
#include "circuit/operating_point.h"
#include "suspects/severity.h"

namespace ilvek::practice {

namespace {

// A hidden fault that no test of the map can see is none to look for: some reading must differ by this many volts.
constexpr double visible_V = 0.25;

// The wire that ends at a terminal's wire side, and which end of it.
std::pair<int, std::size_t> wireAt(const Map& map, int node)
{
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind != ElementKind::Wire) continue;
        for (std::size_t end = 0; end < 2; ++end) {
            if (e.nodes[end] == node) return {static_cast<int>(i), end};
        }
    }
    return {-1, 0};
}

}  // namespace

HiddenFaults::HiddenFaults(const Reasoner& reasoner, std::uint32_t seed)
    : reasoner_(reasoner), first_(firstCases(reasoner.suspects())), random_(seed)
{
    for (const Suspect& s : reasoner.suspects())
        weights_.push_back(isFault(s) ? s.prior : 0);
}

bool HiddenFaults::isVisible(int suspect, double severity) const
{
    const auto i = static_cast<std::size_t>(suspect);
    const auto last = static_cast<int>(reasoner_.suspects()[i].severities.size()) - 1;
    const int low = static_cast<int>(severity);
    const auto seen = [&](int at) {
        for (const auto& block : reasoner_.table().all()) {
            for (const Column& c : block->columns) {
                // A resistance means nothing where the circuit is live, and NaN is further from nothing.
                const float v = c.value[static_cast<std::size_t>(at)];
                if (c.probe.element < 0 && std::abs(v - c.value[0]) > visible_V) return true;
            }
        }
        return false;
    };
    return seen(first_[i] + low) && seen(first_[i] + std::min(low + 1, last));
}

Hidden HiddenFaults::any()
{
    std::discrete_distribution<int> which(weights_.begin(), weights_.end());
    for (;;) {
        const int suspect = which(random_);
        const Suspect& s = reasoner_.suspects()[static_cast<std::size_t>(suspect)];
        std::uniform_real_distribution<double> where(0, static_cast<double>(s.severities.size()) - 1);
        const double at = where(random_);
        if (!isVisible(suspect, at)) continue;
        const auto low = static_cast<std::size_t>(at);
        return {{suspect},
                withBlownFuses(reasoner_.map(), faultsBetween(s, low, s.graded ? at - static_cast<double>(low) : 0.0)),
                {},
                s.insideModule,
                mayGrow(s) ? s.severities.back() : std::vector<Fault>{}};
    }
}

Hidden HiddenFaults::single(bool told)
{
    Hidden h = any();
    // Nobody complains of a fault that stops nothing and sets no code.
    while (told) {
        h.reports = reportOf(reasoner_.map(), h.faults);
        if (!h.reports.dead.empty() || !h.reports.codes.empty()) break;
        h = any();
    }
    return h;
}

Hidden HiddenFaults::pair(bool told)
{
    for (;;) {
        Hidden a = any();
        const Hidden b = any();
        if (a.suspects == b.suspects) continue;
        a.suspects.push_back(b.suspects.front());
        a.faults = withBlownFuses(reasoner_.map(), bothFaults(a.faults, b.faults));
        a.insideModule = a.insideModule || b.insideModule;
        if (!told) return a;
        a.reports = reportOf(reasoner_.map(), a.faults);
        if (!a.reports.dead.empty() || !a.reports.codes.empty()) return a;
    }
}

Reports reportOf(const Map& map, const std::vector<Fault>& faults, const Map* machine)
{
    Reports all, reports;
    for (const Function& f : map.functions)
        all.dead.push_back(f.id);
    for (const CodeCondition& c : map.codes)
        all.codes.push_back(c.code);
    const auto holds = [&](const Observation& o) {
        Condition condition = o.setup;
        condition.faults = faults;
        const auto point = operatingPoint(machine ? *machine : map, condition);
        return point && std::all_of(o.needs.begin(), o.needs.end(), [&](const Observation::Need& need) {
                   const double v = need.probe.element >= 0 ? point->currentThrough(need.probe.element)
                                                            : point->voltage(need.probe.red, need.probe.black);
                   return v >= need.low && v <= need.high;
               });
    };
    const auto seen = observationsOf(map, {}, all);
    std::size_t at = 0;
    for (const Function& f : map.functions) {
        if (map.has(f)) (holds(seen[at++]) ? reports.works : reports.dead).push_back(f.id);
    }
    for (const CodeCondition& c : map.codes) {
        if (holds(seen[at++])) reports.codes.push_back(c.code);
    }
    return reports;
}

namespace {

OtherWiring wiredOtherwise(const Map& map, std::uint32_t number, std::mt19937& random)
{
    std::vector<int> wired;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.a >= 0 && terminal.asFound != AsFound::Empty && wireAt(map, terminal.a).first >= 0)
            wired.push_back(t);
    }
    std::uniform_int_distribution<std::size_t> pick(0, wired.size() - 2);
    OtherWiring out{map, {}, {}};
    out.machine.document += fmt::format("\nwired otherwise, {}", number);  // solutions are kept by the document
    const std::size_t at = pick(random);
    const Terminal& here = map.terminal(wired[at]);
    const auto [wire, end] = wireAt(map, here.a);
    Element& moved = out.machine.elements[static_cast<std::size_t>(wire)];
    if (number % 3 == 2) {
        // The cavity is empty on this variant: its wire was never built in.
        out.machine.terminals[static_cast<std::size_t>(wired[at])].asFound = AsFound::Empty;
        moved.nodes[end] = moved.nodes[1 - end];  // with its far end still there, as a stub
        out.terminals = {here.id};
        out.wires = {wire};
    } else if (number % 3 == 1) {
        const Terminal& there = map.terminal(wired[at + 1]);
        const auto [other, otherEnd] = wireAt(map, there.a);
        moved.nodes[end] = there.a;
        out.machine.elements[static_cast<std::size_t>(other)].nodes[otherEnd] = here.a;
        out.terminals = {here.id, there.id};
        out.wires = {wire, other};
    } else {
        const Terminal& elsewhere = map.terminal(wired[(at + 1 + pick(random)) % wired.size()]);
        moved.nodes[1 - end] = elsewhere.a;
        out.terminals = {here.id, elsewhere.id};
        out.wires = {wire};
    }
    return out;
}

// Wires of one feed may change places without anybody ever reading it.
bool isSeen(const Map& map, const Map& machine)
{
    for (int state = 0; state < static_cast<int>(map.states.size()); ++state) {
        Condition condition;
        condition.state = state;
        const auto drawn = operatingPoint(map, condition), there = operatingPoint(machine, condition);
        if (!drawn || !there) return true;
        for (const int terminal : map.moduleTerminals()) {
            const int node = map.terminal(terminal).a;
            if (node >= 0 && std::abs(drawn->potential(node) - there->potential(node)) > visible_V) return true;
        }
    }
    return false;
}

}  // namespace

OtherWiring otherWiring(const Map& map, std::uint32_t number)
{
    std::mt19937 random(number);
    for (;;) {
        OtherWiring out = wiredOtherwise(map, number, random);
        if (isSeen(map, out.machine)) return out;
        // Drawn anew, and another machine to the kept solutions.
        number += 3000;
    }
}

}  // namespace ilvek::practice
