// What wires are made of.
#pragma once

namespace ilvek {

// R = ρ l / A at 20 °C. SOURCE: IEC 60028, annealed copper.
constexpr double copperResistivity_ohm_mm2_per_m = 0.01724;

// R = R₂₀ (1 + α (T − 20 °C)). SOURCE: IEC 60028.
constexpr double copperPerKelvin = 0.0039;

}  // namespace ilvek
