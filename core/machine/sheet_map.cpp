#include "machine/sheet_map.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "base/text.h"
#include "machine/sheet_parts.h"
#include "machine/sheet_wiring.h"
#include "quantity/fields.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

// No cavity is written so.
constexpr const char* batteryId = "battery";

std::string itemOf(const PinRow& row, const char* column)
{
    return fmt::format("row {}, {}", row.line, column);
}

std::string fuseId(const PinRow& row)
{
    return row.fuse.substr(0, row.fuse.find_first_of(" \t"));
}

bool isDrive(Role role)
{
    return groupOf(role) == Group::Drives;
}

// A row with its words understood.
struct SheetRow {
    const PinRow& row;
    Role role = Role::Empty;
    FarEnd far;
    std::vector<RoutePlace> route;      // of a supply, a return or a consumer: to where it is fed or grounded
    std::vector<RoutePlace> otherWire;  // of the part at its far end
    bool drivesCoil = false;

    std::string id() const { return row.id(); }
    std::string in() const { return row.id() + ".b"; }
    std::string out() const { return row.id() + ".a"; }
    std::string end() const { return row.id() + ".end"; }
    // The fuse whose current it shares.
    std::string fuse() const
    {
        const auto at = std::find_if(route.begin(), route.end(),
                                     [](const RoutePlace& p) { return p.kind == RoutePlace::Kind::Fuse; });
        return at == route.end() ? "" : at->id;
    }
};

Bus busOf(Role role)
{
    return role == Role::PermanentFeed ? Bus::Battery : isSupply(role) ? Bus::Key : Bus::Unknown;
}

std::string colourWordsOf(const PinRow& row)
{
    const auto colour = parseColour(row.colour);
    if (!colour || colour->base.empty()) return "";
    return colour->stripe.empty() ? colour->base : colour->base + "/" + colour->stripe;
}

// Grows a map document row by row; what a row needs and is not there yet is made.
class SheetBuilder {
public:
    explicit SheetBuilder(Json document) : doc_(std::move(document)), wiring_(doc_) {}

    // Looked up before any row is added, because later rows serve earlier ones.
    void announce(const std::vector<PinRow>& rows)
    {
        for (const PinRow& row : rows) {
            if (row.isTerminal()) names_[lowered(row.id())] = row.id();
        }
        for (const PinRow& row : rows) {
            rows_.push_back(understood(row));
            if (row.isTerminal()) announceTerminal(rows_.back());
        }
        for (const SheetRow& r : rows_) {
            wiring_.announce(itemOf(r.row, "route"), r.route, busOf(r.role));
            wiring_.announce(itemOf(r.row, "far end"), r.otherWire, Bus::Unknown);
        }
    }

    // Besides the first states each drive commanded and each switch operated.
    void addStates()
    {
        for (const SheetRow& r : rows_) {
            if (!r.row.isTerminal()) continue;
            const std::string name = r.row.circuit;
            if (isDrive(r.role) && r.role != Role::DriveReturn && !r.drivesCoil)
                doc_.addState(commandedIn(r), name + " commanded",
                              "Key on, " + name + " commanded, by its control or a scan tool",
                              "What it moves may move: nobody near it.", "30 s");
            if (r.role == Role::SwitchInput)
                doc_.addState(operatedIn(r), name + " operated", "Key on, the switch of " + name + " operated by hand",
                              "", "30 s");
        }
    }

    // A cavity, a fuse, a relay and a splice of one name could not be told apart.
    void checkNames()
    {
        std::set<std::string> cavities;
        for (const SheetRow& r : rows_)
            cavities.insert(r.id());
        for (const SheetRow& r : rows_) {
            const std::pair<const char*, std::string> parts[] = {
                {"fuse", fuseId(r.row)}, {"relay", r.row.relay}, {"ground", r.row.ground}, {"splice", r.row.splice}};
            for (const auto& [kind, id] : parts) {
                if (cavities.contains(id)) complainOfName(itemOf(r.row, kind), kind, id);
            }
            for (const RoutePlace& place : r.route) {
                if (cavities.contains(place.id)) complainOfName(itemOf(r.row, "route"), "place", place.id);
            }
        }
    }

    // What the supplies of these rows and of the document draw in all; looms are dimensioned by it. Before any row is
    // added, after all are announced.
    void dimension(std::size_t from = 0)
    {
        double total_A = 0;
        for (const Json& e : doc_.json()["elements"]) {
            if (e.value("kind", "") == "supply port")
                total_A += parseQuantity(e.value("current", "0 A"), Unit::Ampere).value_or(amperes(0)).value;
        }
        for (std::size_t i = from; i < rows_.size(); ++i) {
            const SheetRow& r = rows_[i];
            if (isSupply(r.role)) total_A += ownCurrent(r);
            if (isDrive(r.role) || !r.row.isTerminal()) total_A += Assumed::loadCurrent_A;
        }
        total_A_ = std::max(total_A, Assumed::leastCurrent_A);
        wiring_.dimension(total_A_);
    }

