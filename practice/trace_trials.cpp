#include "practice/trace_trials.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "practice/random_draws.h"
#include "practice/waveforms.h"
#include "practice/wheels.h"
#include "trace/study/compare.h"
#include "trace/subjects/bus_pair.h"
#include "trace/subjects/charging_field.h"
#include "trace/subjects/coil.h"
#include "trace/subjects/differing.h"
#include "trace/subjects/motor.h"
#include "trace/subjects/pick_up.h"
#include "trace/subjects/pulse_width.h"

namespace ilvek::practice {

namespace {

BrushedMotor anyMotor(Random& random)
{
    BrushedMotor m;
    m.bars = random.whole(5, 16);
    m.resistance_ohm = random.between(0.5, 2);
    m.inductance_H = m.resistance_ohm * random.between(1e-4, 4e-4);
    m.constant_Vs = random.between(0.02, 0.05);
    m.load_Nm = random.between(0.04, 0.25) * m.constant_Vs * m.supply_V / m.resistance_ohm;
    m.inertia_kgm2 = 2e-5;
    return m;
}

MadeMotor recordedMotor(const BrushedMotor& m, int draw, double noise)
{
    Recorder r = recorderFor(draw, 5e4, noise);
    r.current_A = 1.2 * m.supply_V / m.resistance_ohm;
    return makeMotor(m, r, 0.6);
}

ToothedWheel anyWheel(Random& random, int draw)
{
    constexpr std::pair<int, int> wheels[] = {{35, 1}, {58, 2}, {59, 1}, {23, 1}, {34, 2}};
    ToothedWheel w;
    w.teeth = wheels[draw % 5].first, w.missing = wheels[draw % 5].second;
    w.turn_s = random.between(0.02, 0.3);
    w.gains = random.between(-0.2, 0.5);
    w.eccentric = draw % 3 == 0 ? 0 : random.between(0, 0.012);
    return w;
}

Recording recordedWheel(const ToothedWheel& w, int draw, double noise, bool reluctance, double volts_at_1000)
{
    Recorder r = recorderFor(draw, 1e5, noise);
    r.voltage_V = reluctance ? 60 : 12;
    return reluctance ? makeReluctance(w, r, 5 * w.turn_s, draw % 2 == 1, volts_at_1000) : makeHall(w, r, 5 * w.turn_s);
}

PairState stateOf(PairFault fault)
{
    switch (fault) {
        case PairFault::None:
            return PairState::Sound;
        case PairFault::Silent:
        case PairFault::Together:
            return PairState::SilentOrTogether;
        case PairFault::HighToGround:
            return PairState::HighToGround;
        case PairFault::HighToSupply:
            return PairState::HighToSupply;
        case PairFault::LowToGround:
            return PairState::LowToGround;
        case PairFault::LowToSupply:
            return PairState::LowToSupply;
        case PairFault::HighOpen:
            return PairState::HighOpen;
        case PairFault::LowOpen:
            return PairState::LowOpen;
        case PairFault::OneTermination:
            return PairState::Termination;
        case PairFault::HeldDominant:
            return PairState::HeldDominant;
    }
    return PairState::Unclear;
}

Winding anyWinding(Random& random, double supply_V)
{
    Winding w;
    w.resistance_ohm = random.between(8, 18);
    w.inductance_H = w.resistance_ohm * random.between(0.5e-3, 1.2e-3);
    w.saturation_A = random.between(1.5, 5);
    w.gain = random.between(0.2, 0.5);
    w.pull_A = supply_V / w.resistance_ohm * random.between(0.25, 0.5);
    w.travel_s = random.between(2e-4, 5e-4);
    return w;
}

}  // namespace

double Trial::offAt(double quantile) const
{
    if (off.empty()) return 0;
    std::vector<double> sorted = off;
    std::sort(sorted.begin(), sorted.end());
    return sorted[static_cast<std::size_t>(quantile * static_cast<double>(sorted.size() - 1))];
}

Trial trialPulseWidth(int draws, double rate_Hz, double share)
{
    Random random(3);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        PulseWidthDrive d;
        d.supply_V = random.between(11.5, 14.6);
        d.frequency_Hz = random.between(90, 400);
        d.duty = random.between(0.12, 0.88);
        d.resistance_ohm = random.between(3, 12);
        d.inductance_H = d.resistance_ohm * random.between(1.5e-3, 5e-3);
        Recorder r = recorderFor(k, rate_Hz, 0);
        r.current_A = 1.3 * d.supply_V / d.resistance_ohm;
        const Recording clean = makePulseWidth(d, r, 0.1);
        const auto x = clean.channels[0].samples.read(0, clean.size());
        const auto [low, high] = std::minmax_element(x.begin(), x.end());
        r.noise = share * (*high - *low) / *high;
        const Recording made = makePulseWidth(d, r, 0.3);
        const auto told = measurePulseWidth(made, made.channels[0], d.supply_V);
        const auto duty = told ? told->value("duty") : std::nullopt;
        if (duty) t.off.push_back(std::abs(*duty - 100 * d.duty));
        count(t, duty ? std::optional(t.off.back() < 3) : std::nullopt);
    }
    return t;
}

