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
    return healthy->overLimit ? "A sound circuit reads over limit."
                              : fmt::format("A sound circuit reads {}.", formatQuantity(ohms(healthy->value)));
}

}  // namespace

std::string expectedWords(const Map& map, const Step& step)
{
    if (unitAsked(step.test) == Unit::Ohm) return expectedOhms(map, step);
    const auto healthy = isVoltageTest(step.test) ? healthyVolts(map, step) : std::nullopt;
    return healthy ? fmt::format("A sound circuit reads {}.", formatQuantity(volts(*healthy))) : "";
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
    return own >= 0 ? coloured(map, own) + ", its own return" : "battery minus";
}

// What the circuit carries in service, and whether anybody stated it.
std::string ownWords(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    return fmt::format("{} {}", map.isCurrentStated(t) ? "its own" : "an assumed",
                       formatQuantity(amperes(t.current_A.value_or(0))));
}

std::string apartWords(const Map& map, const Step& step)
{
    const std::string state = map.state(map.stateIndex(step.state)).name;
    if (step.unplugged.empty()) return state + ", all connectors mated, probe from the wire side";
    return fmt::format("{}, connector {} apart", state, listed(step.unplugged));
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
        step.cautions.push_back(
            "A drive that protected itself stays off until the key is cycled: key off, on again, and read at once.");
    if (!step.load.empty())
        step.cautions.push_back("Fused leads only; the load goes to the harness side, never into the module.");
    if (!step.unplugged.empty()) {
        step.cautions.push_back(
            "Key off before parting the connector; a probe pushed into a female terminal spreads it.");
    } else if (step.test != TestKind::Battery && step.test != TestKind::FuseCheck) {
        step.cautions.push_back("Back-probe beside the seal; insulation that was pierced is sealed again.");
    }
}

