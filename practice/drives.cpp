#include "practice/drives.h"

#include <algorithm>
#include <cmath>

namespace ilvek::practice {

namespace {

constexpr double diode_V = 0.8;
constexpr int fine = 8;  // steps of the model in one interval

std::size_t samplesIn(double length_s, const Recorder& r)
{
    return static_cast<std::size_t>(length_s / r.interval_s);
}

double phaseOf(double t_s, double frequency_Hz)
{
    return t_s * frequency_Hz - std::floor(t_s * frequency_Hz);
}

}  // namespace

Recording makePulseWidth(const PulseWidthDrive& d, const Recorder& r, double length_s)
{
    const std::size_t n = samplesIn(length_s, r);
    std::vector<double> current(n), control(n);
    const double h = r.interval_s / fine;
    // It has been driven for ten of its own times when the recording begins.
    const double before = std::ceil(10 * d.inductance_H / d.resistance_ohm * d.frequency_Hz) / d.frequency_Hz;
    double i = 0;
    const auto step = [&](double t) {
        const bool on = phaseOf(t, d.frequency_Hz) < d.duty;
        const double u = on ? d.supply_V - d.switch_ohm * i : i > 0 ? -diode_V : 0;
        i = std::max(0.0, i + h * (u - d.resistance_ohm * i) / d.inductance_H);
        return on;
    };
    for (double t = -before; t < -h / 2; t += h)
        step(t);
    for (std::size_t k = 0; k < n; ++k) {
        bool on = false;
        for (int j = 0; j < fine; ++j)
            on = step(r.interval_s * static_cast<double>(k) + h * j);
        current[k] = i;
        control[k] = on ? d.switch_ohm * i : i > 0 ? d.supply_V + diode_V : d.supply_V;
    }
    return recorded({{"current", Unit::Ampere, std::move(current), r.current_A, r.noise},
                     {"control", Unit::Volt, std::move(control), r.voltage_V, r.noise / 5}},
                    r);
}

MadeMotor makeMotor(const BrushedMotor& m, const Recorder& r, double length_s)
{
    const std::size_t n = samplesIn(length_s, r);
    std::vector<double> current(n);
    const double h = r.interval_s / fine;
    const int changes = m.bars % 2 == 0 ? m.bars : 2 * m.bars;  // of coils under the brushes, in a turn
    const double pitch = 2 * M_PI / changes;
    const double mean = std::sin(pitch / 2) / (pitch / 2);
    double i = 0, speed = 0, angle = 0;
    MadeMotor out;
    double angleAt = 0;
    for (std::size_t k = 0; k < n; ++k) {
        if (r.interval_s * static_cast<double>(k) < m.fedAt_s) continue;
        if (k == 3 * n / 4) angleAt = angle;
        for (int j = 0; j < fine; ++j) {
            const double turn = angle / (2 * M_PI);
            const double within = angle - pitch * std::floor(angle / pitch) - pitch / 2;
            const double e = std::cos(within) / mean;
            // Bars under the two brushes.
            const auto barAt = [&](double share) { return static_cast<int>((share - std::floor(share)) * m.bars); };
            const int bad = (barAt(turn) == 0 ? 1 : 0) + (barAt(turn + 0.5) == 0 ? 1 : 0);
            const double R = m.resistance_ohm * (1 + m.badBar * bad);
            i += h * (m.supply_V - R * i - m.constant_Vs * speed * e) / m.inductance_H;
            if (!m.stalled) speed = std::max(0.0, speed + h * (m.constant_Vs * i - m.load_Nm) / m.inertia_kgm2);
            angle += h * speed;
        }
        current[k] = i;
    }
    const double turned = (angle - angleAt) / (2 * M_PI), for_s = static_cast<double>(n - 3 * n / 4) * r.interval_s;
    out.turn_s = turned > 0 ? for_s / turned : 0;
    out.ripple_Hz = changes * turned / for_s;
    out.recording = recorded({{"current", Unit::Ampere, std::move(current), r.current_A, r.noise}}, r);
    return out;
}

Recording makeCoil(const ChargedCoil& c, const Recorder& r, double length_s)
{
    const std::size_t n = samplesIn(length_s, r);
    std::vector<double> current(n, 0.0);
    constexpr double cut_s = 2e-5, start_s = 2e-3, jump_s = 2e-5;
    std::vector<double> rise{0.0};
    constexpr int within = 20;  // steps of a sample
    while (static_cast<double>(rise.size()) * r.interval_s < c.dwell_s + 2 * r.interval_s) {
        double i = rise.back();
        for (int step = 0; step < within; ++step) {
            const double full = c.saturation_A ? i / *c.saturation_A : 0;
            i += r.interval_s / within * (c.supply_V - c.resistance_ohm * i) / c.inductance_H * (1 + full * full);
        }
        rise.push_back(i);
    }
    const auto charged = [&](double t) {
        const double at = t / r.interval_s;
        const auto k = std::min(static_cast<std::size_t>(at), rise.size() - 2);
        const double i = rise[k] + (at - static_cast<double>(k)) * (rise[k + 1] - rise[k]) +
                         c.shorted_A * (1 - std::exp(-t / jump_s));
        return std::min(i, c.limit_A.value_or(1e9));
    };
    for (std::size_t k = 0; k < n; ++k) {
        const double t = r.interval_s * static_cast<double>(k) - start_s;
        const auto number = static_cast<int>(std::floor(t / c.period_s));
        const double in = t - number * c.period_s;
        if (t < 0 || number == c.missing) continue;
        current[k] = in < c.dwell_s ? charged(in) : charged(c.dwell_s) * std::exp(-(in - c.dwell_s) / cut_s);
    }
    return recorded({{"current", Unit::Ampere, std::move(current), r.current_A, r.noise}}, r);
}

Recording makeField(const ChargingField& f, const Recorder& r, double length_s)
{
    const std::size_t n = samplesIn(length_s, r);
    std::vector<double> field(n), load(n), system(n);
    // Lamps, then a heater, then both.
    const double steps_A[] = {8, 22, 46, 60, 30, 12};
    double duty = f.leastDuty;
    for (std::size_t k = 0; k < n; ++k) {
        const double t = r.interval_s * static_cast<double>(k);
        load[k] = steps_A[std::min<std::size_t>(5, 6 * k / n)];
        const double wanted = f.fault == FieldFault::FullField       ? 1
                              : f.fault == FieldFault::NoDrive       ? 0
                              : f.fault == FieldFault::DoesNotAnswer ? 0.35
                                                                     : f.leastDuty + f.dutyPerA * load[k];
        if (k == 0) duty = wanted;
        duty += r.interval_s / 0.02 * (wanted - duty);
        field[k] = phaseOf(t, f.frequency_Hz) < duty ? f.voltage_V - 0.4 : 0.1;
        const double short_A = load[k] - (duty - f.leastDuty) / f.dutyPerA;  // what the battery must give
        system[k] = f.voltage_V - (f.fault == FieldFault::None ? 0 : 0.02 * std::max(0.0, short_A)) -
                    (f.fault == FieldFault::NoDrive || f.fault == FieldFault::FullField ? 1.4 : 0);
    }
    return recorded({{"field", Unit::Volt, std::move(field), r.voltage_V, r.noise / 5},
                     {"load current", Unit::Ampere, std::move(load), r.current_A, r.noise},
                     {"system voltage", Unit::Volt, std::move(system), r.voltage_V, r.noise / 5}},
                    r);
}

}  // namespace ilvek::practice
