// What repeats in a recording: its period, and one period averaged over all of them.
#pragma once

#include <complex>
#include <cstddef>
#include <optional>
#include <vector>

namespace ilvek {

// |X|² of the samples less their line, through a Hann window, at k / (n·dt) for k = 0 … n/2; n a power of two, no more
// than there are samples, those in the middle.
struct Spectrum {
    std::vector<double> power;
    double step_Hz = 0;
};
Spectrum spectrumOf(const std::vector<double>& x, double interval_s);

// The period, in samples: the first that the samples repeat with as well as with any other, sharpened over as many
// periods as there are. None where they do not repeat.
// SOURCE: autocorrelation by Fourier transform (Wiener–Khinchin), its first high maximum.
std::optional<double> periodOf(const std::vector<double>& x, double noise);

// The mean of all periods, in bins from the first sample on, and how far single samples lie from it.
struct Folded {
    std::vector<double> mean;
    double perBin = 0;   // samples in a bin, the fewest
    double scatter = 0;  // rms of the samples about it
};
Folded fold(const std::vector<double>& x, double period, std::size_t bins);

}  // namespace ilvek
