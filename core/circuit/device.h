// A part of the circuit as the equations see it: a law between up to four nodes, with its figures. An element of the
// map becomes one or two devices; a load, a meter and a short between two places are devices without an element.
#pragma once

#include <array>
#include <cstdint>

#include "circuit/laws.h"

namespace ilvek {

struct Device {
    // What `values` holds, in base units, and the nodes in order:
    enum class Law : std::uint8_t {
        Resistance,     // R; a, b
        Battery,        // E, R, R while charging; plus, minus
        ConstantDraw,   // I, brown-out voltage; a, b
        LimitedSource,  // E, R, limit; plus, minus
        LimitedSwitch,  // R, limit; a, b
        Regulator,      // V, R, limit, drop-out; supply, output, return
        Divider,        // share, R; supply, output, return
        Diode,          // forward voltage; anode, cathode
        Filament        // rated voltage, rated current; a, b
    };
    Law law = Law::Resistance;
    bool on = true;          // off: not there
    bool forcedOff = false;  // by a fault or by what was taken out; logic cannot switch it on
    bool forcedOn = false;   // by a fault; logic cannot switch it off
    std::uint8_t nodeCount = 2;
    int element = -1;
    std::array<int, 4> nodes{-1, -1, -1, -1};  // of the equations; −1 is the reference
    std::array<double, 4> values{};

    bool isLinear() const { return law == Law::Resistance || law == Law::Divider; }
    // Switches it on or off as far as no fault forbids; true when that changed it.
    bool set(bool wanted);
    bool operator==(const Device&) const = default;
};

// Its resistance times `factor`, or what it gives or draws where it has none: a filament of twice the resistance passes
// half the current.
void scaleValue(Device& device, double factor);

// Writes the device's currents and slopes at voltages `v`; nothing when it is off.
void stamp(const Device& device, const law::Voltages& v, Sink& sink);

// Current through its first two nodes, from the first to the second, A; 0 when it is off or has no such path.
double currentOf(const Device& device, const law::Voltages& v);

// Power that the device takes up, W; negative when it gives.
double powerOf(const Device& device, const law::Voltages& v);

}  // namespace ilvek
