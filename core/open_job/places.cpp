#include "open_job/places.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

#include "base/text.h"
#include "machine/paths.h"
#include "proving/walk.h"

namespace ilvek {

namespace {

// Letters and digits alone, small, and what tells X1-?3, the cavity of 3's wire, from X1-3.
std::string key(std::string_view text)
{
    std::string out;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte >= 0x80 || (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '?')
            out += c;
        else if (c >= 'A' && c <= 'Z')
            out += static_cast<char>(c - 'A' + 'a');
    }
    return out;
}

std::string firstNames(const std::vector<std::string>& names)
{
    constexpr std::size_t most = 6;
    std::string out;
    for (std::size_t i = 0; i < names.size() && i < most; ++i)
        out += (out.empty() ? "" : ", ") + names[i];
    return names.size() > most ? out + " …" : out;
}

// The only one of `names` that is meant, by its letters and digits; else the only one that begins so.
Result<int> only(std::string_view text, const std::vector<std::string>& names, const char* kind)
{
    const std::string wanted = key(text);
    std::vector<std::string> found;
    int at = -1;
    for (const bool whole : {true, false}) {
        found.clear();
        for (std::size_t i = 0; i < names.size() && !wanted.empty(); ++i) {
            const std::string name = key(names[i]);
            if (whole ? name != wanted : !name.starts_with(wanted)) continue;
            found.push_back(names[i]);
            at = static_cast<int>(i);
        }
        if (found.size() == 1) return at;
        if (found.size() > 1) return fail(std::string(text), fmt::format("may be {}", firstNames(found)));
    }
    return fail(std::string(text), fmt::format("no {} of this machine; there are {}", kind, firstNames(names)));
}

std::string relayTerminal(const Map& map, const Element& e, int node)
{
    const auto& names = specOf(e.kind).nodes;
    for (std::size_t i = 0; i < e.nodes.size() && i < names.size(); ++i) {
        if (e.nodes[i] == node) return fmt::format("{} {}", e.id, names[i]);
    }
    return map.node(node);
}

// Without the words that say which half of a connector, where that is the usual one.
std::string baseName(const Map& map, int node)
{
    if (node == map.batteryPlus()) return "battery plus";
    if (node == map.batteryMinus()) return "battery minus";
    for (const Terminal& t : map.terminals) {
        const bool ofModule = map.connectors[static_cast<std::size_t>(t.connector)].ofModule;
        if (t.a == node) return ofModule ? t.id : t.id + " source side";
        if (t.b == node) return t.id + (ofModule ? " inside" : " far side");
    }
    for (const Splice& s : map.splices) {
        if (s.node == node) return s.id;
    }
    for (const Element& e : map.elements) {
        const bool here = std::find(e.nodes.begin(), e.nodes.end(), node) != e.nodes.end();
        if (!here) continue;
        if (e.kind == ElementKind::Fuse) return e.id + (e.nodes[0] == node ? " source side" : " far side");
        if (e.kind == ElementKind::Relay) return relayTerminal(map, e, node);
    }
    for (const Element& e : map.elements) {
        if (e.kind != ElementKind::Joint || e.place == "inside the module") continue;
        if (e.nodes[0] == node) return e.id + " wire side";
        if (e.nodes[1] == node) return e.id;
    }
    return map.node(node);
}

struct Alias {
    std::string_view typed;
    bool plus;
};
constexpr Alias posts[] = {{"battery plus", true}, {"battery +", true},  {"bat+", true},     {"b+", true},
                           {"plus", true},         {"+", true},          {"bat +", true},    {"battery minus", false},
                           {"battery -", false},   {"battery −", false}, {"bat-", false},    {"bat -", false},
                           {"b-", false},          {"minus", false},     {"-", false},       {"−", false},
                           {"body", false},        {"ground", false},    {"chassis", false}, {"earth", false},
                           {"gnd", false},         {"negative", false},  {"positive", true}};

// "F5 in" for the source side, "A2 module" for the inside.
std::string spelledOut(std::string_view text)
{
    struct End {
        std::string_view typed, means;
    };
    constexpr End ends[] = {{" in", " source side"},
                            {" source", " source side"},
                            {" out", " far side"},
                            {" far", " far side"},
                            {" module", " inside"},
                            {", wire side", ""},
                            {", source side", " source side"},
                            {", far side", " far side"},
                            {", inside the module", " inside"}};
    const std::string low = lowered(trimmed(text));
    for (const End& end : ends) {
        if (low.size() > end.typed.size() && low.ends_with(end.typed))
            return low.substr(0, low.size() - end.typed.size()) + std::string(end.means);
    }
    return low;
}

// "f5 far side", "k2 30": a side of a part by the part and the side, also where the place goes by another name.
int sideNamed(const Map& map, const std::string& typed)
{
    const auto cut = typed.find(' ');
    if (cut == std::string::npos) return -1;
    const std::string id = key(typed.substr(0, cut)), side = key(typed.substr(cut));
    for (const Element& e : map.elements) {
        if (key(e.id) != id) continue;
        if (e.kind == ElementKind::Fuse && (side == "sourceside" || side == "farside"))
            return e.nodes[side == "sourceside" ? 0 : 1];
        const auto& names = specOf(e.kind).nodes;
        for (std::size_t i = 0; i < names.size(); ++i) {
            if (e.kind == ElementKind::Relay && key(names[i]) == side) return e.nodes[i];
        }
    }
    return -1;
}

// How many parts lie between a node and the nearest terminal of the module.
std::size_t stepsToModule(const Map& map, int node)
{
    std::size_t least = map.elements.size() + 1;
    for (const int t : map.moduleTerminals()) {
        const auto path = map.terminal(t).a < 0 ? std::nullopt : conductorPath(map, node, map.terminal(t).a);
        if (path) least = std::min(least, path->size());
    }
    return least;
}

// "x3-1 module side", "x3-1 ground side": a half of an in-line cavity by what it faces, the module or what is away
// from it; "7 end", "7 part side": the far end of a terminal's own wire.
int facingNamed(const Map& map, const std::string& typed)
{
    static constexpr std::string_view towards[] = {"module side", "pin side", "control unit side", "unit side"};
    static constexpr std::string_view away[] = {"ground side", "battery side", "supply side",  "load side",
                                                "part side",   "sensor side",  "switch side",  "actuator side",
                                                "far end",     "end",          "machine side", "plug side"};
    const auto before = [&](const auto& words) -> std::string {
        for (const std::string_view word : words) {
            if (typed.size() > word.size() + 1 && typed.ends_with(" " + std::string(word)))
                return key(typed.substr(0, typed.size() - word.size()));
        }
        return "";
    };
    const std::string near = before(towards), other = before(away), &wanted = near.empty() ? other : near;
    if (wanted.empty()) return -1;
    for (const Terminal& t : map.terminals) {
        if (key(t.id) != wanted || t.a < 0) continue;
        if (map.connectors[static_cast<std::size_t>(t.connector)].ofModule)
            return near.empty() ? map.nodeIndex(t.id + ".end") : -1;
        if (t.b < 0) return -1;
        const bool facesModule = stepsToModule(map, t.a) < stepsToModule(map, t.b);
        return facesModule == near.empty() ? t.b : t.a;
    }
    return -1;
}

// "feed side" of "feed", "+" and "feed end".
bool meansSide(std::string typed, const std::string& side)
{
    static constexpr std::string_view plus[] = {"+", "plus", "positive", "feed", "supply", "live", "hot"};
    static constexpr std::string_view minus[] = {"-", "−", "minus", "negative", "ground", "earth", "return", "control"};
    for (const std::string_view end : {" side", " end", " terminal", " wire"}) {
        if (typed.ends_with(end)) typed.resize(typed.size() - end.size());
    }
    const std::string is = side.substr(0, side.rfind(" side"));
    const auto has = [](const auto& words, const std::string& word) { return std::ranges::count(words, word) > 0; };
    return typed == is || (has(plus, typed) && has(plus, is)) || (has(minus, typed) && has(minus, is));
}

// Whether a part is meant by its name or its plug; `loosely`: by the beginning of its name.
bool isMeant(const Element& e, const std::string& part, bool loosely)
{
    constexpr std::size_t tells = 3;  // letters of a name
    const std::string name = key(e.name);
    return (loosely ? part.size() >= tells && name.starts_with(part) : name == part) || key(e.place) == "plug" + part;
}

int partSideNamed(const Map& map, const std::string& part, const std::string& side, bool loosely)
{
    const bool isCoil = side.starts_with("coil ");
    const std::string wanted = isCoil ? side.substr(5) : side;
    int found = -1;
    // What an alternator senses goes by its name too: its own posts are meant.
    std::vector<std::size_t> order(map.elements.size());
    std::iota(order.begin(), order.end(), 0);
    std::ranges::stable_partition(order, [&](std::size_t e) {
        const ElementKind kind = map.elements[e].kind;
        return kind == ElementKind::Alternator || kind == ElementKind::Battery;
    });
    for (const std::size_t e : order) {
        const Element& element = map.elements[e];
        if (!isMeant(element, part, loosely) && !(isCoil && key(element.id) == part)) continue;
        if (element.kind == ElementKind::Relay && isCoil) {
            // Its control end is 85.
            if (meansSide(wanted, "feed side")) return element.nodes[2];
            if (meansSide(wanted, "control side")) return element.nodes[3];
        }
        for (const int node : element.nodes) {
            if (!meansSide(wanted, map.sideOf(static_cast<int>(e), node))) continue;
            if (!loosely) return node;
            if (found >= 0 && found != node) return -1;  // either may be meant
            found = node;
        }
    }
    return found;
}

// "w4 feed side", "fuel valve control side", "fan +": a side of what hangs at the end of a wire, by its name or its
// plug; "k1 coil +" too. "fuel solenoid feed side" of the "fuel solenoid, pull", where no other part begins so.
int partSideNamed(const Map& map, const std::string& typed)
{
    for (const bool loosely : {false, true}) {
        for (auto cut = typed.find(' '); cut != std::string::npos; cut = typed.find(' ', cut + 1)) {
            const std::string part = key(typed.substr(0, cut)), side(trimmed(std::string_view(typed).substr(cut)));
            if (part.empty() || side.empty()) continue;
            if (const int node = partSideNamed(map, part, side, loosely); node >= 0) return node;
        }
    }
    return -1;
}

}  // namespace

