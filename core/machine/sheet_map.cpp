#include "machine/sheet_map.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <functional>
#include <nlohmann/json.hpp>
#include <set>

#include "base/text.h"
#include "machine/copper.h"
#include "quantity/fields.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

// Assumed figures are no finer than four digits.
std::string withUnit(double value, Unit unit)
{
    if (value == 0) return exactQuantity({value, unit});
    const double step = std::pow(10.0, std::floor(std::log10(std::abs(value))) - 3);
    return exactQuantity(
        {step < 1 ? std::round(value / step) / std::round(1 / step) : std::round(value / step) * step, unit});
}

// What is taken for granted where a sheet says nothing. Wide on purpose; every use is marked as assumed.
struct Assumed {
    static constexpr double wireLength_m = 2.0;
    static constexpr double fuseRating_A = 10.0;
    static constexpr double shareOfFuse = 0.4;       // what a module draws of its main fuses' ratings, in all
    static constexpr double shareOfSideFuse = 0.05;  // and of those that only wake it or keep its memory
    static constexpr double leastCurrent_A = 0.1;
    static constexpr double loadCurrent_A = 1.0;    // of an actuator
    static constexpr double openShortfall = 0.025;  // share of the system voltage
    static constexpr double loadedShortfall = 0.05;
    static constexpr double returnDrop_V = 0.2;
    // A sound loom is dimensioned for its current: what one piece of it loses.
    static constexpr double lossOfWire = 0.006;  // share of the system voltage
    static constexpr double lossOfReturn_V = 0.03, lossOfStrap_V = 0.01;
};

// No cavity is written so.
constexpr const char* batteryId = "battery";

// The thinnest wire in trade that loses no more than this at its current, never thinner than a signal wire.
// A = ρ l I / U
double sectionFor(double length_m, double current_A, double loss_V)
{
    const double needed_mm2 = copperResistivity_ohm_mm2_per_m * length_m * current_A / loss_V;
    for (const double section_mm2 : {1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0, 70.0, 95.0})
        if (section_mm2 >= needed_mm2) return section_mm2;
    return 120;
}

// Grows a map document row by row; what a row needs and is not there yet is made.
class SheetBuilder {
public:
    explicit SheetBuilder(Json document) : doc_(std::move(document))
    {
        for (const Json& e : doc_["elements"])
            elementIds_.insert(e.value("id", ""));
        volts_ =
            parseQuantity(doc_["machine"].value("system_voltage", "12 V"), Unit::Volt).value_or(ilvek::volts(12)).value;
        module_ = doc_.value("module", "module");
        battery_ = doc_["machine"].value("battery", batteryId);
        hasState_ = [this](const std::string& id) {
            return std::any_of(doc_["states"].begin(), doc_["states"].end(),
                               [&](const Json& s) { return s.value("id", "") == id; });
        };
    }

    // Looked up before any row is added, because later rows serve earlier ones.
    void announce(const std::vector<PinRow>& rows)
    {
        for (const PinRow& row : rows) {
            const Role role = roleFromText(row.role).value_or(Role::Empty);
            if (role == Role::Return && firstReturn_.empty()) firstReturn_ = row.id();
            if (isSupply(role) && firstSupply_.empty()) firstSupply_ = row.id();
            if (isSupply(role) && role != Role::RelayFedSupply && firstPermanent_.empty()) firstPermanent_ = row.id();
            if (role == Role::Return) ++returns_;
            if (isSupply(role)) {
                ++pinsOfFuse_[fuseId(row)];
                mainRole_ = std::max(mainRole_, mainRank(role));
            }
            if (role == Role::Reference && firstReference_.empty()) firstReference_ = row.id();
            if (role == Role::ReferenceReturn && firstReferenceReturn_.empty()) firstReferenceReturn_ = row.id();
            if ((role == Role::LowSideDrive || role == Role::HighSideDrive) && !row.relay.empty())
                relayControls_[row.relay] = {row.id(), role == Role::HighSideDrive};
        }
    }

