#include "belief/doubt.h"

#include <algorithm>
#include <cmath>

#include "belief/likelihood.h"

namespace ilvek {

bool isDoubtful(const Belief& belief, const Belief::AsLikeliest& suspect, std::size_t observation)
{
    return belief.taken()[observation].kind == Observation::Kind::Reading &&
           std::abs(belief.against(suspect, observation).z) > doubtfulZ;
}

namespace {

bool isSettled(const Belief& belief, const Belief::AsLikeliest& suspect, std::size_t observation)
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
    const Belief::AsLikeliest is = belief.asLikeliest(suspect);
    std::vector<std::int64_t> doubtful;
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        if (isDoubtful(belief, is, o) && !isSettled(belief, is, o)) doubtful.push_back(belief.taken()[o].id);
    }
    return doubtful;
}

namespace {

// For more than half of the belief, of the suspects that count, and for the likeliest one.
template <typename IsOff>
std::vector<std::int64_t> offForMost(const Belief& belief, const IsOff& isOff)
{
    constexpr double counts = 1e-3, half = 0.5;
    const std::vector<double> p = belief.probabilities();
    std::vector<double> sum(belief.taken().size(), 0.0);
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (p[i] <= counts) continue;
        const Belief::AsLikeliest is = belief.asLikeliest(static_cast<int>(i));
        for (std::size_t o = 0; o < sum.size(); ++o)
            sum[o] += isOff(is, o) ? p[i] : 0;
    }
    std::vector<std::int64_t> off;
    const auto top = std::max_element(p.begin(), p.end()) - p.begin();
    const Belief::AsLikeliest likeliest = belief.asLikeliest(static_cast<int>(top));
    for (std::size_t o = 0; o < sum.size(); ++o) {
        if (sum[o] > half && isOff(likeliest, o)) off.push_back(belief.taken()[o].id);
    }
    return off;
}

}  // namespace

std::vector<std::int64_t> doubtfulReadings(const Belief& belief)
{
    return offForMost(belief, [&](const Belief::AsLikeliest& s, std::size_t o) {
        return isDoubtful(belief, s, o) && !isSettled(belief, s, o);
    });
}

std::vector<std::int64_t> likelySlips(const Belief& belief)
{
    return offForMost(belief, [&](const Belief::AsLikeliest& s, std::size_t o) { return isDoubtful(belief, s, o); });
}

}  // namespace ilvek
