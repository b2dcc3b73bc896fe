#include "practice/recorder.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace ilvek::practice {

namespace {

Channel quantised(const Track& track, const Recorder& r, std::mt19937& random)
{
    double most = 1e-9;
    for (const double v : track.values)
        most = std::max(most, std::abs(v));
    std::normal_distribution<double> spread(0, track.noise * most + 1e-12);
    const double step = 2 * track.full / std::pow(2.0, r.bits);
    const double limit = std::pow(2.0, r.bits - 1) - 1;
    const bool clamped = track.unit == Unit::Ampere;
    const auto n = static_cast<double>(track.values.size());
    std::vector<std::int16_t> steps;
    steps.reserve(track.values.size());
    for (std::size_t k = 0; k < track.values.size(); ++k) {
        const double off = clamped ? r.zero_A + r.drift_A * static_cast<double>(k) / n : 0;
        steps.push_back(static_cast<std::int16_t>(
            std::clamp(std::round((track.values[k] + off + spread(random)) / step), -limit - 1, limit)));
    }
    Channel c;
    c.name = track.name;
    c.recordedUnit = track.unit;
    c.unitScale = step;
    c.samples = Samples(std::move(steps), step, 0);
    return c;
}

}  // namespace

Recording recorded(const std::vector<Track>& tracks, const Recorder& r)
{
    Recording out;
    out.interval_s = r.interval_s;
    out.name = "made";
    std::mt19937 random(r.seed);
    for (const Track& t : tracks)
        out.channels.push_back(quantised(t, r, random));
    return out;
}

}  // namespace ilvek::practice
