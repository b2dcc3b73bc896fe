#include "practice/demo_traces.h"

#include <algorithm>

#include "practice/bus_pair.h"
#include "practice/drives.h"
#include "practice/waveforms.h"
#include "practice/wheels.h"

namespace ilvek::practice {

namespace {

Recorder recorderOf(double noise, std::uint32_t seed, double interval_s, double current_A, double voltage_V = 20)
{
    Recorder r;
    r.noise = noise, r.seed = seed,
    r.interval_s = interval_s,  // Full scales at which a converter's step is a short figure.
        r.current_A = 1.024 * current_A, r.voltage_V = 1.024 * voltage_V;
    return r;
}

// Three turns of the engine; a missing one still comes once: it opens when hot.
Recording injectors(double noise, std::uint32_t seed, int weak, int missing)
{
    std::vector<Winding> windings(4);
    for (std::size_t i = 0; i < windings.size(); ++i)
        windings[i].resistance_ohm *= 1 + 0.01 * (static_cast<double>(i) - 1.5);
    if (weak > 0) windings[static_cast<std::size_t>(weak - 1)].resistance_ohm *= 1.28;
    auto pulses = firedInOrder({1, 3, 4, 2}, windings, 0.08, 5e-3, 3);
    bool came = false;
    for (Fired& p : pulses) {
        if (p.cylinder == missing && came) p.fires = false;
        came = came || p.cylinder == missing;
    }
    return makeWinding(pulses, {}, recorderOf(noise, seed, 2e-5, 2, 100), 0.24, 1).recording;
}

// A valve switched on once for a tenth of a second; shorted turns take resistance and more of the inductance.
Recording valve(double noise, std::uint32_t seed, double shorted)
{
    Fired f;
    f.winding.resistance_ohm = 6.95 * (1 - shorted);
    f.winding.inductance_H = 0.042 * (1 - shorted) * (1 - shorted);
    f.winding.saturation_A = 6, f.winding.pull_A = 0.9, f.winding.travel_s = 4e-3;
    f.on_s = 0.02, f.off_s = 0.1;
    return makeWinding({f}, {}, recorderOf(noise, seed, 2e-5, 5, 100), 0.15).recording;
}

Recording valveOnPulseWidth(double noise, std::uint32_t seed, double frequency_Hz, double duty, double R, double L)
{
    PulseWidthDrive d;
    d.frequency_Hz = frequency_Hz, d.duty = duty, d.resistance_ohm = R, d.inductance_H = L;
    return makePulseWidth(d, recorderOf(noise, seed, 5e-5, 4), 0.4);
}

Recording pump(double noise, std::uint32_t seed, double badBar, bool stalled)
{
    BrushedMotor m;
    m.badBar = badBar, m.stalled = stalled;
    return makeMotor(m, recorderOf(noise, seed, 5e-5, 20), 0.6).recording;
}

Recording bus(double noise, std::uint32_t seed, PairFault fault)
{
    BusPairLines lines;
    lines.fault = fault;
    return makeBusPair(lines, recorderOf(noise, seed, 2e-7, 1, 10), 1.6e-3);
}

Recording field(double noise, std::uint32_t seed, FieldFault fault)
{
    ChargingField f;
    f.fault = fault;
    return makeField(f, recorderOf(noise, seed, 2e-4, 100), 2);
}

}  // namespace

const std::vector<DemoTrace>& demoTraces()
{
    static const std::vector<DemoTrace> all = {
        {"injectors-sound", "four injectors on one clamp, idling",
         [](double n, std::uint32_t s) { return injectors(n, s, 0, 0); }, 0.01},
        {"injectors-3-weak", "the same, injector 3 with 1.28 times the resistance",
         [](double n, std::uint32_t s) { return injectors(n, s, 3, 0); }, 0.01},
        {"injectors-3-missing-hot", "the same, injector 3 opens after its first pulse",
         [](double n, std::uint32_t s) { return injectors(n, s, 0, 3); }, 0.01},
        {"metering-valve", "fuel metering valve on pulse width",
         [](double n, std::uint32_t s) { return valveOnPulseWidth(n, s, 180, 0.42, 5.4, 0.02); }, 0.01},
        {"fan-clutch", "fan clutch on pulse width",
         [](double n, std::uint32_t s) { return valveOnPulseWidth(n, s, 100, 0.65, 11.3, 0.065); }, 0.01},
        {"lift-pump", "lift pump from standing", [](double n, std::uint32_t s) { return pump(n, s, 0, false); }, 0.002},
        {"lift-pump-bad-bar", "the same with a bad bar",
         [](double n, std::uint32_t s) { return pump(n, s, 1.2, false); }, 0.002},
        {"lift-pump-stalled", "the same, held fast", [](double n, std::uint32_t s) { return pump(n, s, 0, true); },
         0.002},
        {"tiller-down", "tiller-down valve switched on once", [](double n, std::uint32_t s) { return valve(n, s, 0); },
         0.01},
        {"tiller-down-shorted", "the same with shorted turns",
         [](double n, std::uint32_t s) { return valve(n, s, 0.35); }, 0.01},
        {"crank-speed", "crank pick-up, 36 teeth less one",
         [](double n, std::uint32_t s) {
             ToothedWheel w;
             w.turn_s = 60.0 / 820;
             return makeReluctance(w, recorderOf(n, s, 5e-5, 1, 20), 0.4);
         },
         0.02},
        {"track-speed-left", "track speed, Hall",
         [](double n, std::uint32_t s) {
             ToothedWheel w;
             w.teeth = 48, w.missing = 0, w.turn_s = 0.5, w.gains = 0.3;
             return makeHall(w, recorderOf(n, s, 2e-4, 1, 10), 2);
         },
         0.01},
        {"bus", "bus pair with traffic", [](double n, std::uint32_t s) { return bus(n, s, PairFault::None); }, 0.01},
        {"bus-low-to-ground", "the same, the low line on ground",
         [](double n, std::uint32_t s) { return bus(n, s, PairFault::LowToGround); }, 0.01},
        {"alternator-field", "field drive, load and voltage while lamps and heaters are switched",
         [](double n, std::uint32_t s) { return field(n, s, FieldFault::None); }, 0.01},
    };
    return all;
}

const DemoTrace* demoTraceNamed(const std::string& id)
{
    const auto at =
        std::find_if(demoTraces().begin(), demoTraces().end(), [&](const DemoTrace& d) { return d.id == id; });
    return at == demoTraces().end() ? nullptr : &*at;
}

}  // namespace ilvek::practice
