// What the rows of a pin sheet are to one another: what feeds whom, what comes back where, what is shared.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "base/text.h"
#include "bench_map/sheet_row.h"

namespace ilvek {

std::string fuseOf(const SheetRow& row);  // empty: none
// The connector of an in-line cavity; empty: it is none.
std::string plugOf(const RoutePlace& place);
// The plug of the part at a row's far end: as it is told of the part itself, or the last connector on the way to it;
// empty: none is told.
std::string plugOfPart(const SheetRow& row);
// The part of its signal is an alternator: its feed is its own.
bool isOfAlternator(const SheetRow& row);

// What a part takes at the system voltage, A; nullopt: no figure of it is told. I = P / U = U / R
std::optional<double> statedCurrent_A(const FarEnd& far, double volts);
// What the wires of the row's part are made for, A: what is told of it, and no less than is assumed of any.
double loadCurrent_A(const SheetRow& row, double systemVoltage_V);

// What the rows are to one another. Later rows serve earlier ones, so all are looked at before any circuit is made.
struct SheetOverview {
    std::map<std::string, std::string> names;  // of the terminals as written, by lowered name
    std::string firstReturn, firstSupply, firstPermanent, firstReference, firstReferenceReturn;
    std::string firstReferenceFeeds;  // the part that its row names, lowered
    bool listsNodes = false, hasPair = false;
    bool listsNodesOfLine() const { return listsNodes && !hasPair; }
    // The reference and the sensors' return that name the same part as a signal, by its lowered name.
    std::map<std::string, std::string> referenceOf, referenceReturnOf;
    std::map<std::string, double> references_V;  // what each reference gives
    // By terminal, what its wire is for and the in-line connectors on its way.
    std::map<std::string, std::string> circuitOf;
    std::map<std::string, std::set<std::string>> plugsOf;
    std::set<std::string> driveReturns;
    std::set<std::string> feeding;  // supplies and references
    // By terminal at which the second wires of driven parts end: the states in which they are driven, and the largest
    // current that is stated of them.
    struct Back {
        std::vector<std::string> in;
        std::optional<double> largest_A;
    };
    std::map<std::string, Back> comesBack;
    std::map<std::string, int> parts;                          // by terminal: how many it feeds or takes back
    std::set<std::string> withEnd;                             // terminals whose own wire has an end of its own
    std::map<std::string, std::string> alternators;            // that the sheet lists, by lowered name
    std::set<std::string> sensors;                             // parts that a signal names, lowered
    std::map<std::string, int> pinsOfFuse;                     // supplies behind one fuse share its current
    std::set<std::string> fedBySources;                        // places that a second source of the sheet feeds
    std::map<std::string, std::vector<std::string>> together;  // states in which a drive is commanded beside others
    // By supply, what its high-side drives take together, and the largest of them that is stated.
    struct Driven {
        double all_A = 0, largest_A = 0;
    };
    std::map<std::string, Driven> driven;
    // By a drive whose part hangs between it and another one: that one, and the part, which one of the rows names.
    struct Bridge {
        std::string other, part;
    };
    std::map<std::string, Bridge> bridges;
    int returns = 0, mainRank = 0, mainSupplies = 0;
    double total_A = 0;  // what the machine draws; looms are dimensioned for it

    void take(const SheetRow& row, double systemVoltage_V);
    // The terminal that is meant, as written; empty: none.
    std::string terminal(const std::string& named) const;
    // Where a part that hangs on a terminal joins it: at the far end of its wire, if the circuit has one.
    std::string endOf(const std::string& terminal) const;
    // Which terminal feeds the sensor of a signal, and which one its part returns to; empty: none of the module.
    std::string feedOf(const SheetRow& signal) const;
    std::string returnOf(const SheetRow& signal) const;
    // Parts by terminal that feeds them or takes them back. After all rows are taken.
    void countParts(const SheetRow& row);
    bool isShared(const std::string& terminal) const;
    // Whether the same part is named on a signal's row: it is one part.
    bool isSensorOf(const SheetRow& row) const { return row.far.isNamed && sensors.contains(lowered(row.far.name)); }
    // Whether the first reference feeds sensors that no signal's row names.
    bool referenceFeedsUnlisted() const { return !firstReference.empty() && !sensors.contains(firstReferenceFeeds); }
    // As stated; else a share of the rating of its fuse.
    double ownCurrent_A(const SheetRow& row) const;
    // What the module itself takes of it: what is stated for full work, or what its fuse is made for, holds its
    // high-side drives too.
    double standing_A(const SheetRow& row) const;
    // The supply behind a drive, as written; empty: none.
    const std::string& supplyBehind(const SheetRow& drive) const;
    // A high-side drive adds what its part takes to the supply behind it. After all rows are taken.
    void addDriven(const SheetRow& drive, double systemVoltage_V);
    // Whether its switch brings a feed, of a terminal or not.
    bool bringsFeed(const SheetRow& row) const
    {
        return row.isFedSwitch() ||
               (groupOf(row.role) == Group::Inputs && feeding.contains(terminal(row.far.otherWire)));
    }
    // Whether a second source keeps it live whatever the key says.
    bool isFedElsewhere(const SheetRow& row) const;
};

}  // namespace ilvek