Trial trialBarRate(int draws, double noise)
{
    Random random(4);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        const BrushedMotor m = anyMotor(random);
        const MadeMotor made = recordedMotor(m, k, noise);
        const auto told = measureMotor(made.recording, made.recording.channels[0], {m.bars, {}});
        const auto rate = told ? told->value("bar rate") : std::nullopt;
        if (rate) t.off.push_back(std::abs(*rate / made.ripple_Hz - 1));
        count(t, rate ? std::optional(t.off.back() < 0.02) : std::nullopt);
    }
    return t;
}

Trial trialBadBar(int draws, double noise, bool bad)
{
    Random random(5);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        BrushedMotor m = anyMotor(random);
        if (bad) m.badBar = random.between(0.5, 3);
        const MadeMotor made = recordedMotor(m, k, noise);
        const auto told = measureMotor(made.recording, made.recording.channels[0],
                                       {k % 2 == 0 ? std::optional(m.bars) : std::nullopt, {}});
        count(t, told ? std::optional(told->odd == bad) : std::nullopt);
    }
    return t;
}

Trial trialStall(int draws, double noise)
{
    Random random(6);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        BrushedMotor m = anyMotor(random);
        m.stalled = k % 2 == 0;
        const MadeMotor made = recordedMotor(m, k, noise);
        const auto told = measureMotor(made.recording, made.recording.channels[0], {});
        const bool says = told && told->verdict.find("does not turn") != std::string::npos;
        count(t, says == m.stalled);
    }
    return t;
}

Trial trialCoil(int draws, double noise)
{
    Random random(7);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        ChargedCoil c;
        c.resistance_ohm = random.between(0.4, 1.2);
        c.inductance_H = random.between(2e-3, 7e-3);
        c.dwell_s = random.between(2e-3, 5e-3);
        c.period_s = random.between(0.012, 0.03);
        const double end =
            c.supply_V / c.resistance_ohm * (1 - std::exp(-c.dwell_s * c.resistance_ohm / c.inductance_H));
        if (k % 4 == 1) c.limit_A = end * random.between(0.6, 0.85);
        if (k % 4 == 2) c.shorted_A = end * random.between(0.3, 0.8);
        if (k % 4 == 3) c.missing = 4;
        Recorder r = recorderFor(k, 1e5, noise);
        r.current_A = 2 * end;
        const Recording made = makeCoil(c, r, 0.2);
        const auto told = measureCoil(made, made.channels[0], c.supply_V);
        if (!told) {
            count(t, {});
            continue;
        }
        const bool limited = told->value("limited after").has_value(),
                   jumps = told->verdict.find("jumps") != std::string::npos;
        const TraceMeasure* dwell = told->find("dwell");
        const double off = std::abs(dwell->value.value_or(1) - c.dwell_s);
        t.off.push_back(off);
        const bool hidden = (k % 4 == 1 && !limited) || (k % 4 == 2 && !jumps);  // it says that the noise may hide it
        const bool right = limited <= (k % 4 == 1) && jumps <= (k % 4 == 2) && told->events.empty() == (k % 4 != 3) &&
                           off < std::max(1e-4, 3 * dwell->sigma);
        const bool says = told->find("limited after")->why.find("noise") != std::string::npos ||
                          told->find("jump")->why.find("noise") != std::string::npos;
        count(t, right && hidden && says ? std::nullopt : std::optional(right && !hidden));
    }
    return t;
}

