// The law of a moving armature fitted to the rise of one pulse: when it lands, better than a kink alone can say.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

namespace ilvek {

struct ArmatureFit {
    std::optional<double> lift;  // sample at which the armature reaches its stop; none where it does not land
    double sigma = 0;            // samples
    double rest = 0;             // mean square of what is left, in squares of the noise: about 1 where the law holds
    double gained = 0;           // what a moving armature explains that a still one leaves, in squares of the noise
};

// SOURCE: flux λ = L₀ (1 + a x) i_s tanh(i/i_s), dλ/dt = U − R i; armature ẍ = ((i/i_p)² − 1)/T² for i > i_p, until x =
// 1 (Newton's law of a mass against a spring that hardly stiffens on its way). Least squares over I = U/R, L₀/R, i_s,
// a, i_p, T and the moment of switching on. `y`: A from zero; the pulse is on from sample `on` and is looked at up to
// `last`; `lift`: where a kink was seen; `noise`: A, one sigma. nullopt where there is too little of it.
std::optional<ArmatureFit> fitArmature(const std::vector<double>& y, double interval_s, double noise, double on,
                                       std::size_t last, double lift);

}  // namespace ilvek