std::string placeName(const Map& map, int node)
{
    const std::string base = baseName(map, node);
    if (node < 0 || base != map.node(node)) return base;
    // A node that only we have a name for: the side of what hangs there, where that is read back as the same place.
    std::string side = map.nodeWords(node);
    const auto comma = side.find(", ");
    if (comma == std::string::npos) return base;
    side.erase(comma, 1);
    // A name that begins like a circumstance, or holds what parts them, would be taken for one.
    constexpr std::string_view words[] = {"load",   "apart", "unpinned", "pulled",  "bridged", "commanded", "operated",
                                          "warmed", "clamp", "leads",    "touched", "shut",    "red",       "black"};
    const std::string first = lowered(side.substr(0, side.find(' ')));
    if (side.find_first_of(",;>·") != std::string::npos ||
        std::find(std::begin(words), std::end(words), first) != std::end(words))
        return base;
    return partSideNamed(map, lowered(side)) == node ? side : base;
}

std::vector<Place> placesOf(const Map& map)
{
    std::vector<Place> places;
    const auto add = [&](int node) {
        const bool there = std::any_of(places.begin(), places.end(), [&](const Place& p) { return p.node == node; });
        if (node < 0 || there) return;
        Place p{node, placeName(map, node), map.nodeWords(node), pointAt(map, node, false).reachable};
        for (const Terminal& t : map.terminals) {
            if (t.a != node) continue;
            if (const std::string colour = t.colour.words(); !colour.empty()) p.words += fmt::format(" ({})", colour);
            if (!t.circuit.empty()) p.words += ", " + t.circuit;
        }
        places.push_back(std::move(p));
    };
    add(map.batteryPlus());
    add(map.batteryMinus());
    for (const int t : map.moduleTerminals())
        add(map.terminal(t).a);
    for (const Terminal& t : map.terminals)
        add(t.a), add(t.b);
    for (const Element& e : map.elements) {
        for (const int node : e.nodes)
            add(node);
    }
    for (int node = 0; node < static_cast<int>(map.nodes.size()); ++node)
        add(node);
    std::stable_partition(places.begin(), places.end(), [](const Place& p) { return p.reachable; });
    return places;
}

