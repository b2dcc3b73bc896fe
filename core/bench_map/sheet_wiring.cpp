#include "bench_map/sheet_wiring.h"

#include <fmt/format.h>

#include <algorithm>

#include "quantity/trade.h"

namespace ilvek {

namespace {

using Kind = RoutePlace::Kind;

bool isBatteryMinus(const RoutePlace& place)
{
    return place.kind == Kind::Battery && place.id == "minus";
}

}  // namespace

// A = ρ l I / U
double SheetWiring::sectionFor(double length_m, double current_A, double loss_V)
{
    const double needed_mm2 = trade::copperResistivity_ohm_mm2_per_m * length_m * current_A / loss_V;
    for (const double section_mm2 : {1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0, 70.0, 95.0})
        if (section_mm2 >= needed_mm2) return section_mm2;
    return 120;
}

void SheetWiring::announce(const std::string& item, const std::vector<RoutePlace>& route, Bus bus)
{
    for (std::size_t i = 0; i < route.size(); ++i) {
        const RoutePlace& place = route[i];
        Bus& known = busOf_[place.id];
        // What must be live with the key off hangs on the battery.
        if (bus == Bus::Battery || known == Bus::Unknown) known = bus == Bus::Unknown ? known : bus;
        if (place.rating_A) {
            const auto [at, isNew] = ratings_.emplace(place.id, *place.rating_A);
            if (!isNew && at->second != *place.rating_A)
                doc_.complain(
                    {item, fmt::format("{} has {} here and {} in another row", place.id,
                                       formatQuantity(amperes(*place.rating_A)), formatQuantity(amperes(at->second)))});
        }
        if (i + 1 >= route.size()) continue;
        const auto [at, isNew] = next_.emplace(place.id, Next{route[i + 1], item});
        const bool other = at->second.place.id != route[i + 1].id;
        if (!isNew && other && place.kind != Kind::Splice)
            doc_.complain({item, fmt::format("{} comes from {} here and from {} in {}", place.id, route[i + 1].id,
                                             at->second.place.id, at->second.item)});
    }
}

void SheetWiring::draw(const std::vector<RoutePlace>& way, double always_A, double commanded_A)
{
    std::set<std::string> passed;
    const auto pass = [&](const std::string& place) {
        if (!passed.insert(place).second) return false;
        Drawn& of = drawn_[place];
        of.always_A += always_A;
        of.largest_A = std::max(of.largest_A, commanded_A);
        return true;
    };
    for (const RoutePlace& place : way)
        pass(place.id);
    if (way.empty()) return;
    auto at = next_.find(way.back().id);
    while (at != next_.end() && pass(at->second.place.id))
        at = next_.find(at->second.place.id);
}

void SheetWiring::addFuse(const std::string& id, const std::string& in, const std::string& out, double rating_A)
{
    SheetElement fuse{id, "fuse", {in, out}, {{"rating", assumedFigure(rating_A, Unit::Ampere)}}};
    constexpr double spare = 1.5, most = 10;  // what guessed currents may be off by
    const Drawn& of = drawn_[id];
    const double carried_A = spare * (of.always_A + of.largest_A);
    if (carried_A > trade::fuseOpensAt * rating_A)
        fuse.values.emplace_back("opens_at", assumedFigure(100 * std::min(most, carried_A / rating_A), Unit::Percent));
    doc_.add(std::move(fuse));
}

bool SheetWiring::drivesCoil(const std::string& relay, const std::string& pin) const
{
    const auto at = coils_.find(relay);
    return at != coils_.end() && at->second.pin == pin;
}

void SheetWiring::conductor(const std::string& a, const std::string& b, double current_A)
{
    if (a == b) return;
    doc_.wire(a, b, trade::assumed::wireLength_m,
              sectionFor(trade::assumed::wireLength_m, current_A, trade::assumed::lossOfWire * doc_.systemVoltage_V()));
}

std::string SheetWiring::batteryBus()
{
    conductor(doc_.battery() + ".+", bus_, total_A_);
    return bus_;
}

std::vector<std::string> SheetWiring::onStates() const
{
    std::vector<std::string> states = doc_.states();
    std::erase(states, "key-off");
    std::erase(states, "charger-on");
    return states;
}

std::string SheetWiring::keyBus()
{
    const std::string bus = batteryBus();
    doc_.add({key_,
              "switch",
              {bus, keyed_},
              {{"name", "key switch"}, {"resistance", assumedFigure(trade::keySwitch_ohm, Unit::Ohm)}},
              onStates(),
              true});
    return keyed_;
}

std::string SheetWiring::groundPoint(const std::string& named)
{
    const std::string id = named.empty() || named == "G" ? ground_ : named;
    doc_.add({id,
              "joint",
              {id + ".ring", id},
              {{"name", "ground point " + id}, {"resistance", assumedFigure(trade::groundPoint_ohm, Unit::Ohm)}}});
    const double section_mm2 = std::max(16.0, sectionFor(1.0, total_A_, trade::assumed::lossOfStrap_V));
    doc_.add({"strap " + id,
              "wire",
              {id, doc_.battery() + ".-"},
              {{"length", assumedFigure(1.0, Unit::Metre)},
               {"section", assumedFigure(section_mm2, Unit::SquareMillimetre)}}});
    return id + ".ring";
}

std::string SheetWiring::groundedOver(const std::vector<RoutePlace>& way)
{
    const bool grounded = !way.empty() && way.back().kind == Kind::Ground;
    if (grounded && way.front().kind == Kind::Splice) {
        doc_.splice(way.front().id);
        toGround(way.front().id, {way.begin() + 1, way.end()},
                 sectionFor(trade::assumed::wireLength_m, total_A_, trade::assumed::lossOfReturn_V));
        return way.front().id;
    }
    return groundPoint(grounded ? way.back().id : "");
}

std::string SheetWiring::start(Bus bus)
{
    return bus == Bus::Battery ? batteryBus() : keyBus();
}

std::string SheetWiring::upstreamOf(const RoutePlace& place, Bus bus, double current_A)
{
    const auto next = next_.find(place.id);
    if (next != next_.end()) return facing(next->second.place, bus, current_A);
    const auto known = busOf_.find(place.id);
    const bool tells = bus == Bus::Unknown && known != busOf_.end();
    return start(tells ? known->second : bus);
}

std::string SheetWiring::relayContact(const std::string& id)
{
    if (doc_.hasElement(id)) return id + ".87";
    const RoutePlace relay{Kind::Relay, id, std::nullopt};
    const auto next = next_.find(id);
    const std::string from = next == next_.end() ? batteryBus() : facing(next->second.place, Bus::Battery, total_A_);
    conductor(from, id + ".30", total_A_);
    // The module pulls the coil down, or feeds it.
    const auto control = coils_.find(id);
    const bool isDriven = control != coils_.end(), fromPlus = isDriven && control->second.fromPlus;
    std::string drive;
    if (isDriven) {
        const auto carried = std::pair(circuit_, colour_);
        carry(control->second.circuit, control->second.colour);
        std::vector<RoutePlace> way = control->second.way;
        drive = outwards(control->second.pin, way, trade::assumed::leastCurrent_A);
        carry(carried.first, carried.second);
    }
    std::string fed = drive, grounded = drive;
    if (!fromPlus) {
        const bool told = isDriven && !control->second.otherEnd.empty();
        fed = told ? feed(control->second.otherEnd, Bus::Unknown, trade::assumed::leastCurrent_A) : keyBus();
    }
    conductor(fed, id + ".86", trade::assumed::leastCurrent_A);
    if (!isDriven || fromPlus) {
        const bool told = isDriven && !control->second.otherEnd.empty();
        grounded = groundPoint(told ? control->second.otherEnd.back().id : "");
    }
    conductor(id + ".85", grounded, trade::assumed::leastCurrent_A);
    const double v = doc_.systemVoltage_V();
    // A relay is chosen for what its contact carries.
    const Drawn& of = drawn_[id];
    const double contact_ohm =
        std::min(trade::relayContact_ohm,
                 trade::relayContactLoses_V / std::max(trade::assumed::leastCurrent_A, of.always_A + of.largest_A));
    doc_.add({id,
              "relay",
              {id + ".30", id + ".87", id + ".86", id + ".85"},
              {{"coil", assumedFigure(trade::relayCoil_ohmPerVolt * v, Unit::Ohm)},
               {"contact", assumedFigure(contact_ohm, Unit::Ohm)},
               {"pick_up", assumedFigure(trade::pullsInAt * v, Unit::Volt)},
               {"drop_out", assumedFigure(trade::dropsOutAt * v, Unit::Volt)}}});
    return id + ".87";
}

// The node of a place that faces the pin.
std::string SheetWiring::facing(const RoutePlace& place, Bus bus, double current_A)
{
    if (isBatteryMinus(place)) return doc_.battery() + ".-";
    if (place.kind == Kind::Battery) return batteryBus();
    if (place.kind == Kind::KeySwitch) return keyBus();
    if (place.kind == Kind::Ground) return groundPoint(place.id == "G" ? "" : place.id);
    // A ring of places has no beginning.
    if (!making_.insert(place.id).second) return place.id;
    std::string node;
    switch (place.kind) {
        case Kind::Relay:
            node = relayContact(place.id);
            break;
        case Kind::Fuse: {
            node = place.id + ".out";
            if (!doc_.hasElement(place.id)) {
                const auto next = next_.find(place.id);
                const bool inBox = next == next_.end() || next->second.place.kind == Kind::Relay ||
                                   next->second.place.kind == Kind::Battery ||
                                   next->second.place.kind == Kind::KeySwitch;
                std::string in = upstreamOf(place, bus, current_A);
                if (!inBox) conductor(in, place.id + ".in", current_A), in = place.id + ".in";
                const auto rating = ratings_.find(place.id);
                const double rating_A = rating == ratings_.end() ? trade::assumed::fuseRating_A : rating->second;
                addFuse(place.id, in, node, rating_A);
            }
            node = doc_.fuseOut(place.id);
            break;
        }
        case Kind::Connector: {
            // Of a feed the source side is that of the battery.
            node = place.id + ".b";
            doc_.inlineCavity(place.id, circuit_, colour_);
            conductor(upstreamOf(place, bus, current_A), place.id + ".a", current_A);
            break;
        }
        default:
            node = place.id;
            doc_.splice(place.id);
            conductor(upstreamOf(place, bus, current_A), place.id, current_A);
    }
    making_.erase(place.id);
    return node;
}

std::string SheetWiring::feed(const std::vector<RoutePlace>& route, Bus bus, double current_A)
{
    return route.empty() ? start(bus) : facing(route.front(), bus, current_A);
}

std::string SheetWiring::toGround(const std::string& node, const std::vector<RoutePlace>& route, double section_mm2)
{
    std::string at = node;
    for (const RoutePlace& place : route) {
        if (place.kind == Kind::Connector) {
            doc_.inlineCavity(place.id, circuit_, colour_);
            doc_.wire(at, place.id + ".a", trade::assumed::wireLength_m, section_mm2);
            at = place.id + ".b";
        } else if (place.kind == Kind::Splice) {
            doc_.splice(place.id);
            doc_.wire(at, place.id, trade::assumed::wireLength_m, section_mm2);
            at = place.id;
        }
    }
    if (!route.empty() && isBatteryMinus(route.back())) {
        doc_.wire(at, doc_.battery() + ".-", trade::assumed::wireLength_m, section_mm2);
        return doc_.battery() + ".-";
    }
    const bool named = !route.empty() && route.back().kind == Kind::Ground && route.back().id != "G";
    const std::string point = groundPoint(named ? route.back().id : "");
    doc_.wire(at, point, trade::assumed::wireLength_m, section_mm2);
    return point;
}

std::string SheetWiring::outwards(const std::string& node, std::vector<RoutePlace>& route, double current_A)
{
    std::string at = node;
    while (!route.empty() && route.front().kind == Kind::Connector) {
        const std::string id = route.front().id;
        doc_.inlineCavity(id, circuit_, colour_);
        conductor(at, id + ".a", current_A);
        at = id + ".b";
        route.erase(route.begin());
    }
    return at;
}

}  // namespace ilvek
