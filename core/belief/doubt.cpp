#include "belief/doubt.h"

#include <cmath>

#include "belief/likelihood.h"

namespace ilvek {

bool isDoubtful(const Belief& belief, int suspect, std::size_t observation)
{
    return belief.taken()[observation].kind == Observation::Kind::Reading &&
           std::abs(belief.against(suspect, observation).z) > doubtfulZ;
}

namespace {

bool isSettled(const Belief& belief, int suspect, std::size_t observation)
{
    const Observation& o = belief.taken()[observation];
    for (std::size_t i = 0; i < belief.taken().size(); ++i) {
        const Observation& again = belief.taken()[i];
        const bool same = again.kind == o.kind && again.id > o.id && again.probe == o.probe && again.setup == o.setup;
        if (same && !isDoubtful(belief, suspect, i)) return true;
    }
    return false;
}

}  // namespace

std::vector<std::int64_t> doubtfulUnder(const Belief& belief, int suspect)
{
    std::vector<std::int64_t> doubtful;
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        if (isDoubtful(belief, suspect, o) && !isSettled(belief, suspect, o)) doubtful.push_back(belief.taken()[o].id);
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
            const int s = static_cast<int>(i);
            if (p[i] > worthAsking && isDoubtful(belief, s, o) && !isSettled(belief, s, o)) sum += p[i];
        }
        if (sum > half) doubtful.push_back(belief.taken()[o].id);
    }
    return doubtful;
}

}  // namespace ilvek
