#include "open_job/setup_line.h"

#include <fmt/format.h>

#include <algorithm>
#include <vector>

#include "base/text.h"
#include "open_job/places.h"
#include "quantity/quantity.h"

namespace ilvek {

namespace {

using Words = std::string_view;
using Done = Result<void>;

std::vector<Words> cut(Words text, Words separators)
{
    std::vector<Words> parts;
    std::size_t from = 0;
    for (std::size_t i = 0; i <= text.size(); ++i) {
        if (i < text.size() && separators.find(text[i]) == Words::npos) continue;
        if (const Words part = trimmed(text.substr(from, i - from)); !part.empty()) parts.push_back(part);
        from = i + 1;
    }
    return parts;
}

// Takes the word off the front.
bool takeWord(Words& text, Words word)
{
    if (text.size() < word.size() || lowered(text.substr(0, word.size())) != word) return false;
    if (text.size() > word.size() && text[word.size()] != ' ') return false;
    text = trimmed(text.substr(word.size()));
    return true;
}

// "… 10 A" → the last word or two as a figure; what stands before is left.
std::optional<double> takeFigure(Words& text, Unit unit)
{
    std::size_t at = text.size();
    for (int words = 1; words <= 2 && at != Words::npos && at > 0; ++words) {
        at = text.rfind(' ', at - 1);
        if (at == Words::npos) break;
        const auto figure = parseQuantityWithUnit(text.substr(at + 1), unit);
        if (!figure) continue;
        text = trimmed(text.substr(0, at));
        return figure->value;
    }
    return std::nullopt;
}

// The node that a driver drives, and not what it lives on; −1: it is none.
int drivenNode(const Element& e)
{
    if (e.kind == ElementKind::LowSideDriver) return e.nodes[0];
    return e.kind == ElementKind::HighSideDriver ? e.nodes[1] : -1;
}

// The driver, switch or alternator that is told; of a terminal the driver behind it.
Result<int> commandedNamed(const Map& map, Words text)
{
    if (const auto terminal = terminalNamed(map, text); terminal && map.terminal(*terminal).b >= 0) {
        const int inside = map.terminal(*terminal).b;
        const auto driver = std::find_if(map.elements.begin(), map.elements.end(),
                                         [&](const Element& e) { return drivenNode(e) == inside; });
        if (driver != map.elements.end()) return static_cast<int>(driver - map.elements.begin());
    }
    const auto element = elementNamed(map, text);
    if (!element) return element;
    const ElementKind kind = map.element(*element).kind;
    if (kind != ElementKind::LowSideDriver && kind != ElementKind::HighSideDriver && kind != ElementKind::Switch &&
        kind != ElementKind::Alternator)
        return fail(std::string(text), "nothing that is commanded or switched");
    return element;
}

std::string commandedName(const Map& map, const std::string& id)
{
    const int element = map.elementIndex(id);
    for (const int t : map.moduleTerminals()) {
        const int inside = map.terminal(t).b;
        if (element >= 0 && inside >= 0 && drivenNode(map.element(element)) == inside) return map.terminal(t).id;
    }
    return id;
}

// "unplugged X2" and "X2 unplugged" are "apart X2"; what has its leads in it is left as it stands.
std::string asUsual(Words part)
{
    struct Called {
        Words typed, means;
    };
    static constexpr Called called[] = {
        {"unplugged", "apart"},    {"disconnected", "apart"}, {"apart", "apart"},         {"removed", "pulled"},
        {"pulled", "pulled"},      {"unpinned", "unpinned"},  {"jumper", "bridged"},      {"bridge", "bridged"},
        {"fused lead", "bridged"}, {"driven", "commanded"},   {"activated", "commanded"}, {"commanded", "commanded"},
        {"pressed", "operated"},   {"operated", "operated"},  {"moved", "touched"},       {"wiggled", "touched"}};
    for (const Called& c : called) {
        Words rest = part;
        if (takeWord(rest, c.typed)) return std::string(c.means) + " " + std::string(rest);
        const std::string low = lowered(part);
        const bool behind = low.size() > c.typed.size() + 1 && low.ends_with(" " + std::string(c.typed));
        if (behind && part.find('>') == Words::npos && !takeWord(rest, "touched") && !takeWord(rest, "load"))
            return std::string(c.means) + " " + std::string(trimmed(part.substr(0, part.size() - c.typed.size())));
    }
    return std::string(part);
}

// "fuse F3" where the part goes by F3.
Words withoutKind(Words name)
{
    for (const Words kind : {"fuse ", "relay ", "connector ", "plug ", "terminal ", "pin ", "cavity "}) {
        if (lowered(name).starts_with(kind)) return trimmed(name.substr(kind.size()));
    }
    return name;
}

class LineReader {
public:
    LineReader(const Map& map, SetUp& setUp) : map_(map), s_(setUp) {}