    void addAll()
    {
        for (const SheetRow& r : rows_)
            r.row.isTerminal() ? addTerminal(r) : addLoose(r);
        addNodes();
    }

    // The last row announced.
    void addLast() { rows_.back().row.isTerminal() ? addTerminal(rows_.back()) : addLoose(rows_.back()); }

    void groundModule()
    {
        if (firstReturn_.empty()) joint("no-return", doc_.ground(), doc_.battery() + ".-");
    }

    // A starter and an alternator are on every machine with an engine; that nobody stated their figures widens what is
    // foretold while they run.
    void addEngine()
    {
        if (!doc_.hasState("running")) return;
        const double v = doc_.systemVoltage_V();
        doc_.add({"alternator",
                  "alternator",
                  {doc_.battery() + ".+", doc_.battery() + ".-"},
                  {{"name", "alternator"},
                   {"emf", assumedFigure(1.175 * v, Unit::Volt)},
                   {"resistance", "0.02 Ω"},
                   {"limit", "60 A"}},
                  {"running"},
                  true});
    }

    // Whether the document was made of a sheet, and not drawn.
    bool isOfSheet()
    {
        for (const Json& e : doc_.json()["elements"]) {
            if (e.value("id", "") == doc_.battery()) return e.value("assumed", false);
        }
        return false;
    }
    std::string text() const { return doc_.text(); }
    const Problems& problems() const { return doc_.problems(); }

private:
    static std::string commandedIn(const SheetRow& r) { return lowered(r.id()) + "-commanded"; }
    static std::string operatedIn(const SheetRow& r) { return lowered(r.id()) + "-operated"; }

    void complainOfName(const std::string& item, const char* kind, const std::string& id)
    {
        doc_.complain(
            {item, fmt::format("“{0}” is the name of a cavity too; write the {1} another way, as {0}x", id, kind)});
    }

    SheetRow understood(const PinRow& row)
    {
        SheetRow r{row, roleFromText(row.role).value_or(Role::Empty), parseFarEnd(row.otherEnd), {}, {}};
        if (!row.isTerminal()) r.role = Role::Empty;
        nameByRole(r);
        if (!r.far.otherWire.empty() && terminalNamed(r.far.otherWire).empty()) {
            auto other = parseRoute(r.far.otherWire);
            if (other)
                r.otherWire = std::move(*other);
            else
                doc_.complain({itemOf(row, "far end"), other.error().message()});
        }
        r.drivesCoil = isDrive(r.role) && !row.relay.empty();
        if (r.far.kind == FarEnd::Kind::RelayCoil && isDrive(r.role)) r.drivesCoil = true;
        if (r.drivesCoil && !r.otherWire.empty() && r.otherWire.back().kind == RoutePlace::Kind::Ground)
            r.role = Role::HighSideDrive;
        r.route = routeOf(r);
        return r;
    }

    // What is not told of the part at the far end follows from the role.
    static void nameByRole(SheetRow& r)
    {
        using Kind = FarEnd::Kind;
        Kind& kind = r.far.kind;
        const bool vague = kind == Kind::Unknown || kind == Kind::Sensor;
        if (r.role == Role::ThermistorInput && vague) kind = Kind::Thermistor;
        if (r.role == Role::SwitchInput && vague) kind = Kind::Switch;
        if (r.role == Role::ReluctanceInput && vague) kind = Kind::PickUp;
    }

    // By the route, else by the columns of fuse, relay, splice and ground.
    std::vector<RoutePlace> routeOf(const SheetRow& r)
    {
        using Kind = RoutePlace::Kind;
        const PinRow& row = r.row;
        auto route = parseRoute(row.route);
        if (!route) {
            doc_.complain({itemOf(row, "route"), route.error().message()});
            route = std::vector<RoutePlace>{};
        }
        if (r.role == Role::Return || r.role == Role::HighSideDrive) {
            if (!row.ground.empty()) route->push_back({Kind::Ground, row.ground, std::nullopt});
            return *route;
        }
        if (!row.splice.empty()) route->push_back({Kind::Splice, row.splice, std::nullopt});
        if (!row.fuse.empty()) route->push_back({Kind::Fuse, fuseId(row), ratingOf(row)});
        const bool fedByRelay = !row.relay.empty() && !isDrive(r.role);
        const bool inRoute =
            std::any_of(route->begin(), route->end(), [&](const RoutePlace& p) { return p.id == row.relay; });
        if (fedByRelay && !inRoute) route->push_back({Kind::Relay, row.relay, std::nullopt});
        return *route;
    }

