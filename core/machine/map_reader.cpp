#include "machine/map_reader.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <set>

#include "base/file.h"
#include "machine/map_check.h"
#include "quantity/fields.h"

namespace ilvek {

namespace {

using nlohmann::json;

constexpr int formatVersion = 1;

class MapReader {
public:
    MapReader(const json& document, std::string fileName) : document_(document), file_(std::move(fileName)) {}

    Result<Map, Problems> read(std::string_view text)
    {
        Fields root(document_, file_, problems_);
        if (!root.isObject()) return tl::unexpected(problems_);
        if (root.text("format", Need::Required) != "ilvek-map") {
            return tl::unexpected(Problems{{file_, "this is not an Ilvek map (its \"format\" is not \"ilvek-map\")"}});
        }
        const int version = root.whole("version", 1, 1'000'000, Need::Required);
        if (version > formatVersion) {
            return tl::unexpected(
                Problems{{file_, fmt::format("was written in format version {}; this Ilvek reads version {}", version,
                                             formatVersion)}});
        }
        map_.document = text;
        map_.module = root.text("module", Need::Required);
        map_.cautions = root.texts("cautions", Need::Optional);
        readSources(root);
        readStates(root);
        readConnectors(root);
        readSplices(root);
        readElements(root);
        resolveNeeds();
        readMachine(root);
        readCavityDetails();
        readFunctions(root);
        readCodes(root);
        for (std::size_t n = 0; const json* expected : root.objects("battery_expected", Need::Optional))
            readExpected(map_.batteryExpected, item("battery", fmt::format("expected value {}", ++n)), *expected);
        root.objects("sheet", Need::Optional);  // whoever makes the map anew reads it, bench_map/kept_sheet.h
        root.reportUnknown();
        addContacts();
        if (problems_.empty()) checkMap(map_, file_, problems_);
        if (!problems_.empty()) return tl::unexpected(problems_);
        return std::move(map_);
    }

private:
    std::string item(std::string_view kind, std::string_view id) const
    {
        return fmt::format("{}: {} {}", file_, kind, id);
    }

    std::string itemOf(const json& object, std::string_view kind, std::size_t index) const
    {
        const auto at = object.is_object() ? object.find("id") : object.end();
        if (object.is_object() && at != object.end() && at->is_string()) return item(kind, at->get<std::string>());
        return item(kind, fmt::format("number {}", index + 1));
    }

    // An id that nothing of its kind has yet.
    std::string freshId(Fields& fields, std::set<std::string>& seen)
    {
        const std::string id = fields.text("id", Need::Required);
        if (!id.empty() && !seen.insert(id).second) fields.problem("id", "is used twice");
        return id;
    }

    void readSources(Fields& root)
    {
        std::set<std::string> seen;
        for (std::size_t i = 0; const json* object : root.objects("sources", Need::Required)) {
            Fields fields(*object, itemOf(*object, "source", i++), problems_);
            Source source{freshId(fields, seen), fields.text("title", Need::Required),
                          fields.text("kind", Need::Required)};
            if (source.kind != "maker" && source.kind != "measured" && source.kind != "customary" &&
                source.kind != "assumed")
                fields.problem("kind", "must be maker, measured, customary or assumed");
            fields.reportUnknown();
            map_.sources.push_back(std::move(source));
        }
    }

    void readStates(Fields& root)
    {
        std::set<std::string> seen;
        for (std::size_t i = 0; const json* object : root.objects("states", Need::Required)) {
            Fields fields(*object, itemOf(*object, "state", i++), problems_);
            OperatingState state{freshId(fields, seen), fields.text("name", Need::Required),
                                 fields.text("how", Need::Optional), fields.text("caution", Need::Optional), 0};
            state.effort_s = seconds(fields, "effort", 10);
            fields.reportUnknown();
            map_.states.push_back(std::move(state));
        }
    }

    double seconds(Fields& fields, const std::string& key, double otherwise)
    {
        const auto time = fields.quantity(key, Unit::Second, 0, 86400, Need::Optional);
        return time ? time->value : otherwise;
    }

