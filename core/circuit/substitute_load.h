// A load the technician puts on a circuit in place of, or beside, its own: a lamp, a resistor, a motor.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ilvek {

// A gas-filled tungsten filament with its rated voltage and current: I = I_r (U/U_r)^0.55 above the point where its
// cold resistance (a tenth of the hot one) would pass less; odd in the voltage. A, and dI/dU in S. SOURCE: rule of the
// lamp trade, exponent 0.55.
double filamentCurrent_A(double rated_V, double rated_A, double voltage_V);
double filamentSlope_S(double rated_V, double rated_A, double voltage_V);

enum class LoadKind { Lamp, Resistor, Motor };

struct SubstituteLoad {
    std::string id;
    std::string name;
    LoadKind kind = LoadKind::Lamp;
    double ratedVoltage_V = 12;
    double ratedCurrent_A = 1;  // at the rated voltage, once warm or up to speed
    double effort_s = 30;

    // Current through it with `voltage_V` across it, A; odd in the voltage.
    double current_A(double voltage_V) const;
    // dI/dU, S; never negative.
    double slope_S(double voltage_V) const;
    // Resistance before it warms up or turns; the inrush is U over this, Ω.
    double coldResistance_ohm() const;
    bool operator==(const SubstituteLoad&) const = default;
};

// The loads of a workshop for systems of about the given voltage (6, 12, 24 V …), smallest current first.
std::vector<SubstituteLoad> loadCatalogue(double systemVoltage_V);
// The load of that id: of the catalogue, or any lamp or resistor that a technician has ("lamp-70w", "lamps-3x21w",
// "resistor-47"). nullopt: none is called so.
std::optional<SubstituteLoad> findLoad(double systemVoltage_V, const std::string& id);
// The same by its name as people write it: "21 W lamp", "70W", "lamp 5 W", "2 x 55 W lamps", "47 Ω resistor".
std::optional<SubstituteLoad> loadCalled(double systemVoltage_V, std::string_view words);

}  // namespace ilvek
