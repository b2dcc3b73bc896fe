#include "belief/doubt.h"

#include <cmath>

#include "belief/likelihood.h"

namespace ilvek {

bool isDoubtful(const Belief& belief, int suspect, std::size_t observation)
{
    return belief.taken()[observation].kind == Observation::Kind::Reading &&
           std::abs(belief.against(suspect, observation).z) > doubtfulZ;
}

std::vector<std::int64_t> doubtfulUnder(const Belief& belief, int suspect)
{
    std::vector<std::int64_t> doubtful;
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        if (isDoubtful(belief, suspect, o)) doubtful.push_back(belief.taken()[o].id);
    }
    return doubtful;
}

std::vector<std::int64_t> doubtfulReadings(const Belief& belief)
{
    constexpr double worthAsking = 1e-3, half = 0.5;
    const std::vector<double> p = belief.probabilities();
    std::vector<std::int64_t> doubtful;
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        double sum = 0;
        for (std::size_t i = 0; i < p.size(); ++i) {
            if (p[i] > worthAsking && isDoubtful(belief, static_cast<int>(i), o)) sum += p[i];
        }
        if (sum > half) doubtful.push_back(belief.taken()[o].id);
    }
    return doubtful;
}

}  // namespace ilvek
