#include "practice/plain_trials.h"

#include <cmath>

#include "practice/random_draws.h"
#include "practice/waveforms.h"
#include "trace/signal/switching.h"
#include "trace/study/compare.h"
#include "trace/subjects/coil.h"

namespace ilvek::practice {

namespace {

// From a pencil coil to one of a magneto: most of them end on a slope, some on their own resistance.
ChargedCoil anyCoil(Random& random, bool fills)
{
    ChargedCoil c;
    c.supply_V = random.between(11, 28);
    c.resistance_ohm = std::exp(random.between(std::log(0.3), std::log(4.0)));
    c.inductance_H = std::exp(random.between(std::log(1e-3), std::log(12e-3)));
    c.dwell_s = std::min(14e-3, random.between(0.5, 3.5) * c.inductance_H / c.resistance_ohm);
    c.period_s = c.dwell_s + random.between(6e-3, 25e-3);
    if (fills) c.saturation_A = random.between(1, 2.5) * c.supply_V / c.resistance_ohm;
    return c;
}

Result<TraceTold> recordedCoil(const ChargedCoil& c, int draw, double noise)
{
    Recorder r = recorderFor(draw, 1e5, noise);
    r.current_A = 2 * c.supply_V / c.resistance_ohm;
    const Recording made = makeCoil(c, r, 0.2);
    return measureCoil(made, made.channels[0], c.supply_V);
}

}  // namespace

Trial trialPlainCoil(int draws, double noise)
{
    Random random(31);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        const ChargedCoil c = anyCoil(random, k % 2 == 1);
        const auto told = recordedCoil(c, k, noise);
        if (!told) {
            count(t, {});
            continue;
        }
        const auto L = told->value("inductance");
        if (L) t.off.push_back(std::abs(*L / (1e3 * c.inductance_H) - 1));
        count(t, !told->odd && !told->value("limited after") && (!L || t.off.back() < 0.15));
    }
    return t;
}

Trial trialShortedCoil(int draws, double noise)
{
    Random random(32);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        ChargedCoil c = anyCoil(random, false);
        const double end =
            c.supply_V / c.resistance_ohm * (1 - std::exp(-c.dwell_s * c.resistance_ohm / c.inductance_H));
        c.shorted_A = end * random.between(0.3, 0.8);
        const auto told = recordedCoil(c, k, noise);
        const TraceMeasure* jump = told ? told->find("jump") : nullptr;
        const bool hidden = jump && !jump->value;  // it says that none stands out of the noise
        count(t, !told || hidden ? std::nullopt : std::optional(told->odd));
    }
    return t;
}

Trial trialPlainWinding(int draws, double noise, double ratio)
{
    Random random(33);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        Drive drive;
        drive.supply_V = random.between(11, 28);
        if (k % 3 == 0) drive.clamp_V = 0;
        Winding w;
        w.resistance_ohm = std::exp(random.between(0.0, std::log(60.0)));
        w.inductance_H = w.resistance_ohm * std::exp(random.between(std::log(3e-4), std::log(4e-3)));
        w.saturation_A = 1e6, w.gain = 0, w.pull_A = 1e6;
        WindingReference should;
        should.supply_V = drive.supply_V * random.between(0.9, 1.1);
        should.features["end current"] = {should.supply_V / (w.resistance_ohm + drive.switch_ohm), 0.1};
        should.features["slope"] = {should.supply_V / w.inductance_H, 0.3};
        w.resistance_ohm *= ratio * random.between(0.98, 1.02);
        Recorder r = recorderFor(k, 1e5, noise);
        r.current_A = 2 * drive.supply_V / w.resistance_ohm;
        Fired f;
        f.winding = w;
        f.on_s = 1e-3, f.off_s = f.on_s + random.between(5, 9) * w.inductance_H / w.resistance_ohm;
        const Made made = makeWinding({f}, drive, r, f.off_s + 8 * w.inductance_H / w.resistance_ohm + 2e-3);
        const Channel& current = made.recording.channels[0];
        const auto pulses = measureWinding(made.recording, current, {drive.supply_V, nullptr});
        const auto c = pulses ? compareWinding(made.recording, current, *pulses, drive.supply_V, should)
                              : Result<WindingComparison>(tl::unexpected(pulses.error()));
        if (!c || c->fault == WindingFault::CannotTell) {
            count(t, {});
            continue;
        }
        const bool lifts = pulses->pulses.front().value("lift").has_value();
        const bool right = ratio > 1.1 ? c->fault == WindingFault::TooMuchResistance
                           : ratio < 0.9
                               ? c->fault == WindingFault::TooLittleResistance || c->fault == WindingFault::ShortedTurns
                               : c->fault == WindingFault::None;
        count(t, right && !lifts);
    }
    return t;
}

Trial trialSpikedDuty(int draws, double noise)
{
    Random random(34);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        const double supply = random.between(11, 28), clamp = supply + random.between(20, 70);
        const double period_s = random.between(4e-3, 20e-3), low = random.between(0.15, 0.75),
                     spike = random.between(0.02, 0.12) * (1 - low);
        const Recorder r = recorderFor(k, 1e5, noise);
        std::vector<double> v;
        for (int i = 0; i < 40000; ++i) {
            const double at = i * r.interval_s / period_s, in = at - std::floor(at);
            v.push_back(in < low ? 0.2 : in < low + spike ? clamp : supply);
        }
        // Of the supply: the spike is not what its noise goes by.
        Track track{"control", Unit::Volt, std::move(v), 120, noise * supply / clamp};
        const Recording made = recorded({std::move(track)}, r);
        const auto told = measureSwitching(made, made.channels[0]);
        const TraceMeasure* duty = told ? told->find("duty") : nullptr;
        if (!duty || !duty->value) {
            count(t, {});
            continue;
        }
        t.off.push_back(std::abs(*duty->value - 100 * (1 - low)));
        count(t, t.off.back() < 0.5);
    }
    return t;
}

Trial trialRipple(int draws, double noise)
{
    Random random(35);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        const bool low = k % 2 == 0;
        const double level = low ? random.between(0.1, 0.9) : random.between(11, 28),
                     ripple = low ? random.between(0.02, 0.3) : random.between(0.1, 1.2),
                     hertz = random.between(40, 2000);
        const Recorder r = recorderFor(k, 5e4, noise);
        std::vector<double> v;
        for (int i = 0; i < 20000; ++i) {
            const double at = i * r.interval_s * hertz, in = at - std::floor(at);
            const double shape = k % 3 == 0 ? (in < 0.5 ? 0.0 : 1.0) : std::abs(std::sin(M_PI * at));
            v.push_back(level + ripple * shape);
        }
        const Recording made = recorded({{"terminal", Unit::Volt, std::move(v), 40, noise}}, r);
        const auto told = measureSwitching(made, made.channels[0]);
        count(t, told ? std::optional(!told->find("duty")) : std::nullopt);
    }
    return t;
}

}  // namespace ilvek::practice
