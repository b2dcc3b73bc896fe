#include "practice/wheels.h"

#include <cmath>

namespace ilvek::practice {

namespace {

constexpr double bell = 0.21;  // width of a tooth's flux, in pitches

// Where the wheel is, in turns, and how fast, in turns a second.
struct Place {
    double turns = 0, speed_Hz = 0;
};

Place placeAt(const ToothedWheel& w, double t, double length_s)
{
    const double first = 1 / w.turn_s, gain = w.gains * first / length_s;
    const double turns = first * t + 0.5 * gain * t * t;
    // Out of true, the teeth come early on one side and late on the other.
    return {turns + w.eccentric * std::sin(2 * M_PI * turns) / (2 * M_PI),
            (first + gain * t) * (1 + w.eccentric * std::cos(2 * M_PI * turns))};
}

bool stands(const ToothedWheel& w, int tooth)
{
    const int places = w.teeth + w.missing;
    const int k = (tooth % places + places) % places;
    return k < w.teeth && k != w.broken;
}

}  // namespace

Recording makeHall(const ToothedWheel& w, const Recorder& r, double length_s, double low_V, double high_V)
{
    const auto n = static_cast<std::size_t>(length_s / r.interval_s);
    std::vector<double> x(n);
    for (std::size_t k = 0; k < n; ++k) {
        const double at = placeAt(w, r.interval_s * static_cast<double>(k), length_s).turns * (w.teeth + w.missing);
        const auto tooth = static_cast<int>(std::floor(at));
        x[k] = at - tooth < 0.5 && stands(w, tooth) ? high_V : low_V;
    }
    return recorded({{"signal", Unit::Volt, std::move(x), r.voltage_V, r.noise}}, r);
}

Recording makeReluctance(const ToothedWheel& w, const Recorder& r, double length_s, bool exchanged,
                         double volts_at_1000)
{
    const auto n = static_cast<std::size_t>(length_s / r.interval_s);
    std::vector<double> x(n);
    for (std::size_t k = 0; k < n; ++k) {
        const Place p = placeAt(w, r.interval_s * static_cast<double>(k), length_s);
        const double at = p.turns * (w.teeth + w.missing);
        const auto nearest = static_cast<int>(std::lround(at));
        double slope = 0;  // dΦ/d(pitch)
        for (int tooth = nearest - 2; tooth <= nearest + 2; ++tooth) {
            const double u = (at - tooth) / bell;
            if (stands(w, tooth)) slope += -u / bell * std::exp(-0.5 * u * u);
        }
        // A nearer tooth gives more.
        const double gap = 1 + 2 * w.eccentric * std::cos(2 * M_PI * p.turns);
        x[k] = (exchanged ? -1 : 1) * slope * bell * volts_at_1000 * p.speed_Hz * 60 / 1000 * gap;
    }
    return recorded({{"signal", Unit::Volt, std::move(x), r.voltage_V, r.noise}}, r);
}

}  // namespace ilvek::practice
