#include "trace/signal/pyramid.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/expects.h"
#include "base/stop.h"

namespace ilvek {

namespace {

constexpr std::size_t firstBin = 64, growth = 8;

}  // namespace

template <class T>
void Pyramid::Levels<T>::build(const std::vector<T>& samples)
{
    std::vector<Pair> level;
    level.reserve(samples.size() / firstBin + 1);
    for (std::size_t i = 0; i < samples.size(); i += firstBin) {
        stopPointAt(i);
        const auto [low, high] =
            std::minmax_element(samples.begin() + static_cast<std::ptrdiff_t>(i),
                                samples.begin() + static_cast<std::ptrdiff_t>(std::min(samples.size(), i + firstBin)));
        level.push_back({*low, *high});
    }
    while (level.size() > growth) {
        std::vector<Pair> next;
        next.reserve(level.size() / growth + 1);
        for (std::size_t i = 0; i < level.size(); i += growth) {
            Pair p = level[i];
            for (std::size_t k = i + 1; k < std::min(level.size(), i + growth); ++k) {
                p.low = std::min(p.low, level[k].low);
                p.high = std::max(p.high, level[k].high);
            }
            next.push_back(p);
        }
        levels.push_back(std::move(level));
        level = std::move(next);
    }
    levels.push_back(std::move(level));
}

// Whole bins of the coarsest level that fits, and what is left over at both ends from the levels below.
template <class T>
void Pyramid::Levels<T>::widen(const std::vector<T>& samples, std::size_t first, std::size_t last, T& low,
                               T& high) const
{
    const auto take = [&](T l, T h) {
        low = std::min(low, l);
        high = std::max(high, h);
    };
    std::size_t size = 1;  // of a bin of the level in hand, in samples
    std::size_t level = 0;
    std::size_t a = first, b = last;  // in bins of that size
    for (;;) {
        const std::size_t factor = size == 1 ? firstBin : growth;
        const std::size_t up = (a + factor - 1) / factor, down = b / factor;
        const bool further = up < down && level < levels.size();
        const auto at = [&](std::size_t i) {
            if (size == 1)
                take(samples[i], samples[i]);
            else
                take(levels[level - 1][i].low, levels[level - 1][i].high);
        };
        const std::size_t endLeft = further ? up * factor : b, beginRight = further ? down * factor : b;
        for (std::size_t i = a; i < endLeft; ++i)
            at(i);
        for (std::size_t i = beginRight; i < b; ++i)
            at(i);
        if (!further) return;
        a = up;
        b = down;
        size *= factor;
        ++level;
    }
}

Pyramid::Pyramid(const Samples& samples) : samples_(samples)
{
    if (samples.isSteps())
        steps_.build(samples.steps());
    else
        floats_.build(samples.floats());
}

template <class T>
Extent Pyramid::extentOf(const Levels<T>& levels, const std::vector<T>& samples, std::size_t first,
                         std::size_t last) const
{
    T low = samples[first], high = low;
    levels.widen(samples, first, last, low, high);
    const double a = samples_.step() * static_cast<double>(low) + samples_.zero();
    const double b = samples_.step() * static_cast<double>(high) + samples_.zero();
    return {std::min(a, b), std::max(a, b)};
}

Extent Pyramid::extent(std::size_t first, std::size_t last) const
{
    EXPECTS(first < last && last <= samples_.size());
    return samples_.isSteps() ? extentOf(steps_, samples_.steps(), first, last)
                              : extentOf(floats_, samples_.floats(), first, last);
}

std::vector<Extent> Pyramid::columns(double from, double to, std::size_t columns) const
{
    EXPECTS(from >= 0 && from < to && to <= static_cast<double>(samples_.size()));
    std::vector<Extent> out(columns);
    const std::size_t size = samples_.size();
    const double width = (to - from) / static_cast<double>(columns);
    for (std::size_t c = 0; c < columns; ++c) {
        const auto first = std::min(size - 1, static_cast<std::size_t>(from + static_cast<double>(c) * width));
        const auto last = std::min(size, static_cast<std::size_t>(from + static_cast<double>(c + 1) * width));
        out[c] = extent(first, std::max(first + 1, last));
    }
    return out;
}

std::size_t Pyramid::bytes() const
{
    std::size_t sum = 0;
    for (const auto& level : floats_.levels)
        sum += level.size() * sizeof(level.front());
    for (const auto& level : steps_.levels)
        sum += level.size() * sizeof(level.front());
    return sum;
}

}  // namespace ilvek
