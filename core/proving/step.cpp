#include "proving/step.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

#include "base/expects.h"
#include "base/text.h"
#include "circuit/operating_point.h"
#include "machine/connector_face.h"
#include "machine/paths.h"
#include "proving/walk.h"
#include "wording/words.h"

namespace ilvek {

// The figure a sound circuit gives, computed from the map.
namespace {

std::string expectedOhms(const Map& map, const Step& step)
{
    auto condition = conditionOf(map, step, step.test);
    if (!condition) return "";
    condition->meter = Meter{map.nodeIndex(step.red), map.nodeIndex(step.black), 10e6, Meter::Mode::Ohms};
    const auto healthy = displayOf(map, *condition);
    if (!healthy || healthy->live) return "";
    return healthy->overLimit ? inWords("step.sound-circuit-reads-over")
                              : inWords("step.sound-circuit-reads", formatQuantity(ohms(healthy->value)));
}

}  // namespace

std::string expectedWords(const Map& map, const Step& step)
{
    if (unitAsked(step.test) == Unit::Ohm) return expectedOhms(map, step);
    const auto healthy = isVoltageTest(step.test) ? healthyVolts(map, step) : std::nullopt;
    return healthy ? inWords("step.sound-circuit-reads", formatQuantity(volts(*healthy))) : "";
}

namespace {

const std::string& connectorId(const Map& map, int terminal)
{
    return map.connectors[static_cast<std::size_t>(map.terminal(terminal).connector)].id;
}

std::string coloured(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    const std::string words = t.colour.words();
    return words.empty() ? t.id : fmt::format("{} ({})", t.id, words);
}

// With the connector apart a supply may lose what feeds it, as a relay its control (T16); then it is read mated.
bool survivesUnplugging(const Map& map, int terminal, int state)
{
    Condition condition;
    condition.state = state;
    condition.unplugged.insert(map.terminal(terminal).connector);
    const auto point = operatingPoint(map, condition);
    const double battery = point ? point->potential(map.batteryPlus()) : 0;
    return point && point->potential(map.terminal(terminal).a) > 0.5 * battery;
}

void setApart(const Map& map, const WayOfWorking& working, int state, Step& step)
{
    step.state = map.state(state).id;
    const Terminal& t = map.terminal(step.terminal);
    const bool isReturn = t.role && groupOf(*t.role) == Group::Returns;
    if (working.mated || (!isReturn && !survivesUnplugging(map, step.terminal, state))) return;
    step.unplugged = {connectorId(map, step.terminal)};
    for (const int other : map.moduleTerminals()) {
        const Terminal& o = map.terminal(other);
        if (o.connector == t.connector && other != step.terminal && o.a >= 0)
            step.alsoUnplugged.push_back(o.id + " " + o.circuit);
    }
}

std::string black(const Map& map, int terminal)
{
    const int own = map.terminal(terminal).ownReturn;
    return map.node(own >= 0 ? map.terminal(own).a : map.batteryMinus());
}

std::string blackWords(const Map& map, int terminal)
{
    const int own = map.terminal(terminal).ownReturn;
    return own >= 0 ? coloured(map, own) + inWords("step.own-return") : inWords("step.battery-minus");
}

// What the circuit carries in service, and whether anybody stated it.
std::string ownWords(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    return fmt::format("{} {}", map.isCurrentStated(t) ? inWords("step.its-own") : inWords("step.an-assumed"),
                       formatQuantity(amperes(t.current_A.value_or(0))));
}

std::string apartWords(const Map& map, const Step& step)
{
    const std::string state = map.state(map.stateIndex(step.state)).name;
    if (step.unplugged.empty()) return state + inWords("step.all-connectors-mated-probe");
    return inWords("step.connector-apart", state, listed(step.unplugged));
}

void addCautions(const Map& map, Step& step)
{
    const OperatingState& state = map.state(map.stateIndex(step.state));
    if (!state.caution.empty()) step.cautions.push_back(state.caution);
    // W16: what protected itself stays off and would be read as dead.
    const int at = map.stateIndex(step.state);
    const bool protects = std::any_of(map.elements.begin(), map.elements.end(),
                                      [&](const Element& e) { return e.value("shut_down", 0.0) > 0 && e.isIn(at); });
    if (protects && step.test != TestKind::Battery)
        step.cautions.push_back(inWords("step.drive-protected-itself-stays"));
    if (!step.load.empty()) step.cautions.push_back(inWords("step.fused-leads-only-load"));
    if (!step.unplugged.empty()) {
        step.cautions.push_back(inWords("step.key-off-before-parting"));
    } else if (step.test != TestKind::Battery && step.test != TestKind::FuseCheck) {
        step.cautions.push_back(inWords("step.back-probe-beside-seal"));
    }
}

std::string sourcesOf(const Map& map, int terminal, Measure measure, bool loaded, int state)
{
    std::vector<std::string> ids;
    for (const Expected& e : map.terminal(terminal).expected) {
        if (e.measure == measure && e.loaded == loaded && e.state == state) ids.push_back(map.sourceId(e.source));
    }
    return ids.empty() ? inWords("step.source-map") : listed(ids);
}

std::optional<double> highOf(const Map& map, int terminal, Measure measure, bool loaded, int state)
{
    std::optional<double> high;
    for (const Expected& e : map.terminal(terminal).expected) {
        if (e.measure == measure && e.loaded == loaded && e.state == state && e.high)
            high = std::min(high.value_or(*e.high), *e.high);
    }
    return high;
}

void setLoad(const Map& map, const WayOfWorking& working, const std::string& from, const std::string& to, Step& step)
{
    const auto loads = loadCatalogue(map.systemVoltage_V);
    const SubstituteLoad* load = recommendedLoad(map, loads, step.terminal);
    const auto wanted = findLoad(map.systemVoltage_V, working.load);
    if (wanted) {
        const auto warnings = loadWarnings(map, *wanted, step.terminal);
        if (std::none_of(warnings.begin(), warnings.end(), [](const LoadWarning& w) { return w.forbids; }))
            load = &*wanted;
    }
    if (!load) return;
    for (const LoadWarning& warning : loadWarnings(map, *load, step.terminal))
        step.cautions.push_back(warning.words);
    step.load = load->id;
    step.loadFrom = from;
    step.loadTo = to;
    step.effort_s += load->effort_s;
}

std::string loadWords(const Map& map, const Step& step)
{
    const auto load = findLoad(map.systemVoltage_V, step.load);
    const auto place = [&](const std::string& node) {
        const std::string words = map.nodeWords(map.nodeIndex(node));
        return words.substr(0, words.find(','));
    };
    return load ? inWords("step.from-to", load->name, place(step.loadFrom), place(step.loadTo)) : "";
}

// The module is the load; what it draws through this very conductor is read beside the voltage.
std::string moduleLoadWords(const Map& map, const Step& step)
{
    const std::string& id = map.terminal(step.terminal).id;
    return inWords("step.module-load-clamp-conductor", id);
}

Step begin(const Map& map, TestKind test, int terminal, const std::string& verb)
{
    Step step;
    step.test = test;
    step.terminal = terminal;
    step.title = verb + " " + map.terminal(terminal).id;
    step.effort_s = map.connectors[static_cast<std::size_t>(map.terminal(terminal).connector)].reach_s;
    return step;
}

// A terminal with its colours, or a place of the map.
std::string placeWords(const Map& map, int node)
{
    for (const int other : map.moduleTerminals()) {
        if (map.terminal(other).a == node) return coloured(map, other) + inWords("step.wire-side");
    }
    return map.nodeWords(node);
}

// An ohmmeter over what hangs on the terminal, with the module's connectors apart that both leads end at. A bus is
// asleep and whole: the module may hold one of its terminations (W23).
void setAcross(const Map& map, int terminal, int far, Step& step)
{
    if (far >= 0) step.black = map.node(far);
    if (map.terminal(terminal).role == Role::DifferentialBus) return;
    step.unplugged = {connectorId(map, terminal)};
    for (const int other : map.moduleTerminals()) {
        if (map.terminal(other).a != far) continue;
        const std::string id = connectorId(map, other);
        if (id != step.unplugged.front()) step.unplugged.push_back(id);
    }
}

}  // namespace

Reading readingOf(const Step& step, const Map& map, const Quantity& value, const Instrument& instrument,
                  std::int64_t time_ms)
{
    Reading r;
    static_cast<SetUp&>(r) = step;
    r.time_ms = time_ms;
    r.test = step.test;
    r.terminal = step.terminal >= 0 ? map.terminal(step.terminal).id : "";
    r.instrument = instrument;
    r.value = value;
    return r;
}

Step batteryStep(const Map& map, const std::string& state)
{
    Step step;
    step.test = TestKind::Battery;
    step.state = state;
    step.red = map.node(map.batteryPlus());
    step.black = map.node(map.batteryMinus());
    step.title = inWords("step.read-battery");
    step.instructions = {map.state(map.stateIndex(state)).name + inWords("step.leads-they-will-used"),
                         inWords("step.red-lead-battery-plus"), inWords("step.black-lead-battery-minus")};
    step.why = inWords("step.every-feed-compared-battery");
    for (const Expected& e : map.batteryExpected) {
        if (map.state(e.state).id != state) continue;
        if (e.low && e.high)
            step.expectation = fmt::format("{} to {} ({}).", formatQuantity(volts(*e.low)),
                                           formatQuantity(volts(*e.high)), map.sourceId(e.source));
        else if (e.low)
            step.expectation = inWords("step.at-least", formatQuantity(volts(*e.low)), map.sourceId(e.source));
    }
    step.effort_s = map.element(map.battery).reach_s.value_or(20);
    step.cautions = {inWords("step.metal-tool-across-posts")};
    addCautions(map, step);
    return step;
}

Step openStep(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = begin(map, TestKind::OpenSupply, terminal, "Read");
    step.title += " open-circuit";
    setApart(map, working, state, step);
    step.red = map.node(map.terminal(terminal).a);
    step.black = map.node(map.batteryMinus());
    step.instructions = {apartWords(map, step),
                         inWords("step.red-lead") + coloured(map, terminal) + inWords("step.wire-side"),
                         inWords("step.black-lead-battery-minus-2")};
    if (const auto high = highOf(map, terminal, Measure::BelowBattery, false, state))
        step.expectation =
            inWords("step.most-below-battery", formatQuantity(volts(*high)),
                    sourcesOf(map, terminal, Measure::BelowBattery, false, state), expectedWords(map, step));
    step.why = inWords("step.open-circuit-first-other");
    addCautions(map, step);
    return step;
}

Step absentStep(const Map& map, const WayOfWorking& working, int terminal, int state, bool loaded)
{
    Step step = begin(map, TestKind::AbsentSupply, terminal, "Is");
    step.title += inWords("step.dead-when-must");
    WayOfWorking mated = working;
    mated.mated = true;  // the module may itself hold a relay closed: read with everything as built
    setApart(map, mated, state, step);
    step.red = map.node(map.terminal(terminal).a);
    step.black = map.node(map.batteryMinus());
    if (loaded) setLoad(map, working, step.red, step.black, step);
    step.instructions = {apartWords(map, step) + (loaded ? "; " + loadWords(map, step) : ""),
                         inWords("step.red-lead") + coloured(map, terminal) + inWords("step.wire-side"),
                         inWords("step.black-lead-battery-minus-2")};
    if (const auto high = highOf(map, terminal, Measure::Level, false, state))
        step.expectation = inWords("step.at-most", formatQuantity(volts(*high)),
                                   sourcesOf(map, terminal, Measure::Level, false, state), expectedWords(map, step));
    step.why = inWords(loaded ? "step.lamp-tells-whether-fed" : "step.supply-stays-means-relay");
    step.effort_s += map.state(state).effort_s;
    addCautions(map, step);
    return step;
}

Step loadSetUp(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = begin(map, TestKind::LoadedSupply, terminal, "Load");
    setApart(map, working, state, step);
    step.red = map.node(map.terminal(terminal).a);
    step.black = black(map, terminal);
    if (!working.mated) setLoad(map, working, step.red, step.black, step);
    return step;
}

Step loadStep(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = loadSetUp(map, working, terminal, state);
    if (working.mated)
        step.instructions = {apartWords(map, step) + moduleLoadWords(map, step),
                             inWords("step.red-lead") + coloured(map, terminal) + inWords("step.wire-side"),
                             inWords("step.black-lead") + blackWords(map, terminal)};
    else
        step.instructions = {apartWords(map, step) + "; " + loadWords(map, step),
                             inWords("step.red-lead") + coloured(map, terminal) + inWords("step.wire-side"),
                             inWords("step.black-lead") + blackWords(map, terminal)};
    if (const auto high = highOf(map, terminal, Measure::BelowBattery, true, state))
        step.expectation =
            inWords("step.most-lost", formatQuantity(volts(*high)), ownWords(map, terminal),
                    sourcesOf(map, terminal, Measure::BelowBattery, true, state), expectedWords(map, step));
    step.why = inWords("step.only-current-proves-conductor");
    addCautions(map, step);
    return step;
}

Step swapStep(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = loadStep(map, working, terminal, state);
    step.test = TestKind::GroundSwap;
    step.title = inWords("step.swap-ground") + map.terminal(terminal).id;
    step.black = map.node(map.batteryMinus());
    step.instructions = {apartWords(map, step) + "; " + loadWords(map, step) + inWords("step.as-before"),
                         inWords("step.red-lead-stays") + coloured(map, terminal),
                         inWords("step.black-lead-moves-battery")};
    step.expectation = expectedWords(map, step);
    step.why = inWords("step.if-figure-recovers-return");
    step.effort_s = 60;
    return step;
}

Step walkStep(const Map& map, const WayOfWorking& working, int terminal, int state, int node)
{
    EXPECTS(map.terminal(terminal).role);
    const bool isReturn = groupOf(*map.terminal(terminal).role) == Group::Returns;
    Step step = isReturn ? returnStep(map, working, terminal, state) : loadStep(map, working, terminal, state);
    step.test = TestKind::SegmentWalk;
    step.red = map.node(node);
    step.black = map.node(map.batteryMinus());
    const std::string place = map.nodeWords(node);
    step.title = "Walk: " + place;
    step.instructions = {apartWords(map, step) + "; " + loadWords(map, step) + inWords("step.as-before"),
                         inWords("step.red-lead-2") + place, inWords("step.black-lead-stays-battery")};
    for (const Terminal& t : map.terminals) {
        if (t.a != node && t.b != node) continue;
        const Connector& connector = map.connectors[static_cast<std::size_t>(t.connector)];
        if (!connector.place.empty()) step.instructions[1] += fmt::format(", {}", connector.place);
        if (!t.colour.base.empty()) step.instructions[1] += fmt::format(" ({})", t.colour.words());
        step.effort_s = connector.reach_s;
    }
    for (const Element& e : map.elements) {
        const bool isHere = std::find(e.nodes.begin(), e.nodes.end(), node) != e.nodes.end();
        if (e.kind == ElementKind::Fuse && isHere) step.effort_s = e.reach_s.value_or(60);
        if (e.kind == ElementKind::Relay && isHere) step.cautions.push_back(inWords("step.touch-relay-socket-side"));
    }
    step.expectation = expectedWords(map, step);
    step.why = isReturn ? inWords("step.voltage-still-stands-here") : inWords("step.full-voltage-here-puts");
    return step;
}

Step fuseStep(const Map& map, int terminal, int fuse, bool farSide, int state)
{
    Step step;
    const Element& e = map.element(fuse);
    step.test = TestKind::FuseCheck;
    step.terminal = terminal;
    step.state = map.state(state).id;
    step.red = map.node(e.nodes[farSide ? 1 : 0]);
    step.black = map.node(map.batteryMinus());
    step.title = inWords("step.fuse-side", e.id, farSide ? "far" : "source");
    step.instructions = {map.state(state).name + inWords("step.fuse-place-circuit-switched"),
                         inWords("step.red-lead-test-point", farSide ? "far" : "source-side", e.id, e.place),
                         inWords("step.black-lead-battery-minus-2")};
    step.expectation = expectedWords(map, step);
    step.why = inWords("step.both-test-points-powered");
    step.effort_s = e.reach_s.value_or(60);
    step.cautions = {inWords("step.blown-fuse-symptom-short")};
    addCautions(map, step);
    return step;
}

Step returnSetUp(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = begin(map, TestKind::ReturnDrop, terminal, inWords("step.load-return"));
    setApart(map, working, state, step);
    step.red = map.node(map.terminal(terminal).a);
    step.black = map.node(map.batteryMinus());
    // Mated, the module's other returns carry for this one: then only a clamp tells what this one does.
    if (!working.mated) setLoad(map, working, map.node(map.batteryPlus()), step.red, step);
    return step;
}

Step returnStep(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = returnSetUp(map, working, terminal, state);
    step.instructions = {working.mated
                             ? apartWords(map, step) + moduleLoadWords(map, step)
                             : apartWords(map, step) + "; " + loadWords(map, step) + inWords("step.through-fused-lead"),
                         inWords("step.red-lead") + coloured(map, terminal) + inWords("step.wire-side"),
                         inWords("step.black-lead-battery-minus-3")};
    if (const auto high = highOf(map, terminal, Measure::Drop, true, state))
        step.expectation = inWords("step.at-most-at", formatQuantity(volts(*high)), ownWords(map, terminal),
                                   sourcesOf(map, terminal, Measure::Drop, true, state), expectedWords(map, step));
    step.why = inWords("step.returns-first-bad-ground");
    addCautions(map, step);
    return step;
}

Step tableStep(const Map& map, int terminal, const Requirement& requirement)
{
    const Terminal& t = map.terminal(terminal);
    // A meter on DC shows the mean of a pick-up's volts, which is nothing.
    const bool alternates = t.role == Role::ReluctanceInput && requirement.need == Requirement::Need::Moves;
    Step step = begin(map, alternates ? TestKind::Alternating : requirement.test, terminal,
                      alternates                                 ? inWords("step.alternating-volts-at")
                      : requirement.test == TestKind::Resistance ? inWords("step.resistance-at")
                                                                 : "Read");
    step.state = map.state(requirement.state).id;
    step.red = map.node(t.a);
    step.black = black(map, terminal);
    if (t.role == Role::ReferenceReturn && t.ownReturn < 0) step.black = map.node(map.batteryMinus());
    if (requirement.apart) step.unplugged = {connectorId(map, terminal)};
    const int far = requirement.test == TestKind::Resistance ? farEndOf(map, terminal) : -1;
    if (requirement.test == TestKind::Resistance) setAcross(map, terminal, far, step);
    const bool own = t.ownReturn >= 0;
    step.instructions = {
        apartWords(map, step), inWords("step.red-lead") + coloured(map, terminal) + inWords("step.wire-side"),
        inWords("step.black-lead") + (own ? blackWords(map, terminal) : std::string(inWords("step.battery-minus")))};
    if (requirement.test == TestKind::Resistance) {
        if (far >= 0)
            step.instructions[2] =
                inWords("step.black-lead") + placeWords(map, far) + inWords("step.other-end-circuit");
        step.cautions.push_back(inWords("step.ohms-dead-circuit-only"));
    }
    std::vector<std::string> bounds;
    for (const Expected& e : t.expected) {
        const bool fits = e.state == requirement.state &&
                          ((e.measure == Measure::Resistance) == (requirement.test == TestKind::Resistance));
        if (!fits || (requirement.test == TestKind::Reference && !e.loaded)) continue;
        if (requirement.test == TestKind::Level && e.loaded == requirement.apart) continue;
        const auto figure = [&](double v) { return formatQuantity({v, unitOf(e.measure)}); };
        const std::string below = e.measure == Measure::BelowBattery ? inWords("step.below-battery") : "";
        if (e.low && e.high)
            bounds.push_back(
                fmt::format("{} to {}{} ({})", figure(*e.low), figure(*e.high), below, map.sourceId(e.source)));
        else
            bounds.push_back(fmt::format("{} {}{} ({})", e.low ? inWords("step.at-least-2") : inWords("step.at-most-2"),
                                         figure(e.low ? *e.low : *e.high), below, map.sourceId(e.source)));
    }
    if (requirement.need == Requirement::Need::Limits) {
        step.expectation = listed(bounds) + ". " + expectedWords(map, step);
    } else if (requirement.need == Requirement::Need::Read) {
        step.expectation = inWords("step.nobody-stated-figure-one");
    } else if (alternates) {
        step.expectation = inWords("step.pick-up-alternates");
    } else {
        step.expectation = t.moves.size() > 1 ? inWords("step.nobody-stated-figure-must")
                                              : inWords("step.nobody-stated-figure-must-2");
    }
    step.why = requirement.test == TestKind::Reference ? inWords("step.reference-dragged-down-one")
                                                       : inWords("step.level-terminal-last-thing");
    addCautions(map, step);
    return step;
}

Step pointStep(const Map& map, int red, int black, int state, const std::vector<int>& unplugged, int terminal)
{
    Step step;
    step.test = TestKind::Point;
    step.terminal = terminal;
    step.state = map.state(state).id;
    step.red = map.node(red);
    step.black = map.node(black);
    for (const int connector : unplugged) {
        const Connector& c = map.connectors[static_cast<std::size_t>(connector)];
        step.unplugged.push_back(c.id);
        for (const int other : c.terminals) {
            if (other >= 0 && other != terminal && map.terminal(other).a >= 0)
                step.alsoUnplugged.push_back(map.terminal(other).id + " " + map.terminal(other).circuit);
        }
    }
    // Of a terminal of the module the wire side is meant; a fuse, a plug or a ground point has two.
    const std::string place = map.nodeWords(red);
    const bool ofTerminal = std::ranges::any_of(map.terminals, [&](const Terminal& t) { return t.a == red; });
    step.title = "Read " + (ofTerminal ? place.substr(0, place.find(", wire side")) : place);
    if (!step.unplugged.empty()) step.title += inWords("step.with-apart", listed(step.unplugged));
    const auto where = [&](int node) {
        std::string words = map.nodeWords(node);
        for (const Terminal& t : map.terminals) {
            if ((t.a == node || t.b == node) && !t.colour.base.empty()) words += fmt::format(" ({})", t.colour.words());
        }
        return words;
    };
    step.instructions = {apartWords(map, step), inWords("step.red-lead") + where(red),
                         inWords("step.black-lead") + where(black)};
    step.expectation = expectedWords(map, step);
    step.why = inWords("step.one-more-potential-circuit");
    step.effort_s = pointAt(map, red, false).reach_s;
    addCautions(map, step);
    return step;
}

Step resistanceStep(const Map& map, int red, int black, int state, const std::vector<int>& unplugged, int terminal,
                    const std::vector<int>& removed)
{
    Step step = pointStep(map, red, black, state, unplugged, terminal);
    for (const int element : removed) {
        step.removed.push_back(map.element(element).id);
        const Element& part = map.element(element);
        // What hangs at a terminal of a sheet has no id that anybody knows.
        const bool isUnnamed = part.id.starts_with("load ") && !part.name.empty();
        step.instructions.insert(step.instructions.begin() + 1,
                                 (isUnnamed ? part.name : part.id) + inWords("step.taken-out"));
    }
    step.test = TestKind::PartResistance;
    step.title = inWords("step.resistance-at-2") + map.nodeWords(red);
    step.expectation = expectedWords(map, step);
    step.why = inWords("step.figure-ohms-says-nothing");
    step.cautions.push_back(inWords("step.ohms-dead-circuit-only-2"));
    return step;
}

Step lookStep(const Map& map, int terminal, int state)
{
    const Terminal& t = map.terminal(terminal);
    const Connector& c = map.connectors[static_cast<std::size_t>(t.connector)];
    Step step;
    step.test = TestKind::Look;
    step.terminal = terminal;
    step.state = map.state(state).id;
    step.red = map.node(t.a);
    step.title = inWords("step.look-at") + t.id;
    step.instructions = {inWords("step.key-off-connector") + c.id + inWords("step.apart-mated-again-afterwards"),
                         inWords("step.wire-side-2") + findingWords(map, terminal, Seen::WireSide),
                         inWords("step.mating-side-metal-clean")};
    step.expectation = inWords("step.drawn-damaged-another-wire");
    step.why = inWords("step.corrosion-terminal-pushed-back");
    step.cautions = {inWords("step.key-off-before-parting-2")};
    step.effort_s = c.reach_s + c.unplug_s;
    return step;
}

}  // namespace ilvek