    // A cavity, a fuse, a relay and a splice of one name could not be told apart.
    void checkNames(const std::vector<PinRow>& rows)
    {
        std::set<std::string> cavities;
        for (const PinRow& row : rows)
            cavities.insert(row.id());
        for (const PinRow& row : rows) {
            const std::pair<const char*, std::string> parts[] = {
                {"fuse", fuseId(row)}, {"relay", row.relay}, {"ground", row.ground}, {"splice", row.splice}};
            for (const auto& [kind, id] : parts) {
                if (cavities.contains(id))
                    complain({fmt::format("row {}, {}", row.line, kind),
                              fmt::format("“{0}” is the name of a cavity too; write the {1} another way, as {0}x", id,
                                          kind)});
            }
        }
    }

    // What the supplies of these rows and of the document draw in all; looms are dimensioned by it. Before any row is
    // added, after all are announced.
    void dimension(const std::vector<PinRow>& rows)
    {
        for (const Json& e : doc_["elements"]) {
            if (e.value("kind", "") == "supply port")
                total_A_ += parseQuantity(e.value("current", "0 A"), Unit::Ampere).value_or(amperes(0)).value;
        }
        for (const PinRow& row : rows) {
            const Role role = roleFromText(row.role).value_or(Role::Empty);
            if (isSupply(role)) total_A_ += ownCurrent(row, role);
            if (groupOf(role) == Group::Drives) total_A_ += Assumed::loadCurrent_A;
        }
        total_A_ = std::max(total_A_, Assumed::leastCurrent_A);
    }

    void add(const PinRow& row)
    {
        const Role role = roleFromText(row.role).value_or(Role::Empty);
        Json cavity{{"cavity", row.cavity}};
        if (!row.written.empty()) cavity["name"] = row.written;
        if (role != Role::Empty) cavity["circuit"] = row.circuit;
        cavity["role"] = roleName(role);
        if (const auto colour = parseColour(row.colour); colour && !colour->base.empty())
            cavity["colour"] = colour->stripe.empty() ? colour->base : colour->base + "/" + colour->stripe;
        if (role != Role::Empty) {
            cavity["assumed"] = true;
            if (!row.source.empty() || !row.otherEnd.empty())
                cavity["note"] = trimmed(row.otherEnd + (row.source.empty() ? "" : " [" + row.source + "]"));
            wire(row, role, cavity);
        }
        if (row.asFound == "empty" || row.asFound == "wired")
            cavity["as_found"] = {{"is", row.asFound}, {"why", row.source}};
        place(row, std::move(cavity));
    }

    std::string finish(bool fresh)
    {
        if (fresh && firstReturn_.empty()) joint("no-return", module_ + ".ground", battery_ + ".-");
        return doc_.dump(1) + "\n";
    }

    const Problems& problems() const { return problems_; }

private:
    static std::string in(const PinRow& row) { return row.id() + ".b"; }
    static std::string out(const PinRow& row) { return row.id() + ".a"; }
    std::string ground() const { return module_ + ".ground"; }

    void element(const std::string& id, const char* kind, const std::vector<std::string>& nodes, Json more)
    {
        if (!elementIds_.insert(id).second) return;
        Json e{{"id", id}, {"kind", kind}, {"nodes", nodes}, {"assumed", true}};
        e.update(more);
        doc_["elements"].push_back(std::move(e));
    }

    void wireOf(const std::string& id, const std::string& a, const std::string& b, double length_m, double section_mm2)
    {
        element(
            id, "wire", {a, b},
            {{"length", withUnit(length_m, Unit::Metre)}, {"section", withUnit(section_mm2, Unit::SquareMillimetre)}});
    }

    void conductor(const std::string& a, const std::string& b, double current_A)
    {
        wireOf("wire " + a + " to " + b, a, b, Assumed::wireLength_m,
               sectionFor(Assumed::wireLength_m, current_A, Assumed::lossOfWire * volts_));
    }

