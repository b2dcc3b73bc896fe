#include "trace/formats/recording.h"

#include <algorithm>
#include <cmath>

#include "base/expects.h"
#include "base/stop.h"

namespace ilvek {

namespace {

constexpr std::size_t looked = 200000;  // samples of text, for the step that they came in

}  // namespace

std::vector<double> Samples::read(std::size_t first, std::size_t count) const
{
    EXPECTS(first + count <= size());
    std::vector<double> out(count);
    for (std::size_t i = 0; i < count; ++i) {
        stopPointAt(i);
        out[i] = at(first + i);
    }
    return out;
}

double Samples::resolution() const
{
    if (isSteps_) return std::abs(step_);
    double least = 0;
    for (std::size_t i = 1; i < std::min<std::size_t>(floats_.size(), looked); ++i) {
        const double d = std::abs(static_cast<double>(floats_[i]) - static_cast<double>(floats_[i - 1]));
        if (d > 0 && (least == 0 || d < least)) least = d;
    }
    return std::abs(step_) * least;
}

void Samples::setScale(double step, double zero)
{
    step_ = step;
    zero_ = zero;
}

void applyScale(Channel& c)
{
    // value = ± (recorded − zero) · unit · attenuation, divided by the clamp's volts per ampere
    const double clamp = c.scale.clamp_mVPerA ? 1000.0 / *c.scale.clamp_mVPerA : 1.0;
    const double factor = c.unitScale * c.scale.attenuation * clamp * (c.scale.inverted ? -1 : 1);
    c.samples.setScale(factor, -factor * c.scale.zero);
}

Result<double> levelBetween(const Channel& channel, double interval_s, double from_s, double to_s)
{
    const auto n = static_cast<double>(channel.samples.size());
    const double first = std::clamp(std::ceil(from_s / interval_s), 0.0, n),
                 last = std::clamp(std::floor(to_s / interval_s) + 1, 0.0, n);
    if (!(last > first)) return fail(channel.name, "no sample lies in the stretch in which nothing flows");
    double sum = 0;
    for (auto i = static_cast<std::size_t>(first); i < static_cast<std::size_t>(last); ++i) {
        stopPointAt(i);
        sum += channel.samples.raw(i);
    }
    return sum / (last - first);
}

}  // namespace ilvek