    int node(const std::string& name)
    {
        const auto [at, isNew] = nodes_.try_emplace(name, static_cast<int>(map_.nodes.size()));
        if (isNew) map_.nodes.push_back(name);
        return at->second;
    }

    void readConnectors(Fields& root)
    {
        std::set<std::string> seen;
        for (std::size_t i = 0; const json* object : root.objects("connectors", Need::Required)) {
            Fields fields(*object, itemOf(*object, "connector", i++), problems_);
            Connector connector;
            connector.id = freshId(fields, seen);
            connector.name = fields.text("name", Need::Optional);
            connector.place = fields.text("place", Need::Optional);
            connector.rows = fields.whole("rows", 1, 40, Need::Required);
            connector.columns = fields.whole("columns", 1, 60, Need::Required);
            connector.ofModule = fields.flag("module");
            const std::string side = fields.text("numbered_from", Need::Optional);
            if (!side.empty() && side != "wire side" && side != "mating side")
                fields.problem("numbered_from", "must be wire side or mating side");
            connector.numberedFromWireSide = side != "mating side";
            connector.wet = fields.flag("wet");
            connector.moving = fields.flag("moving");
            if (const auto contact = fields.quantity("contact", Unit::Ohm, 0, 1, Need::Optional))
                connector.contact_ohm = contact->value;
            connector.reach_s = seconds(fields, "reach", 60);
            connector.unplug_s = seconds(fields, "unplug", 30);
            connector.weakness = fields.whole("weakness", 1, 100, Need::Optional);
            connector.terminals.assign(static_cast<std::size_t>(connector.rows * connector.columns), -1);
            map_.connectors.push_back(std::move(connector));
            for (const json* cavity : fields.objects("cavities", Need::Required))
                readCavity(*cavity, static_cast<int>(map_.connectors.size()) - 1);
            fields.reportUnknown();
        }
    }

    // First pass over a cavity: its number, so that names can be resolved later.
    void readCavity(const json& object, int connectorIndex)
    {
        Connector& connector = map_.connectors[static_cast<std::size_t>(connectorIndex)];
        Fields fields(object, item("connector", connector.id + ", a cavity"), problems_);
        if (!fields.isObject()) return;
        const int number = fields.whole("cavity", 1, connector.rows * connector.columns, Need::Required);
        int& slot = connector.terminals[static_cast<std::size_t>(number - 1)];
        if (slot >= 0) fields.problem("cavity", fmt::format("{} is listed twice", number));
        slot = static_cast<int>(map_.terminals.size());
        Terminal terminal;
        terminal.id = fields.text("name", Need::Optional);
        if (terminal.id.empty()) terminal.id = fmt::format("{}-{}", connector.id, number);
        if (map_.terminalIndex(terminal.id) >= 0) fields.problem("name", "“" + terminal.id + "” is there twice");
        terminal.connector = connectorIndex;
        terminal.number = number;
        readRole(terminal, object, connector.ofModule);
        if (terminal.role != Role::Empty) {
            terminal.a = node(terminal.id + ".a");
            terminal.b = node(terminal.id + ".b");
        }
        map_.terminals.push_back(std::move(terminal));
        cavityObjects_.push_back(&object);
    }

    void readRole(Terminal& terminal, const json& object, bool required)
    {
        Fields fields(object, item("cavity", terminal.id), problems_);
        const std::string text = fields.text("role", required ? Need::Required : Need::Optional);
        if (text.empty()) return;
        terminal.role = roleFromText(text);
        if (!terminal.role) fields.problem("role", "“" + text + "” is no role that is known here");
    }

    void readCavityDetails()
    {
        for (std::size_t i = 0; i < map_.terminals.size(); ++i)
            readCavityDetail(map_.terminals[i], *cavityObjects_[i]);
    }