    // Of a module's supplies the relay-fed ones carry its power, else the switched ones, else the permanent ones.
    static int mainRank(Role role) { return role == Role::RelayFedSupply ? 2 : role == Role::SwitchedFeed ? 1 : 0; }

    // The terminals behind one fuse share its current.
    double ownCurrent(const PinRow& row, Role role)
    {
        const double rating_A = row.fuse.empty() ? Assumed::fuseRating_A : readFuse(row).rating_A;
        const double share = mainRank(role) == mainRole_ ? Assumed::shareOfFuse : Assumed::shareOfSideFuse;
        const auto pins = pinsOfFuse_.find(fuseId(row));
        const double among = row.fuse.empty() || pins == pinsOfFuse_.end() ? 1.0 : pins->second;
        return std::max(Assumed::leastCurrent_A, share * rating_A / among);
    }

    // A part of the module itself.
    void within(const std::string& id, const char* kind, const std::vector<std::string>& nodes, Json more)
    {
        more["place"] = "inside the module";
        element(id, kind, nodes, std::move(more));
    }

    void joint(const std::string& id, const std::string& a, const std::string& b)
    {
        within(id, "joint", {a, b}, {{"resistance", "0.001 Ω"}});
    }

    void resistor(const std::string& id, const std::string& name, const std::string& a, const std::string& b, double r)
    {
        element(id, "resistor", {a, b}, {{"name", name}, {"resistance", withUnit(r, Unit::Ohm)}});
    }

    std::string batteryBus()
    {
        conductor(battery_ + ".+", "FB.30", total_A_);
        return "FB.30";
    }

    std::vector<std::string> onStates() const
    {
        std::vector<std::string> states;
        for (const char* id : {"key-on", "cranking"}) {
            if (hasState_(id)) states.emplace_back(id);
        }
        return states;
    }

    std::string keyBus()
    {
        const std::string bus = batteryBus();
        element("KEY", "switch", {bus, "FB.15"},
                {{"name", "key switch"}, {"resistance", "0.01 Ω"}, {"in", onStates()}});
        return "FB.15";
    }

    std::string groundPoint(const std::string& named)
    {
        const std::string id = named.empty() ? "G" : named;
        element(id, "joint", {id + ".ring", id}, {{"name", "ground point " + id}, {"resistance", "0.001 Ω"}});
        wireOf("strap " + id, id, battery_ + ".-", 1.0,
               std::max(16.0, sectionFor(1.0, total_A_, Assumed::lossOfStrap_V)));
        return id + ".ring";
    }

    std::string relayBus(const std::string& id)
    {
        if (elementIds_.contains(id)) return id + ".87";
        conductor(batteryBus(), id + ".30", total_A_);
        // The module pulls the coil down, or feeds it.
        const auto control = relayControls_.find(id);
        const bool isDriven = control != relayControls_.end(), fromPlus = isDriven && control->second.fromPlus;
        const std::string drive = isDriven ? control->second.terminal + ".a" : "";
        conductor(fromPlus ? drive : keyBus(), id + ".86", Assumed::leastCurrent_A);
        conductor(id + ".85", isDriven && !fromPlus ? drive : groundPoint(""), Assumed::leastCurrent_A);
        element(id, "relay", {id + ".30", id + ".87", id + ".86", id + ".85"},
                {{"coil", withUnit(7.0 * volts_, Unit::Ohm)},
                 {"contact", "0.005 Ω"},
                 {"pick_up", withUnit(0.6 * volts_, Unit::Volt)},
                 {"drop_out", withUnit(0.2 * volts_, Unit::Volt)}});
        return id + ".87";
    }

    // A row is looked at more than once.
    void complain(Error problem)
    {
        const auto same = [&](const Error& known) { return known.item == problem.item; };
        if (std::none_of(problems_.begin(), problems_.end(), same)) problems_.push_back(std::move(problem));
    }

    // "F14 20 A", or "F14" with "20" or "20 A" in the column beside it.
    struct FuseText {
        std::string id;
        double rating_A = Assumed::fuseRating_A;
    };
    static std::string fuseId(const PinRow& row) { return row.fuse.substr(0, row.fuse.find_first_of(" \t")); }

