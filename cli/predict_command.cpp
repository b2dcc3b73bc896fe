#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <optional>
#include <utility>

#include "circuit/operating_point.h"
#include "commands.h"
#include "machine/map_reader.h"

namespace ilvek::cli {

namespace {

Result<int> named(int index, const std::string& what, const std::string& name)
{
    if (index < 0) return fail(name, "there is no such " + what + " on this map");
    return index;
}

// "A:B" as two nodes.
Result<std::pair<int, int>> nodesFrom(const Map& map, const std::string& text)
{
    const auto colon = text.find(':');
    if (colon == std::string::npos) return fail(text, "two nodes are written NODE:NODE");
    const std::string first = text.substr(0, colon), second = text.substr(colon + 1);
    const auto a = named(map.nodeIndex(first), "node", first), b = named(map.nodeIndex(second), "node", second);
    if (!a || !b) return tl::unexpected(a ? b.error() : a.error());
    return std::pair{*a, *b};
}

// What stands before and after the equals sign; `after` is empty without one.
std::pair<std::string, std::string> cutAtEquals(const std::string& text)
{
    const auto cut = text.find('=');
    if (cut == std::string::npos) return {text, ""};
    return {text.substr(0, cut), text.substr(cut + 1)};
}

// "X4-7=4 Ω", "F16=open", "K1=closed", "P-drive=dead", "CTS=120 %" or "A:B=5 Ω".
Result<Fault> faultFrom(const Map& map, const std::string& text)
{
    const auto [place, how] = cutAtEquals(text);
    if (how.empty()) return fail(text, "a fault is written ELEMENT=4 Ω, ELEMENT=open or NODE:NODE=5 Ω");
    Fault fault;
    if (place.find(':') != std::string::npos) {
        const auto nodes = nodesFrom(map, place);
        if (!nodes) return tl::unexpected(nodes.error());
        fault = {Fault::Kind::ShortBetween, -1, nodes->first, nodes->second, 0};
    } else {
        const auto element = named(map.elementIndex(place), "element", place);
        if (!element) return tl::unexpected(element.error());
        fault = {Fault::Kind::AddedResistance, *element, -1, -1, 0};
        static const std::pair<const char*, Fault::Kind> words[] = {
            {"open", Fault::Kind::Open}, {"closed", Fault::Kind::StuckClosed}, {"dead", Fault::Kind::Dead}};
        for (const auto& [word, kind] : words) {
            if (how != word) continue;
            fault.kind = kind;
            return fault;
        }
        if (how.find('%') != std::string::npos) {
            const auto share = parseQuantity(how, Unit::Percent);
            if (!share) return tl::unexpected(share.error());
            if (share->value <= 0) return fail(how, "a share above zero is expected");
            fault.kind = Fault::Kind::OutOfValue;
            fault.factor = share->value / 100;
            return fault;
        }
    }
    const auto resistance = parseQuantity(how, Unit::Ohm);
    if (!resistance) return tl::unexpected(resistance.error());
    if (resistance->overLimit || resistance->value < 0) return fail(how, "a resistance of zero or more is expected");
    fault.resistance_ohm = resistance->value;
    return fault;
}

Result<std::pair<int, double>> commandFrom(const Map& map, const std::string& text)
{
    const auto [place, how] = cutAtEquals(text);
    const auto element = named(map.elementIndex(place), "element", place);
    if (!element) return tl::unexpected(element.error());
    const ElementKind kind = map.element(*element).kind;
    if (kind != ElementKind::Switch && kind != ElementKind::LowSideDriver && kind != ElementKind::HighSideDriver &&
        kind != ElementKind::Alternator)
        return fail(place, "only switches, drivers and alternators are told to be on or off");
    if (how == "on" || how == "off") return std::pair{*element, how == "on" ? 1.0 : 0.0};
    const auto share = parseQuantity(how, Unit::Percent);
    if (!share) return fail(text, "a command is written ELEMENT=on, ELEMENT=off or ELEMENT=40 %");
    if (share->value < 0 || share->value > 100) return fail(how, "a share of 0 to 100 % is expected");
    return std::pair{*element, share->value / 100};
}

Result<Jumper> jumperFrom(const Map& map, const std::string& text)
{
    const auto [place, rating] = cutAtEquals(text);
    const auto nodes = nodesFrom(map, place);
    if (!nodes) return tl::unexpected(nodes.error());
    Jumper jumper{nodes->first, nodes->second};
    if (rating.empty()) return jumper;
    const auto amperes = parseQuantity(rating, Unit::Ampere);
    if (!amperes) return tl::unexpected(amperes.error());
    jumper.rating_A = amperes->value;
    return jumper;
}

// Each text through `one`; what it gives goes to `take`.
template <typename One, typename Take>
std::optional<Error> all(const std::vector<std::string>& texts, const One& one, const Take& take)
{
    for (const std::string& text : texts) {
        const auto result = one(text);
        if (!result) return result.error();
        take(*result);
    }
    return std::nullopt;
}

Result<Condition> conditionFrom(const Map& map, const Prediction& wanted)
{
    Condition c;
    const auto connector = [&](const std::string& id) { return named(map.connectorIndex(id), "connector", id); };
    const auto terminal = [&](const std::string& id) { return named(map.terminalIndex(id), "terminal", id); };
    const auto element = [&](const std::string& id) { return named(map.elementIndex(id), "element", id); };
    if (!wanted.state.empty()) {
        const auto state = named(map.stateIndex(wanted.state), "state", wanted.state);
        if (!state) return tl::unexpected(state.error());
        c.state = *state;
    }
    std::optional<Error> error = all(wanted.unplugged, connector, [&](int i) { c.unplugged.insert(i); });
    if (!error) error = all(wanted.unpinned, terminal, [&](int i) { c.unpinned.insert(i); });
    if (!error) error = all(wanted.removed, element, [&](int i) { c.removed.insert(i); });
    if (!error) error = all(wanted.shutDown, element, [&](int i) { c.latchedOff.insert(i); });
    const auto command = [&](const std::string& text) { return commandFrom(map, text); };
    if (!error) error = all(wanted.commands, command, [&](const auto& told) { c.commands.insert(told); });
    const auto jumper = [&](const std::string& text) { return jumperFrom(map, text); };
    if (!error) error = all(wanted.jumpers, jumper, [&](const Jumper& j) { c.jumpers.push_back(j); });
    const auto fault = [&](const std::string& text) { return faultFrom(map, text); };
    if (!error) error = all(wanted.faults, fault, [&](const Fault& f) { c.faults.push_back(f); });
    if (error) return tl::unexpected(*error);
    if (!wanted.battery.empty()) {
        const auto emf = parseQuantity(wanted.battery, Unit::Volt);
        if (!emf) return tl::unexpected(emf.error());
        c.batteryEmf_V = emf->value;
    }
    return c;
}

Result<AppliedLoad> loadFrom(const Map& map, const Prediction& wanted, int red, int black)
{
    const auto load = findLoad(map.systemVoltage_V, wanted.load);
    if (!load) return fail(wanted.load, "there is no such load in the catalogue");
    const auto from =
        wanted.loadFrom.empty() ? Result<int>(red) : named(map.nodeIndex(wanted.loadFrom), "node", wanted.loadFrom);
    const auto to =
        wanted.loadTo.empty() ? Result<int>(black) : named(map.nodeIndex(wanted.loadTo), "node", wanted.loadTo);
    if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
    return AppliedLoad{*load, *from, *to};
}

std::vector<std::string> idsOf(const Map& map, const std::vector<int>& elements)
{
    std::vector<std::string> ids;
    for (const int e : elements)
        ids.push_back(map.element(e).id);
    return ids;
}

// What happens beside the reading.
std::string remarks(const Map& map, const OperatingPoint& point, bool loaded)
{
    std::string out;
    if (loaded) out += fmt::format(", {} in the load", formatQuantity(amperes(point.loadCurrent())));
    if (!point.blownFuses().empty()) out += fmt::format(", {} blows", fmt::join(idsOf(map, point.blownFuses()), ", "));
    if (point.jumperBlew()) out += ", the jumper's fuse blows";
    if (!point.shutDown().empty())
        out += fmt::format(", {} shuts itself down", fmt::join(idsOf(map, point.shutDown()), ", "));
    return out + (point.chatters() ? ", a relay chatters" : "");
}

nlohmann::json asJson(const Map& map, const Condition& condition, const OperatingPoint& point)
{
    return {{"state", map.state(condition.state).id},
            {"load_current_A", point.loadCurrent()},
            {"blown", idsOf(map, point.blownFuses())},
            {"shut_down", idsOf(map, point.shutDown())},
            {"chatters", point.chatters()}};
}

int refuse(const Error& error)
{
    fmt::print(stderr, "{}\n", error.message());
    return BadInput;
}

int predictCurrent(const Map& map, Condition& condition, const Prediction& wanted)
{
    if (wanted.conductors.empty()) return refuse({"--clamp", "at least one element in the jaws is expected"});
    std::vector<OperatingPoint::InJaws> jaws;
    for (const std::string& text : wanted.conductors) {
        const auto [id, how] = cutAtEquals(text);
        if (!how.empty() && how != "backwards") return refuse({text, "written ELEMENT or ELEMENT=backwards"});
        const auto element = named(map.elementIndex(id), "element", id);
        if (!element) return refuse(element.error());
        jaws.push_back({*element, !how.empty()});
    }
    if (!wanted.load.empty()) {
        auto load = loadFrom(map, wanted, map.nodeIndex(wanted.red), map.nodeIndex(wanted.black));
        if (!load) return refuse(load.error());
        condition.load = *load;
    }
    const auto point = operatingPoint(map, condition);
    if (!point) return refuse(point.error());
    const double current = point->currentThrough(jaws);
    if (wanted.json) {
        auto answer = asJson(map, condition, *point);
        answer.update({{"clamp", wanted.conductors}, {"current_A", current}});
        fmt::print("{}\n", answer.dump(1));
    } else {
        fmt::print("{}{}\n", formatQuantity(amperes(current)), remarks(map, *point, condition.load.has_value()));
    }
    return Ok;
}

int predictDisplay(const Map& map, Condition& condition, const Prediction& wanted)
{
    const auto red = named(map.nodeIndex(wanted.red), "node", wanted.red);
    const auto black = wanted.black.empty() ? Result<int>(map.batteryMinus())
                                            : named(map.nodeIndex(wanted.black), "node", wanted.black);
    if (!red || !black) return refuse(red ? black.error() : red.error());
    const bool ohmic = wanted.mode == "ohms";
    condition.meter = Meter{*red, *black, 10e6,
                            ohmic                    ? Meter::Mode::Ohms
                            : wanted.mode == "diode" ? Meter::Mode::Diode
                                                     : Meter::Mode::Volts};
    if (!wanted.load.empty()) {
        auto load = loadFrom(map, wanted, *red, *black);
        if (!load) return refuse(load.error());
        condition.load = *load;
    }
    const auto display = displayOf(map, condition);
    if (!display) return refuse(display.error());
    if (wanted.json) {
        auto answer = asJson(map, condition, display->point);
        answer.update({{"red", wanted.red},
                       {"black", map.node(*black)},
                       {"mode", wanted.mode},
                       {"floating", display->floating},
                       {"live", display->live},
                       {"over_limit", display->overLimit}});
        answer[ohmic ? "resistance_ohm" : "voltage_V"] = display->value;
        fmt::print("{}\n", answer.dump(1));
        return Ok;
    }
    const std::string figure = display->floating ? "floating"
                               : display->overLimit
                                   ? "OL"
                                   : formatQuantity(ohmic ? ohms(display->value) : volts(display->value));
    fmt::print("{}{}{}\n", figure, display->live ? ", but the circuit is live: the figure means nothing" : "",
               remarks(map, display->point, condition.load.has_value()));
    return Ok;
}

}  // namespace

int predict(const Prediction& wanted)
{
    const auto map = readMapFile(wanted.map);
    if (!map) {
        for (const Error& problem : map.error())
            fmt::print(stderr, "{}\n", problem.message());
        return BadInput;
    }
    auto condition = conditionFrom(*map, wanted);
    if (!condition) return refuse(condition.error());
    return wanted.mode == "amperes" ? predictCurrent(*map, *condition, wanted)
                                    : predictDisplay(*map, *condition, wanted);
}

}  // namespace ilvek::cli
