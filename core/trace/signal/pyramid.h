// Least and most of every stretch of a channel, so that any zoom is drawn without looking at every sample.
#pragma once

#include <vector>

#include "trace/formats/recording.h"

namespace ilvek {

struct Extent {
    double low = 0, high = 0;
};

// Level 0 has one pair for 64 samples, every further level one for eight of the level below: 3.6 % of the samples'
// memory. Pairs are kept as the samples are; the channel's scale is applied when asked.
class Pyramid {
public:
    // REQUIRES: `samples` outlive this and keep their number.
    explicit Pyramid(const Samples& samples);

    // Least and most of the samples from `first` to before `last`, exactly. REQUIRES: first < last ≤ size.
    Extent extent(std::size_t first, std::size_t last) const;
    // The same for each of `columns` equal stretches between two places, counted in samples; a stretch of less than a
    // sample has that sample. REQUIRES: 0 ≤ from < to ≤ size.
    std::vector<Extent> columns(double from, double to, std::size_t columns) const;

    std::size_t bytes() const;

private:
    template <class T>
    struct Levels {
        struct Pair {
            T low, high;
        };
        std::vector<std::vector<Pair>> levels;
        void build(const std::vector<T>& samples);
        void widen(const std::vector<T>& samples, std::size_t first, std::size_t last, T& low, T& high) const;
    };
    template <class T>
    Extent extentOf(const Levels<T>& levels, const std::vector<T>& samples, std::size_t first, std::size_t last) const;

    const Samples& samples_;
    Levels<float> floats_;
    Levels<std::int16_t> steps_;
};

}  // namespace ilvek