    // "F14 20 A", or "F14" with "20" or "20 A" in the column beside it.
    std::optional<double> ratingOf(const PinRow& row)
    {
        const std::size_t cut = row.fuse.find_first_of(" \t");
        const std::string inCell = cut == std::string::npos ? "" : row.fuse.substr(cut);
        const std::string rating(trimmed(row.fuseRating.empty() ? inCell : row.fuseRating));
        if (rating.empty()) return std::nullopt;
        const auto figure = parseQuantity(rating, Unit::Ampere);
        if (figure && !figure->overLimit && figure->value >= 0.1 && figure->value <= 1000) return figure->value;
        doc_.complain({itemOf(row, "fuse rating"),
                       figure ? "“" + rating + "” is no possible fuse rating" : figure.error().message()});
        return std::nullopt;
    }

    std::string terminalNamed(const std::string& id) const
    {
        const auto at = names_.find(lowered(id));
        return at == names_.end() ? "" : at->second;
    }

    void announceTerminal(const SheetRow& r)
    {
        const Role role = r.role;
        if (role == Role::Return && firstReturn_.empty()) firstReturn_ = r.id();
        if (isSupply(role) && firstSupply_.empty()) firstSupply_ = r.id();
        if (isSupply(role) && role != Role::RelayFedSupply && firstPermanent_.empty()) firstPermanent_ = r.id();
        if (role == Role::Return) ++returns_;
        if (isSupply(role)) {
            ++pinsOfFuse_[r.fuse()];
            mainRole_ = std::max(mainRole_, mainRank(role));
        }
        if (role == Role::Reference && firstReference_.empty()) firstReference_ = r.id();
        if (role == Role::ReferenceReturn && firstReferenceReturn_.empty()) firstReferenceReturn_ = r.id();
        const std::string relay = r.row.relay.empty() ? r.far.relay : r.row.relay;
        if (r.drivesCoil && !relay.empty())
            wiring_.announceCoil(relay, {r.out(), r.route, role == Role::HighSideDrive, r.otherWire, r.row.circuit,
                                         colourWordsOf(r.row)});
    }

    void addTerminal(const SheetRow& r)
    {
        const PinRow& row = r.row;
        Json cavity{{"cavity", row.cavity}};
        if (!row.written.empty()) cavity["name"] = row.written;
        if (r.role != Role::Empty) cavity["circuit"] = row.circuit;
        cavity["role"] = roleName(r.role);
        const std::string colourWords = colourWordsOf(row);
        if (!colourWords.empty()) cavity["colour"] = colourWords;
        if (r.role != Role::Empty) {
            cavity["assumed"] = true;
            if (!row.source.empty() || !row.otherEnd.empty())
                cavity["note"] = trimmed(row.otherEnd + (row.source.empty() ? "" : " [" + row.source + "]"));
            if (!row.hazard.empty()) cavity["hazard"] = row.hazard;
            wiring_.carry(row.circuit, colourWords);
            wire(r, cavity);
        }
        if (row.asFound == "empty" || row.asFound == "wired")
            cavity["as_found"] = {{"is", row.asFound}, {"why", row.source}};
        place(row, std::move(cavity));
    }

    // Of a module's supplies the relay-fed ones carry its power, else the switched ones, else the permanent ones.
    static int mainRank(Role role) { return role == Role::RelayFedSupply ? 2 : role == Role::SwitchedFeed ? 1 : 0; }

    static std::optional<double> statedCurrent(const PinRow& row)
    {
        const auto figure = parseQuantity(row.current, Unit::Ampere);
        if (row.current.empty() || !figure || figure->overLimit || figure->value <= 0) return std::nullopt;
        return figure->value;
    }

    // As stated; else the terminals behind one fuse share its current.
    double ownCurrent(const SheetRow& r)
    {
        if (const auto stated = statedCurrent(r.row)) return *stated;
        const std::string fuse = r.fuse();
        const auto at = std::find_if(r.route.begin(), r.route.end(), [&](const RoutePlace& p) { return p.id == fuse; });
        const double rating_A = at == r.route.end() || !at->rating_A ? Assumed::fuseRating_A : *at->rating_A;
        const double share = mainRank(r.role) == mainRole_ ? Assumed::shareOfFuse : Assumed::shareOfSideFuse;
        const auto pins = pinsOfFuse_.find(fuse);
        const double among = fuse.empty() || pins == pinsOfFuse_.end() ? 1.0 : pins->second;
        return std::max(Assumed::leastCurrent_A, share * rating_A / among);
    }

