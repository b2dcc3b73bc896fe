// The wires of a pin sheet: ways from a pin outwards over connectors, splices, fuses and relays to where they are fed
// or grounded. Places named on several rows are one; what a row leaves out another may tell, in any order.
#pragma once

#include <map>
#include <set>
#include <string>
#include <vector>

#include "bench_map/sheet_document.h"
#include "bench_map/sheet_words.h"

namespace ilvek {

// Where a way begins when nothing on it says so.
enum class Bus { Unknown, Battery, Key };

class SheetWiring {
public:
    // A map drawn by hand may have buses of its own.
    explicit SheetWiring(SheetDocument& doc)
        : doc_(doc),
          bus_(doc.hasNode("FB.30") ? "FB.30" : "fuse box"),
          keyed_(doc.hasNode("FB.15") ? "FB.15" : "keyed bus")
    {
    }

    // What a row tells of its way, before any is made. `item` names the row and column in problems.
    void announce(const std::string& item, const std::vector<RoutePlace>& route, Bus bus);
    // A relay whose coil the module drives.
    struct Coil {
        std::string pin;  // node, and the way from it over in-line connectors
        std::vector<RoutePlace> way;
        bool fromPlus = false;
        std::vector<RoutePlace> otherEnd;
        std::string circuit, colour;
    };
    void announceCoil(const std::string& relay, Coil coil) { coils_[relay] = std::move(coil); }
    // A ground that no row gives a name, and the key switch, where a cavity is called so already.
    void callGround(const std::string& name) { ground_ = name; }
    void callKey(const std::string& name) { key_ = name; }
    // What is drawn over a way and all that feeds it: always, or only while a drive is commanded. In a sound machine a
    // fuse carries that, whatever its rating and whoever guessed the currents.
    void draw(const std::vector<RoutePlace>& way, double always_A, double commanded_A = 0);
    // What the whole machine draws, for which looms are dimensioned.
    void dimension(double total_A) { total_A_ = total_A; }

    // The node at which the way from `route` feeds; everything upstream of it is made. `current_A` is what its wires
    // are made for.
    std::string feed(const std::vector<RoutePlace>& route, Bus bus, double current_A);
    // A wire from `node` outwards over the connectors and splices of the route to its ground; the node of the ground.
    std::string toGround(const std::string& node, const std::vector<RoutePlace>& route, double section_mm2);
    // A wire from `node` over the in-line connectors at the front of the route; the last node, and what is left of it.
    std::string outwards(const std::string& node, std::vector<RoutePlace>& route, double current_A);
    // Drawn on the cavities of in-line connectors.
    void carry(const std::string& circuit, const std::string& colour) { circuit_ = circuit, colour_ = colour; }

    std::string batteryBus();
    std::string keyBus();
    std::string groundPoint(const std::string& named);
    // The node at which a part is grounded over a way: a splice that it begins with, else its ground point.
    std::string groundedOver(const std::vector<RoutePlace>& way);
    std::string relayContact(const std::string& id);
    bool drivesCoil(const std::string& relay, const std::string& pin) const;
    std::vector<std::string> onStates() const;
    // The thinnest wire in trade that loses no more than this at its current. A = ρ l I / U
    static double sectionFor(double length_m, double current_A, double loss_V);
    void conductor(const std::string& a, const std::string& b, double current_A);

private:
    std::string facing(const RoutePlace& place, Bus bus, double current_A);
    std::string upstreamOf(const RoutePlace& place, Bus bus, double current_A);
    std::string start(Bus bus);

    void addFuse(const std::string& id, const std::string& in, const std::string& out, double rating_A);

    struct Drawn {
        double always_A = 0, largest_A = 0;
    };
    struct Next {
        RoutePlace place;
        std::string item;
    };
    SheetDocument& doc_;
    std::string bus_, keyed_;
    std::map<std::string, Next> next_;  // by place: what feeds it
    std::map<std::string, Bus> busOf_;  // by place: what kind of feeds hang on it
    std::map<std::string, double> ratings_;
    std::map<std::string, Drawn> drawn_;  // by place
    std::map<std::string, Coil> coils_;   // by relay
    std::set<std::string> making_;        // places on the way now being made
    double total_A_ = 0;
    std::string circuit_, colour_, ground_ = "G", key_ = "KEY";
};

}  // namespace ilvek
