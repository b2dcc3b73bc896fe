#include "bench_map/sheet_expected.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "base/text.h"
#include "bench_map/sheet_parts.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

struct Bounds {
    std::optional<double> low, high;
};

class Expecting {
public:
    Expecting(SheetDocument& doc, const SheetRow& row, const FedBeside& fed, Json& cavity)
        : doc_(doc), row_(row), fed_(fed), cavity_(cavity)
    {
    }

    void customary()
    {
        cavity_["expected"] = Json::array();
        const double v = doc_.systemVoltage_V();
        switch (groupOf(row_.role)) {
            case Group::Supplies:
                return supply(v);
            case Group::Returns:
                cavity_["needed_in"] = {doc_.stateOr("key-on")};
                return add(doc_.stateOr("key-on"), "drop", "loaded", {-0.01, trade::returnDrop_V}, Unit::Volt);
            case Group::References:
                return reference();
            case Group::Inputs:
                return input();
            case Group::Drives:
                return drive(v);
            case Group::Networks:
                return network(v);
            case Group::Empty:
                return;
        }
    }

    // What the sheet states holds instead of what is customary for the same.
    void stated()
    {
        const auto figures = parseExpectedFigures(row_.row.expected);
        if (!figures) return doc_.complain({itemOf(row_.row, "expected"), figures.error().message()});
        for (const ExpectedFigure& f : *figures) {
            const std::string state = stateOf(f.state);
            if (state.empty())
                doc_.complain({itemOf(row_.row, "expected"),
                               fmt::format("“{}” is no state that is known; write key off, key on, cranking, running, "
                                           "commanded or operated",
                                           f.state)});
            else
                state_(f, state);
        }
        if (const auto current = row_.current_A()) current_(*current);
    }

private:
    // A figure this near to the system's voltage is the battery, whatever it has; so far below it that may be.
    static constexpr double batteryLike = 0.8, asBattery = 0.15;

    void add(const std::string& state, const char* measure, const char* how, const Bounds& bounds, Unit unit,
             const std::string& source = "customary")
    {
        if (!doc_.hasState(state)) return;
        Json e{{"state", state}, {"measure", measure}, {"how", how}};
        if (bounds.low) e["low"] = assumedFigure(*bounds.low, unit);
        if (bounds.high) e["high"] = assumedFigure(*bounds.high, unit);
        e["source"] = source;
        cavity_["expected"].push_back(std::move(e));
    }

    void level(const std::string& state, const Bounds& bounds) { add(state, "level", "loaded", bounds, Unit::Volt); }

    void moves(std::initializer_list<std::string> states)
    {
        Json list = Json::array();
        for (const std::string& state : states) {
            if (doc_.hasState(state)) list.push_back(state);
        }
        cavity_["moves"] = list;
    }

    void supply(double v)
    {
        const std::string needed = doc_.stateOr(row_.role == Role::PermanentFeed ? "key-off" : "key-on");
        cavity_["needed_in"] = {needed};
        add(needed, "below battery", "open", {-0.05, trade::openShortfall * v}, Unit::Volt);
        add(needed, "below battery", "loaded", {-0.05, trade::loadedShortfall * v}, Unit::Volt);
        if (fed_.elsewhere || row_.role == Role::PermanentFeed || needed == doc_.stateOr("key-off")) return;
        cavity_["absent_in"] = {"key-off"};
        add("key-off", "level", "open", {-0.1, trade::absentAtMost_V}, Unit::Volt);
    }

    void reference()
    {
        if (row_.role == Role::ReferenceReturn)
            return add("key-on", "drop", "loaded", {-0.01, trade::sensorReturnDrop_V}, Unit::Volt);
        const auto stated = row_.statedReference_V();
        const double level_V = row_.reference_V(), wide = trade::referenceShare * level_V;
        // One of the battery's own voltage has no upper end.
        const bool isBattery = level_V > batteryLike * doc_.systemVoltage_V();
        Bounds bounds{level_V - wide, level_V + wide};
        if (isBattery) bounds = {(1 - asBattery) * level_V, std::nullopt};
        for (const char* how : {"open", "loaded"})
            add("key-on", "level", how, bounds, Unit::Volt, stated ? source() : "customary");
    }