    void readCavityDetail(Terminal& terminal, const json& object)
    {
        Fields fields(object, item("cavity", terminal.id), problems_);
        fields.whole("cavity", 1, 2400, Need::Optional);
        fields.text("role", Need::Optional);
        fields.text("name", Need::Optional);
        terminal.circuit = fields.text("circuit", terminal.role == Role::Empty ? Need::Optional : Need::Required);
        terminal.colour = colour(fields);
        terminal.assumed = fields.flag("assumed");
        terminal.hazard = fields.text("hazard", Need::Optional);
        if (const std::string id = fields.text("return", Need::Optional); !id.empty()) {
            terminal.ownReturn = map_.terminalIndex(id);
            if (terminal.ownReturn < 0) fields.problem("return", "there is no cavity " + id);
        }
        if (const auto current = fields.quantity("current", Unit::Ampere, 0, 500, Need::Optional)) {
            terminal.current_A = current->value;
            terminal.currentSource = source(fields, "current_source", Need::Required);
        }
        terminal.neededIn = states(fields, "needed_in");
        terminal.moves = states(fields, "moves");
        terminal.absentIn = states(fields, "absent_in");
        for (std::size_t n = 0; const json* expected : fields.objects("expected", Need::Optional))
            readExpected(terminal.expected, item("cavity", fmt::format("{}, expected value {}", terminal.id, ++n)),
                         *expected);
        if (const json* found = fields.object("as_found", Need::Optional)) readFound(terminal, *found);
        fields.reportUnknown();
    }

    Colour colour(Fields& fields)
    {
        const std::string text = fields.text("colour", Need::Optional);
        const auto read = parseColour(text);
        if (!read) fields.problem("colour", read.error().message());
        return read.value_or(Colour{});
    }

    int source(Fields& fields, const std::string& key, Need need)
    {
        const std::string id = fields.text(key, need);
        if (id.empty()) return -1;
        for (std::size_t i = 0; i < map_.sources.size(); ++i) {
            if (map_.sources[i].id == id) return static_cast<int>(i);
        }
        fields.problem(key, "there is no source " + id);
        return -1;
    }

    std::vector<int> states(Fields& fields, const std::string& key)
    {
        std::vector<int> out;
        for (const std::string& id : fields.texts(key, Need::Optional)) {
            const int state = map_.stateIndex(id);
            if (state < 0)
                fields.problem(key, "there is no state " + id);
            else
                out.push_back(state);
        }
        return out;
    }

    void readExpected(std::vector<Expected>& into, const std::string& where, const json& object)
    {
        Fields fields(object, where, problems_);
        if (!fields.isObject()) return;
        Expected expected;
        const std::string state = fields.text("state", Need::Required);
        expected.state = map_.stateIndex(state);
        if (!state.empty() && expected.state < 0) fields.problem("state", "there is no state " + state);
        const std::string measure = fields.text("measure", Need::Required);
        const auto known = measureFromText(measure);
        if (!known) {
            if (!measure.empty()) fields.problem("measure", "“" + measure + "” is no measure that is known here");
            return;
        }
        expected.measure = *known;
        const std::string how = fields.text("how", Need::Required);
        if (!how.empty() && how != "open" && how != "loaded") fields.problem("how", "must be open or loaded");
        expected.loaded = how == "loaded";
        const Unit unit = unitOf(*known);
        if (const auto low = fields.quantity("low", unit, -1e9, 1e9, Need::Optional)) expected.low = low->value;
        if (const auto high = fields.quantity("high", unit, -1e9, 1e9, Need::Optional)) expected.high = high->value;
        if (!expected.low && !expected.high) fields.problem("low", "a lower or an upper limit is needed");
        if (expected.low && expected.high && *expected.low > *expected.high)
            fields.problem("low", "is above the upper limit");
        expected.source = source(fields, "source", Need::Required);
        fields.reportUnknown();
        into.push_back(expected);
    }

    void readFound(Terminal& terminal, const json& object)
    {
        Fields fields(object, item("cavity", terminal.id + ", as found"), problems_);
        const std::string is = fields.text("is", Need::Required);
        terminal.foundNote = fields.text("why", Need::Optional);
        if (is == "empty")
            terminal.asFound = AsFound::Empty;
        else if (is == "wired")
            terminal.asFound = AsFound::Wired;
        else if (!is.empty())
            fields.problem("is", "must be empty or wired");
        fields.reportUnknown();
    }

