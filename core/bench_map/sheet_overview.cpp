#include "bench_map/sheet_overview.h"

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

using Kind = RoutePlace::Kind;

// Of a module's supplies the relay-fed ones carry its power, else the switched ones, else the permanent ones.
int mainRankOf(Role role)
{
    return role == Role::RelayFedSupply ? 2 : role == Role::SwitchedFeed ? 1 : 0;
}

}  // namespace

std::string fuseOf(const SheetRow& row)
{
    return row.fuse() ? row.fuse()->id : "";
}

// The connector of an in-line cavity; empty: it is none.
std::string plugOf(const RoutePlace& place)
{
    const std::size_t unknown = place.id.find("-?");
    PinRow at;
    if (place.kind != Kind::Connector) return "";
    if (unknown != std::string::npos) return place.id.substr(0, unknown);
    return readCavity(place.id, at) ? at.connector : "";
}

std::string plugOfPart(const SheetRow& row)
{
    if (!row.far.plug.empty()) return row.far.plug;
    const auto last = std::find_if(row.route.rbegin(), row.route.rend(),
                                   [](const RoutePlace& p) { return p.kind == Kind::Connector; });
    if (last == row.route.rend()) return "";
    // "X10" without a cavity is the plug.
    const bool hasCavity = last->id.find_first_of("-.:/") != std::string::npos;
    return hasCavity ? plugOf(*last) : last->id;
}

bool isOfAlternator(const SheetRow& row)
{
    return lowered(row.far.name).find("alternator") != std::string::npos;
}

std::optional<double> statedCurrent_A(const FarEnd& far, double volts)
{
    if (far.amperes) return far.amperes->middle();
    if (far.watts) return far.watts->middle() / volts;
    if (far.ohms) return volts / far.ohms->middle();
    return std::nullopt;
}

double loadCurrent_A(const SheetRow& row, double systemVoltage_V)
{
    return std::max(trade::assumed::loadCurrent_A,
                    row.current_A().value_or(statedCurrent_A(row.far, systemVoltage_V).value_or(0)));
}

void SheetOverview::take(const SheetRow& row, double systemVoltage_V)
{
    if (isAlternator(row.row)) alternators[lowered(row.row.circuit)] = row.row.circuit;
    if (row.row.loose == "source") {
        for (const RoutePlace& place : row.route)
            fedBySources.insert(place.id);
    }
    listsNodes |= row.row.loose == "bus node";
    if (!row.isTerminal()) return;
    const Role role = row.role;
    circuitOf[row.id()] = row.row.circuit;
    const Group group = groupOf(role);
    if (const std::string to = terminal(row.far.otherWire); !to.empty() && row.isDrive()) {
        Back& back = comesBack[to];
        back.in.push_back(row.commandedIn());
        const auto stated = row.current_A() ? row.current_A() : statedCurrent_A(row.far, systemVoltage_V);
        if (stated) back.largest_A = std::max(back.largest_A.value_or(0), *stated);
    }
    if (group == Group::References || (group == Group::Drives && row.relay.empty())) withEnd.insert(row.id());
    for (const RoutePlace& place : row.route)
        plugsOf[row.id()].insert(plugOf(place));
    hasPair |= role == Role::DifferentialBus;
    const auto first = [&](bool is, std::string& of) {
        if (is && of.empty()) of = row.id();
    };
    first(role == Role::Return, firstReturn);
    first(row.isSupply(), firstSupply);
    first(row.isSupply() && role != Role::RelayFedSupply, firstPermanent);
    first(role == Role::Reference, firstReference);
    first(role == Role::ReferenceReturn, firstReferenceReturn);
    const std::string part = lowered(row.far.name);
    if (row.far.isNamed && role == Role::Reference) referenceOf.emplace(part, row.id());
    if (row.far.isNamed && firstReference == row.id()) firstReferenceFeeds = part;
    if (row.far.isNamed && role == Role::ReferenceReturn) referenceReturnOf.emplace(part, row.id());
    if (row.far.isNamed && row.isSensorSignal()) sensors.insert(part);
    if (role == Role::Reference) references_V[row.id()] = row.reference_V();
    if (role == Role::DriveReturn) driveReturns.insert(row.id());
    if (row.isSupply() || role == Role::Reference) feeding.insert(row.id());
    if (role == Role::Return) ++returns;
    if (!row.isSupply()) return;
    ++pinsOfFuse[fuseOf(row)];
    const int rank = mainRankOf(role);
    if (rank != mainRank) mainSupplies = 0;
    mainRank = std::max(mainRank, rank);
    if (rank == mainRank) ++mainSupplies;
}