    Done take(Words typed)
    {
        // "hoist up commanded" is a state where the map has one of that name.
        const auto isCalledSo = [&](const OperatingState& state) { return lowered(state.name) == lowered(typed); };
        const auto called = std::find_if(map_.states.begin(), map_.states.end(), isCalledSo);
        if (called != map_.states.end()) return tellState(called->id);
        const std::string usual = asUsual(typed);
        const Words part = usual;
        Words rest = part;
        if (takeWord(rest, "apart")) return apart(rest);
        if (takeWord(rest, "unpinned")) return names(rest, s_.unpinned, terminalNamed, idOfTerminal);
        if (takeWord(rest, "pulled")) return names(rest, s_.removed, elementNamed, idOfElement);
        if (takeWord(rest, "load")) return load(rest);
        if (takeWord(rest, "bridged")) return bridge(rest);
        if (takeWord(rest, "commanded")) return commands(rest);
        if (takeWord(rest, "operated")) return operated(rest);
        if (takeWord(rest, "warmed")) return warmed(rest);
        if (takeWord(rest, "clamp")) return clamp(rest);
        if (takeWord(rest, "leads")) return leads(rest);
        if (takeWord(rest, "touched")) return s_.touched = rest, Done{};
        if (takeWord(rest, "shut down")) return s_.inShutDown = true, Done{};
        if (takeWord(rest, "red")) return place(rest, s_.red);
        if (takeWord(rest, "black")) return place(rest, s_.black);
        if (part.find('>') != Words::npos) return pair(part, s_.red, s_.black);
        const auto state = stateNamed(map_, part);
        if (!state)
            return fail(std::string(part),
                        "neither two places (A2 > A7), nor a state, nor something that was done: "
                        "apart, pulled, unpinned, load, bridged, commanded, operated, clamp, warmed, leads, "
                        "touched, shut down");
        return tellState(map_.state(*state).id);
    }

    Done finish()
    {
        if (!s_.load.empty() && s_.loadFrom.empty()) s_.loadFrom = s_.red, s_.loadTo = s_.black;
        // Nothing is commanded with the key off, unless it is said so.
        const bool commands = std::ranges::any_of(s_.commands, [](const Command& c) { return c.share > 0; });
        if (commands && !isStateTold_ && s_.state == "key-off" && map_.stateIndex("key-on") >= 0) s_.state = "key-on";
        if (!s_.load.empty() && s_.loadFrom.empty())
            return fail("load", "say where it hangs, as “load 21 W lamp at A2 > A7”");
        return {};
    }

private:
    static std::string idOfConnector(const Map& m, int i) { return m.connectors[static_cast<std::size_t>(i)].id; }
    static std::string idOfTerminal(const Map& m, int i) { return m.terminal(i).id; }
    static std::string idOfElement(const Map& m, int i) { return m.element(i).id; }

    template <class Named, class IdOf>
    Done names(Words list, std::vector<std::string>& into, const Named& named, const IdOf& idOf)
    {
        for (const Words name : cut(list, ",")) {
            auto found = named(map_, name);
            if (!found && withoutKind(name) != name) found = named(map_, withoutKind(name));
            if (!found) return tl::unexpected(found.error());
            into.push_back(idOf(map_, *found));
        }
        return {};
    }

