// A row of a pin sheet with its words understood.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_document.h"
#include "bench_map/sheet_wiring.h"
#include "bench_map/sheet_words.h"

namespace ilvek {

// A source that the engine turns, and not a second battery or a charger.
bool isAlternator(const PinRow& row);
// A consumer that draws while cranking only.
bool isStarter(const PinRow& row);

struct SheetRow {
    const PinRow& row;
    Role role = Role::Empty;
    FarEnd far;
    std::vector<RoutePlace> route = {};      // of a supply, a return or a consumer: to where it is fed or grounded
    std::vector<RoutePlace> otherWire = {};  // of the part at its far end
    std::vector<RoutePlace> supplyWay = {};  // of a sensor that no terminal feeds
    bool drivesCoil = false;                 // of a relay
    bool holdsFeed = false;                  // of one that feeds terminals of the module: it is on with the key
    std::string relay = {};                  // that feeds it, or whose coil it drives
    std::string fedBy = {};                  // of a drive, the supply terminal behind it, as written

    std::string id() const { return row.id(); }
    std::string in() const { return row.id() + ".b"; }
    std::string out() const { return row.id() + ".a"; }
    std::string end() const { return row.id() + ".end"; }
    bool isTerminal() const { return row.isTerminal(); }
    bool isDrive() const { return groupOf(role) == Group::Drives; }
    bool isSupply() const { return ilvek::isSupply(role); }
    // Of a part with a supply, a return and this signal, as far as anybody says.
    bool isSensorSignal() const
    {
        // One whose signal has two levels, where its feed is told.
        if (role == Role::HallInput) return !far.supply.empty();
        return role == Role::AnalogueInput && !far.isSender &&
               (far.kind == FarEnd::Kind::Unknown || far.kind == FarEnd::Kind::Sensor ||
                far.kind == FarEnd::Kind::Module);
    }
    // The state in which its drive is commanded, its switch operated.
    std::string commandedIn() const;
    std::string operatedIn() const;
    // The fuse whose current it shares; nullptr: none.
    const RoutePlace* fuse() const;
    Bus bus() const;
    // Stated for the circuit at full work, A.
    std::optional<double> current_A() const;
    // A drive that feeds its part: told so, or pulsed with a part that is grounded at its other end.
    bool isHighSide() const;
    // A switch input whose switch brings a feed, and not the ground.
    bool isFedSwitch() const;
    // Of a reference: the middle of what is expected of it, else the level in the words of its row; none: it is 5 V by
    // custom.
    std::optional<double> statedReference_V() const;
    double reference_V() const;
    // Of its own wire, mm², where it is stated.
    std::optional<double> section_mm2() const;
    // Whether that current was measured on this machine, by what its source says.
    bool isCurrentMeasured() const;
    std::string colourWords() const;  // "red/white"; empty when it is not known
    // What hangs at its far end: by its own name, else by the circuit's.
    std::string partName() const;
};

// "row 7, route"
std::string itemOf(const PinRow& row, const char* column);

// Whether a source is a measurement on this machine: "2.4 A by clamp", "measured".
bool isMeasured(const std::string& source);

// REQUIRES: `row` outlives it. `names` are the terminals of the sheet as written, by their lowered name. What cannot be
// understood is told to `doc`.
SheetRow understood(const PinRow& row, const std::map<std::string, std::string>& names, SheetDocument& doc);

}  // namespace ilvek
