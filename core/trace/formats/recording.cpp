#include "trace/formats/recording.h"

#include <algorithm>
#include <cmath>

#include "base/expects.h"
#include "base/stop.h"

namespace ilvek {

namespace {

// A stretch is quiet when it spreads by less than this share of the whole.
constexpr double quietShare = 0.05;
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

std::optional<double> quietLevel(const Channel& channel, double interval_s, double least_s)
{
    const std::size_t n = channel.samples.size();
    const auto window =
        std::max<std::size_t>(8, static_cast<std::size_t>(std::min(1e9, least_s / std::max(1e-12, interval_s))));
    if (n < 4 * window) return std::nullopt;
    double low = channel.samples.raw(0), high = low, best = 1e300, level = 0;
    for (std::size_t first = 0; first + window <= n; first += window) {
        stopPoint();
        double least = 1e300, most = -1e300, sum = 0;
        for (std::size_t i = first; i < first + window; ++i) {
            const double x = channel.samples.raw(i);
            least = std::min(least, x);
            most = std::max(most, x);
            sum += x;
        }
        low = std::min(low, least);
        high = std::max(high, most);
        // Of two stretches as quiet as each other the one nearer to nothing counts.
        const double mean = sum / static_cast<double>(window);
        const double spread = (most - least) + 1e-3 * std::abs(mean);
        if (spread < best) best = spread, level = mean;
    }
    if (!(best < quietShare * (high - low))) return std::nullopt;
    return level;
}

}  // namespace ilvek