std::string sourcesOf(const Map& map, int terminal, Measure measure, bool loaded, int state)
{
    std::vector<std::string> ids;
    for (const Expected& e : map.terminal(terminal).expected) {
        if (e.measure == measure && e.loaded == loaded && e.state == state) ids.push_back(map.sourceId(e.source));
    }
    return ids.empty() ? "no source in the map" : listed(ids);
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
    if (const SubstituteLoad* wanted = findLoad(loads, working.load)) {
        const auto warnings = loadWarnings(map, *wanted, step.terminal);
        if (std::none_of(warnings.begin(), warnings.end(), [](const LoadWarning& w) { return w.forbids; }))
            load = wanted;
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
    const auto loads = loadCatalogue(map.systemVoltage_V);
    const SubstituteLoad* load = findLoad(loads, step.load);
    const auto place = [&](const std::string& node) {
        const std::string words = map.nodeWords(map.nodeIndex(node));
        return words.substr(0, words.find(','));
    };
    return load ? fmt::format("{} from {} to {}", load->name, place(step.loadFrom), place(step.loadTo)) : "";
}

// The module is the load; what it draws through this very conductor is read beside the voltage.
std::string moduleLoadWords(const Map& map, const Step& step)
{
    const std::string& id = map.terminal(step.terminal).id;
    return fmt::format("; the module is the load: clamp on the conductor of {}, and type both, as 12.34 @ 1.2 A", id);
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
        if (map.terminal(other).a == node) return coloured(map, other) + ", wire side";
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
    step.title = "Read the battery";
    step.instructions = {map.state(map.stateIndex(state)).name + ", leads as they will be used, extensions included",
                         "Red lead on battery plus, on the post itself",
                         "Black lead on battery minus, on the post itself"};
    step.why =
        "Every feed is compared with the battery of the same minute; and a right figure here proves the leads and the "
        "meter.";
    for (const Expected& e : map.batteryExpected) {
        if (map.state(e.state).id != state) continue;
        if (e.low && e.high)
            step.expectation = fmt::format("{} to {} ({}).", formatQuantity(volts(*e.low)),
                                           formatQuantity(volts(*e.high)), map.sourceId(e.source));
        else if (e.low)
            step.expectation = fmt::format("At least {} ({}).", formatQuantity(volts(*e.low)), map.sourceId(e.source));
    }
    step.effort_s = map.element(map.battery).reach_s.value_or(20);
    step.cautions = {"No metal tool across the posts; no flame or spark near a charging battery."};
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
    step.instructions = {apartWords(map, step), "Red lead on " + coloured(map, terminal) + ", wire side",
                         "Black lead on battery minus"};
    if (const auto high = highOf(map, terminal, Measure::BelowBattery, false, state))
        step.expectation =
            fmt::format("At most {} below battery ({}). {}", formatQuantity(volts(*high)),
                        sourcesOf(map, terminal, Measure::BelowBattery, false, state), expectedWords(map, step));
    step.why =
        "Open-circuit first: the other half of the load test, and it finds what is fully open. A right figure proves "
        "little.";
    addCautions(map, step);
    return step;
}

Step absentStep(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = begin(map, TestKind::AbsentSupply, terminal, "Is");
    step.title += " dead when it must be?";
    WayOfWorking mated = working;
    mated.mated = true;  // the module may itself hold a relay closed: read with everything as built
    setApart(map, mated, state, step);
    step.red = map.node(map.terminal(terminal).a);
    step.black = map.node(map.batteryMinus());
    step.instructions = {apartWords(map, step), "Red lead on " + coloured(map, terminal) + ", wire side",
                         "Black lead on battery minus"};
    if (const auto high = highOf(map, terminal, Measure::Level, false, state))
        step.expectation =
            fmt::format("At most {} ({}). {}", formatQuantity(volts(*high)),
                        sourcesOf(map, terminal, Measure::Level, false, state), expectedWords(map, step));
    step.why =
        "A supply that stays on means a relay that sticks or a feed from another source; the module then never resets.";
    step.effort_s += map.state(state).effort_s;
    addCautions(map, step);
    return step;
}

Step loadStep(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = begin(map, TestKind::LoadedSupply, terminal, "Load");
    setApart(map, working, state, step);
    step.red = map.node(map.terminal(terminal).a);
    step.black = black(map, terminal);
    if (working.mated)
        step.instructions = {apartWords(map, step) + moduleLoadWords(map, step),
                             "Red lead on " + coloured(map, terminal) + ", wire side",
                             "Black lead on " + blackWords(map, terminal)};
    else {
        setLoad(map, working, step.red, step.black, step);
        step.instructions = {apartWords(map, step) + "; " + loadWords(map, step),
                             "Red lead on " + coloured(map, terminal) + ", wire side",
                             "Black lead on " + blackWords(map, terminal)};
    }
    if (const auto high = highOf(map, terminal, Measure::BelowBattery, true, state))
        step.expectation =
            fmt::format("At most {} lost at {} ({}). {}", formatQuantity(volts(*high)), ownWords(map, terminal),
                        sourcesOf(map, terminal, Measure::BelowBattery, true, state), expectedWords(map, step));
    step.why =
        "Only current proves a conductor. With the open-circuit figure this gives the resistance of feed and return "
        "together.";
    addCautions(map, step);
    return step;
}

Step swapStep(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = loadStep(map, working, terminal, state);
    step.test = TestKind::GroundSwap;
    step.title = "Swap the ground on " + map.terminal(terminal).id;
    step.black = map.node(map.batteryMinus());
    step.instructions = {apartWords(map, step) + "; " + loadWords(map, step) + ", as before",
                         "Red lead stays on " + coloured(map, terminal), "Black lead moves to battery minus"};
    step.expectation = expectedWords(map, step);
    step.why = "If the figure recovers, the return is bad; if it stays low, the feed is.";
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
    step.instructions = {apartWords(map, step) + "; " + loadWords(map, step) + ", as before", "Red lead to " + place,
                         "Black lead stays on battery minus"};
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
        if (e.kind == ElementKind::Relay && isHere)
            step.cautions.push_back(
                "Touch the relay socket from the side: pull-out sockets must not be spread by a probe.");
    }
    step.expectation = expectedWords(map, step);
    step.why = isReturn
                   ? "Voltage that still stands here is lost behind this point; next to none puts the fault before "
                     "it. Each reading cuts the conductor."
                   : "Full voltage here puts the fault behind this point; low already puts it before. Each reading "
                     "cuts the conductor.";
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
    step.title = fmt::format("Fuse {}, {} side", e.id, farSide ? "far" : "source");
    step.instructions = {
        map.state(state).name + ", fuse in place, circuit switched on",
        fmt::format("Red lead on the {} test point of {} ({})", farSide ? "far" : "source-side", e.id, e.place),
        "Black lead on battery minus"};
    step.expectation = expectedWords(map, step);
    step.why = "Both test points, powered: an eye alone is no proof. Voltage before and none behind is a blown fuse.";
    step.effort_s = e.reach_s.value_or(60);
    step.cautions = {
        "A blown fuse is a symptom: the short is found before power is restored. Never a larger fuse, never foil."};
    addCautions(map, step);
    return step;
}

Step returnStep(const Map& map, const WayOfWorking& working, int terminal, int state)
{
    Step step = begin(map, TestKind::ReturnDrop, terminal, "Load the return");
    setApart(map, working, state, step);
    step.red = map.node(map.terminal(terminal).a);
    step.black = map.node(map.batteryMinus());
    // Mated, the module's other returns carry for this one: then only a clamp tells what this one does.
    if (!working.mated) setLoad(map, working, map.node(map.batteryPlus()), step.red, step);
    step.instructions = {working.mated ? apartWords(map, step) + moduleLoadWords(map, step)
                                       : apartWords(map, step) + "; " + loadWords(map, step) + " through a fused lead",
                         "Red lead on " + coloured(map, terminal) + ", wire side",
                         "Black lead on battery minus, on the post"};
    if (const auto high = highOf(map, terminal, Measure::Drop, true, state))
        step.expectation =
            fmt::format("At most {} at {} ({}). {}", formatQuantity(volts(*high)), ownWords(map, terminal),
                        sourcesOf(map, terminal, Measure::Drop, true, state), expectedWords(map, step));
    step.why =
        "Returns first: a bad ground looks like a bad feed everywhere else. A beep or an ohm figure proves nothing "
        "about current.";
    addCautions(map, step);
    return step;
}