    FuseText readFuse(const PinRow& row)
    {
        FuseText fuse;
        const std::size_t cut = row.fuse.find_first_of(" \t");
        fuse.id = fuseId(row);
        const std::string inCell = cut == std::string::npos ? "" : row.fuse.substr(cut);
        const std::string rating(trimmed(row.fuseRating.empty() ? inCell : row.fuseRating));
        if (rating.empty()) return fuse;
        const auto figure = parseQuantity(rating, Unit::Ampere);
        if (figure && !figure->overLimit && figure->value >= 0.1 && figure->value <= 1000)
            fuse.rating_A = figure->value;
        else
            complain({fmt::format("row {}, fuse rating", row.line),
                      figure ? "“" + rating + "” is no possible fuse rating" : figure.error().message()});
        return fuse;
    }

    // Where a row's feed comes from, behind its fuse and splice.
    std::string feed(const PinRow& row, Role role)
    {
        const bool relayFed =
            role == Role::RelayFedSupply ||
            (!isSupply(role) && !row.relay.empty() && role != Role::LowSideDrive && role != Role::HighSideDrive);
        std::string node = relayFed && !row.relay.empty() ? relayBus(row.relay)
                           : role == Role::PermanentFeed  ? batteryBus()
                                                          : keyBus();
        if (!row.fuse.empty()) {
            const FuseText fuse = readFuse(row);
            element(fuse.id, "fuse", {node, fuse.id + ".out"}, {{"rating", withUnit(fuse.rating_A, Unit::Ampere)}});
            node = fuseOut(fuse.id);
        }
        if (row.splice.empty()) return node;
        const double behind_A =
            isSupply(role) ? ownCurrent(row, role) * std::max(1, pinsOfFuse_[fuseId(row)]) : total_A_;
        const auto known = [&](const Json& s) { return s.value("id", "") == row.splice; };
        if (std::none_of(doc_["splices"].begin(), doc_["splices"].end(), known))
            doc_["splices"].push_back({{"id", row.splice}});
        conductor(node, row.splice, behind_A);
        return row.splice;
    }

    // The far node of a fuse, which in a map made by hand may have any name.
    std::string fuseOut(const std::string& id) const
    {
        for (const Json& e : doc_["elements"]) {
            if (e.value("id", "") == id && e["nodes"].size() > 1) return e["nodes"][1].get<std::string>();
        }
        return id + ".out";
    }

    static Json expected(const std::string& state, const char* measure, const char* how, double low, double high,
                         Unit unit)
    {
        return {{"state", state},
                {"measure", measure},
                {"how", how},
                {"low", withUnit(low, unit)},
                {"high", withUnit(high, unit)},
                {"source", "assumed"}};
    }

    void wire(const PinRow& row, Role role, Json& cavity)
    {
        ensureAssumedSource();
        switch (groupOf(role)) {
            case Group::Supplies:
                return supply(row, role, cavity);
            case Group::Returns:
                return powerReturn(row, cavity);
            case Group::References:
                return role == Role::Reference ? reference(row, cavity) : referenceReturn(row, cavity);
            case Group::Inputs:
                return input(row, role, cavity);
            case Group::Drives:
                return drive(row, role, cavity);
            case Group::Networks:
                return bus(row, cavity);
            case Group::Empty:
                return;
        }
    }

    void ensureAssumedSource()
    {
        for (const Json& s : doc_["sources"]) {
            if (s.value("id", "") == "assumed") return;
        }
        doc_["sources"].push_back({{"id", "assumed"},
                                   {"title", "assumed by role, not from a source about this machine"},
                                   {"kind", "assumed"}});
    }

    std::string anyState(const char* wanted) const
    {
        return hasState_(wanted) ? wanted : doc_["states"].front().value("id", "");
    }

