#include "circuit/device.h"

#include <algorithm>

namespace ilvek {

namespace {

// The currents that leave a device's nodes, without their slopes.
class Currents final : public Sink {
public:
    explicit Currents(const Device& device) : device_(device) {}
    void leave(int node, double current_A) override
    {
        for (std::size_t i = 0; i < device_.nodeCount; ++i) {
            if (device_.nodes[i] != node) continue;
            at[i] += current_A;
            return;
        }
    }
    void slope(int, int, double) override {}
    std::array<double, 4> at{};

private:
    const Device& device_;
};

}  // namespace

bool Device::set(bool wanted)
{
    const bool now = !forcedOff && (forcedOn || wanted);
    const bool changed = now != on;
    on = now;
    return changed;
}

void stamp(const Device& d, const law::Voltages& v, Sink& sink)
{
    if (!d.on) return;
    const auto& n = d.nodes;
    const auto& p = d.values;
    switch (d.law) {
        case Device::Law::Resistance:
            return law::source(n[0], n[1], 0, p[0], v, sink);
        case Device::Law::Battery:
            return law::source(n[0], n[1], p[0], v[n[0]] - v[n[1]] > p[0] ? p[2] : p[1], v, sink);
        case Device::Law::ConstantDraw:
            return law::constantDraw(n[0], n[1], p[0], p[1], v, sink);
        case Device::Law::LimitedSource:
            return law::limitedSource(n[0], n[1], p[0], p[1], p[2], v, sink);
        case Device::Law::LimitedSwitch:
            return law::limitedSwitch(n[0], n[1], p[0], p[1], v, sink);
        case Device::Law::Regulator:
            return law::regulator(n[0], n[1], n[2], {p[0], p[1], p[2], p[3]}, v, sink);
        case Device::Law::Divider:
            return law::divider(n[0], n[1], n[2], p[0], p[1], v, sink);
        case Device::Law::Diode:
            return law::diode(n[0], n[1], p[0], v, sink);
        case Device::Law::Filament:
            return law::filament(n[0], n[1], p[0], p[1], v, sink);
    }
}

void scaleValue(Device& device, double factor)
{
    switch (device.law) {
        case Device::Law::Divider:
            device.values[0] = std::clamp(device.values[0] * factor, 0.0, 1.0);
            return;
        case Device::Law::Filament:
            device.values[1] /= factor;
            return;
        default:
            device.values[0] *= factor;  // resistance, draw, regulated voltage
    }
}

double currentOf(const Device& d, const law::Voltages& v)
{
    Currents currents(d);
    stamp(d, v, currents);
    return currents.at[0];
}

double powerOf(const Device& d, const law::Voltages& v)
{
    Currents currents(d);
    stamp(d, v, currents);
    double power = 0;
    for (std::size_t i = 0; i < d.nodeCount; ++i)
        power += currents.at[i] * v[d.nodes[i]];
    return power;
}

}  // namespace ilvek