Trial trialPickUp(int draws, double noise, bool reluctance)
{
    Random random(8);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        const ToothedWheel w = anyWheel(random, k);
        const Recording made = recordedWheel(w, k, noise, reluctance, random.between(1, 6));
        const auto told = measurePickUp(made, made.channels[0]);
        if (!told || !told->value("teeth")) {
            count(t, {});
            continue;
        }
        const double speed = 60 / w.turn_s * (1 + w.gains / 2);
        bool right = told->value("teeth") == w.teeth && told->value("missing") == w.missing &&
                     std::abs(told->value("speed").value_or(0) / speed - 1) < 0.12 && !told->odd;
        if (reluctance) right = right && (told->verdict.find("exchanged") != std::string::npos) == (k % 2 == 1);
        count(t, right);
    }
    return t;
}

Trial trialBrokenTooth(int draws, double noise, bool reluctance)
{
    Random random(9);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        ToothedWheel w = anyWheel(random, k);
        w.broken = random.whole(4, w.teeth - 5);
        const Recording made = recordedWheel(w, k, noise, reluctance, random.between(1, 6));
        const auto told = measurePickUp(made, made.channels[0], {w.teeth, w.missing});
        count(t, told ? std::optional(told->odd) : std::nullopt);
    }
    return t;
}

Trial trialBusPair(int draws, double noise, PairFault fault)
{
    Random random(10);
    Trial t;
    constexpr double bits_s[] = {8e-6, 4e-6, 2e-6};
    for (int k = 0; k < draws; ++k) {
        BusPairLines b;
        b.fault = fault;
        b.bit_s = bits_s[k % 3];
        b.driver_ohm = random.between(27, 33);
        b.module_V = random.between(4.9, 5.1);
        b.battery_V = random.between(11.5, 14.6);
        b.short_ohm = random.between(0.3, 2.5);
        Recorder r = recorderFor(k, random.between(8, 40) / b.bit_s, noise);
        r.voltage_V = 20;
        r.bits = k % 2 == 0 ? 12 : 8;
        const Recording made = makeBusPair(b, r, 2000 * b.bit_s);
        const auto told = measureBusPair(made, made.channels[0], made.channels[1]);
        if (!told || told->state == PairState::Unclear || told->state == PairState::Hidden) {
            count(t, {});
            continue;
        }
        const bool one = (fault == PairFault::HighToGround && told->state == PairState::OneToGround) ||
                         (fault == PairFault::LowToSupply && told->state == PairState::OneToSupply);
        if (const auto bit = told->told.value("bit time")) t.off.push_back(std::abs(*bit / b.bit_s - 1));
        count(t, one || told->state == stateOf(fault));
    }
    return t;
}

Trial trialField(int draws, double noise, FieldFault fault)
{
    Random random(11);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        ChargingField f;
        f.fault = fault;
        f.frequency_Hz = random.between(80, 300);
        f.leastDuty = random.between(0.1, 0.2);
        f.dutyPerA = random.between(0.004, 0.011);
        f.voltage_V = random.between(13.8, 14.6);
        Recorder r = recorderFor(k, 5e3, noise);
        r.current_A = 100, r.voltage_V = 20;
        const Recording made = makeField(f, r, 2);
        const auto told = measureChargingField(made, made.channels[0], {&made.channels[1], &made.channels[2]});
        const char* words = fault == FieldFault::None            ? "answers the load"
                            : fault == FieldFault::DoesNotAnswer ? "does not answer"
                            : fault == FieldFault::FullField     ? "driven all the time"
                                                                 : "not driven at all";
        count(t, told ? std::optional(told->verdict.find(words) != std::string::npos) : std::nullopt);
    }
    return t;
}