    // U = 5 V R / (R + R_pull-up), R of the thermistor at 120 and at −20 °C, R(T) = R25 exp(β (1/T − 1/298 K))
    Bounds thermistor() const
    {
        Bounds widest{trade::inputFrom_V, trade::inputTo_V};
        if (!row_.far.ohms) return widest;
        constexpr double warm_K = 298;
        const auto at = [&](double kelvin) {
            return row_.far.ohms->middle() * std::exp(betaOf(row_.far) * (1 / kelvin - 1 / warm_K));
        };
        const auto [least, most] = std::minmax({at(trade::warmest_K), at(trade::coldest_K)});
        const double low = 5 * least / (least + trade::pullUpTo_ohm);
        const double high = 5 * most / (most + trade::pullUpFrom_ohm);
        return {std::max(0.5 * *widest.low, low), std::min(*widest.high, high)};
    }

    // One that is told to rest open or closed to ground pulls a level down or lets it stand.
    void switched()
    {
        const bool grounded = row_.far.otherWire.empty() || row_.otherWire.empty() ||
                              row_.otherWire.back().kind == RoutePlace::Kind::Ground;
        if (!row_.far.isRestTold || !grounded || fed_.bySwitch) return moves({"key-on", row_.operatedIn()});
        // A switch grounded at the body stands below the module's own return by what that loses.
        const Bounds down{-trade::returnDrop_V - 0.1, trade::switchedLow_V}, up{trade::switchedHigh_V, std::nullopt};
        level("key-on", row_.far.isClosedAtRest ? down : up);
        level(row_.operatedIn(), row_.far.isClosedAtRest ? up : down);
    }

    void input()
    {
        switch (row_.role) {
            case Role::ThermistorInput:
                return level("key-on", thermistor());
            case Role::SwitchInput:
                return switched();
            case Role::SenseInput:
                return moves({"key-off", "key-on", "cranking", "running"});
            case Role::ReluctanceInput:
                return moves({"cranking", "running"});
            case Role::HallInput:
            case Role::DutyInput:
                return moves({"key-on", "cranking", "running"});
            default:
                return moves({"key-on"});
        }
    }

    void drive(double v)
    {
        const std::string on = row_.holdsFeed ? "key-on" : row_.commandedIn();
        if (row_.role == Role::DriveReturn) return moves({"key-on"});
        if (row_.role == Role::DutyDrive) return moves({"key-on", on});
        // Released it stands where the drive that feeds its part leaves it.
        if (!fed_.byDriveIn.empty()) return moves({fed_.byDriveIn, on});
        const bool high = row_.role == Role::HighSideDrive;
        const Bounds released{trade::released * v, std::nullopt}, pulled{std::nullopt, trade::pulledDown * v};
        const Bounds fed{trade::pulledUp * v, std::nullopt}, resting{std::nullopt, trade::resting * v};
        level(on, high ? fed : pulled);
        // With the module apart its coil brings the feed to the pin: a dead wire does not.
        if (row_.holdsFeed)
            return high ? level("key-off", resting) : add("key-on", "level", "open", released, Unit::Volt);
        level("key-on", high ? resting : released);
    }

    void network(double v)
    {
        if (row_.role == Role::DifferentialBus) return level("key-on", {trade::busFrom_V, trade::busTo_V});
        level("key-on", {trade::talksAtLeast * v, trade::talksAtMost * v});
        moves({"key-on"});
    }

