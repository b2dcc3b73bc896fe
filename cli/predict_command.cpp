#include <fmt/format.h>

#include <nlohmann/json.hpp>
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

// "X4-7=4 Ω", "F16=open" or "A:B=5 Ω".
Result<Fault> faultFrom(const Map& map, const std::string& text)
{
    const auto cut = text.find('=');
    if (cut == std::string::npos) return fail(text, "a fault is written ELEMENT=4 Ω, ELEMENT=open or NODE:NODE=5 Ω");
    const std::string place = text.substr(0, cut), how = text.substr(cut + 1);
    const auto colon = place.find(':');
    Fault fault;
    if (colon != std::string::npos) {
        const auto a = named(map.nodeIndex(place.substr(0, colon)), "node", place.substr(0, colon));
        const auto b = named(map.nodeIndex(place.substr(colon + 1)), "node", place.substr(colon + 1));
        if (!a || !b) return tl::unexpected(a ? b.error() : a.error());
        fault = {Fault::Kind::ShortBetween, -1, *a, *b, 0};
    } else {
        const auto element = named(map.elementIndex(place), "element", place);
        if (!element) return tl::unexpected(element.error());
        fault = {Fault::Kind::AddedResistance, *element, -1, -1, 0};
        if (how == "open") {
            fault.kind = Fault::Kind::Open;
            return fault;
        }
    }
    const auto resistance = parseQuantity(how, Unit::Ohm);
    if (!resistance) return tl::unexpected(resistance.error());
    if (resistance->overLimit || resistance->value < 0) return fail(how, "a resistance of zero or more is expected");
    fault.resistance_ohm = resistance->value;
    return fault;
}

Result<Condition> conditionFrom(const Map& map, const Prediction& wanted, int red, int black)
{
    Condition condition;
    if (!wanted.state.empty()) {
        const auto state = named(map.stateIndex(wanted.state), "state", wanted.state);
        if (!state) return tl::unexpected(state.error());
        condition.state = *state;
    }
    for (const std::string& id : wanted.unplugged) {
        const auto connector = named(map.connectorIndex(id), "connector", id);
        if (!connector) return tl::unexpected(connector.error());
        condition.unplugged.insert(*connector);
    }
    for (const std::string& id : wanted.removed) {
        const auto element = named(map.elementIndex(id), "element", id);
        if (!element) return tl::unexpected(element.error());
        condition.removed.insert(*element);
    }
    for (const std::string& text : wanted.faults) {
        auto fault = faultFrom(map, text);
        if (!fault) return tl::unexpected(fault.error());
        condition.faults.push_back(*fault);
    }
    condition.meter = Meter{red, black, 10e6};
    if (wanted.load.empty()) return condition;
    const auto loads = loadCatalogue(map.systemVoltage_V);
    const SubstituteLoad* load = findLoad(loads, wanted.load);
    if (!load) return fail(wanted.load, "there is no such load in the catalogue");
    const auto from =
        wanted.loadFrom.empty() ? Result<int>(red) : named(map.nodeIndex(wanted.loadFrom), "node", wanted.loadFrom);
    const auto to =
        wanted.loadTo.empty() ? Result<int>(black) : named(map.nodeIndex(wanted.loadTo), "node", wanted.loadTo);
    if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
    condition.load = AppliedLoad{*load, *from, *to};
    return condition;
}

int refuse(const Error& error)
{
    fmt::print(stderr, "{}\n", error.message());
    return BadInput;
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
    const auto red = named(map->nodeIndex(wanted.red), "node", wanted.red);
    const auto black = wanted.black.empty() ? Result<int>(map->batteryMinus())
                                            : named(map->nodeIndex(wanted.black), "node", wanted.black);
    if (!red || !black) return refuse(red ? black.error() : red.error());
    const auto condition = conditionFrom(*map, wanted, *red, *black);
    if (!condition) return refuse(condition.error());
    const auto point = operatingPoint(*map, *condition);
    if (!point) return refuse(point.error());
    // The meter itself conducts, so floating is asked of the circuit without it.
    Condition bare = *condition;
    bare.meter.reset();
    const auto without = operatingPoint(*map, bare);
    const bool floating = without && (without->isFloating(*red) || without->isFloating(*black));
    const double reading = point->voltage(*red, *black);
    if (wanted.json) {
        fmt::print("{}\n", nlohmann::json{{"red", wanted.red},
                                          {"black", map->node(*black)},
                                          {"state", map->state(condition->state).id},
                                          {"voltage_V", reading},
                                          {"load_current_A", point->loadCurrent()},
                                          {"floating", floating},
                                          {"chatters", point->chatters()}}
                               .dump(1));
        return Ok;
    }
    fmt::print("{}", floating ? "floating" : formatQuantity(volts(reading)));
    if (condition->load) fmt::print(", {} in the load", formatQuantity(amperes(point->loadCurrent())));
    fmt::print("{}\n", point->chatters() ? ", a relay chatters" : "");
    return Ok;
}

}  // namespace ilvek::cli
