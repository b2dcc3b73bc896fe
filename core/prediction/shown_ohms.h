// Decades of ohms as a meter shows them.
#pragma once

#include "prediction/predictions.h"
#include "quantity/quantity.h"

namespace ilvek {

constexpr double overLimitDecades = 7.7;  // 50 MΩ: meters show OL

// In Ω, or OL.
inline Quantity shownOhms(double decades)
{
    if (decades > overLimitDecades) return {0, Unit::Ohm, true, 0};
    return ohms(ohmsOf(decades));
}

}  // namespace ilvek