Result<int> placeNamed(const Map& map, std::string_view text)
{
    const std::string item(text);
    if (trimmed(text).empty()) return fail(item, "no place was typed");
    if (const int node = map.nodeIndex(std::string(trimmed(text))); node >= 0) return node;
    const std::string low = lowered(trimmed(text));
    for (const Alias& post : posts) {
        if (low == post.typed) return post.plus ? map.batteryPlus() : map.batteryMinus();
    }
    const int part = map.elementIndex(std::string(trimmed(text)));
    if (part >= 0 && map.element(part).kind == ElementKind::Fuse)
        return fail(item, fmt::format("may be {0} source side or {0} far side", map.element(part).id));
    const std::string typed = spelledOut(text);
    if (const int node = sideNamed(map, typed); node >= 0) return node;
    if (const int node = partSideNamed(map, low); node >= 0) return node;
    if (const int node = facingNamed(map, low); node >= 0) return node;
    std::vector<std::string> names;
    const auto places = placesOf(map);
    for (const Place& p : places)
        names.push_back(p.name);
    const auto found = only(typed, names, "place");
    if (!found) return fail(item, found.error().reason);
    return places[static_cast<std::size_t>(*found)].node;
}

namespace {

template <class Things, class NameOf>
Result<int> named(std::string_view text, const Things& things, const char* kind, const NameOf& nameOf)
{
    std::vector<std::string> names;
    for (const auto& thing : things)
        names.push_back(nameOf(thing));
    return only(text, names, kind);
}

}  // namespace

