#include "proving/absent_supply.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// What was last read between two places in a state, with nothing apart, taken out or loaded, V.
std::optional<double> read(const Map& map, const Assessment& a, int red, int black, int state)
{
    for (std::size_t i = a.evidence.readings.size(); i-- > 0;) {
        const Reading& r = a.evidence.readings[i];
        const bool asBuilt = r.load.empty() && r.unplugged.empty() && r.removed.empty() && r.jumpers.empty();
        if (!a.stale[i] && asBuilt && isVoltageTest(r.test) && r.state == map.state(state).id &&
            r.red == map.node(red) && r.black == map.node(black))
            return std::abs(r.value.value);
    }
    return std::nullopt;
}

// A relay that has so much of the system's voltage across its coil, and more than it needs, has to close.
constexpr double drivenShare = 0.7;

bool isDriven(const Map& map, const Element& relay, double across_V)
{
    return across_V >= std::max(relay.value("pick_up"), drivenShare * map.systemVoltage_V);
}

bool isLive(const Map& map, double volts)
{
    return volts >= trade::absentShare * map.systemVoltage_V;
}

// Fuses and relays of the feed, nearest the terminal first.
std::vector<int> partsOf(const Map& map, int terminal)
{
    std::vector<int> parts;
    for (const PathStep& step : supplyPath(map, terminal).value_or(Path{})) {
        const ElementKind kind = map.element(step.element).kind;
        if (kind == ElementKind::Fuse || (kind == ElementKind::Relay && map.element(step.element).reach_s))
            parts.push_back(step.element);
    }
    std::reverse(parts.begin(), parts.end());
    return parts;
}

// The coil of a relay: the end that is fed, the end that is switched, and the terminal of the module that switches it
// to ground; −1 where none does.
struct Coil {
    int fed = -1, switched = -1, terminal = -1;
};

Coil coilOf(const Map& map, const Element& relay)
{
    for (const std::size_t end : {3U, 2U}) {
        for (const int t : map.moduleTerminals()) {
            const Terminal& terminal = map.terminal(t);
            if (terminal.role != Role::LowSideDrive || terminal.a < 0) continue;
            if (conductorPath(map, terminal.a, relay.nodes[end])) return {relay.nodes[5 - end], relay.nodes[end], t};
        }
    }
    return {relay.nodes[2], relay.nodes[3], -1};
}

Step relayStep(const Map& map, const Element& relay, int red, int black, int state, int terminal)
{
    Step step = pointStep(map, red, black, state, {}, terminal);
    step.cautions.push_back(inWords("absent-supply.probe-spreads-sockets-touch", relay.id));
    return step;
}

std::optional<Step> contactStep(const Map& map, const Assessment& a, int terminal, int part, bool far, int state)
{
    const Element& e = map.element(part);
    const int node = e.nodes[far ? 1 : 0];
    if (read(map, a, node, map.batteryMinus(), state)) return std::nullopt;
    if (e.kind == ElementKind::Fuse) return fuseStep(map, terminal, part, far, state);
    Step step = relayStep(map, e, node, map.batteryMinus(), state, terminal);
    step.why = far ? inWords("absent-supply.live-before-contact-dead") : inWords("absent-supply.dead-here-too-fault");
    return step;
}

// The contact is live before and dead behind.
std::optional<Step> coilStep(const Map& map, const Assessment& a, int terminal, const Element& relay, int state)
{
    const Coil coil = coilOf(map, relay);
    const int minus = map.batteryMinus();
    const auto across = read(map, a, relay.nodes[2], relay.nodes[3], state);
    if (!across) {
        Step step = relayStep(map, relay, relay.nodes[2], relay.nodes[3], state, terminal);
        step.title = inWords("absent-supply.coil-of", relay.id);
        step.why = inWords("absent-supply.battery-voltage-across-coil");
        return step;
    }
    if (isDriven(map, relay, *across)) return std::nullopt;
    const auto fed = read(map, a, coil.fed, minus, state);
    if (!fed) {
        Step step = relayStep(map, relay, coil.fed, minus, state, terminal);
        step.why = inWords("absent-supply.dead-here-coil-fed");
        return step;
    }
    if (!isLive(map, *fed) || coil.terminal < 0) return std::nullopt;
    const Terminal& control = map.terminal(coil.terminal);
    if (!read(map, a, control.a, minus, state)) {
        Step step = pointStep(map, control.a, minus, state, {}, terminal);
        step.why = inWords("absent-supply.switched-here-wire-between", relay.id);
        return step;
    }
    if (!read(map, a, coil.switched, minus, state)) {
        Step step = relayStep(map, relay, coil.switched, minus, state, terminal);
        step.why = inWords("absent-supply.against-read-equal-both", control.id);
        return step;
    }
    if (!isLive(map, *read(map, a, coil.switched, minus, state)) ||
        !isLive(map, *read(map, a, control.a, minus, state)))
        return std::nullopt;
    Step step = openStep(map, a.evidence.working, terminal, state);
    step.title += inWords("absent-supply.lead-place", control.id);
    step.why = inWords("absent-supply.fed-does-switch-lead", relay.id, control.id);
    return withStandIn(map, std::move(step), {{map.node(coil.switched), map.node(minus), trade::fusedCoilLead_A}});
}

