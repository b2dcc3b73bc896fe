// Noise, levels and kinks: what edges and features of a recording are found by.
#pragma once

#include <cstddef>
#include <vector>

namespace ilvek {

// One sigma of the noise, from the median size of the second differences, no less than what a converter of this step
// adds. SOURCE: for white noise the second difference has σ√6 and its median size is 0.6745 of that.
double noiseOf(const std::vector<double>& x, double converterStep);

// REQUIRES: at least one value.
double medianOf(std::vector<double> x);

// The lower and the upper level that something rests at: the medians of the samples in the lower and in the upper half
// of its range, the extremes of two per mille left out.
struct LevelPair {
    double low = 0, high = 0;
};
LevelPair levelsOf(const std::vector<double>& x);
// The same at a drive that lets go: where one half holds two levels of its own, the outer one at which it stands less
// is that of the spike, and the other two are what it rests at.
LevelPair levelsBesideSpike(const std::vector<double>& x);

// Slope of the n samples behind k less that of the n before it, per sample, by least squares, with its standard error
// for noise of σ = 1. SOURCE: σ_slope² = 12 σ² / (n (n² − 1)).
class Kinks {
public:
    explicit Kinks(const std::vector<double>& x);
    // REQUIRES: n ≤ k ≤ number of samples − n.
    double at(std::size_t k, std::size_t n) const { return slope(k, n) - slope(k - n, n); }
    // Of n samples from `first` on. b = Σ (k − k̄) x / Σ (k − k̄)²
    double slope(std::size_t first, std::size_t n) const
    {
        const double count = static_cast<double>(n);
        const double centre = static_cast<double>(first) + 0.5 * (count - 1) - middle_;
        const double top = moment_[first + n] - moment_[first] - centre * (sum_[first + n] - sum_[first]);
        return top * (12 / (count * (count * count - 1)));
    }
    double mean(std::size_t first, std::size_t n) const
    {
        return origin_ + (sum_[first + n] - sum_[first]) * (1 / static_cast<double>(n));
    }
    static double slopeSigma(std::size_t n);

private:
    std::vector<double> sum_, moment_;  // Σ x, Σ k x of the samples before
    double middle_ = 0, origin_ = 0;
};

}  // namespace ilvek
