// Samples that are no figure (NaN, infinite): the recorder had none to write.
#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace ilvek {

// From `first` to before `last`, counted in samples.
struct Gap {
    std::size_t first = 0, last = 0;
    bool operator==(const Gap&) const = default;
};

// Fills what is no figure with the sample before it (at the beginning, the one behind it) so that nothing computed from
// the rest is spoilt, and says where: rising, never touching. Where there is no figure at all, one gap and zeros.
std::vector<Gap> takeGaps(std::vector<float>& values);

// Whether anything of [first, last] lies in a gap.
bool isInGap(const std::vector<Gap>& gaps, double first, double last);

// "3 samples in 2 stretches are no figure and are left out, the first at …".
std::string gapWords(const std::vector<Gap>& gaps, const std::string& placeOfFirst);

}  // namespace ilvek
