// What is expected at the terminals of a pin sheet: what the sheet states, and for the rest what is customary for the
// role and can fail. Of what has neither it is said between which states its level must move.
#pragma once

#include <nlohmann/json_fwd.hpp>

#include "bench_map/sheet_row.h"

namespace ilvek {

// Customary figures of the trade, by role. SOURCE: docs/formats.md, "Customary expectations".
struct Customary {
    static constexpr double openShortfall = 0.025;  // of a feed below the battery, share of the system voltage
    static constexpr double loadedShortfall = 0.05;
    static constexpr double absentAtMost_V = 1.0;
    static constexpr double returnDrop_V = 0.2, sensorReturnDrop_V = 0.1;
    static constexpr double reference_V = 5.0, referenceShare = 0.05;
    static constexpr double released = 0.7;                  // a drive's place at rest, of the system voltage, at least
    static constexpr double pulledDown = 0.17;               // and commanded, at most: two volts of twelve
    static constexpr double pulledUp = 0.8;                  // of one on the plus side, commanded, at least
    static constexpr double resting = 0.12;                  // and at rest, at most
    static constexpr double busFrom_V = 1.2, busTo_V = 3.8;  // a line of a differential pair, mean while awake
    static constexpr double singleBus = 0.4;                 // of a single-wire bus, share of the system voltage
    static constexpr double inputFrom_V = 0.1,
                            inputTo_V = 4.9;  // of a thermistor between −20 and 120 °C, at the widest
    static constexpr double switchedLow_V = 1.0, switchedHigh_V = 2.5;  // of a pulled-up input, closed and open
    // Levels that set a code: of a feed, share of the system voltage; of an input on 5 V.
    static constexpr double codeFeedLow = 0.75, codeFeedHigh = 1.33;
    static constexpr double codeInputLow_V = 0.25, codeInputHigh_V = 4.75;
    static constexpr double pullUpFrom_ohm = 1000, pullUpTo_ohm = 4700;
};

struct FedBeside {
    bool elsewhere = false;  // a second source keeps the row's feed live, so that it need not be absent in any state
    bool bySwitch = false;   // of a switch that brings a feed from another terminal
    std::string byDriveIn = {};  // of a drive whose part another drive of the module feeds: the state in which it does
};
// REQUIRES: the states of the sheet are in the document, and the sources "assumed" and "customary".
void addExpected(SheetDocument& doc, const SheetRow& row, const FedBeside& fed, nlohmann::ordered_json& cavity);

}  // namespace ilvek