Trial trialWinding(int draws, double noise, double ratio, bool shorted)
{
    Random random(12);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        Drive drive;
        drive.supply_V = random.between(11.5, 14.6);
        Winding w = anyWinding(random, drive.supply_V);
        WindingReference should;
        should.supply_V = 13.2;
        const double R = w.resistance_ohm + drive.switch_ohm,
                     pulse_s = random.between(5, 9) * w.inductance_H / w.resistance_ohm;
        should.features["end current"] = {13.2 / R, 0.1};
        should.features["slope"] = {13.2 / w.inductance_H, 0.3};
        // Parts of one kind differ by two per cent.
        w.resistance_ohm *= ratio * random.between(0.98, 1.02);
        if (shorted) w.inductance_H *= ratio * ratio;
        Recorder r = recorderFor(k, 2e5, noise);
        r.current_A = 2 * drive.supply_V / w.resistance_ohm;
        Fired f;
        f.winding = w;
        f.on_s = 1e-3, f.off_s = f.on_s + pulse_s;
        const Made made = makeWinding({f}, drive, r, f.off_s + 5e-3);
        const auto pulses = measureWinding(made.recording, made.recording.channels[0], {drive.supply_V, nullptr});
        if (!pulses) {
            count(t, {});
            continue;
        }
        const auto c = compareWinding(made.recording, made.recording.channels[0], *pulses, drive.supply_V, should);
        if (!c || c->fault == WindingFault::CannotTell) {
            count(t, {});
            continue;
        }
        // Without a slope shorted turns and less resistance are one.
        if (shorted && c->fault == WindingFault::TooLittleResistance) {
            count(t, {});
            continue;
        }
        const bool more = c->fault == WindingFault::ShortedTurns || c->fault == WindingFault::TooLittleResistance;
        const bool right = shorted       ? c->fault == WindingFault::ShortedTurns
                           : ratio > 1.1 ? c->fault == WindingFault::TooMuchResistance
                           : ratio < 0.9 ? more
                                         : c->fault == WindingFault::None;
        count(t, right);
    }
    return t;
}

Trial trialClosing(int draws, double noise, bool freewheels)
{
    Random random(13);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        Drive drive;
        if (freewheels) drive.clamp_V = 0;
        Fired f;
        f.winding = anyWinding(random, drive.supply_V);
        if (k % 4 == 0) f.winding.pull_A = 1e3;
        f.on_s = 1e-3, f.off_s = f.on_s + random.between(4e-3, 8e-3);
        Recorder r = recorderFor(k, 2e5, noise);
        r.current_A = 1.3 * drive.supply_V / f.winding.resistance_ohm;
        const Made made = makeWinding({f}, drive, r, f.off_s + 5e-3);
        const auto pulses =
            measureWinding(made.recording, made.recording.channels[0], {drive.supply_V, &made.recording.channels[1]});
        if (!pulses || pulses->pulses.size() != 1) continue;
        const Pulse& p = pulses->pulses.front();
        const auto closing = p.value("closing");
        const auto truth = made.truth.front().close_s;
        // Of a stuck one nothing closes: only a figure is wrong.
        if (!truth && !closing) continue;
        count(t, closing ? std::optional(truth && std::abs(p.off_s + *closing - *truth) < 1e-4) : std::nullopt);
    }
    return t;
}

Trial trialDips(int draws, double noise)
{
    Random random(14);
    Trial t;
    for (int k = 0; k < draws; ++k) {
        constexpr std::size_t n = 20000;
        Track track{"supply", Unit::Volt, std::vector<double>(n, random.between(12, 14)), 20, noise};
        // It drifts slowly, as a battery does.
        for (std::size_t i = 0; i < n; ++i)
            track.values[i] -= 0.3 * static_cast<double>(i) / n;
        struct Dip {
            double from_s, to_s, depth_V;
        };
        std::vector<Dip> dips;
        for (int d = 0; d < 1 + k % 4; ++d) {
            const auto first = static_cast<std::size_t>(random.between(0.05 + 0.22 * d, 0.2 + 0.22 * d) * n);
            const auto length = static_cast<std::size_t>(random.between(4, 300));
            for (std::size_t i = first; i < first + length; ++i)
                track.values[i] -= random.between(0.95, 1.05) * (2 + d);
            dips.push_back({1e-4 * static_cast<double>(first), 1e-4 * static_cast<double>(first + length), 2.0 + d});
        }
        Recorder r = recorderFor(k, 1e4, noise);
        const Recording made = recorded({track}, r);
        const auto told = measureLevel(made, made.channels[0]);
        // What is no deeper than it says it would name, it has not said to be absent.
        const double named = told ? told->value("named from").value_or(0) : 0;
        bool all = true, right = told.has_value();
        for (const Dip& d : dips) {
            const bool asked = d.depth_V > 1.15 * named;
            all = all && asked;
            right = right && (!asked || std::any_of(told->events.begin(), told->events.end(), [&](const TraceEvent& e) {
                        return std::abs(e.at_s - d.from_s) < 3e-4;
                    }));
        }
        for (std::size_t e = 0; right && e < told->events.size(); ++e)
            right = std::any_of(dips.begin(), dips.end(), [&](const Dip& d) {
                return told->events[e].at_s > d.from_s - 3e-4 && told->events[e].at_s < d.to_s;
            });
        count(t, right && !all ? std::nullopt : std::optional(right));
    }
    return t;
}

}  // namespace ilvek::practice
