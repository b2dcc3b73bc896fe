// What a person types for a reading, as it is understood: the one grammar of window, command line and stories.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "base/result.h"
#include "proving/anywhere.h"

namespace ilvek {

struct TypedReading {
    FigureKind kind = FigureKind::Volts;
    Quantity value;
    std::optional<double> most;  // with two figures: the higher one
    std::optional<Shown> shows;
    std::optional<double> current_A;  // that a clamp showed meanwhile
    bool inShutDown = false;
};

// "12.41", "12,41 V", "140 mV"; "11.8..12.4" lowest and highest; "12.34 @ 1.2 A" with the current, in amperes or in the
// clamp's millivolts at its scale; "0.02 tripped" while the module had shut something down; "~ 0.8 V" alternating;
// "0.4 ohm", "4k7 ohm", "OL"; "2.4 A", "35 %", "120 Hz", "2.1 ms"; "diode 0.55"; "bright", "dim", "dark", "tripped",
// "holds", "moves", "stuck high", "stuck low"; "module 10.9 V" as the module itself reports it.
// A figure without unit is of `asked`; "OL" too. ERRORS: the text as typed and what cannot be meant.
Result<TypedReading> parseReading(std::string_view text, FigureKind asked, double clampScale_mVPerA);

// The kind of figure that a test asks for.
FigureKind kindAsked(TestKind test);
Unit unitOfKind(FigureKind kind);

}  // namespace ilvek