    void joint(const std::string& id, const std::string& a, const std::string& b)
    {
        doc_.addWithin({id, "joint", {a, b}, {{"resistance", "0.001 Ω"}}});
    }

    Json expected(const std::string& state, const char* measure, const char* how, std::optional<double> low,
                  std::optional<double> high, Unit unit, const std::string& source = "assumed")
    {
        Json e{{"state", state}, {"measure", measure}, {"how", how}};
        if (low) e["low"] = assumedFigure(*low, unit);
        if (high) e["high"] = assumedFigure(*high, unit);
        e["source"] = source;
        return e;
    }

    // The source that a row names, or the sheet itself.
    std::string sourceOf(const PinRow& row)
    {
        return addSource(row.source.empty() ? "the sheet" : row.source,
                         row.source.empty() ? "the pin sheet" : row.source, "maker");
    }

    std::string addSource(const std::string& id, const std::string& title, const char* kind)
    {
        Json& sources = doc_.json()["sources"];
        if (std::none_of(sources.begin(), sources.end(), [&](const Json& s) { return s.value("id", "") == id; }))
            sources.push_back({{"id", id}, {"title", title}, {"kind", kind}});
        return id;
    }

    void wire(const SheetRow& r, Json& cavity)
    {
        addSource("assumed", "assumed by role, not from a source about this machine", "assumed");
        switch (groupOf(r.role)) {
            case Group::Supplies:
                supply(r, cavity);
                break;
            case Group::Returns:
                powerReturn(r, cavity);
                break;
            case Group::References:
                r.role == Role::Reference ? reference(r, cavity) : referenceReturn(r, cavity);
                break;
            case Group::Inputs:
                input(r, cavity);
                break;
            case Group::Drives:
                drive(r, cavity);
                break;
            case Group::Networks:
                bus(r, cavity);
                break;
            case Group::Empty:
                break;
        }
        if (const auto stated = statedCurrent(r.row)) {
            cavity["current"] = assumedFigure(*stated, Unit::Ampere);
            cavity["current_source"] = sourceOf(r.row);
        }
        expectAsStated(r, cavity);
        if (!r.row.ownReturn.empty()) {
            const std::string own = terminalNamed(r.row.ownReturn);
            if (own.empty())
                doc_.complain({itemOf(r.row, "own return"), "“" + r.row.ownReturn + "” is no cavity of this sheet"});
            else
                cavity["return"] = own;
        }
    }

    std::string anyState(const char* wanted)
    {
        return doc_.hasState(wanted) ? wanted : doc_.json()["states"].front().value("id", "");
    }

    // The state that a row means: its own by "commanded", "operated"; the others by their name or how it begins.
    std::string stateOf(const SheetRow& r, const std::string& words)
    {
        const std::string low = lowered(words);
        const auto says = [&](std::initializer_list<const char*> any) {
            return std::any_of(any.begin(), any.end(), [&](const char* w) { return low.find(w) != std::string::npos; });
        };
        if (low.empty()) return anyState(isDrive(r.role) ? commandedIn(r).c_str() : "key-on");
        if (isDrive(r.role) && says({"command", "driven"}) && !says({"not command"})) return commandedIn(r);
        if (isDrive(r.role) && (low == "on" || says({"working"}))) return commandedIn(r);
        if (r.role == Role::SwitchInput && says({"operated", "pressed", "actuated"}) && !says({"not "}))
            return operatedIn(r);
        if (says({"crank", "start"})) return anyState("cranking");
        if (says({"running", "idl", "engine on"})) return anyState("running");
        if (says({"key off", "key-off", "ignition off", "asleep"})) return anyState("key-off");
        for (const Json& s : doc_.json()["states"]) {
            if (lowered(s.value("name", "")) == low || lowered(s.value("id", "")) == low) return s.value("id", "");
        }
        if (says({"key on", "key-on", "ignition on", "off", "rest", "not ", "awake"})) return anyState("key-on");
        return "";
    }