std::optional<std::string> faultOf(const Map& map, const Assessment& a, const Element& relay, int state)
{
    const int minus = map.batteryMinus();
    const auto across = read(map, a, relay.nodes[2], relay.nodes[3], state);
    const auto before = read(map, a, relay.nodes[0], minus, state), behind = read(map, a, relay.nodes[1], minus, state);
    if (!across || !before || !behind) return std::nullopt;
    const auto figure = [](double v) { return formatQuantity(volts(v)); };
    if (isDriven(map, relay, *across))
        return inWords("absent-supply.across-coil-before-contact", figure(*across), relay.id, figure(*before),
                       figure(*behind));
    const Coil coil = coilOf(map, relay);
    if (coil.terminal < 0) return std::nullopt;
    const Terminal& control = map.terminal(coil.terminal);
    const auto atModule = read(map, a, control.a, minus, state), atRelay = read(map, a, coil.switched, minus, state);
    if (!atModule || !atRelay || isLive(map, *atModule) || !isLive(map, *atRelay)) return std::nullopt;
    return inWords("absent-supply.two-ends-one-conductor", figure(*atModule), control.id, figure(*atRelay),
                   map.nodeWords(coil.switched));
}

// The part that is live before and dead behind; −1 when none was found. Where something is still to be read, `next`.
int partThatStops(const Map& map, const Assessment& a, int terminal, int state, std::optional<Step>* next)
{
    for (const int part : partsOf(map, terminal)) {
        const Element& e = map.element(part);
        for (const bool far : {false, true}) {
            if (auto step = contactStep(map, a, terminal, part, far, state)) {
                if (next) *next = std::move(step);
                return -1;
            }
            const bool live = isLive(map, *read(map, a, e.nodes[far ? 1 : 0], map.batteryMinus(), state));
            if (!far && !live) break;          // the fault lies before it
            if (far) return live ? -1 : part;  // live: the conductor behind it, where no load can flow
        }
    }
    return -1;
}

}  // namespace

std::optional<Step> absentSupplyStep(const Map& map, const Assessment& assessment, int terminal, int state)
{
    std::optional<Step> next;
    const int part = partThatStops(map, assessment, terminal, state, &next);
    if (part >= 0 && map.element(part).kind == ElementKind::Relay)
        return coilStep(map, assessment, terminal, map.element(part), state);
    return next;
}

Step withStandIn(const Map& map, Step step, const std::vector<FusedLead>& leads)
{
    step.jumpers = leads;
    for (const FusedLead& lead : leads)
        step.instructions.front() +=
            inWords("absent-supply.lead-fuse", formatQuantity(amperes(lead.fuse_A)),
                    map.nodeWords(map.nodeIndex(lead.from)), map.nodeWords(map.nodeIndex(lead.to)));
    step.cautions.push_back(inWords("absent-supply.switched-end-coil-only"));
    step.expectation = expectedWords(map, step);
    return step;
}

std::optional<std::string> relayFault(const Map& map, const Assessment& assessment, int terminal, int state)
{
    const int part = partThatStops(map, assessment, terminal, state, nullptr);
    if (part < 0 || map.element(part).kind != ElementKind::Relay) return std::nullopt;
    return faultOf(map, assessment, map.element(part), state);
}

}  // namespace ilvek