    void supply(const PinRow& row, Role role, Json& cavity)
    {
        const double own = ownCurrent(row, role);
        conductor(feed(row, role), out(row), own);
        within("port " + row.id(), "supply port", {in(row), ground()},
               {{"current", withUnit(own, Unit::Ampere)}, {"brown_out", withUnit(0.5 * volts_, Unit::Volt)}});
        if (!firstReturn_.empty()) cavity["return"] = firstReturn_;
        cavity["current"] = withUnit(own, Unit::Ampere);
        cavity["current_source"] = "assumed";
        const std::string on = anyState("key-on"), off = anyState("key-off");
        const std::string needed = role == Role::PermanentFeed ? off : on;
        cavity["needed_in"] = {needed};
        cavity["expected"] = {
            expected(needed, "below battery", "open", -0.05, Assumed::openShortfall * volts_, Unit::Volt),
            expected(needed, "below battery", "loaded", -0.05, Assumed::loadedShortfall * volts_, Unit::Volt)};
        if (role == Role::PermanentFeed || on == off) return;
        cavity["absent_in"] = {off};
        cavity["expected"].push_back(expected(off, "level", "open", -0.1, 1.0, Unit::Volt));
    }

    void powerReturn(const PinRow& row, Json& cavity)
    {
        const double own = std::max(Assumed::leastCurrent_A, total_A_ / std::max(1, returns_));
        const std::string point = groundPoint(row.ground);
        wireOf("wire " + out(row) + " to " + point, out(row), point, Assumed::wireLength_m,
               sectionFor(Assumed::wireLength_m, own, Assumed::lossOfReturn_V));
        joint("tie " + row.id(), in(row), ground());
        const std::string on = anyState("key-on");
        cavity["current"] = withUnit(own, Unit::Ampere);
        cavity["current_source"] = "assumed";
        cavity["needed_in"] = {on};
        cavity["expected"] = {expected(on, "drop", "loaded", -0.01, Assumed::returnDrop_V, Unit::Volt)};
    }

    std::string regulated()
    {
        const std::string supplyNode = firstSupply_.empty() ? battery_ + ".+" : firstSupply_ + ".b";
        within("regulator", "regulator", {supplyNode, module_ + ".5V", ground()},
               {{"voltage", "5 V"}, {"resistance", "0.2 Ω"}, {"limit", "0.15 A"}, {"dropout", "0.5 V"}});
        return module_ + ".5V";
    }

    // Where the far side of a sensor returns to.
    std::string farReturn() { return firstReferenceReturn_.empty() ? groundPoint("") : firstReferenceReturn_ + ".end"; }

    void reference(const PinRow& row, Json& cavity)
    {
        joint("tie " + row.id(), in(row), regulated());
        conductor(out(row), row.id() + ".end", Assumed::loadCurrent_A);
        resistor("load " + row.id(), row.otherEnd, row.id() + ".end", farReturn(), 1000);
        if (!firstReferenceReturn_.empty()) cavity["return"] = firstReferenceReturn_;
        const std::string on = anyState("key-on");
        cavity["expected"] = {expected(on, "level", "open", 4.75, 5.25, Unit::Volt),
                              expected(on, "level", "loaded", 4.75, 5.25, Unit::Volt)};
    }

    void referenceReturn(const PinRow& row, Json& cavity)
    {
        joint("tie " + row.id(), in(row), ground());
        conductor(out(row), row.id() + ".end", Assumed::loadCurrent_A);
        const std::string other = firstReference_.empty() ? groundPoint("") : firstReference_ + ".end";
        resistor("between " + row.id(), "sensors on this return", row.id() + ".end", other, 1000);
        cavity["expected"] = {expected(anyState("key-on"), "drop", "loaded", -0.01, 0.05, Unit::Volt)};
    }

