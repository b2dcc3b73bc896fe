#include "trace/signal/noise.h"

#include <algorithm>
#include <cmath>

#include "base/expects.h"
#include "base/stop.h"

namespace ilvek {

double medianOf(std::vector<double> x)
{
    EXPECTS(!x.empty());
    const auto middle = x.begin() + static_cast<std::ptrdiff_t>(x.size() / 2);
    std::nth_element(x.begin(), middle, x.end());
    return *middle;
}

double noiseOf(const std::vector<double>& x, double converterStep)
{
    if (x.size() < 8) return std::abs(converterStep) / std::sqrt(12.0);
    std::vector<double> d;
    const std::size_t stride = std::max<std::size_t>(1, x.size() / 20000);
    for (std::size_t i = 1; i + 1 < x.size(); i += stride)
        d.push_back(std::abs(x[i - 1] - 2 * x[i] + x[i + 1]));
    return std::max(medianOf(std::move(d)) / (0.6745 * std::sqrt(6.0)), std::abs(converterStep) / std::sqrt(12.0));
}

namespace {

constexpr double levelWidth = 0.1;      // of the swing, to both sides of a level
constexpr double restsShare = 0.6;      // of a half's samples that lie so near, where it is a level
constexpr double fewestAtLevel = 0.02;  // of all samples
constexpr double ownSwing = 0.08;       // of the whole range, that two levels within a half are apart

using Sorted = std::vector<double>::const_iterator;

struct Split {
    Sorted at;
    double low = 0, high = 0;
};

std::vector<double> sortedSome(const std::vector<double>& x)
{
    std::vector<double> sorted;
    const std::size_t stride = std::max<std::size_t>(1, x.size() / 100000);
    for (std::size_t i = 0; i < x.size(); i += stride)
        sorted.push_back(x[i]);
    std::sort(sorted.begin(), sorted.end());
    return sorted;
}

// The medians of what lies in the lower and in the upper half of the range.
Split splitOf(Sorted begin, Sorted end)
{
    const auto share = [&](double q) {
        return *(begin + static_cast<std::ptrdiff_t>(q * static_cast<double>(end - begin - 1)));
    };
    const double low = share(0.002), high = share(0.998);
    const auto at = std::lower_bound(begin, end, 0.5 * (low + high));
    const auto middleOf = [](Sorted from, Sorted to, double none) {
        return from == to ? none : *(from + (to - from) / 2);
    };
    return {at, middleOf(begin, at, low), middleOf(at, end, high)};
}

// Whether a stretch of sorted samples lies at one level.
bool rests(Sorted begin, Sorted end, double level, double swing)
{
    const auto near = std::upper_bound(begin, end, level + levelWidth * swing) -
                      std::lower_bound(begin, end, level - levelWidth * swing);
    return static_cast<double>(near) > restsShare * static_cast<double>(end - begin);
}

}  // namespace

LevelPair levelsOf(const std::vector<double>& x)
{
    if (x.empty()) return {};
    const auto sorted = sortedSome(x);
    const Split whole = splitOf(sorted.cbegin(), sorted.cend());
    return {whole.low, whole.high};
}

LevelPair levelsBesideSpike(const std::vector<double>& x)
{
    if (x.empty()) return {};
    const auto sorted = sortedSome(x);
    const Sorted begin = sorted.cbegin(), end = sorted.cend();
    const Split whole = splitOf(begin, end);
    for (const bool upper : {false, true}) {
        const Sorted from = upper ? whole.at : begin, to = upper ? end : whole.at;
        const auto fewest = static_cast<std::ptrdiff_t>(fewestAtLevel * static_cast<double>(sorted.size()));
        if (2 * (to - from) < end - begin) continue;
        const Split own = splitOf(from, to);
        const double swing = own.high - own.low;
        if (!(swing > ownSwing * (whole.high - whole.low)) || own.at - from <= fewest || to - own.at <= fewest ||
            !rests(from, own.at, own.low, swing) || !rests(own.at, to, own.high, swing))
            continue;
        // Three levels: of the outer two the one at which it stands less is the spike.
        const auto outer = upper ? to - own.at : own.at - from, other = (end - begin) - (to - from);
        if (other < outer) return {own.low, own.high};
        return upper ? LevelPair{whole.low, own.low} : LevelPair{own.high, whole.high};
    }
    return {whole.low, whole.high};
}

Kinks::Kinks(const std::vector<double>& x) : sum_(x.size() + 1, 0.0), moment_(x.size() + 1, 0.0)
{
    // About the first value and the middle of the stretch, so that the sums stay small.
    middle_ = 0.5 * static_cast<double>(x.size());
    origin_ = x.empty() ? 0 : x.front();
    for (std::size_t i = 0; i < x.size(); ++i) {
        stopPointAt(i);
        sum_[i + 1] = sum_[i] + (x[i] - origin_);
        moment_[i + 1] = moment_[i] + (static_cast<double>(i) - middle_) * (x[i] - origin_);
    }
}

double Kinks::slopeSigma(std::size_t n)
{
    const double count = static_cast<double>(n);
    return std::sqrt(12.0 / (count * (count * count - 1)));
}

}  // namespace ilvek