    // A part whose plug the map does not draw is parted by its own name, or that of its plug; the module by all of its
    // connectors.
    Done apart(Words list)
    {
        for (const Words name : cut(list, ",")) {
            if (lowered(trimmed(name)) == lowered(map_.module) && !connectorNamed(map_, name)) {
                for (const Connector& c : map_.connectors)
                    if (c.ofModule) s_.unplugged.push_back(c.id);
                continue;
            }
            const Done done = names(name, s_.unplugged, connectorNamed, idOfConnector);
            if (!done && !names(name, s_.removed, elementNamed, idOfElement)) return done;
        }
        return {};
    }

    Done tellState(const std::string& id)
    {
        s_.state = id, isStateTold_ = true;
        return {};
    }

    Done place(Words text, std::string& into)
    {
        const auto node = placeNamed(map_, text);
        if (!node) return tl::unexpected(node.error());
        into = map_.node(*node);
        return {};
    }

    Done pair(Words text, std::string& from, std::string& to)
    {
        const auto parts = cut(text, ">");
        if (parts.size() != 2) return fail(std::string(text), "two places are expected, as A2 > A7");
        if (auto done = place(parts[0], from); !done) return done;
        return place(parts[1], to);
    }

    Done load(Words text)
    {
        Words name = text, where;
        if (const auto at = lowered(text).find(" at "); at != std::string::npos)
            name = trimmed(text.substr(0, at)), where = text.substr(at + 4);
        const auto load = loadCalled(map_.systemVoltage_V, name);
        if (!load) {
            std::string known;
            for (const SubstituteLoad& l : loadCatalogue(map_.systemVoltage_V))
                known += l.name + ", ";
            return fail(std::string(name), "no load that is known here; there are " + known +
                                               "any lamp by its watts, any resistor by its ohms");
        }
        s_.load = load->id;
        return where.empty() ? Done{} : pair(where, s_.loadFrom, s_.loadTo);
    }

    Done bridge(Words text)
    {
        const std::string item(text);
        const auto rating = takeFigure(text, Unit::Ampere);
        if (!rating || !(*rating > 0)) return fail(item, "a bridge has a fuse or breaker: say its rating, as 10 A");
        FusedLead lead{"", "", *rating};
        if (auto done = pair(text, lead.from, lead.to); !done) return done;
        s_.jumpers.push_back(std::move(lead));
        return {};
    }

    // "C1, C4 60 %": each with its own share. The comma of "62,5 %" parts nothing.
    Done commands(Words list)
    {
        const Done one = command(list);
        if (one || list.find(',') == Words::npos) return one;
        for (const Words text : cut(list, ",")) {
            if (auto done = command(text); !done) return done;
        }
        return {};
    }

    Done command(Words text)
    {
        const std::string item(text);
        Command c{"", 1};
        if (text.size() > 4 && lowered(text).ends_with(" off"))
            c.share = 0, text = trimmed(text.substr(0, text.size() - 4));
        else if (const auto share = takeFigure(text, Unit::Percent))
            c.share = *share / 100;
        if (!(c.share >= 0 && c.share <= 1)) return fail(item, "a share of time is 0 to 100 %");
        const auto element = commandedNamed(map_, text);
        if (!element) return tl::unexpected(element.error());
        c.element = map_.element(*element).id;
        s_.commands.push_back(std::move(c));
        return {};
    }

    // A switch, by its terminal, in the state that has it operated.
    Done operated(Words text)
    {
        const auto terminal = terminalNamed(map_, text);
        if (!terminal) return tl::unexpected(terminal.error());
        const std::string state = lowered(map_.terminal(*terminal).id) + "-operated";
        if (map_.stateIndex(state) < 0)
            return fail(std::string(text), "there is no state of this map in which its switch is operated");
        return tellState(state);
    }

    Done warmed(Words text)
    {
        const std::string item(text);
        const auto celsius = takeFigure(text, Unit::Celsius);
        if (!celsius) return fail(item, "say to how many degrees, as “warmed B6 sensor to 60 °C”");
        if (lowered(text).ends_with(" to")) text = trimmed(text.substr(0, text.size() - 3));
        const auto element = elementNamed(map_, text);
        if (!element) return tl::unexpected(element.error());
        s_.warmed.push_back({map_.element(*element).id, *celsius});
        return {};
    }