    void input(const PinRow& row, Role role, Json& cavity)
    {
        within("input " + row.id(), "input", {in(row), ground()}, {{"resistance", "100000 Ω"}});
        if (role == Role::SwitchInput || role == Role::ThermistorInput || role == Role::HallInput)
            within("pull-up " + row.id(), "pull-up", {regulated(), in(row)}, {{"resistance", "2200 Ω"}});
        conductor(out(row), row.id() + ".end", Assumed::loadCurrent_A);
        resistor("load " + row.id(), row.otherEnd, row.id() + ".end", farReturn(), 2200);
        if (!firstReferenceReturn_.empty()) cavity["return"] = firstReferenceReturn_;
        const bool atBattery = role == Role::SenseInput;
        cavity["expected"] = {
            expected(anyState("key-on"), "level", "loaded", -0.1, atBattery ? 1.3 * volts_ : 5.25, Unit::Volt)};
    }

    void drive(const PinRow& row, Role role, Json& cavity)
    {
        const bool high = role == Role::HighSideDrive;
        // What feeds a drive that switches the module's own relay cannot be behind that relay.
        const std::string source = row.relay.empty() || firstPermanent_.empty() ? firstSupply_ : firstPermanent_;
        const std::string supplyNode = source.empty() ? battery_ + ".+" : source + ".b";
        if (high)
            within("driver " + row.id(), "high-side driver", {supplyNode, in(row)}, driverValues(row));
        else
            within("driver " + row.id(), "low-side driver", {in(row), ground()}, driverValues(row));
        const auto control = relayControls_.find(row.relay);
        if (control != relayControls_.end() && control->second.terminal == row.id()) {
            relayBus(row.relay);
        } else {
            conductor(out(row), row.id() + ".end", Assumed::loadCurrent_A);
            const std::string far = high                        ? groundPoint(row.ground)
                                    : role == Role::DriveReturn ? groundPoint("")
                                                                : feed(row, role);
            resistor("load " + row.id(), row.otherEnd, row.id() + ".end", far, volts_ / Assumed::loadCurrent_A);
        }
        cavity["expected"] = {expected(anyState("key-on"), "level", "loaded", -0.1, 1.3 * volts_, Unit::Volt)};
    }

    // A driver that holds a supply's relay is on with the key; the others are off until commanded.
    Json driverValues(const PinRow& row) const
    {
        const auto control = relayControls_.find(row.relay);
        const bool holdsRelay = control != relayControls_.end() && control->second.terminal == row.id();
        return {{"resistance", "0.2 Ω"}, {"in", holdsRelay ? onStates() : std::vector<std::string>{}}};
    }

    void bus(const PinRow& row, Json& cavity)
    {
        within("input " + row.id(), "input", {in(row), ground()}, {{"resistance", "30000 Ω"}});
        conductor(out(row), row.id() + ".end", Assumed::loadCurrent_A);
        resistor("load " + row.id(), row.otherEnd, row.id() + ".end", groundPoint(""), 30000);
        cavity["expected"] = {expected(anyState("key-on"), "level", "loaded", -0.1, 1.3 * volts_, Unit::Volt)};
    }

    // Into the connector, which grows as needed.
    void place(const PinRow& row, Json cavity)
    {
        Json* connector = nullptr;
        for (Json& c : doc_["connectors"]) {
            if (c.value("id", "") == row.connector) connector = &c;
        }
        if (!connector) {
            doc_["connectors"].push_back(
                {{"id", row.connector}, {"rows", 1}, {"columns", 1}, {"module", true}, {"cavities", Json::array()}});
            connector = &doc_["connectors"].back();
        }
        const int rows = (*connector)["rows"].get<int>(), columns = (*connector)["columns"].get<int>();
        if (row.cavity > rows * columns) {
            const int newRows = row.cavity <= 8 ? 1 : row.cavity <= 40 ? 2 : 4;
            (*connector)["rows"] = newRows;
            (*connector)["columns"] = (row.cavity + newRows - 1) / newRows;
        }
        (*connector)["cavities"].push_back(std::move(cavity));
    }

