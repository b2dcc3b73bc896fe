#include "bench_map/sheet_document.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "base/text.h"
#include "bench_map/pin_sheet.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

bool isIn(const Json& list, const std::string& id)
{
    return std::any_of(list.begin(), list.end(), [&](const Json& x) { return x.value("id", "") == id; });
}

// Time to get a hand on what can be pulled or unplugged. SOURCE: a rough custom of the trade, docs/formats.md.
const char* reachOf(const SheetElement& element)
{
    const auto isInside = [](const auto& value) {
        return value.first == "place" && value.second == "inside the module";
    };
    if (std::any_of(element.values.begin(), element.values.end(), isInside)) return nullptr;
    if (element.kind == "fuse" || element.kind == "relay") return "60 s";
    for (const char* part : {"lamp", "motor", "winding", "resistor", "thermistor", "sensor", "switch", "supply port"}) {
        if (element.kind == part && element.id != "KEY" && element.id != "key switch") return "150 s";
    }
    return nullptr;
}

}  // namespace

std::string assumedFigure(double value, Unit unit)
{
    if (value == 0) return exactQuantity({value, unit});
    const double step = std::pow(10.0, std::floor(std::log10(std::abs(value))) - 3);
    return exactQuantity(
        {step < 1 ? std::round(value / step) / std::round(1 / step) : std::round(value / step) * step, unit});
}

SheetDocument::SheetDocument(Json document) : json_(std::make_unique<Json>(std::move(document)))
{
    const Json& machine = (*json_)["machine"];
    volts_ = parseQuantity(machine.value("system_voltage", "12 V"), Unit::Volt).value_or(ilvek::volts(12)).value;
    module_ = json_->value("module", "module");
    battery_ = machine.value("battery", "battery");
    for (const Json& e : (*json_)["elements"])
        elementIds_.insert(e.value("id", ""));
}

SheetDocument::~SheetDocument() = default;

std::string SheetDocument::text() const
{
    return json_->dump(1) + "\n";
}

bool SheetDocument::hasState(const std::string& id) const
{
    return isIn((*json_)["states"], id);
}

std::vector<std::string> SheetDocument::states() const
{
    std::vector<std::string> ids;
    for (const Json& s : (*json_)["states"])
        ids.push_back(s.value("id", ""));
    return ids;
}

std::string SheetDocument::stateName(const std::string& id) const
{
    for (const Json& s : (*json_)["states"]) {
        if (s.value("id", "") == id) return lowered(s.value("name", ""));
    }
    return "";
}

std::string SheetDocument::stateOr(const std::string& wanted) const
{
    return hasState(wanted) ? wanted : (*json_)["states"].front().value("id", "");
}

void SheetDocument::addSource(const std::string& id, const std::string& title, const std::string& kind)
{
    Json& sources = (*json_)["sources"];
    if (!isIn(sources, id)) sources.push_back({{"id", id}, {"title", title}, {"kind", kind}});
}

bool SheetDocument::hasElement(const std::string& id) const
{
    return elementIds_.contains(id);
}

bool SheetDocument::hasNode(const std::string& name) const
{
    const Json& all = (*json_)["elements"];
    return std::any_of(all.begin(), all.end(), [&](const Json& e) {
        return std::find(e["nodes"].begin(), e["nodes"].end(), name) != e["nodes"].end();
    });
}

void SheetDocument::add(const SheetElement& element)
{
    if (!elementIds_.insert(element.id).second) return;
    Json e{{"id", element.id}, {"kind", element.kind}, {"nodes", element.nodes}};
    if (!element.stated) e["assumed"] = true;
    if (element.isFeedAssumed) e["feed_assumed"] = true;
    for (const auto& [figure, known] : element.known)
        e["known"][figure] = nameOf(known);
    for (const auto& [key, value] : element.values)
        e[key] = value;
    if (const char* reach = reachOf(element); reach && !e.contains("reach")) e["reach"] = reach;
    if (element.hasStates) e["in"] = element.in;
    (*json_)["elements"].push_back(std::move(e));
}

void SheetDocument::addWithin(SheetElement element)
{
    element.values.emplace_back("place", "inside the module");
    add(element);
}

void SheetDocument::addState(const std::string& id, const std::string& name, const std::string& how,
                             const std::string& caution, const std::string& effort)
{
    if (hasState(id)) return;
    for (Json& e : (*json_)["elements"]) {
        if (!e.contains("in")) continue;
        Json& in = e["in"];
        if (std::find(in.begin(), in.end(), "key-on") != in.end()) in.push_back(id);
    }
    Json state{{"id", id}, {"name", name}, {"how", how}};
    if (!caution.empty()) state["caution"] = caution;
    state["effort"] = effort;
    (*json_)["states"].push_back(std::move(state));
}

