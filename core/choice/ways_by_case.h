// What is believed possible, by the case of the table from which it is read: a column sets few of it apart, and all
// the rest reads as the sound circuit does.
#pragma once

#include <algorithm>
#include <cstddef>
#include <numeric>
#include <vector>

#include "belief/belief.h"

namespace ilvek {

class WaysByCase {
public:
    // `ways`: each at its lower and its upper case; those of a map that is wrong are of no case. `cases`: of the table.
    template <class Ways, class Hypothesis, class Skip>
    void read(const Ways& ways, std::size_t cases, Hypothesis hypothesis, Skip skip)
    {
        const auto eachCase = [&](const auto& at) {
            for (std::size_t i = 0; i < ways.size(); ++i) {
                if (skip(ways[i])) continue;
                const Belief::Hypothesis& h = hypothesis(ways[i]);
                at(static_cast<std::size_t>(h.low), i);
                if (h.high != h.low) at(static_cast<std::size_t>(h.high), i);
            }
        };
        firstIn_.assign(cases + 1, 0);
        eachCase([this](std::size_t c, std::size_t) { ++firstIn_[c + 1]; });
        std::partial_sum(firstIn_.begin(), firstIn_.end(), firstIn_.begin());
        waysIn_.resize(firstIn_.back());
        lowOf_.resize(ways.size());
        for (std::size_t i = 0; i < ways.size(); ++i)
            lowOf_[i] = hypothesis(ways[i]).low;
        std::vector<std::size_t> next = firstIn_;
        eachCase([&](std::size_t c, std::size_t way) { waysIn_[next[c]++] = way; });
    }

    // Each way that the column sets apart, once. REQUIRES: its moved cases rise.
    template <class Take>
    void eachMoved(const Column& column, const Take& take) const
    {
        for (const int c : column.moved) {
            const auto at = static_cast<std::size_t>(c);
            for (std::size_t i = firstIn_[at]; i < firstIn_[at + 1]; ++i) {
                // Between two cases that both moved it is taken at the lower one.
                const int low = lowOf_[waysIn_[i]];
                if (c == low || !std::ranges::binary_search(column.moved, low)) take(waysIn_[i]);
            }
        }
    }

private:
    std::vector<std::size_t> firstIn_, waysIn_;
    std::vector<int> lowOf_;  // by way
};

}  // namespace ilvek
