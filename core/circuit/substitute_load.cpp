#include "circuit/substitute_load.h"

#include <fmt/format.h>
#include <cmath>

namespace ilvek {

namespace {

constexpr double filamentExponent = 0.55;
constexpr double coldShareOfHot = 0.1;
// A motor that stands still takes about six times its running current.
constexpr double stallRatio = 6.0;

// Voltage below which the cold filament law I = U / R_cold is the smaller current:
// U / (0.1 U_r / I_r) = I_r (U/U_r)^0.55  =>  U/U_r = 0.1^(1/0.45)
const double coldCornerShare = std::pow(coldShareOfHot, 1.0 / (1.0 - filamentExponent));

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

}  // namespace

double filamentCurrent_A(double rated_V, double rated_A, double voltage_V)
{
    const double magnitude = std::abs(voltage_V);
    if (magnitude <= rated_V * coldCornerShare) return voltage_V * rated_A / (coldShareOfHot * rated_V);
    return std::copysign(rated_A * std::pow(magnitude / rated_V, filamentExponent), voltage_V);
}

double filamentSlope_S(double rated_V, double rated_A, double voltage_V)
{
    const double magnitude = std::abs(voltage_V);
    if (magnitude <= rated_V * coldCornerShare) return rated_A / (coldShareOfHot * rated_V);
    return filamentExponent * rated_A * std::pow(magnitude / rated_V, filamentExponent) / magnitude;
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
    if (kind == LoadKind::Lamp) return warm * coldShareOfHot;
    return kind == LoadKind::Motor ? warm / stallRatio : warm;
}

std::vector<SubstituteLoad> loadCatalogue(double systemVoltage_V)
{
    const double v = systemVoltage_V;
    const double volts = v < 9 ? 6 : v < 18 ? 12 : v < 36 ? 24 : 48;
    SubstituteLoad resistor{"resistor-100", "100 Ω resistor", LoadKind::Resistor, volts, volts / 100.0, 30};
    SubstituteLoad middle{"resistor-22", "22 Ω resistor, 25 W", LoadKind::Resistor, volts, volts / 22.0, 30};
    SubstituteLoad motor{"motor", "heavy blower motor", LoadKind::Motor, volts, 180.0 / volts, 90};
    return {resistor, lamp(5, volts, 1), middle, lamp(21, volts, 1), lamp(55, volts, 1), lamp(55, volts, 2), motor};
}

const SubstituteLoad* findLoad(const std::vector<SubstituteLoad>& loads, const std::string& id)
{
    for (const SubstituteLoad& load : loads) {
        if (load.id == id) return &load;
    }
    return nullptr;
}

}  // namespace ilvek
