#include "bench_map/drawn_additions.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <optional>

#include "base/text.h"
#include "bench_map/sheet_expected.h"
#include "machine/map_reader.h"
#include "machine/paths.h"
#include "quantity/quantity.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

std::vector<std::string> wordsOf(const std::string& text)
{
    std::vector<std::string> out(1);
    for (const char c : text) {
        if (std::string_view(" ,;+&").find(c) == std::string_view::npos)
            out.back() += c;
        else if (!out.back().empty())
            out.emplace_back();
    }
    if (out.back().empty()) out.pop_back();
    return out;
}

// What sits behind a terminal inside the module, of the kinds that a predicate takes; −1: nothing.
template <class Fits>
int behind(const Map& map, int terminal, Fits fits)
{
    const auto inside = joinedTo(map, map.terminal(terminal).b, map.terminal(terminal).contact);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const auto& at = map.elements[i].nodes;
        const bool on = std::any_of(at.begin(), at.end(), [&](int node) { return inside.contains(node); });
        if (on && fits(map.elements[i].kind)) return static_cast<int>(i);
    }
    return -1;
}

bool isDriver(ElementKind kind)
{
    return kind == ElementKind::LowSideDriver || kind == ElementKind::HighSideDriver;
}

// The loads on the way of a drive.
std::vector<int> loadsOf(const Map& map, int terminal)
{
    std::vector<int> out;
    for (const PathStep& step : shownCircuit(map, terminal).value_or(Path{})) {
        if (specOf(map.element(step.element).kind).isLoad) out.push_back(step.element);
    }
    return out;
}

std::string idOf(const std::string& name)
{
    std::string id = "function";
    for (const std::string& word : wordsOf(lowered(name)))
        id += "-" + word;
    return id;
}

// The state in which the key is on and nothing is commanded: the first in which a supply must be there.
std::string restingState(const Map& map)
{
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.role == Role::SwitchedFeed && !terminal.neededIn.empty())
            return map.state(terminal.neededIn.front()).id;
    }
    return map.states.front().id;
}

Json functionOf(const Map& map, const PinRow& row, const std::vector<int>& terminals)
{
    Json currents = Json::array(), levels = Json::array(), ports = Json::array();
    std::string state = restingState(map);
    for (const int t : terminals) {
        const Role role = map.terminal(t).role.value_or(Role::Empty);
        const int port = behind(map, t, [](ElementKind k) { return k == ElementKind::SupplyPort; });
        const int driver = behind(
            map, t, [](ElementKind k) { return k == ElementKind::LowSideDriver || k == ElementKind::HighSideDriver; });
        const auto loads = loadsOf(map, t);
        if (isSupply(role) && port >= 0)
            ports.push_back(map.element(port).id);
        else if (groupOf(role) == Group::Drives && !loads.empty()) {
            currents.push_back(map.element(loads.front()).id);
            if (driver >= 0 && !map.element(driver).states.empty())
                state = map.state(map.element(driver).states.front()).id;
        } else
            levels.push_back(map.terminal(t).id);
    }
    Json out{{"id", idOf(row.circuit)}, {"name", row.circuit}, {"state", state}};
    if (!currents.empty()) out["currents"] = currents;
    if (!levels.empty()) out["levels"] = levels;
    if (!ports.empty()) out["ports"] = ports;
    return out;
}

// Nothing flows in what the terminal drives; null where it drives nothing that is on the map.
Json quietCodeOf(const Map& map, const PinRow& row, int terminal)
{
    const auto loads = loadsOf(map, terminal);
    const int driver = behind(map, terminal, isDriver);
    if (groupOf(map.terminal(terminal).role.value_or(Role::Empty)) != Group::Drives || loads.empty() || driver < 0 ||
        map.element(driver).states.empty())
        return nullptr;
    Json out{{"code", row.circuit}};
    if (!row.source.empty()) out["text"] = row.source;
    out["state"] = map.state(map.element(driver).states.front()).id, out["terminal"] = map.terminal(terminal).id;
    out["no_current"] = map.element(loads.front()).id;
    return out;
}

Json codeOf(const Map& map, const PinRow& row, int terminal, bool low)
{
    const bool onSupply = isSupply(map.terminal(terminal).role.value_or(Role::Empty));
    const double level = onSupply ? (low ? trade::codeFeedLow : trade::codeFeedHigh) * map.systemVoltage_V
                         : low    ? trade::codeInputLow_V
                                  : trade::codeInputHigh_V;
    Json out{{"code", row.circuit}};
    if (!row.source.empty()) out["text"] = row.source;
    out["state"] = restingState(map), out["terminal"] = map.terminal(terminal).id;
    out[low ? "below" : "above"] = exactQuantity(volts(level));
    return out;
}

// One of the same name goes.
void takeOut(Json& list, const char* key, const std::string& name)
{
    if (!list.is_array()) list = Json::array();
    list.erase(std::remove_if(list.begin(), list.end(),
                              [&](const Json& one) { return lowered(one.value(key, "")) == lowered(name); }),
               list.end());
}

}  // namespace

Result<std::string, Problems> withLooseRow(const std::string& document, const PinRow& row)
{
    const bool isFunction = row.loose == "function";
    if (!isFunction && row.loose != "code")
        return tl::unexpected(Problems{{row.circuit, "a " + row.loose + " cannot be added to a map that was drawn"}});
    const auto map = readMap(document, "the map");
    if (!map) return tl::unexpected(map.error());
    Json doc = Json::parse(document);
    Json& list = doc[isFunction ? "functions" : "codes"];
    takeOut(list, isFunction ? "name" : "code", row.circuit);
    if (!isFunction) takeOut(doc["kept_codes"], "code", row.circuit);
    if (row.role == "empty") return doc.dump(1) + "\n";
    std::vector<int> terminals;
    std::optional<bool> low;
    bool quiet = false, implausible = false;
    for (const std::string& word : wordsOf(row.otherEnd)) {
        const std::string small = lowered(word);
        if (small == "low" || small == "high") low = small == "low";
        quiet = quiet || small == "activity", implausible = implausible || small == "implausible";
        if (!isFunction &&
            (small == "low" || small == "high" || small == "no" || small == "activity" || small == "implausible"))
            continue;
        if (map->terminalIndex(word) < 0)
            return tl::unexpected(Problems{{row.circuit, "“" + word + "” is no terminal of this map"}});
        terminals.push_back(map->terminalIndex(word));
    }
    if (terminals.empty() || (!isFunction && !low && !quiet && !implausible))
        return tl::unexpected(
            Problems{{row.circuit, isFunction ? "a function needs terminals; write as “B3, B4”"
                                              : "a code needs what sets it; write as “B6 low” or “B3 no activity”"}});
    if (isFunction) {
        list.push_back(functionOf(*map, row, terminals));
        return doc.dump(1) + "\n";
    }
    const Json none = quiet ? quietCodeOf(*map, row, terminals.front()) : Json();
    if (low)
        list.push_back(codeOf(*map, row, terminals.front(), *low));
    else if (!none.is_null())
        list.push_back(none);
    else
        doc["kept_codes"].push_back({{"code", row.circuit}, {"text", row.source}, {"set_by", row.otherEnd}});
    return doc.dump(1) + "\n";
}

}  // namespace ilvek