    Json doc_;
    Problems problems_;
    std::set<std::string> elementIds_;
    std::string module_, battery_;
    double volts_ = 12;
    double total_A_ = 0;
    int returns_ = 0, mainRole_ = 0;
    std::map<std::string, int> pinsOfFuse_;
    std::function<bool(const std::string&)> hasState_;
    std::string firstReturn_, firstSupply_, firstPermanent_, firstReference_, firstReferenceReturn_;
    struct Control {
        std::string terminal;
        bool fromPlus = false;
    };
    std::map<std::string, Control> relayControls_;  // by relay
};

Json skeleton(const NewMachine& machine)
{
    const double v = machine.systemVoltage_V;
    return {{"format", "ilvek-map"},
            {"version", 1},
            {"machine",
             {{"maker", machine.maker},
              {"model", machine.model},
              {"system_voltage", withUnit(v, Unit::Volt)},
              {"battery", batteryId}}},
            {"module", machine.module},
            {"battery_expected",
             {{{"state", "key-on"},
               {"measure", "level"},
               {"how", "loaded"},
               {"low", withUnit(v * 0.99, Unit::Volt)},
               {"high", withUnit(v * 1.08, Unit::Volt)},
               {"source", "assumed"}}}},
            {"sources",
             {{{"id", "assumed"},
               {"title", "assumed by role, not from a source about this machine"},
               {"kind", "assumed"}}}},
            {"states",
             {{{"id", "key-off"}, {"name", "Key off"}, {"how", "Key out, all consumers off"}, {"effort", "120 s"}},
              {{"id", "key-on"}, {"name", "Key on"}, {"how", "Key on, engine not running"}, {"effort", "10 s"}},
              {{"id", "cranking"},
               {"name", "Cranking"},
               {"caution", "Rotating parts: keep clear of belts and fan; brake on, drive in neutral."},
               {"effort", "60 s"}}}},
            {"connectors", Json::array()},
            {"splices", Json::array()},
            {"elements",
             {{{"id", batteryId},
               {"kind", "battery"},
               {"nodes", {std::string(batteryId) + ".+", std::string(batteryId) + ".-"}},
               {"name", "battery"},
               {"emf", withUnit(v * 1.045, Unit::Volt)},
               {"resistance", "0.01 Ω"},
               {"assumed", true}}}}};
}

}  // namespace

Result<std::string, Problems> mapFromSheet(const std::vector<PinRow>& rows, const NewMachine& machine)
{
    SheetBuilder builder(skeleton(machine));
    builder.announce(rows);
    builder.dimension(rows);
    builder.checkNames(rows);
    for (const PinRow& row : rows)
        builder.add(row);
    std::string document = builder.finish(true);
    if (!builder.problems().empty()) return tl::unexpected(builder.problems());
    return document;
}

Result<std::string, Problems> withRow(const std::string& document, const PinRow& added)
{
    PinRow row = added;
    Json doc = Json::parse(document, nullptr, false);
    if (doc.is_discarded()) return tl::unexpected(Problems{{"the map", "this is not well-formed JSON"}});
    std::vector<PinRow> there;
    for (Json& connector : doc["connectors"]) {
        auto& cavities = connector["cavities"];
        const auto isThis = [&](const Json& c) { return c.value("cavity", 0) == row.cavity; };
        for (const Json& c : cavities) {
            if (connector.value("id", "") == row.connector && isThis(c) && row.written.empty())
                row.written = c.value("name", "");
        }
        if (connector.value("id", "") == row.connector)
            cavities.erase(std::remove_if(cavities.begin(), cavities.end(), isThis), cavities.end());
        if (!connector.value("module", false)) continue;
        for (const Json& c : cavities) {
            PinRow known;
            known.connector = connector.value("id", "");
            known.cavity = c.value("cavity", 0);
            known.written = c.value("name", "");
            known.role = c.value("role", "");
            there.push_back(std::move(known));
        }
    }
    SheetBuilder builder(std::move(doc));
    builder.announce(there);
    builder.announce({row});
    builder.dimension({row});
    builder.add(row);
    std::string out = builder.finish(false);
    if (!builder.problems().empty()) return tl::unexpected(builder.problems());
    return out;
}

}  // namespace ilvek
