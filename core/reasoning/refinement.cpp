#include "reasoning/refinement.h"

#include <algorithm>

namespace ilvek {

namespace {

// Suspects beyond this share of the likeliest, however well they interpolate, decide nothing.
constexpr double worthRefining = 1e-3;
constexpr std::size_t mostRefined = 60;
constexpr int mostRounds = 4;

}  // namespace

void Refinement::forget()
{
    known_.clear();
    computed_.clear();
}

// The readings of each set-up, for the suspects that lack any of them.
bool Refinement::provide(const Map& map, const Belief& belief, const std::vector<int>& suspects, const Stop& stop)
{
    const auto& taken = belief.taken();
    for (const int s : suspects)
        known_[s].resize(taken.size());
    const auto lacks = [&](int s, std::size_t o) {
        return taken[o].kind == Observation::Kind::Reading && !known_[s][o].column;
    };
    for (std::size_t o = 0; o < taken.size(); ++o) {
        std::vector<int> lacking;
        std::copy_if(suspects.begin(), suspects.end(), std::back_inserter(lacking), [&](int s) { return lacks(s, o); });
        if (lacking.empty()) continue;
        std::vector<Probe> probes;
        std::vector<std::size_t> same;
        for (std::size_t i = o; i < taken.size(); ++i) {
            if (taken[i].kind != Observation::Kind::Reading || !(taken[i].setup == taken[o].setup)) continue;
            same.push_back(i);
            if (std::find(probes.begin(), probes.end(), taken[i].probe) == probes.end())
                probes.push_back(taken[i].probe);
        }
        std::vector<Suspect> list(1);
        list.front().severities = {{}};
        for (const int s : lacking)
            list.push_back(belief.dense(s));
        auto prediction = predict(map, list, taken[o].setup, probes, stop);
        if (!prediction) return false;
        computed_.push_back(std::make_unique<const Prediction>(std::move(*prediction)));
        const std::vector<int> first = firstCases(list);
        for (std::size_t n = 0; n < lacking.size(); ++n) {
            for (const std::size_t i : same)
                known_[lacking[n]][i] = {computed_.back()->find(taken[i].probe),
                                         static_cast<std::size_t>(first[n + 1])};
        }
    }
    return true;
}

bool Refinement::refine(const Map& map, Belief& belief, const Stop& stop)
{
    std::vector<int> done;
    for (int round = 0; round < mostRounds; ++round) {
        std::vector<int> next;
        for (const int s : belief.couldBe(worthRefining, mostRefined)) {
            if (std::find(done.begin(), done.end(), s) == done.end()) next.push_back(s);
        }
        if (next.empty()) return true;
        if (!provide(map, belief, next, stop)) return false;
        for (const int s : next)
            belief.refine(s, known_[s]);
        done.insert(done.end(), next.begin(), next.end());
    }
    return true;
}

}  // namespace ilvek