    // What the sheet states holds instead of what is assumed for the same.
    void expectAsStated(const SheetRow& r, Json& cavity)
    {
        const auto figures = parseExpectedFigures(r.row.expected);
        if (!figures) return doc_.complain({itemOf(r.row, "expected"), figures.error().message()});
        for (const ExpectedFigure& f : *figures) {
            const std::string state = stateOf(r, f.state);
            if (state.empty()) {
                doc_.complain({itemOf(r.row, "expected"),
                               fmt::format("“{}” is no state that is known; write key off, key on, cranking, running, "
                                           "commanded or operated",
                                           f.state)});
                continue;
            }
            if (f.unit == Unit::Ampere) {
                cavity["current"] = assumedFigure(
                    f.low && f.high ? 0.5 * (*f.low + *f.high) : f.low.value_or(f.high.value_or(0)), Unit::Ampere);
                cavity["current_source"] = sourceOf(r.row);
                continue;
            }
            // A feed is held against the battery of the minute; the level tells when it is there.
            if (isSupply(r.role) || r.role == Role::Return) continue;
            const char* measure = f.unit == Unit::Volt      ? "level"
                                  : f.unit == Unit::Ohm     ? "resistance"
                                  : f.unit == Unit::Percent ? "duty"
                                                            : "frequency";
            if (f.unit == Unit::Volt && r.role == Role::ReferenceReturn) measure = "drop";
            auto low = f.low, high = f.high;
            // One figure is the middle of what is usual.
            constexpr double usual = 0.05;
            if (low && high && *low == *high) {
                const double wide = std::max(usual * std::abs(*low), f.unit == Unit::Volt ? 0.1 : 0.0);
                low = *low - wide, high = *high + wide;
            }
            Json& all = cavity["expected"];
            const char* how = f.unit == Unit::Ohm ? "open" : "loaded";
            all.erase(std::remove_if(all.begin(), all.end(),
                                     [&](const Json& e) {
                                         return e.value("source", "") == "assumed" && e.value("state", "") == state &&
                                                e.value("measure", "") == measure;
                                     }),
                      all.end());
            all.push_back(expected(state, measure, how, low, high, f.unit, sourceOf(r.row)));
        }
    }

    void supply(const SheetRow& r, Json& cavity)
    {
        const double own = ownCurrent(r);
        const double behind_A = own * std::max(1, pinsOfFuse_[r.fuse()]);
        const std::string from = wiring_.feed(r.route, busOf(r.role), behind_A);
        wiring_.conductor(from, r.out(), own);
        doc_.addWithin({"port " + r.id(),
                        "supply port",
                        {r.in(), doc_.ground()},
                        {{"current", assumedFigure(own, Unit::Ampere)},
                         {"brown_out", assumedFigure(0.5 * doc_.systemVoltage_V(), Unit::Volt)}}});
        if (!firstReturn_.empty()) cavity["return"] = firstReturn_;
        cavity["current"] = assumedFigure(own, Unit::Ampere);
        cavity["current_source"] = "assumed";
        const std::string on = anyState("key-on"), off = anyState("key-off");
        const std::string needed = r.role == Role::PermanentFeed ? off : on;
        const double v = doc_.systemVoltage_V();
        cavity["needed_in"] = {needed};
        cavity["expected"] = {
            expected(needed, "below battery", "open", -0.05, Assumed::openShortfall * v, Unit::Volt),
            expected(needed, "below battery", "loaded", -0.05, Assumed::loadedShortfall * v, Unit::Volt)};
        if (r.role == Role::PermanentFeed || on == off) return;
        cavity["absent_in"] = {off};
        cavity["expected"].push_back(expected(off, "level", "open", -0.1, 1.0, Unit::Volt));
    }

    void powerReturn(const SheetRow& r, Json& cavity)
    {
        const double own = std::max(Assumed::leastCurrent_A, total_A_ / std::max(1, returns_));
        wiring_.toGround(r.out(), r.route,
                         SheetWiring::sectionFor(Assumed::wireLength_m, own, Assumed::lossOfReturn_V));
        joint("tie " + r.id(), r.in(), doc_.ground());
        const std::string on = anyState("key-on");
        cavity["current"] = assumedFigure(own, Unit::Ampere);
        cavity["current_source"] = "assumed";
        cavity["needed_in"] = {on};
        cavity["expected"] = {expected(on, "drop", "loaded", -0.01, Assumed::returnDrop_V, Unit::Volt)};
    }

    std::string regulated()
    {
        const std::string supplyNode = firstSupply_.empty() ? doc_.battery() + ".+" : firstSupply_ + ".b";
        const std::string out = doc_.module() + ".5V";
        doc_.addWithin({"regulator",
                        "regulator",
                        {supplyNode, out, doc_.ground()},
                        {{"voltage", "5 V"}, {"resistance", "0.2 Ω"}, {"limit", "0.15 A"}, {"dropout", "0.5 V"}}});
        return out;
    }

