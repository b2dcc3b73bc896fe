// A map document that grows out of a pin sheet: parts, splices, states and in-line connectors, each made once.
#pragma once

#include <map>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <set>
#include <string>
#include <utility>
#include <vector>

#include "base/result.h"
#include "quantity/known.h"
#include "quantity/quantity.h"
#include "quantity/trade.h"

namespace ilvek {

// A part to be made. Its figures are assumed unless `stated`.
struct SheetElement {
    std::string id, kind;
    std::vector<std::string> nodes;
    std::vector<std::pair<std::string, std::string>> values = {};  // "resistance", "0.2 Ω"; also name, place, reach
    std::vector<std::string> in = {};                              // states in which it is on
    bool hasStates = false;
    bool stated = false;
    bool isFeedAssumed = false;                             // of a driver
    std::vector<std::pair<std::string, Known>> known = {};  // of single figures
};

class SheetDocument {
public:
    // REQUIRES: a map document, or one without connectors and elements yet.
    explicit SheetDocument(nlohmann::ordered_json document);
    ~SheetDocument();
    nlohmann::ordered_json& json() { return *json_; }
    std::string text() const;

    double systemVoltage_V() const { return volts_; }
    const std::string& module() const { return module_; }
    const std::string& battery() const { return battery_; }
    std::string ground() const { return module_ + ".ground"; }  // inside the module
    bool hasState(const std::string& id) const;
    std::vector<std::string> states() const;
    std::string stateName(const std::string& id) const;    // lowered
    std::string stateOr(const std::string& wanted) const;  // the first one where it is not there
    bool hasElement(const std::string& id) const;
    bool hasNode(const std::string& name) const;  // of an element

    void addSource(const std::string& id, const std::string& title, const std::string& kind);
    // The first of a name stands.
    void add(const SheetElement& element);
    void addWithin(SheetElement element);  // a part of the module itself
    // What is on with the key is on in it.
    void addState(const std::string& id, const std::string& name, const std::string& how, const std::string& caution,
                  const std::string& effort);
    // "wire <a> to <b>".
    // Of the given section, or of the one that was stated for a conductor with an end there.
    void wire(const std::string& a, const std::string& b, double length_m, double section_mm2);
    void stateSection(const std::string& node, double section_mm2) { stated_mm2_.emplace(node, section_mm2); }
    // That nobody stated its figures widens what is foretold while it runs.
    void addAlternator(const std::string& id, const std::string& plus, const std::string& minus);
    // Closed while cranking, from `from` to `to`. REQUIRES: the battery is dimensioned.
    void addStarterContact(const std::string& id, const std::string& from, const std::string& to);
    // What pulls the battery to where it customarily stands while cranking.
    double starterCurrent_A() const;
    // The main battery is made for what hangs on it in all.
    void dimensionBattery(double total_A);
    void splice(const std::string& id);
    // Both halves of a cavity "X2-3" of an in-line connector; what is assumed of the connector is said nowhere.
    void inlineCavity(const std::string& id, const std::string& circuit, const std::string& colour);
    // The far node of a fuse, which in a map made by hand may have any name.
    std::string fuseOut(const std::string& id) const;

    // Of one item only the first problem is kept: a row is looked at more than once.
    void complain(Error problem);
    const Problems& problems() const { return problems_; }

private:
    std::unique_ptr<nlohmann::ordered_json> json_;
    std::set<std::string> elementIds_;
    Problems problems_;
    std::string module_, battery_;
    double volts_ = 12, batteryInside_ohm_ = trade::batteryInside_ohm;
    std::map<std::string, double> stated_mm2_;  // by node
};

// Assumed figures are no finer than four digits.
std::string assumedFigure(double value, Unit unit);

}  // namespace ilvek
