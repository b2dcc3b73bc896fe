#include "bench_map/row_role.h"

#include <utility>

#include "base/text.h"

namespace ilvek {

namespace {

// What the way of a wire and its far end tell of its role: "supply" behind K2, "speed input" of a pick-up.
std::string toldBesides(const PinRow& row)
{
    std::string told;
    const auto route = parseRoute(row.route);
    for (const RoutePlace& place : route ? *route : std::vector<RoutePlace>{}) {
        if (place.kind == RoutePlace::Kind::Relay) told += ", by relay " + place.id;
        if (place.kind == RoutePlace::Kind::KeySwitch) told += ", with key";
    }
    if (!row.relay.empty()) told += ", by relay " + row.relay;
    switch (parseFarEnd(row.otherEnd).kind) {
        case FarEnd::Kind::Hall:
            return told + ", hall";
        case FarEnd::Kind::PickUp:
            return told + ", pick-up";
        case FarEnd::Kind::Switch:
            return told + ", switch";
        case FarEnd::Kind::Thermistor:
            return told + ", thermistor";
        case FarEnd::Kind::Sensor:
            return told + ", sensor";
        default:
            return told;
    }
}

// A drive of which no side was told feeds what is grounded at its other end.
Result<SheetRole> withSide(Result<SheetRole> role, const std::string& words, const PinRow& row)
{
    if (!role || role->role != Role::LowSideDrive) return role;
    for (const std::string& word : loweredWords(words)) {
        if (word.starts_with("low") || word.starts_with("ground") || word == "earth" || word == "sink") return role;
    }
    // One that is expected to stand high when it is commanded.
    constexpr double high_V = 3;
    const auto figures = parseExpectedFigures(row.expected);
    for (const ExpectedFigure& e : figures ? *figures : std::vector<ExpectedFigure>{}) {
        const bool commanded =
            e.state.empty() || lowered(e.state).find("command") != std::string::npos || lowered(e.state) == "on";
        if (e.unit == Unit::Volt && commanded && e.low && *e.low >= high_V) role->role = Role::HighSideDrive;
    }
    const auto way = parseRoute(parseFarEnd(row.otherEnd).otherWire);
    if (way && !way->empty() && way->back().kind == RoutePlace::Kind::Ground) role->role = Role::HighSideDrive;
    return role;
}

Result<SheetRole> roleByWords(const PinRow& row)
{
    auto role = withSide(parseRole(row.role), row.role, row);
    const std::string besides = toldBesides(row);
    if (role || row.role.empty()) return role;
    if (auto told = withSide(parseRole(row.role + besides), row.role, row); told) return told;
    // What the role leaves open the name may say: "power" of "B+ unswitched". Not what is no role at all.
    if (isNoRole(row.role)) return role;
    auto told = withSide(parseRole(row.role + ", " + row.circuit), row.role, row);
    return told ? told : role;
}

// A list of pins often gives a name and no role: where the name tells it, it is taken.
Result<SheetRole> roleByName(const PinRow& row)
{
    // A bare sign in a list of names is a pole, not an empty cavity.
    const bool pole = row.circuit == "-" || row.circuit == "–";
    auto role = parseRole(pole ? "battery minus" : row.circuit);
    // What hangs there says more than its name: the switch of a "battery lock".
    const FarEnd::Kind far = parseFarEnd(row.otherEnd).kind;
    const bool sends = far == FarEnd::Kind::Switch || far == FarEnd::Kind::Thermistor || far == FarEnd::Kind::PickUp;
    const bool isDrive = role && groupOf(role->role) == Group::Drives;
    if (!role || (sends && isDrive)) role = parseRole(row.circuit + toldBesides(row));
    if (sends && role && groupOf(role->role) == Group::Drives) role = parseRole(toldBesides(row));
    return withSide(std::move(role), row.circuit, row);
}

}  // namespace

Result<SheetRole> roleOf(const PinRow& row)
{
    auto role = row.role.empty() && !row.circuit.empty() ? roleByName(row) : roleByWords(row);
    // A digital input that is called after the key is fed by it.
    if (role && role->role == Role::SwitchInput && lowered(row.role).find("digital") != std::string::npos) {
        const auto named = parseRole(row.circuit);
        if (named && named->role == Role::SwitchedFeed) role = named;
    }
    // A proportional part is driven for a share of the time.
    const bool isProportional =
        lowered(row.otherEnd + " " + row.circuit + " ").find("proportional") != std::string::npos;
    if (role && isProportional && (role->role == Role::HighSideDrive || role->role == Role::LowSideDrive)) {
        role->highLine = role->role == Role::HighSideDrive;
        role->role = Role::DutyDrive;
    }
    // A proximity switch is a sensor whose signal has two levels.
    if (role && role->role == Role::AnalogueInput && parseFarEnd(row.otherEnd).kind == FarEnd::Kind::Hall)
        role->role = Role::HallInput;
    // A thermocouple gives millivolts and has no pull-up.
    const bool couple = lowered(row.otherEnd + row.role + row.circuit).find("thermocouple") != std::string::npos;
    if (role && couple && groupOf(role->role) == Group::Inputs) role->role = Role::AnalogueInput;
    return role;
}

}  // namespace ilvek