    void readSplices(Fields& root)
    {
        std::set<std::string> seen;
        for (std::size_t i = 0; const json* object : root.objects("splices", Need::Optional)) {
            Fields fields(*object, itemOf(*object, "splice", i++), problems_);
            Splice splice;
            splice.id = freshId(fields, seen);
            splice.node = node(splice.id);
            splice.place = fields.text("place", Need::Optional);
            splice.reach_s = seconds(fields, "reach", 600);
            fields.reportUnknown();
            map_.splices.push_back(std::move(splice));
        }
    }

    void readElements(Fields& root)
    {
        std::set<std::string> seen;
        for (std::size_t i = 0; const json* object : root.objects("elements", Need::Required)) {
            Fields fields(*object, itemOf(*object, "element", i++), problems_);
            if (fields.isObject()) readElement(fields, seen);
        }
    }

    void readElement(Fields& fields, std::set<std::string>& seen)
    {
        Element element;
        element.id = freshId(fields, seen);
        const std::string kind = fields.text("kind", Need::Required);
        const ElementKindSpec* spec = specNamed(kind);
        if (!spec || spec->kind == ElementKind::Contact) {
            if (!kind.empty()) fields.problem("kind", "“" + kind + "” is no kind of element that is known here");
            return;
        }
        element.kind = spec->kind;
        readNodes(element, fields, *spec);
        for (const ValueSpec& value : spec->values) {
            const Need need = value.required ? Need::Required : Need::Optional;
            if (const auto q = fields.quantity(std::string(value.key), value.unit, value.low, value.high, need))
                element.values.emplace(value.key, q->value);
        }
        element.name = fields.text("name", Need::Optional);
        element.place = fields.text("place", Need::Optional);
        element.loom = fields.text("loom", Need::Optional);
        element.colour = colour(fields);
        element.assumed = fields.flag("assumed");
        readKnown(element, fields);
        element.weakness = fields.whole("weakness", 1, 100, Need::Optional);
        if (const auto reach = fields.quantity("reach", Unit::Second, 0, 86400, Need::Optional))
            element.reach_s = reach->value;
        if (const auto tolerance = fields.quantity("tolerance", Unit::Percent, 0, 100, Need::Optional))
            element.values.emplace("tolerance", tolerance->value);
        if (spec->usesStates) element.states = states(fields, "in");
        if (spec->kind == ElementKind::LowSideDriver || spec->kind == ElementKind::HighSideDriver)
            needs_.emplace_back(map_.elements.size(), fields.texts("needs", Need::Optional)),
                element.feedAssumed = fields.flag("feed_assumed");
        if (spec->kind == ElementKind::SupplyPort) readCurrents(element, fields);
        if (spec->kind == ElementKind::Thermistor) readTable(element, fields);
        fields.reportUnknown();
        map_.elements.push_back(std::move(element));
    }

    // Indices of the things named in a list; unknown names are reported.
    template <class Find>
    std::vector<int> indices(Fields& fields, const std::string& key, const Find& find)
    {
        std::vector<int> out;
        for (const std::string& id : fields.texts(key, Need::Optional)) {
            const int index = find(id);
            if (index < 0)
                fields.problem(key, "“" + id + "” is not on this map");
            else
                out.push_back(index);
        }
        return out;
    }

    int oneState(Fields& fields)
    {
        const std::string id = fields.text("state", Need::Required);
        const int index = map_.stateIndex(id);
        if (index < 0 && !id.empty()) fields.problem("state", "“" + id + "” is no state of this map");
        return std::max(0, index);
    }

    void readFunctions(Fields& root)
    {
        std::set<std::string> seen;
        for (std::size_t i = 0; const json* object : root.objects("functions", Need::Optional)) {
            Fields fields(*object, itemOf(*object, "function", i++), problems_);
            if (!fields.isObject()) continue;
            Function function;
            function.id = freshId(fields, seen);
            function.name = fields.text("name", Need::Required);
            function.state = oneState(fields);
            function.currents = indices(fields, "currents", [&](const auto& id) { return map_.elementIndex(id); });
            function.levels = indices(fields, "levels", [&](const auto& id) { return map_.terminalIndex(id); });
            function.ports = indices(fields, "ports", [&](const auto& id) { return map_.elementIndex(id); });
            function.rests = indices(fields, "rests", [&](const auto& id) { return map_.elementIndex(id); });
            for (const int port : function.ports) {
                if (map_.element(port).kind != ElementKind::SupplyPort)
                    fields.problem("ports", "“" + map_.element(port).id + "” is no supply port");
            }
            if (function.currents.empty() && function.levels.empty() && function.ports.empty() &&
                function.rests.empty())
                fields.problem("currents", "a function needs a current, a level, a port or a part at rest to work");
            fields.reportUnknown();
            map_.functions.push_back(std::move(function));
        }
    }