    // Where the far side of a sensor returns to: as the sheet says, else the sensors' common return.
    std::string farReturn(const SheetRow& r)
    {
        const std::string named = terminalNamed(r.far.otherWire);
        if (!named.empty()) return named + (named == firstReferenceReturn_ ? ".end" : ".a");
        if (!r.otherWire.empty() && r.otherWire.back().kind == RoutePlace::Kind::Ground)
            return wiring_.groundPoint(r.otherWire.back().id == "G" ? "" : r.otherWire.back().id);
        return firstReferenceReturn_.empty() ? wiring_.groundPoint("") : firstReferenceReturn_ + ".end";
    }

    // From the pin over its in-line connectors to the part at its end.
    void wireToEnd(const SheetRow& r)
    {
        std::vector<RoutePlace> way = r.route;
        const std::string last = wiring_.outwards(r.out(), way, Assumed::loadCurrent_A);
        wiring_.conductor(last, r.end(), Assumed::loadCurrent_A);
    }

    PartBasis basisOf(const SheetRow& r, double resistance_ohm)
    {
        PartBasis basis{"load " + r.id(), resistance_ohm, Assumed::loadCurrent_A, {}, {}};
        for (const Json& s : doc_.json()["states"])
            basis.states.push_back(s.value("id", ""));
        if (r.role == Role::SwitchInput) basis.closedIn = {operatedIn(r)};
        return basis;
    }

    void reference(const SheetRow& r, Json& cavity)
    {
        joint("tie " + r.id(), r.in(), regulated());
        wireToEnd(r);
        FarEnd sensors;
        sensors.name = r.row.otherEnd;
        addPart(doc_, sensors, basisOf(r, 1000), r.end(), farReturn(r));
        if (!firstReferenceReturn_.empty()) cavity["return"] = firstReferenceReturn_;
        const std::string on = anyState("key-on");
        cavity["expected"] = {expected(on, "level", "open", 4.75, 5.25, Unit::Volt),
                              expected(on, "level", "loaded", 4.75, 5.25, Unit::Volt)};
    }

    void referenceReturn(const SheetRow& r, Json& cavity)
    {
        joint("tie " + r.id(), r.in(), doc_.ground());
        wireToEnd(r);
        const std::string other = firstReference_.empty() ? wiring_.groundPoint("") : firstReference_ + ".end";
        FarEnd sensors;
        sensors.name = "sensors on this return";
        PartBasis basis = basisOf(r, 1000);
        basis.id = "between " + r.id();
        addPart(doc_, sensors, basis, r.end(), other);
        cavity["expected"] = {expected(anyState("key-on"), "drop", "loaded", -0.01, 0.05, Unit::Volt)};
    }

    void input(const SheetRow& r, Json& cavity)
    {
        doc_.addWithin({"input " + r.id(), "input", {r.in(), doc_.ground()}, {{"resistance", "100000 Ω"}}});
        if (r.role == Role::SwitchInput || r.role == Role::ThermistorInput || r.role == Role::HallInput)
            doc_.addWithin({"pull-up " + r.id(), "pull-up", {regulated(), r.in()}, {{"resistance", "2200 Ω"}}});
        wireToEnd(r);
        addPart(doc_, r.far, basisOf(r, 2200), r.end(), farReturn(r));
        if (!firstReferenceReturn_.empty()) cavity["return"] = firstReferenceReturn_;
        const bool atBattery = r.role == Role::SenseInput;
        cavity["expected"] = {expected(anyState("key-on"), "level", "loaded", -0.1,
                                       atBattery ? 1.3 * doc_.systemVoltage_V() : 5.25, Unit::Volt)};
    }

    void drive(const SheetRow& r, Json& cavity)
    {
        const bool high = r.role == Role::HighSideDrive;
        const double v = doc_.systemVoltage_V();
        // What feeds a drive that switches the module's own relay cannot be behind that relay.
        const std::string source = !r.drivesCoil || firstPermanent_.empty() ? firstSupply_ : firstPermanent_;
        const std::string supplyNode = source.empty() ? doc_.battery() + ".+" : source + ".b";
        const std::string relay = r.row.relay.empty() ? r.far.relay : r.row.relay;
        const bool holdsRelay = wiring_.drivesCoil(relay, r.out());
        SheetElement driver{
            "driver " + r.id(),
            high ? "high-side driver" : "low-side driver",
            high ? std::vector<std::string>{supplyNode, r.in()} : std::vector<std::string>{r.in(), doc_.ground()},
            {{"resistance", "0.2 Ω"}}};
        driver.hasStates = true;
        // One that holds a supply's relay is on with the key; the others are off until commanded.
        if (holdsRelay) driver.in = wiring_.onStates();
        if (!holdsRelay && r.role != Role::DriveReturn && doc_.hasState(commandedIn(r))) driver.in = {commandedIn(r)};
        doc_.addWithin(std::move(driver));
        if (holdsRelay)
            wiring_.relayContact(relay);
        else
            driveLoad(r, high);
        cavity["expected"] = {expected(anyState("key-on"), "level", "loaded", -0.1, 1.3 * v, Unit::Volt)};
    }

