#include "circuit/substitute_load.h"

#include <fmt/format.h>
#include <cmath>
#include <regex>

#include "base/text.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

// Voltage below which the cold filament law I = U / R_cold is the smaller current:
// U / (0.1 U_r / I_r) = I_r (U/U_r)^0.55  =>  U/U_r = 0.1^(1/0.45)
const double coldCornerShare = std::pow(trade::coldShareOfHot, 1.0 / (1.0 - trade::filamentExponent));

SubstituteLoad lamp(double watts, double systemVoltage, int count)
{
    SubstituteLoad load;
    load.kind = LoadKind::Lamp;
    load.ratedVoltage_V = systemVoltage;
    load.ratedCurrent_A = watts * count / systemVoltage;
    load.id = count == 1 ? fmt::format("lamp-{:g}w", watts) : fmt::format("lamps-{}x{:g}w", count, watts);
    load.name = count == 1 ? fmt::format("{:g} W lamp", watts) : fmt::format("{} × {:g} W lamps", count, watts);
    return load;
}

double ratedVoltage_V(double systemVoltage_V)
{
    return systemVoltage_V < 9 ? 6 : systemVoltage_V < 18 ? 12 : systemVoltage_V < 36 ? 24 : 48;
}

std::string replaced(std::string text, std::string_view what, std::string_view by)
{
    for (std::size_t at; (at = text.find(what)) != std::string::npos;)
        text.replace(at, what.size(), by);
    return text;
}

// Letters and figures in one spelling: "2 × 55 W lamps" and "2x55w-lamps".
std::string plain(std::string_view words)
{
    std::string text = replaced(replaced(lowered(words), "×", "x"), "Ω", "ohm");
    for (const std::string_view drop : {" ", "-", "\u00a0"})
        text = replaced(std::move(text), drop, "");
    return replaced(std::move(text), ",", ".");
}

// A lamp by its watts, a resistor by its ohms, in words or as an id.
std::optional<SubstituteLoad> ofFigures(std::string_view words, double systemVoltage_V)
{
    constexpr double leastPower_W = 0.5, mostPower_W = 500, least_ohm = 0.5, most_ohm = 1e5;
    constexpr int mostLamps = 10;
    static const std::regex resistor(R"((?:resistor)?([0-9]+(?:\.[0-9]+)?)(?:ohms?)?(?:resistor)?(?:\.?[0-9]+w)?)");
    static const std::regex lamps(
        R"((?:lamps?|bulbs?)?(?:([0-9]+)x)?([0-9]+(?:\.[0-9]+)?)w(?:atts?)?(?:lamps?|bulbs?)?)");
    const std::string text = plain(words);
    const double volts = ratedVoltage_V(systemVoltage_V);
    std::smatch figures;
    const bool saysOhms = text.find("ohm") != std::string::npos || text.find("resistor") != std::string::npos;
    if (saysOhms && std::regex_match(text, figures, resistor)) {
        const double ohms = std::stod(figures[1]);
        if (ohms < least_ohm || ohms > most_ohm) return std::nullopt;
        return SubstituteLoad{fmt::format("resistor-{:g}", ohms),
                              fmt::format("{:g} Ω resistor", ohms),
                              LoadKind::Resistor,
                              volts,
                              volts / ohms,
                              30};
    }
    if (!std::regex_match(text, figures, lamps)) return std::nullopt;
    const double count = figures[1].matched ? std::stod(figures[1]) : 1, watts = std::stod(figures[2]);
    if (watts < leastPower_W || watts > mostPower_W || count < 1 || count > mostLamps) return std::nullopt;
    return lamp(watts, volts, static_cast<int>(count));
}

}  // namespace

double filamentCurrent_A(double rated_V, double rated_A, double voltage_V)
{
    const double magnitude = std::abs(voltage_V);
    if (magnitude <= rated_V * coldCornerShare) return voltage_V * rated_A / (trade::coldShareOfHot * rated_V);
    return std::copysign(rated_A * std::pow(magnitude / rated_V, trade::filamentExponent), voltage_V);
}

double filamentSlope_S(double rated_V, double rated_A, double voltage_V)
{
    const double magnitude = std::abs(voltage_V);
    if (magnitude <= rated_V * coldCornerShare) return rated_A / (trade::coldShareOfHot * rated_V);
    return trade::filamentExponent * rated_A * std::pow(magnitude / rated_V, trade::filamentExponent) / magnitude;
}

double SubstituteLoad::current_A(double voltage_V) const
{
    if (kind == LoadKind::Lamp) return filamentCurrent_A(ratedVoltage_V, ratedCurrent_A, voltage_V);
    return voltage_V * ratedCurrent_A / ratedVoltage_V;
}

double SubstituteLoad::slope_S(double voltage_V) const
{
    if (kind == LoadKind::Lamp) return filamentSlope_S(ratedVoltage_V, ratedCurrent_A, voltage_V);
    return ratedCurrent_A / ratedVoltage_V;
}

double SubstituteLoad::coldResistance_ohm() const
{
    const double warm = ratedVoltage_V / ratedCurrent_A;
    if (kind == LoadKind::Lamp) return warm * trade::coldShareOfHot;
    return kind == LoadKind::Motor ? warm / trade::stallRatio : warm;
}

std::vector<SubstituteLoad> loadCatalogue(double systemVoltage_V)
{
    const double volts = ratedVoltage_V(systemVoltage_V);
    SubstituteLoad resistor{"resistor-100", "100 Ω resistor", LoadKind::Resistor, volts, volts / 100.0, 30};
    SubstituteLoad middle{"resistor-22", "22 Ω resistor, 25 W", LoadKind::Resistor, volts, volts / 22.0, 30};
    SubstituteLoad motor{"motor", "heavy blower motor", LoadKind::Motor, volts, 180.0 / volts, 90};
    return {resistor, lamp(5, volts, 1), middle, lamp(21, volts, 1), lamp(55, volts, 1), lamp(55, volts, 2), motor};
}

std::optional<SubstituteLoad> findLoad(double systemVoltage_V, const std::string& id)
{
    for (const SubstituteLoad& load : loadCatalogue(systemVoltage_V)) {
        if (load.id == id) return load;
    }
    return ofFigures(id, systemVoltage_V);
}

std::optional<SubstituteLoad> loadCalled(double systemVoltage_V, std::string_view words)
{
    for (const SubstituteLoad& load : loadCatalogue(systemVoltage_V)) {
        if (plain(words) == plain(load.id) || plain(words) == plain(load.name)) return load;
    }
    return ofFigures(words, systemVoltage_V);
}

}  // namespace ilvek
