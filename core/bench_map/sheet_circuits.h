// The circuits of a pin sheet, role by role: what is inside the module at a terminal, its wire, and what hangs at its
// far end.
#pragma once

#include <map>
#include <nlohmann/json_fwd.hpp>
#include <set>
#include <string>
#include <vector>

#include "base/text.h"
#include "bench_map/sheet_expected.h"
#include "bench_map/sheet_overview.h"
#include "bench_map/sheet_parts.h"
#include "bench_map/sheet_row.h"
#include "quantity/trade.h"

namespace ilvek {

class SheetCircuits {
public:
    SheetCircuits(SheetDocument& doc, SheetWiring& wiring, const SheetOverview& overview)
        : doc_(doc), wiring_(wiring), sheet_(overview)
    {
    }

    // REQUIRES: the role is not empty. Writes the own return and the current of the circuit into `cavity`.
    void add(const SheetRow& row, nlohmann::ordered_json& cavity);
    // A consumer or a source that is not at the module.
    void addLoose(const SheetRow& row);
    // Terminations between the two lines of the differential bus. After all terminals.
    void addBusNode(const SheetRow& row);
    void groundModule();

private:
    void supply(const SheetRow& row, nlohmann::ordered_json& cavity);
    void powerReturn(const SheetRow& row, nlohmann::ordered_json& cavity);
    void reference(const SheetRow& row, nlohmann::ordered_json& cavity);
    void referenceReturn(const SheetRow& row, nlohmann::ordered_json& cavity);
    void input(const SheetRow& row, nlohmann::ordered_json& cavity);
    void sensor(const SheetRow& row);
    std::string overPlug(const SheetRow& row, const std::string& node, const char* end);
    double driverOf(const SheetRow& row) const;  // Ω
    // Of the reference that a sensor stands at, and within which share of that one sigma lies, where it is told.
    struct Output {
        double share = 0.5;
        std::optional<double> within;
    };
    Output outputOf(const SheetRow& row, const std::string& from) const;
    void drive(const SheetRow& row);
    void takeBack(const SheetRow& row, const SheetOverview::Bridge& bridge);
    void driveLoad(const SheetRow& row, bool high);
    FarEnd withCurrent(const SheetRow& row) const;
    void bus(const SheetRow& row);
    void consumer(const SheetRow& row);
    void source(const SheetRow& row);
    void joint(const std::string& id, const std::string& a, const std::string& b);
    std::string fed();
    std::string sentFrom(const SheetRow& row);
    std::string regulated(double level_V = trade::reference_V);
    std::string farReturn(const SheetRow& row);
    std::string branch(const SheetRow& row, const std::string& from, const char* end);
    std::string ownEnd(const SheetRow& row, const std::string& from, const char* end);
    double pullUpOf(const SheetRow& row) const;  // Ω
    std::string ownReturnOf(const SheetRow& row) const;
    void wireToEnd(const SheetRow& row);
    void addPairNode(const SheetRow& row);
    void addLineNode(const SheetRow& row);
    PartBasis basisOf(const SheetRow& row, double resistance_ohm) const;

    SheetDocument& doc_;
    SheetWiring& wiring_;
    const SheetOverview& sheet_;
    std::vector<std::string> busLines_;  // far ends of the differential pair, as they came
    std::string singleWire_;             // the last of them
};

}  // namespace ilvek