    void driveLoad(const SheetRow& r, bool high)
    {
        std::vector<RoutePlace> way = r.route;
        const std::string last = wiring_.outwards(r.out(), way, Assumed::loadCurrent_A);
        wiring_.conductor(last, r.end(), Assumed::loadCurrent_A);
        const std::string terminal = terminalNamed(r.far.otherWire);
        std::string far;
        if (!terminal.empty())
            far = terminal + ".a";
        else if (high || r.role == Role::DriveReturn)
            far = wiring_.groundPoint(groundOf(r, way));
        else
            far = wiring_.feed(r.otherWire.empty() ? way : r.otherWire, Bus::Unknown, Assumed::loadCurrent_A);
        const PartBasis basis = basisOf(r, doc_.systemVoltage_V() / Assumed::loadCurrent_A);
        const bool plusFirst = r.far.kind == FarEnd::Kind::Motor || r.far.kind == FarEnd::Kind::Module;
        if (plusFirst && !high)
            addPart(doc_, r.far, basis, far, r.end());
        else
            addPart(doc_, r.far, basis, r.end(), far);
    }

    static std::string groundOf(const SheetRow& r, const std::vector<RoutePlace>& way)
    {
        for (const auto* places : {&r.otherWire, &way}) {
            if (!places->empty() && places->back().kind == RoutePlace::Kind::Ground && places->back().id != "G")
                return places->back().id;
        }
        return "";
    }

    void bus(const SheetRow& r, Json& cavity)
    {
        doc_.addWithin({"input " + r.id(), "input", {r.in(), doc_.ground()}, {{"resistance", "30000 Ω"}}});
        wireToEnd(r);
        FarEnd other;
        other.name = r.row.otherEnd;
        addPart(doc_, other, basisOf(r, 30000), r.end(), wiring_.groundPoint(""));
        cavity["expected"] = {
            expected(anyState("key-on"), "level", "loaded", -0.1, 1.3 * doc_.systemVoltage_V(), Unit::Volt)};
        if (r.role == Role::DifferentialBus) busLines_.push_back(r.end());
    }

    // Terminations between the two lines of the pair.
    void addNodes()
    {
        for (const SheetRow& r : rows_) {
            if (r.row.loose != "bus node" || busLines_.size() < 2) continue;
            const std::string words = lowered(r.row.otherEnd);
            if (!r.far.ohms && words.find("terminat") == std::string::npos) continue;
            FarEnd termination;
            termination.name = "bus termination in " + r.row.circuit;
            termination.ohms = r.far.ohms ? r.far.ohms : StatedFigure{120, 120};
            PartBasis basis = basisOf(r, 120);
            basis.id = r.row.circuit + " termination";
            addPart(doc_, termination, basis, busLines_[0], busLines_[1]);
        }
    }

    // What draws from the same fuse, splice or relay, or feeds into it.
    void addLoose(const SheetRow& r)
    {
        const std::string& name = r.row.circuit;
        if (r.row.loose == "consumer") {
            FarEnd far = r.far;
            if (const auto stated = statedCurrent(r.row)) far.amperes = StatedFigure{*stated, *stated};
            if (far.amperes && far.kind == FarEnd::Kind::Unknown) far.kind = FarEnd::Kind::Module;
            far.name = name;
            const std::string plus = name + ".+";
            wiring_.carry(name, "");
            wiring_.conductor(wiring_.feed(r.route, Bus::Unknown, Assumed::loadCurrent_A), plus,
                              Assumed::loadCurrent_A);
            PartBasis basis = basisOf(r, doc_.systemVoltage_V() / Assumed::loadCurrent_A);
            basis.id = name;
            addPart(doc_, far, basis, plus, wiring_.groundPoint(groundOf(r, {})));
        } else if (r.row.loose == "source") {
            addSourceRow(r);
        }
    }