    Done clamp(Words text)
    {
        const auto element = elementNamed(map_, text);
        if (!element) return tl::unexpected(element.error());
        s_.conductor = map_.element(*element).id;
        return {};
    }

    Done leads(Words text)
    {
        const auto own = parseQuantityWithUnit(text, Unit::Ohm);
        if (!own || own->value < 0 || own->value > 100) return fail(std::string(text), "the leads' own ohms, as 0.3 Ω");
        s_.testLeads_ohm = own->value;
        return {};
    }

    const Map& map_;
    SetUp& s_;
    bool isStateTold_ = false;
};

std::string pairOf(const Map& map, const std::string& from, const std::string& to)
{
    const auto name = [&](const std::string& node) {
        const int index = map.nodeIndex(node);
        return index < 0 ? node : placeName(map, index);
    };
    return fmt::format("{} > {}", name(from), name(to));
}

}  // namespace

Result<SetUp> parseSetUp(const Map& map, std::string_view line, const std::string& state)
{
    SetUp setUp;
    setUp.state = state;
    std::string plain(line);
    for (std::size_t at; (at = plain.find("·")) != std::string::npos;)
        plain.replace(at, std::string_view("·").size(), ";");
    LineReader reader(map, setUp);
    for (const Words part : cut(plain, ";\n")) {
        if (auto done = reader.take(part); !done) return tl::unexpected(done.error());
    }
    if (auto done = reader.finish(); !done) return tl::unexpected(done.error());
    return setUp;
}

namespace {

// A part by the name that people gave it, where that is read back as the same part.
std::vector<std::string> calledParts(const Map& map, const std::vector<std::string>& ids)
{
    std::vector<std::string> out;
    for (const std::string& id : ids) {
        const int part = map.elementIndex(id);
        const std::string name = part < 0 ? "" : map.element(part).name;
        const bool isPlain = !name.empty() && name.find_first_of(",;>·") == std::string::npos;
        const auto back = isPlain ? elementNamed(map, name) : Result<int>(fail(id, "has no name"));
        out.push_back(back && *back == part ? name : id);
    }
    return out;
}

}  // namespace

std::string setUpLine(const Map& map, const SetUp& s)
{
    std::vector<std::string> parts;
    const auto list = [&](const char* word, const std::vector<std::string>& names) {
        if (!names.empty()) parts.push_back(fmt::format("{} {}", word, fmt::join(names, ", ")));
    };
    if (!s.red.empty() && !s.black.empty())
        parts.push_back(pairOf(map, s.red, s.black));
    else if (!s.red.empty())
        parts.push_back("red " + placeName(map, map.nodeIndex(s.red)));
    if (const int state = map.stateIndex(s.state); state >= 0) parts.push_back(map.state(state).name);
    list("apart", s.unplugged), list("unpinned", s.unpinned), list("pulled", calledParts(map, s.removed));
    if (!s.load.empty()) {
        const auto load = findLoad(map.systemVoltage_V, s.load);
        std::string words = "load " + (load ? load->name : s.load);
        if (s.loadFrom != s.red || s.loadTo != s.black) words += " at " + pairOf(map, s.loadFrom, s.loadTo);
        parts.push_back(std::move(words));
    }
    for (const FusedLead& lead : s.jumpers)
        parts.push_back(
            fmt::format("bridged {} {}", pairOf(map, lead.from, lead.to), formatQuantity(amperes(lead.fuse_A))));
    for (const Command& c : s.commands)
        parts.push_back(fmt::format("commanded {} {}", commandedName(map, c.element),
                                    c.share > 0 ? formatQuantity({100 * c.share, Unit::Percent}) : "off"));
    for (const PartAt& p : s.warmed)
        parts.push_back(fmt::format("warmed {} to {}", p.element, formatQuantity({p.celsius, Unit::Celsius})));
    if (!s.conductor.empty()) parts.push_back("clamp " + s.conductor);
    if (s.testLeads_ohm) parts.push_back("leads " + formatQuantity(ohms(*s.testLeads_ohm)));
    if (!s.touched.empty()) parts.push_back("touched " + s.touched);
    if (s.inShutDown) parts.push_back("shut down");
    return fmt::format("{}", fmt::join(parts, " · "));
}

}  // namespace ilvek