Step tableStep(const Map& map, int terminal, const Requirement& requirement)
{
    Step step =
        begin(map, requirement.test, terminal, requirement.test == TestKind::Resistance ? "Resistance at" : "Read");
    const Terminal& t = map.terminal(terminal);
    step.state = map.state(requirement.state).id;
    step.red = map.node(t.a);
    step.black = black(map, terminal);
    if (t.role == Role::ReferenceReturn && t.ownReturn < 0) step.black = map.node(map.batteryMinus());
    if (requirement.apart) step.unplugged = {connectorId(map, terminal)};
    const int far = requirement.test == TestKind::Resistance ? farEndOf(map, terminal) : -1;
    if (requirement.test == TestKind::Resistance) setAcross(map, terminal, far, step);
    const bool own = t.ownReturn >= 0;
    step.instructions = {apartWords(map, step), "Red lead on " + coloured(map, terminal) + ", wire side",
                         "Black lead on " + (own ? blackWords(map, terminal) : std::string("battery minus"))};
    if (requirement.test == TestKind::Resistance) {
        if (far >= 0) step.instructions[2] = "Black lead on " + placeWords(map, far) + ", the other end of its circuit";
        step.cautions.push_back("Ohms on a dead circuit only: key off, and no other source connected.");
    }
    std::vector<std::string> bounds;
    for (const Expected& e : t.expected) {
        const bool fits = e.state == requirement.state &&
                          ((e.measure == Measure::Resistance) == (requirement.test == TestKind::Resistance));
        if (!fits || (requirement.test == TestKind::Reference && !e.loaded)) continue;
        if (requirement.test == TestKind::Level && e.loaded == requirement.apart) continue;
        const auto figure = [&](double v) { return formatQuantity({v, unitOf(e.measure)}); };
        const std::string below = e.measure == Measure::BelowBattery ? " below battery" : "";
        if (e.low && e.high)
            bounds.push_back(
                fmt::format("{} to {}{} ({})", figure(*e.low), figure(*e.high), below, map.sourceId(e.source)));
        else
            bounds.push_back(fmt::format("{} {}{} ({})", e.low ? "at least" : "at most",
                                         figure(e.low ? *e.low : *e.high), below, map.sourceId(e.source)));
    }
    if (requirement.need == Requirement::Need::Limits) {
        step.expectation = listed(bounds) + ". " + expectedWords(map, step);
    } else if (requirement.need == Requirement::Need::Read) {
        step.expectation = "Nobody stated a figure: this is one of two levels, the other comes next.";
    } else {
        step.expectation = t.moves.size() > 1
                               ? "Nobody stated a figure: it must differ from its other level."
                               : "Nobody stated a figure: it must move. Change what it measures meanwhile and type the "
                                 "lowest and highest figure, as 1.2..3.4, or “moves”.";
    }
    step.why = requirement.test == TestKind::Reference
                   ? "A reference dragged down by one consumer makes every sensor on it read wrong; the module's feeds "
                     "come first."
                   : "The level at the terminal is the last thing outside the module.";
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
    const std::string place = map.nodeWords(red);
    step.title = "Read " + place.substr(0, place.find(','));
    if (!step.unplugged.empty()) step.title += fmt::format(" with {} apart", listed(step.unplugged));
    const auto where = [&](int node) {
        std::string words = map.nodeWords(node);
        for (const Terminal& t : map.terminals) {
            if ((t.a == node || t.b == node) && !t.colour.base.empty()) words += fmt::format(" ({})", t.colour.words());
        }
        return words;
    };
    step.instructions = {apartWords(map, step), "Red lead on " + where(red), "Black lead on " + where(black)};
    step.expectation = expectedWords(map, step);
    step.why = "One more potential of the circuit; what it means is computed from the map.";
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
        step.instructions.insert(step.instructions.begin() + 1, map.element(element).id + " taken out");
    }
    step.test = TestKind::PartResistance;
    step.title = "Resistance at " + map.nodeWords(red);
    step.expectation = expectedWords(map, step);
    step.why = "A figure in ohms says nothing about current, but it finds parts out of value and shorts.";
    step.cautions.push_back(
        "Ohms on a dead circuit only: key off, and no other source connected. Zero the leads first.");
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
    step.title = "Look at " + t.id;
    step.instructions = {"Key off, connector " + c.id + " apart; mated again afterwards",
                         "Wire side: " + findingWords(map, terminal, Seen::WireSide),
                         "Mating side: metal clean, tight, pushed home? Pull gently"};
    step.expectation = "1 as drawn · 2 damaged · 3 another wire · 4 empty";
    step.why =
        "Corrosion, a terminal that was pushed back and a wire that is not the drawn one are seen, not measured.";
    step.cautions = {"Key off before parting it; push nothing into a female terminal."};
    step.effort_s = c.reach_s + c.unplug_s;
    return step;
}

}  // namespace ilvek