    // A second battery or a charger: from its plus over the route to where it joins.
    void addSourceRow(const SheetRow& r)
    {
        const std::string& name = r.row.circuit;
        const double v = doc_.systemVoltage_V();
        const std::string plus = name + ".+", ground = wiring_.groundPoint(groundOf(r, {}));
        std::string at = plus;
        for (const RoutePlace& place : r.route) {
            using Kind = RoutePlace::Kind;
            if (place.kind == Kind::Fuse) {
                wiring_.conductor(at, place.id + ".in", total_A_);
                doc_.add({place.id,
                          "fuse",
                          {place.id + ".in", place.id + ".out"},
                          {{"rating", assumedFigure(place.rating_A.value_or(Assumed::fuseRating_A), Unit::Ampere)}}});
                at = doc_.fuseOut(place.id);
            } else {
                const std::string to = wiring_.feed({place}, Bus::Battery, total_A_);
                wiring_.conductor(at, to, total_A_);
                at = to;
            }
        }
        if (at == plus) wiring_.conductor(plus, wiring_.batteryBus(), total_A_);
        const bool charges = lowered(name).find("charger") != std::string::npos;
        if (charges) {
            doc_.addState("charger-on", name + " connected", "Key off, " + name + " connected and on", "", "60 s");
            doc_.add({name,
                      "alternator",
                      {plus, ground},
                      {{"name", name},
                       {"emf", assumedFigure(1.17 * v, Unit::Volt)},
                       {"resistance", "0.05 Ω"},
                       {"limit", "20 A"}},
                      {"charger-on"},
                      true});
        } else {
            doc_.add({name,
                      "battery",
                      {plus, ground},
                      {{"name", name}, {"emf", assumedFigure(1.045 * v, Unit::Volt)}, {"resistance", "0.01 Ω"}}});
        }
    }

    // Into the connector, which grows as needed.
    void place(const PinRow& row, Json cavity)
    {
        Json* connector = nullptr;
        Json& connectors = doc_.json()["connectors"];
        for (Json& c : connectors) {
            if (c.value("id", "") == row.connector) connector = &c;
        }
        if (!connector) {
            connectors.push_back(
                {{"id", row.connector}, {"rows", 1}, {"columns", 1}, {"module", true}, {"cavities", Json::array()}});
            connector = &connectors.back();
        }
        const int rows = (*connector)["rows"].get<int>(), columns = (*connector)["columns"].get<int>();
        if (row.cavity > rows * columns) {
            const int newRows = row.cavity <= 8 ? 1 : row.cavity <= 40 ? 2 : 4;
            (*connector)["rows"] = newRows;
            (*connector)["columns"] = (row.cavity + newRows - 1) / newRows;
        }
        (*connector)["cavities"].push_back(std::move(cavity));
    }

    SheetDocument doc_;
    SheetWiring wiring_;
    std::vector<SheetRow> rows_;
    std::map<std::string, std::string> names_;  // of the terminals, by lowered name
    double total_A_ = 0;
    int returns_ = 0, mainRole_ = 0;
    std::map<std::string, int> pinsOfFuse_;
    std::string firstReturn_, firstSupply_, firstPermanent_, firstReference_, firstReferenceReturn_;
    std::vector<std::string> busLines_;
};

Json skeleton(const NewMachine& machine)
{
    const double v = machine.systemVoltage_V;
    return {{"format", "ilvek-map"},
            {"version", 1},
            {"machine",
             {{"maker", machine.maker},
              {"model", machine.model},
              {"system_voltage", assumedFigure(v, Unit::Volt)},
              {"battery", batteryId}}},
            {"module", machine.module},
            {"battery_expected",
             {{{"state", "key-on"},
               {"measure", "level"},
               {"how", "loaded"},
               {"low", assumedFigure(v * 0.99, Unit::Volt)},
               {"high", assumedFigure(v * 1.08, Unit::Volt)},
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
               {"effort", "60 s"}},
              {{"id", "running"},
               {"name", "Running"},
               {"how", "Engine or main drive running, nothing commanded"},
               {"caution", "Exhaust gas, hot and rotating parts; brake on, drive in neutral."},
               {"effort", "120 s"}}}},
            {"connectors", Json::array()},
            {"splices", Json::array()},
            {"elements",
             {{{"id", batteryId},
               {"kind", "battery"},
               {"nodes", {std::string(batteryId) + ".+", std::string(batteryId) + ".-"}},
               {"name", "battery"},
               {"emf", assumedFigure(v * 1.045, Unit::Volt)},
               {"resistance", "0.01 Ω"},
               {"assumed", true}}}}};
}

}  // namespace

Result<std::string, Problems> mapFromSheet(const std::vector<PinRow>& rows, const NewMachine& machine)
{
    SheetBuilder builder(skeleton(machine));
    builder.announce(rows);
    builder.addStates();
    builder.dimension();
    builder.checkNames();
    builder.addEngine();
    builder.addAll();
    builder.groundModule();
    std::string document = builder.text();
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
    there.push_back(row);
    builder.announce(there);
    if (builder.isOfSheet()) builder.addStates();
    builder.dimension(there.size() - 1);
    builder.addLast();
    std::string out = builder.text();
    if (!builder.problems().empty()) return tl::unexpected(builder.problems());
    return out;
}

}  // namespace ilvek
