#include "machine/map.h"

#include <algorithm>

#include "machine/wire_words.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

template <class Items>
int indexById(const Items& items, std::string_view id)
{
    const auto at = std::find_if(items.begin(), items.end(), [&](const auto& item) { return item.id == id; });
    return at == items.end() ? -1 : static_cast<int>(at - items.begin());
}

}  // namespace

double Element::value(std::string_view key, double otherwise) const
{
    const auto at = values.find(key);
    return at == values.end() ? otherwise : at->second;
}

Known Element::knownOf(std::string_view key) const
{
    const auto at = known.find(key);
    return at != known.end() ? at->second : assumed ? Known::Unknown : Known::Stated;
}

bool Element::isIn(int state) const
{
    return std::find(states.begin(), states.end(), state) != states.end();
}

int Map::terminalIndex(std::string_view id) const
{
    return indexById(terminals, id);
}

int Map::elementIndex(std::string_view id) const
{
    return indexById(elements, id);
}

int Map::connectorIndex(std::string_view id) const
{
    return indexById(connectors, id);
}

int Map::stateIndex(std::string_view id) const
{
    return indexById(states, id);
}

int Map::nodeIndex(std::string_view name) const
{
    const auto at = std::find(nodes.begin(), nodes.end(), name);
    return at == nodes.end() ? -1 : static_cast<int>(at - nodes.begin());
}

std::vector<int> Map::moduleTerminals() const
{
    std::vector<int> out;
    for (const Connector& connector : connectors) {
        if (!connector.ofModule) continue;
        for (const int terminal : connector.terminals) {
            if (terminal >= 0) out.push_back(terminal);
        }
    }
    return out;
}

double Map::soundResistance_ohm(const Element& element) const
{
    switch (element.kind) {
        case ElementKind::Wire:
            return trade::copperResistivity_ohm_mm2_per_m * element.value("length") / element.value("section", 1.0);
        case ElementKind::Fuse:
            return element.value("resistance", trade::fuseDropAtRating_V / element.value("rating", 1.0));
        case ElementKind::Relay:
            return element.value("contact");
        default:
            return element.value("resistance");
    }
}

bool Map::has(const Function& f) const
{
    return std::none_of(f.levels.begin(), f.levels.end(), [&](int t) { return terminal(t).asFound == AsFound::Empty; });
}

bool Map::isCurrentStated(const Terminal& t) const
{
    if (!t.current_A) return false;
    return t.currentSource >= 0 ? sources[static_cast<std::size_t>(t.currentSource)].kind != "assumed" : !t.assumed;
}

std::string Map::sideOf(int element, int node) const
{
    const Element& e = this->element(element);
    const auto at = std::find(e.nodes.begin(), e.nodes.end(), node);
    if (at == e.nodes.end()) return "";
    const auto i = static_cast<std::size_t>(at - e.nodes.begin());
    const ElementKindSpec& spec = specOf(e.kind);
    const std::string named(i < spec.nodes.size() ? spec.nodes[i] : "");
    // Only nodes that are called by a mere letter need better words.
    if (named.size() != 1) return named.empty() ? "" : named + " side";
    const int t = e.id.starts_with("load ") ? terminalIndex(e.id.substr(5)) : -1;
    const auto role = t < 0 ? std::nullopt : terminal(t).role;
    if (!role) return this->node(node).ends_with(".+") ? "feed side" : "side " + named;
    const bool near = i == 0;
    switch (groupOf(*role)) {
        case Group::Drives:
            if (*role == Role::HighSideDrive) return near ? "feed side" : "ground side";
            return near ? "control side" : "feed side";
        case Group::Inputs:
            return near ? "signal side" : "return side";
        case Group::References:
            return near ? "supply side" : "return side";
        default:
            return "side " + named;
    }
}

std::string Map::nodeWords(int node) const
{
    if (node < 0) return "nowhere";
    if (battery >= 0 && node == batteryPlus()) return "battery plus";
    if (battery >= 0 && node == batteryMinus()) return "battery minus";
    for (const Terminal& terminal : terminals) {
        const Connector& connector = connectors[static_cast<std::size_t>(terminal.connector)];
        if (terminal.a == node)
            return cavityWords(terminal.id) + (connector.ofModule ? ", wire side" : ", source side");
        if (terminal.b == node)
            return cavityWords(terminal.id) + (connector.ofModule ? ", inside the module" : ", far side");
    }
    for (const Element& element : elements) {
        if (element.kind == ElementKind::Fuse && element.nodes[0] == node) return element.id + ", source side";
        if (element.kind == ElementKind::Fuse && element.nodes[1] == node) return element.id + ", far side";
        if (element.kind != ElementKind::Relay) continue;
        for (std::size_t i = 0; i < 4; ++i) {
            if (element.nodes[i] == node)
                return element.id + " terminal " + std::string(specOf(ElementKind::Relay).nodes[i]);
        }
    }
    // A ground point or a splice is known by its own name, not by one of the many loads that end at it.
    for (const Element& element : elements) {
        if (element.kind != ElementKind::Joint) continue;
        if (element.nodes[0] == node && element.place != "inside the module") return element.id + ", wire side";
        if (element.nodes[1] == node) return element.name.empty() ? element.id : element.name;
    }
    if (std::any_of(splices.begin(), splices.end(), [&](const Splice& s) { return s.node == node; }))
        return this->node(node);
    if (const std::string parted = partedEndOf(*this, node); !parted.empty()) return parted + ", far end";
    for (const Element& element : elements) {
        const ElementKindSpec& spec = specOf(element.kind);
        const bool isPart = spec.isLoad || element.kind == ElementKind::Switch || element.kind == ElementKind::Sensor;
        if (!isPart || element.place == "inside the module" || element.name.empty()) continue;
        const std::string side = sideOf(static_cast<int>(&element - elements.data()), node);
        if (!side.empty()) return element.name + ", " + side;
    }
    return this->node(node);
}

}  // namespace ilvek