    // That of the figure, else the one that the row names, or the sheet itself.
    std::string source(const std::string& own = "")
    {
        const std::string& name = own.empty() ? row_.row.source : own;
        const bool named = !name.empty();
        const std::string id = named ? name : "the sheet";
        doc_.addSource(id, named ? id : "the pin sheet", isMeasured(id) ? "measured" : "maker");
        return id;
    }

    void current_(double ampere)
    {
        cavity_["current"] = assumedFigure(ampere, Unit::Ampere);
        cavity_["current_source"] = source();
    }

    void state_(const ExpectedFigure& f, const std::string& state)
    {
        if (f.unit == Unit::Ampere)
            return current_(f.low && f.high ? 0.5 * (*f.low + *f.high) : f.low.value_or(f.high.value_or(0)));
        // A feed is held against the battery of the minute; a level says no more.
        if (row_.isSupply() || row_.role == Role::Return) return;
        const char* measure = f.unit == Unit::Ohm       ? "resistance"
                              : f.unit == Unit::Percent ? "duty"
                              : f.unit == Unit::Hertz   ? "frequency"
                                                        : "level";
        if (f.unit == Unit::Volt && row_.role == Role::ReferenceReturn) measure = "drop";
        Bounds bounds{f.low, f.high};
        if (f.low && f.high && *f.low == *f.high) {
            // One figure is the middle of what is usual; "12 V" on a 12 V machine is the battery, whatever it has.
            constexpr double usual = 0.05;
            const double v = doc_.systemVoltage_V();
            const bool isBattery = f.unit == Unit::Volt && std::abs(*f.low - v) <= asBattery * v;
            const double wide = std::max(usual * std::abs(*f.low), f.unit == Unit::Volt ? 0.1 : 0.0);
            bounds = {*f.low - wide, *f.high + wide};
            if (isBattery) bounds = {(1 - asBattery) * *f.low, std::nullopt};
        }
        // What is stated says more than that it moves.
        if (cavity_.contains("moves") && cavity_["moves"].size() == 1) cavity_.erase("moves");
        Json& all = cavity_["expected"];
        all.erase(std::remove_if(all.begin(), all.end(),
                                 [&](const Json& e) {
                                     return e.value("source", "") == "customary" && e.value("state", "") == state &&
                                            e.value("measure", "") == measure;
                                 }),
                  all.end());
        add(state, measure, f.unit == Unit::Ohm ? "open" : "loaded", bounds, f.unit, source(f.source));
    }

    // The state that the sheet means: its own by "commanded", "operated"; the others by their name or how it begins.
    std::string stateOf(const std::string& words)
    {
        const std::string low = lowered(words);
        const auto says = [&](std::initializer_list<const char*> any) {
            return std::any_of(any.begin(), any.end(), [&](const char* w) { return low.find(w) != std::string::npos; });
        };
        const bool isNot = says({"not "});
        if (row_.isDrive() && !isNot && (low.empty() || low == "on" || says({"command", "driven", "working"})))
            return row_.commandedIn();
        if (row_.role == Role::SwitchInput && !isNot && says({"operated", "pressed", "actuated"}))
            return row_.operatedIn();
        for (const std::string& id : doc_.states()) {
            if (id == low || doc_.stateName(id) == low) return id;
        }
        if (says({"crank"})) return "cranking";
        if (says({"running", "idl", "engine on"})) return "running";
        if (says({"key off", "key-off", "ignition off", "asleep"})) return "key-off";
        if (low.empty() || isNot || says({"key on", "key-on", "ignition on", "off", "rest", "awake"})) return "key-on";
        return "";
    }

    SheetDocument& doc_;
    const SheetRow& row_;
    const FedBeside& fed_;
    Json& cavity_;
};

}  // namespace

void addExpected(SheetDocument& doc, const SheetRow& row, const FedBeside& fed, Json& cavity)
{
    Expecting expecting(doc, row, fed, cavity);
    expecting.customary();
    expecting.stated();
}

}  // namespace ilvek
