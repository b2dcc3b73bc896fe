#include "bench_map/sheet_row.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <regex>

#include "base/text.h"
#include "bench_map/sheet_expected.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

using Kind = RoutePlace::Kind;

// "F14 20 A", or "F14" with "20" or "20 A" in the column beside it.
std::optional<double> ratingOf(const PinRow& row, SheetDocument& doc)
{
    const std::size_t cut = row.fuse.find_first_of(" \t");
    const std::string inCell = cut == std::string::npos ? "" : row.fuse.substr(cut);
    const std::string rating(trimmed(row.fuseRating.empty() ? inCell : row.fuseRating));
    if (rating.empty()) return std::nullopt;
    const auto figure = parseQuantity(rating, Unit::Ampere);
    if (figure && !figure->overLimit && figure->value >= 0.1 && figure->value <= 1000) return figure->value;
    doc.complain({itemOf(row, "fuse rating"),
                  figure ? "“" + rating + "” is no possible fuse rating" : figure.error().message()});
    return std::nullopt;
}

// By the route, and by the columns of splice, fuse, relay and ground.
// Who knows the connector and not its cavity has a contact there all the same: "X5-?8" for the wire of 8.
std::vector<RoutePlace> withCavities(std::vector<RoutePlace> route, const PinRow& row)
{
    const std::string wire = row.isTerminal() && row.cavity > 0 ? std::to_string(row.cavity) : row.written;
    for (RoutePlace& place : route) {
        if (place.kind == Kind::Connector && place.id.find_first_of("-.:/") == std::string::npos && !wire.empty())
            place.id += "-?" + wire;
    }
    return route;
}

using Names = std::map<std::string, std::string>;

// Of what hangs on a bus its lines may be told by their pins: that is where it hangs anyway.
bool tellsItsLines(const PinRow& row, const Names& names)
{
    const auto words = wordsIn(row.route);
    return row.loose == "bus node" && !words.empty() &&
           std::ranges::all_of(words, [&](const std::string& w) { return names.contains(lowered(w)); });
}

std::vector<RoutePlace> routeOf(const SheetRow& r, const Names& names, SheetDocument& doc)
{
    const PinRow& row = r.row;
    auto route = tellsItsLines(row, names) ? std::vector<RoutePlace>{} : parseRoute(row.route);
    if (!route) {
        doc.complain({itemOf(row, "route"), route.error().message()});
        return {};
    }
    *route = withCavities(std::move(*route), row);
    if (r.role == Role::Return || r.role == Role::HighSideDrive) {
        if (!row.ground.empty()) route->push_back({Kind::Ground, row.ground, std::nullopt});
        return *route;
    }
    if (!row.splice.empty()) route->push_back({Kind::Splice, row.splice, std::nullopt});
    if (!row.fuse.empty())
        route->push_back({Kind::Fuse, row.fuse.substr(0, row.fuse.find_first_of(" \t")), ratingOf(row, doc)});
    const bool inRoute =
        std::any_of(route->begin(), route->end(), [&](const RoutePlace& p) { return p.id == r.relay; });
    if (!r.relay.empty() && !r.isDrive() && !inRoute) route->push_back({Kind::Relay, r.relay, std::nullopt});
    return *route;
}

// What is not told of the part at the far end follows from the role.
FarEnd::Kind kindByRole(const SheetRow& r)
{
    using Far = FarEnd::Kind;
    const bool vague = r.far.kind == Far::Unknown || r.far.kind == Far::Sensor;
    if (r.role == Role::ThermistorInput && vague) return Far::Thermistor;
    if (r.role == Role::SwitchInput && vague) return Far::Switch;
    if (r.role == Role::ReluctanceInput && vague) return Far::PickUp;
    return r.far.kind;
}

}  // namespace

std::string itemOf(const PinRow& row, const char* column)
{
    return fmt::format("row {}, {}", row.line, column);
}

bool isMeasured(const std::string& source)
{
    const std::string low = lowered(source);
    return low.find("clamp") != std::string::npos || low.find("measured") != std::string::npos;
}

std::string SheetRow::commandedIn() const
{
    return lowered(id()) + "-commanded";
}

std::string SheetRow::operatedIn() const
{
    return lowered(id()) + "-operated";
}

const RoutePlace* SheetRow::fuse() const
{
    const auto at = std::find_if(route.begin(), route.end(), [](const RoutePlace& p) { return p.kind == Kind::Fuse; });
    return at == route.end() ? nullptr : &*at;
}

bool isAlternator(const PinRow& row)
{
    return row.loose == "source" && lowered(row.circuit).find("alternator") != std::string::npos;
}

bool isStarter(const PinRow& row)
{
    const auto words = loweredWords(row.circuit);
    return row.loose == "consumer" && std::find(words.begin(), words.end(), "starter") != words.end() &&
           std::find(words.begin(), words.end(), "relay") == words.end();
}

Bus SheetRow::bus() const
{
    return role == Role::PermanentFeed ? Bus::Battery : isSupply() ? Bus::Key : Bus::Unknown;
}