    void readCodes(Fields& root)
    {
        for (std::size_t i = 0; const json* object : root.objects("codes", Need::Optional)) {
            Fields fields(*object, item("code", fmt::format("{}", ++i)), problems_);
            if (!fields.isObject()) continue;
            CodeCondition code;
            code.code = fields.text("code", Need::Required);
            code.text = fields.text("text", Need::Optional);
            code.state = oneState(fields);
            const std::string terminal = fields.text("terminal", Need::Required);
            code.terminal = map_.terminalIndex(terminal);
            if (code.terminal < 0 && !terminal.empty())
                fields.problem("terminal", "“" + terminal + "” is not on this map");
            if (const auto q = fields.quantity("below", Unit::Volt, -60, 60, Need::Optional)) code.below_V = q->value;
            if (const auto q = fields.quantity("above", Unit::Volt, -60, 60, Need::Optional)) code.above_V = q->value;
            if (const std::string quiet = fields.text("no_current", Need::Optional); !quiet.empty()) {
                code.quiet = map_.elementIndex(quiet);
                if (code.quiet < 0) fields.problem("no_current", "“" + quiet + "” is not on this map");
            }
            if (!code.below_V && !code.above_V && code.quiet < 0)
                fields.problem("below", "a code needs the level that sets it, below or above, or no_current");
            fields.reportUnknown();
            if (code.terminal >= 0) map_.codes.push_back(std::move(code));
        }
        for (std::size_t i = 0; const json* object : root.objects("kept_codes", Need::Optional)) {
            Fields fields(*object, item("kept code", fmt::format("{}", ++i)), problems_);
            if (!fields.isObject()) continue;
            map_.keptCodes.push_back({fields.text("code", Need::Required), fields.text("text", Need::Optional),
                                      fields.text("set_by", Need::Required)});
            fields.reportUnknown();
        }
    }

    // "known": {"section": "stated"}: of figures that the part has.
    void readKnown(Element& element, Fields& fields)
    {
        const json* known = fields.object("known", Need::Optional);
        if (!known) return;
        for (const auto& [figure, how] : known->items()) {
            const auto read = how.is_string() ? knownNamed(how.get<std::string>()) : std::nullopt;
            if (!element.values.contains(figure))
                fields.problem("known", "“" + figure + "” is no figure of this part");
            else if (!read)
                fields.problem("known", "how " + figure + " is known must be stated, typical or unknown");
            else
                element.known.emplace(figure, *read);
        }
    }

    // "table": [{"temperature": "20 °C", "resistance": "2.5 kΩ"}, …], or the beta equation's figures.
    void readTable(Element& element, Fields& fields)
    {
        for (std::size_t n = 0; const json* row : fields.objects("table", Need::Optional)) {
            Fields entry(*row, item("element", fmt::format("{}: table row {}", element.id, ++n)), problems_);
            if (!entry.isObject()) continue;
            const auto t = entry.quantity("temperature", Unit::Celsius, -60, 300, Need::Required);
            const auto r = entry.quantity("resistance", Unit::Ohm, 0.1, 1e8, Need::Required);
            entry.reportUnknown();
            if (!t || !r) continue;
            if (!element.table.empty() && t->value <= element.table.back().first)
                entry.problem("temperature", "temperatures of a table rise from row to row");
            element.table.emplace_back(t->value, r->value);
        }
        const bool hasBeta = element.values.contains("resistance_25") && element.values.contains("beta");
        if (element.table.empty() && !hasBeta)
            fields.problem("table", "a thermistor needs a table, or resistance_25 and beta");
    }

