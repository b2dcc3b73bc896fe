// Least squares of a hinge at any place of a stretch, from sums of powers up to there: no place costs more than one
// small system.
#pragma once

#include <array>
#include <cstddef>
#include <utility>
#include <vector>

namespace ilvek {

class HingeSums {
public:
    // Of the samples from `first` up to but not including `last`.
    HingeSums(const std::vector<double>& y, std::size_t first, std::size_t last);

    // What is left about y = a + b t + c h + d h² + e g² + f g³ with the hinge at k, h = max(0, t), g = min(0, t), t
    // counted from k; very large when it bends downwards.
    double restAt(std::size_t k) const;

private:
    struct Sums {
        std::array<double, 7> u{};
        std::array<double, 4> uy{};
        double yy = 0;
    };
    double at(std::size_t i) const { return (static_cast<double>(i - first_) - 0.5 * count_) / count_; }
    std::pair<std::array<double, 7>, std::array<double, 4>> about(std::size_t k, bool right) const;

    std::size_t first_;
    double count_;
    std::vector<Sums> sums_;
};

}  // namespace ilvek