std::optional<double> SheetRow::current_A() const
{
    if (row.current.empty()) return std::nullopt;
    if (const auto range = parseStated(row.current, Unit::Ampere)) return range->middle();
    const auto figure = parseQuantity(row.current, Unit::Ampere);
    return figure && !figure->overLimit ? std::optional(figure->value) : std::nullopt;
}

bool SheetRow::isHighSide() const
{
    const bool grounded = !otherWire.empty() && otherWire.back().kind == Kind::Ground;
    return role == Role::HighSideDrive || (role == Role::DutyDrive && (grounded || row.side == "high"));
}

bool SheetRow::isFedSwitch() const
{
    return role == Role::SwitchInput && !otherWire.empty() && otherWire.back().kind != Kind::Ground;
}

std::optional<double> SheetRow::statedReference_V() const
{
    const auto figures = parseExpectedFigures(row.expected);
    for (const ExpectedFigure& e : figures ? *figures : std::vector<ExpectedFigure>{}) {
        // Regulators have round levels; two rows of one need not agree to the hundredth. With the key off there is
        // none.
        constexpr double least_V = 1;
        if (e.unit == Unit::Volt && e.low && e.high && *e.low + *e.high > 2 * least_V)
            return std::round(*e.low + *e.high) / 2;
    }
    // "5 V reference", "sensor supply 10V".
    static const std::regex volts(R"((^|[^0-9.,])([0-9]+([.,][0-9]+)?) ?[vV]($|[^a-zA-Z]))");
    for (const std::string* words : {&row.role, &row.circuit}) {
        std::smatch found;
        if (!std::regex_search(*words, found, volts)) continue;
        const auto level = parseQuantityWithUnit(found[2].str() + " V", Unit::Volt);
        constexpr double least_V = 3, most_V = 15;
        if (level && level->value >= least_V && level->value <= most_V) return level->value;
    }
    return std::nullopt;
}

double SheetRow::reference_V() const
{
    return statedReference_V().value_or(trade::reference_V);
}

std::optional<double> SheetRow::section_mm2() const
{
    const auto figure = parseQuantity(row.section, Unit::SquareMillimetre);
    return figure && !figure->overLimit && figure->value >= 0.05 && figure->value <= 500 ? std::optional(figure->value)
                                                                                         : std::nullopt;
}

bool SheetRow::isCurrentMeasured() const
{
    return current_A() && isMeasured(row.source);
}

std::string SheetRow::partName() const
{
    return far.isNamed || row.circuit.empty() ? far.name : row.circuit;
}

std::string SheetRow::colourWords() const
{
    const auto colour = parseColour(row.colour);
    if (!colour || colour->base.empty()) return "";
    return colour->stripe.empty() ? colour->base : colour->base + "/" + colour->stripe;
}

SheetRow understood(const PinRow& row, const std::map<std::string, std::string>& names, SheetDocument& doc)
{
    SheetRow r{row, Role::Empty, parseFarEnd(row.otherEnd), {}, {}};
    if (row.isTerminal()) r.role = roleFromText(row.role).value_or(Role::Empty);
    r.far.kind = kindByRole(r);
    r.relay = row.relay.empty() && r.isDrive() ? r.far.relay : row.relay;
    if (r.far.otherWire.empty() && names.contains(lowered(r.far.fromNumber))) r.far.otherWire = r.far.fromNumber;
    // "ground A8" is no ground point where A8 is a cavity of the sheet.
    const auto otherWords = wordsIn(r.far.otherWire);
    if (otherWords.size() == 2 && names.contains(lowered(otherWords[1]))) r.far.otherWire = otherWords[1];
    if (!r.far.otherWire.empty() && !names.contains(lowered(r.far.otherWire))) {
        auto other = parseRoute(r.far.otherWire);
        if (other)
            r.otherWire = withCavities(std::move(*other), row);
        else
            doc.complain({itemOf(row, "far end"), other.error().message()});
    }
    if (r.isSensorSignal() && !r.far.supply.empty() && !names.contains(lowered(r.far.supply))) {
        auto way = parseRoute(r.far.supply);
        if (way)
            r.supplyWay = withCavities(std::move(*way), row);
        else
            doc.complain({itemOf(row, "far end"), way.error().message()});
    }
    r.drivesCoil = r.isDrive() && !r.relay.empty();
    if (r.isDrive() && !row.fedBy.empty()) {
        const auto behind = names.find(lowered(row.fedBy));
        if (behind != names.end())
            r.fedBy = behind->second;
        else
            doc.complain({itemOf(row, "role"), "“" + row.fedBy + "”, which feeds it, is no cavity of this sheet"});
    }
    // A coil that is grounded at its other end is driven from plus.
    if (r.drivesCoil && !r.otherWire.empty() && r.otherWire.back().kind == Kind::Ground) r.role = Role::HighSideDrive;
    r.route = routeOf(r, names, doc);
    const auto current = r.current_A();
    if (!row.current.empty() && (!current || *current <= 0))
        doc.complain({itemOf(row, "current"), "“" + row.current + "” is no current; write as 2.4 A"});
    if (!row.section.empty() && !r.section_mm2())
        doc.complain({itemOf(row, "section"), "“" + row.section + "” is no section of a wire; write as 1.5 mm²"});
    return r;
}

}  // namespace ilvek
