#include "belief/refinement.h"

#include <algorithm>

namespace ilvek {

namespace {

// Suspects beyond this share of the likeliest, however well they interpolate, decide nothing.
constexpr double worthRefining = 2e-3;
constexpr std::size_t mostRefined = 40;
constexpr int mostRounds = 4;

std::vector<Probe> probesOf(const Observation& o)
{
    if (o.kind == Observation::Kind::Reading) return {o.probe};
    std::vector<Probe> probes;
    for (const auto& need : o.needs)
        probes.push_back(need.probe);
    return probes;
}

}  // namespace

void Refinement::forget()
{
    known_.clear();
    computed_.clear();
}

const Prediction* Refinement::computed(const Map& map, const std::vector<Suspect>& list, const Condition& setup,
                                       const std::vector<Probe>& probes)
{
    auto prediction = predict(map, list, setup, probes, false);
    if (!prediction) return nullptr;
    computed_.push_back(std::make_unique<const Prediction>(std::move(*prediction)));
    return computed_.back().get();
}

// What was seen in each set-up, for the suspects that lack any of it.
bool Refinement::provide(const Map& map, const Belief& belief, const std::vector<int>& suspects)
{
    const auto& taken = belief.taken();
    for (const int s : suspects) {
        Known& known = known_[s];
        const auto wanted = belief.worthComputing(s);
        // As readings come in fewer and fewer are of weight.
        if (!std::includes(known.severities.begin(), known.severities.end(), wanted.begin(), wanted.end()))
            known = {wanted, {}};
        known.exact.resize(taken.size());
    }
    for (std::size_t o = 0; o < taken.size(); ++o) {
        if (taken[o].kind == Observation::Kind::Look) continue;  // no circuit is in it
        std::vector<int> lacking;
        std::copy_if(suspects.begin(), suspects.end(), std::back_inserter(lacking),
                     [&](int s) { return known_[s].exact[o].columns.empty(); });
        if (lacking.empty()) continue;
        std::vector<Suspect> list(1);
        list.front().severities = {{}};
        for (const int s : lacking)
            list.push_back(belief.dense(s, known_[s].severities));
        // All that was seen in this set-up, and the battery's posts under the same faults as they were read.
        std::vector<std::size_t> same;
        std::vector<Probe> probes;
        for (std::size_t i = o; i < taken.size(); ++i) {
            if (taken[i].kind == Observation::Kind::Look || !(taken[i].setup == taken[o].setup)) continue;
            same.push_back(i);
            for (const Probe& probe : probesOf(taken[i])) {
                if (std::find(probes.begin(), probes.end(), probe) == probes.end()) probes.push_back(probe);
            }
        }
        const Prediction* seen = computed(map, list, taken[o].setup, probes);
        if (!seen) return false;
        std::vector<const Prediction*> batteries;
        const auto batteryFor = [&](const Observation& observation) -> const Prediction* {
            for (const Prediction* known : batteries) {
                if (known->setup == observation.batterySetup) return known;
            }
            const Prediction* battery = computed(map, list, observation.batterySetup, {batteryProbeOf(map)});
            if (battery) batteries.push_back(battery);
            return battery;
        };
        for (const std::size_t i : same) {
            if (taken[i].battery_V && !batteryFor(taken[i])) return false;
        }
        const std::vector<int> first = firstCases(list);
        for (std::size_t n = 0; n < lacking.size(); ++n) {
            for (const std::size_t i : same) {
                Exact& exact = known_[lacking[n]].exact[i];
                const Prediction* battery = taken[i].battery_V ? batteryFor(taken[i]) : nullptr;
                exact = {{}, battery ? &battery->columns.front() : nullptr, static_cast<std::size_t>(first[n + 1])};
                for (const Probe& probe : probesOf(taken[i]))
                    exact.columns.push_back(seen->find(probe));
            }
        }
    }
    return true;
}

bool Refinement::refine(const Map& map, Belief& belief)
{
    for (int round = 0; round < mostRounds; ++round) {
        const std::vector<int> next = belief.couldBe(worthRefining, mostRefined);
        if (next.empty()) return true;
        if (!provide(map, belief, next)) return false;
        for (const int s : next)
            belief.refine(s, known_[s].severities, known_[s].exact);
    }
    return true;
}

}  // namespace ilvek