    // Drivers name the supply ports they need, which may stand later in the file.
    void resolveNeeds()
    {
        for (const auto& [index, ids] : needs_) {
            Element& driver = map_.elements[index];
            for (const std::string& id : ids) {
                const int port = map_.elementIndex(id);
                if (port >= 0 && map_.element(port).kind == ElementKind::SupplyPort)
                    driver.needs.push_back(port);
                else
                    problems_.push_back({item("element", driver.id) + ", needs", "there is no supply port " + id});
            }
        }
    }

    void readNodes(Element& element, Fields& fields, const ElementKindSpec& spec)
    {
        const auto names = fields.texts("nodes", Need::Required);
        if (names.size() != spec.nodes.size()) {
            fields.problem("nodes", fmt::format("a {} has {} nodes ({}), {} are given", spec.name, spec.nodes.size(),
                                                fmt::join(spec.nodes, ", "), names.size()));
        }
        for (const std::string& name : names)
            element.nodes.push_back(node(name));
    }

    void readCurrents(Element& element, Fields& fields)
    {
        const json* object = fields.object("current_in", Need::Optional);
        if (!object) return;
        Fields inner(*object, fields.item() + ", current_in", problems_);
        for (std::size_t i = 0; i < map_.states.size(); ++i) {
            if (const auto q = inner.quantity(map_.states[i].id, Unit::Ampere, 0, 200, Need::Optional))
                element.currentIn_A[static_cast<int>(i)] = q->value;
        }
        inner.reportUnknown();
    }

    void readMachine(Fields& root)
    {
        const json* object = root.object("machine", Need::Required);
        if (!object) return;
        Fields fields(*object, file_ + ": machine", problems_);
        map_.maker = fields.text("maker", Need::Required);
        map_.model = fields.text("model", Need::Required);
        map_.kind = fields.text("kind", Need::Optional);
        map_.variant = fields.text("variant", Need::Optional);
        if (const auto voltage = fields.quantity("system_voltage", Unit::Volt, 1, 60, Need::Required))
            map_.systemVoltage_V = voltage->value;
        const std::string battery = fields.text("battery", Need::Required);
        map_.battery = map_.elementIndex(battery);
        const bool isBattery = map_.battery >= 0 && map_.element(map_.battery).kind == ElementKind::Battery;
        if (!battery.empty() && !isBattery) fields.problem("battery", "there is no battery " + battery);
        fields.reportUnknown();
    }

    // The mated pair of each wired cavity is an element of its own, so that it can carry a fault or be pulled apart.
    void addContacts()
    {
        for (std::size_t i = 0; i < map_.terminals.size(); ++i) {
            Terminal& terminal = map_.terminals[i];
            if (terminal.a < 0) continue;
            const Connector& connector = map_.connectors[static_cast<std::size_t>(terminal.connector)];
            Element contact;
            contact.id = terminal.id;
            contact.kind = ElementKind::Contact;
            contact.nodes = {terminal.a, terminal.b};
            contact.values.emplace("resistance", connector.contact_ohm);
            contact.place = connector.place;
            contact.reach_s = connector.reach_s;
            if (map_.elementIndex(contact.id) >= 0)
                problems_.push_back({item("element", contact.id), "has the name of a cavity"});
            terminal.contact = static_cast<int>(map_.elements.size());
            map_.elements.push_back(std::move(contact));
        }
    }

    const json& document_;
    std::string file_;
    Problems problems_;
    Map map_;
    std::map<std::string, int> nodes_;
    std::vector<const json*> cavityObjects_;
    std::vector<std::pair<std::size_t, std::vector<std::string>>> needs_;
};

}  // namespace

Result<Map, Problems> readMap(std::string_view text, const std::string& fileName)
{
    const auto document = parseJson(text, fileName);
    if (!document) return tl::unexpected(Problems{document.error()});
    return MapReader(*document, fileName).read(text);
}

Result<Map, Problems> readMapFile(const std::string& path)
{
    const auto text = readFile(path);
    if (!text) return tl::unexpected(Problems{text.error()});
    return readMap(*text, std::filesystem::path(path).filename().string());
}

}  // namespace ilvek