void SheetDocument::wire(const std::string& a, const std::string& b, double length_m, double section_mm2)
{
    SheetElement e{"wire " + a + " to " + b, "wire", {a, b}, {{"length", assumedFigure(length_m, Unit::Metre)}}};
    for (const std::string& end : {a, b}) {
        const auto stated = stated_mm2_.find(end);
        if (stated != stated_mm2_.end()) section_mm2 = stated->second, e.known = {{"section", Known::Stated}};
    }
    e.values.emplace_back("section", assumedFigure(section_mm2, Unit::SquareMillimetre));
    add(e);
}

void SheetDocument::addAlternator(const std::string& id, const std::string& plus, const std::string& minus)
{
    SheetElement e;
    e.id = id;
    e.kind = "alternator";
    e.nodes = {plus, minus};
    e.values = {{"name", id},
                {"emf", assumedFigure(trade::alternatorHolds * systemVoltage_V(), Unit::Volt)},
                {"resistance", assumedFigure(trade::alternatorInside_ohm, Unit::Ohm)},
                {"limit", assumedFigure(trade::alternatorAtMost_A, Unit::Ampere)}};
    e.in = {"running"};
    e.hasStates = true;
    add(e);
}

void SheetDocument::addStarterContact(const std::string& id, const std::string& from, const std::string& to)
{
    SheetElement e;
    e.id = id;
    e.kind = "switch";
    e.nodes = {from, to};
    e.values = {{"name", id}, {"resistance", assumedFigure(trade::starterContact_ohm, Unit::Ohm)}};
    e.in = {"cranking"};
    e.hasStates = true;
    add(e);
}

double SheetDocument::starterCurrent_A() const
{
    return std::min(trade::starterAtMost_A, (1 - trade::cranksAt) * trade::batteryRests * volts_ / batteryInside_ohm_);
}

void SheetDocument::dimensionBattery(double total_A)
{
    const double inside_ohm = batteryInside_ohm_ =
        std::min(trade::batteryInside_ohm, trade::batteryLoses * volts_ / total_A);
    for (Json& e : (*json_)["elements"]) {
        if (e.value("id", "") == battery_) e["resistance"] = assumedFigure(inside_ohm, Unit::Ohm);
    }
}

void SheetDocument::splice(const std::string& id)
{
    if (!isIn((*json_)["splices"], id)) (*json_)["splices"].push_back({{"id", id}});
}

void SheetDocument::inlineCavity(const std::string& id, const std::string& circuit, const std::string& colour)
{
    PinRow at;
    const std::size_t unknown = id.find("-?");
    if (unknown != std::string::npos)
        at.connector = id.substr(0, unknown), at.written = id;
    else if (!readCavity(id, at))
        return complain({id, "is no cavity of a connector; write as X2-3"});
    Json& connectors = (*json_)["connectors"];
    auto connector = std::find_if(connectors.begin(), connectors.end(),
                                  [&](const Json& c) { return c.value("id", "") == at.connector; });
    if (connector == connectors.end()) {
        connectors.push_back({{"id", at.connector},
                              {"name", "in-line connector " + at.connector},
                              {"rows", 1},
                              {"columns", 1},
                              {"numbered_from", "wire side"},
                              {"contact", assumedFigure(trade::connectorContact_ohm, Unit::Ohm)},
                              {"reach", "120 s"},
                              {"unplug", "60 s"},
                              {"cavities", Json::array()}});
        connector = connectors.end() - 1;
    } else if (connector->value("module", false)) {
        return complain({id, "is a connector of the module itself; an in-line connector needs another name"});
    }
    Json& cavities = (*connector)["cavities"];
    const auto next = [&] {
        int last = 0;
        for (const Json& c : cavities)
            last = std::max(last, c.value("cavity", 0));
        return last + 1;
    };
    for (Json& c : cavities) {
        const std::string name = c.value("name", "");
        if (unknown != std::string::npos ? name == id
                                         : c.value("cavity", 0) == at.cavity && name.find("-?") == name.npos)
            return;
        // A cavity that is known takes the place that one had for want of another.
        if (unknown == std::string::npos && c.value("cavity", 0) == at.cavity) {
            c["cavity"] = std::max(next(), at.cavity + 1);
            (*connector)["columns"] = std::max((*connector)["columns"].get<int>(), c["cavity"].get<int>());
        }
    }
    if (unknown != std::string::npos) at.cavity = next();
    const int columns = std::max((*connector)["columns"].get<int>(), at.cavity);
    (*connector)["columns"] = columns;
    Json cavity{{"cavity", at.cavity}};
    if (!at.written.empty()) cavity["name"] = at.written;
    cavity["circuit"] = circuit;
    if (!colour.empty()) cavity["colour"] = colour;
    cavity["assumed"] = true;
    cavities.push_back(std::move(cavity));
}

std::string SheetDocument::fuseOut(const std::string& id) const
{
    for (const Json& e : (*json_)["elements"]) {
        if (e.value("id", "") == id && e["nodes"].size() > 1) return e["nodes"][1].get<std::string>();
    }
    return id + ".out";
}

void SheetDocument::complain(Error problem)
{
    const auto same = [&](const Error& known) { return known.item == problem.item; };
    if (std::none_of(problems_.begin(), problems_.end(), same)) problems_.push_back(std::move(problem));
}

}  // namespace ilvek