void SheetOverview::countParts(const SheetRow& row)
{
    if (row.isDrive()) ++parts[terminal(row.far.otherWire)];
    if (!row.isTerminal() || groupOf(row.role) != Group::Inputs) return;
    if (row.isSensorSignal()) ++parts[feedOf(row)];
    ++parts[returnOf(row)];
}

bool SheetOverview::isShared(const std::string& terminal) const
{
    const auto at = parts.find(terminal);
    return at != parts.end() && at->second > 1;
}

std::string SheetOverview::feedOf(const SheetRow& row) const
{
    if (const std::string named = terminal(row.far.supply); !named.empty()) return named;
    if (!row.supplyWay.empty()) return "";
    const auto own = referenceOf.find(lowered(row.far.name));
    if (row.far.isNamed && own != referenceOf.end()) return own->second;
    return isOfAlternator(row) ? "" : firstReference;
}

std::string SheetOverview::returnOf(const SheetRow& row) const
{
    if (const std::string named = terminal(row.far.otherWire); !named.empty()) return named;
    const bool isGrounded = !row.otherWire.empty() && row.otherWire.back().kind == Kind::Ground;
    if (row.isFedSwitch() || isGrounded) return "";
    const auto own = referenceReturnOf.find(lowered(row.far.name));
    return row.far.isNamed && own != referenceReturnOf.end() ? own->second : firstReferenceReturn;
}

std::string SheetOverview::endOf(const std::string& terminal) const
{
    return terminal + (withEnd.contains(terminal) ? ".end" : ".a");
}

std::string SheetOverview::terminal(const std::string& named) const
{
    const auto at = names.find(lowered(named));
    return at == names.end() ? "" : at->second;
}

bool SheetOverview::isFedElsewhere(const SheetRow& row) const
{
    return std::any_of(row.route.begin(), row.route.end(),
                       [&](const RoutePlace& place) { return fedBySources.contains(place.id); });
}

double SheetOverview::ownCurrent_A(const SheetRow& row) const
{
    if (const auto stated = row.current_A()) return *stated;
    const RoutePlace* fuse = row.fuse();
    const double rating_A = fuse && fuse->rating_A ? *fuse->rating_A : trade::assumed::fuseRating_A;
    const double share =
        mainRankOf(row.role) == mainRank ? trade::assumed::shareOfFuse : trade::assumed::shareOfSideFuse;
    const auto pins = pinsOfFuse.find(fuseOf(row));
    const double among = !fuse || pins == pinsOfFuse.end() ? 1.0 : pins->second;
    return std::max(trade::assumed::leastCurrent_A, share * rating_A / among);
}

const std::string& SheetOverview::supplyBehind(const SheetRow& drive) const
{
    if (!drive.fedBy.empty()) return drive.fedBy;
    // What feeds a drive that switches the module's own relay cannot be behind that relay.
    return drive.drivesCoil && !firstPermanent.empty() ? firstPermanent : firstSupply;
}

void SheetOverview::addDriven(const SheetRow& drive, double systemVoltage_V)
{
    const auto stated = statedCurrent_A(drive.far, systemVoltage_V);
    Driven& of = driven[supplyBehind(drive)];
    of.all_A += stated.value_or(trade::assumed::loadCurrent_A);
    of.largest_A = std::max(of.largest_A, stated.value_or(0));
}

double SheetOverview::standing_A(const SheetRow& row) const
{
    const double own_A = ownCurrent_A(row);
    const auto at = driven.find(row.id());
    if (at == driven.end() || row.isCurrentMeasured()) return own_A;
    const double rest_A = std::max(trade::assumed::leastCurrent_A, own_A - at->second.all_A);
    if (row.current_A()) return at->second.largest_A > own_A ? own_A : rest_A;
    // Between what only wakes a module and all else that its fuse is made for lies a factor: the middle of it.
    const double wakes_A = own_A * trade::assumed::shareOfSideFuse / trade::assumed::shareOfFuse;
    return std::sqrt(std::max(trade::assumed::leastCurrent_A, wakes_A) * std::max(wakes_A, rest_A));
}

}  // namespace ilvek