Result<int> elementNamed(const Map& map, std::string_view text)
{
    if (const int exact = map.elementIndex(std::string(trimmed(text))); exact >= 0) return exact;
    const auto byId = named(text, map.elements, "part", [](const Element& e) { return e.id; });
    if (byId) return byId;
    const auto byName = named(text, map.elements, "part", [](const Element& e) { return e.name; });
    const auto byPlug = [&](const Element& e) { return lowered(e.place) == "plug " + lowered(trimmed(text)); };
    const auto plugged = std::find_if(map.elements.begin(), map.elements.end(), byPlug);
    if (!byName && plugged != map.elements.end()) return static_cast<int>(plugged - map.elements.begin());
    const auto many = [](const auto& r) { return !r && r.error().reason.starts_with("may be"); };
    return byName || many(byName) ? byName : byId;
}

Result<int> connectorNamed(const Map& map, std::string_view text)
{
    return named(text, map.connectors, "connector", [](const Connector& c) { return c.id; });
}

Result<int> terminalNamed(const Map& map, std::string_view text)
{
    return named(text, map.terminals, "terminal", [](const Terminal& t) { return t.id; });
}

namespace {

// States that every machine has, in other words.
std::string_view usualState(std::string_view text)
{
    struct Called {
        std::string_view typed, state;
    };
    static constexpr Called called[] = {{"ignition on", "key-on"},
                                        {"ign on", "key-on"},
                                        {"engine off, key on", "key-on"},
                                        {"on", "key-on"},
                                        {"key on engine off", "key-on"},
                                        {"ignition off", "key-off"},
                                        {"ign off", "key-off"},
                                        {"off", "key-off"},
                                        {"engine running", "running"},
                                        {"engine on", "running"},
                                        {"idling", "running"},
                                        {"idle", "running"},
                                        {"crank", "cranking"},
                                        {"starting", "cranking"},
                                        {"starter on", "cranking"}};
    const std::string low = lowered(trimmed(text));
    for (const Called& c : called) {
        if (low == c.typed) return c.state;
    }
    return text;
}

}  // namespace

Result<int> stateNamed(const Map& map, std::string_view text)
{
    if (const int usual = map.stateIndex(std::string(usualState(text))); usual >= 0) return usual;
    const auto byId = named(text, map.states, "state", [](const OperatingState& s) { return s.id; });
    if (byId) return byId;
    const auto byName = named(text, map.states, "state", [](const OperatingState& s) { return s.name; });
    return byName ? byName : byId;
}

}  // namespace ilvek
