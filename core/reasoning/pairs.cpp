#include <algorithm>
#include <cmath>

#include "reasoning/further.h"
#include "reasoning/severity.h"

namespace ilvek {

namespace {

constexpr std::size_t mostPairs = 24;
constexpr std::size_t pairsKept = 8;
constexpr double pairMustGain = 4;  // in log-likelihood: a second fault must explain something
constexpr std::size_t firstsTried = 6, secondsTried = 5;
constexpr double sharpeningSteps[] = {1, 0.5, 0.25, 0.15};  // of the way from one severity to the next
// Two faults at once are rarer than their product only by what has one cause (water, an accident).
constexpr double commonCauseFactor = 5;
constexpr double unexplainedZ = 4.0;

// Two suspects at once, each at a severity.
struct Pair {
    int a = -1, b = -1;
    double severityA = 0, severityB = 0;
    double logLikelihood = -1e300;
};

// Both at once, each at its severity and at `reach` steps of `step` to both sides.
Suspect pairOf(const std::vector<Suspect>& suspects, const Pair& pair, double step, int reach)
{
    const Suspect& a = suspects[static_cast<std::size_t>(pair.a)];
    const Suspect& b = suspects[static_cast<std::size_t>(pair.b)];
    Suspect s;
    s.kind = a.kind;
    s.element = a.element;
    s.node = a.node;
    s.insideModule = a.insideModule && b.insideModule;
    s.prior = commonCauseFactor * a.prior * b.prior;
    s.graded = false;
    s.id = a.id + " + " + b.id;
    s.place = a.place + " and " + b.place;
    s.words = a.words + "; and " + b.words;
    s.sights = a.sights;
    s.sights.insert(s.sights.end(), b.sights.begin(), b.sights.end());
    for (int i = -reach; i <= reach; ++i) {
        for (int k = -reach; k <= reach; ++k) {
            auto faults = faultsAt(a, pair.severityA + i * step);
            const auto second = faultsAt(b, pair.severityB + k * step);
            faults.insert(faults.end(), second.begin(), second.end());
            s.severities.push_back(std::move(faults));
        }
    }
    return s;
}

// The first fault is one that explains most; the second one that explains what the first leaves.
std::vector<Pair> possiblePairs(const Search& in)
{
    const auto isOfMap = [&](int s) { return isOfTheMap(in.suspects[static_cast<std::size_t>(s)]); };
    std::vector<Pair> pairs;
    for (const int a : in.belief.ranked(firstsTried, in.singles)) {
        if (a == 0 || isOfMap(a)) continue;
        Belief rest(in.suspects);
        for (std::size_t o = 0; o < in.belief.taken().size(); ++o) {
            if (std::abs(in.belief.against(a, o).z) > unexplainedZ) rest.take(in.table, in.belief.taken()[o]);
        }
        if (rest.taken().empty()) continue;
        for (const int b : rest.ranked(secondsTried, in.singles)) {
            if (b != 0 && b != a && !isOfMap(b) && pairs.size() < mostPairs)
                pairs.push_back({a, b, in.belief.severity(a), rest.severity(b)});
        }
    }
    return pairs;
}

// Tried on what was observed before the whole table is computed for them.
void sharpen(const Search& in, std::vector<Pair>& pairs, double step)
{
    std::vector<Suspect> tried(1);
    tried.front().severities = {{}};
    tried.front().prior = 1;
    for (const Pair& pair : pairs)
        tried.push_back(pairOf(in.suspects, pair, step, 1));
    PredictionTable table;
    for (const Wanted& w : wantedBy(in.map, in.observations)) {
        if (auto prediction = predict(in.map, tried, w.setup, w.probes, in.stop)) table.add(std::move(*prediction));
    }
    Belief belief(tried);
    for (const Observation& o : in.observations)
        belief.take(table, o);
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const int s = static_cast<int>(i) + 1;
        const int at = static_cast<int>(belief.severity(s));
        pairs[i].severityA += (at / 3 - 1) * step;
        pairs[i].severityB += (at % 3 - 1) * step;
        pairs[i].logLikelihood = belief.logLikelihood(s);
    }
}

}  // namespace

std::vector<Suspect> explainingPairs(const Search& in)
{
    std::vector<Pair> pairs = possiblePairs(in);
    for (const double step : sharpeningSteps)
        sharpen(in, pairs, step);
    double single = -1e300;
    for (std::size_t i = 0; i < in.singles; ++i)
        single = std::max(single, in.belief.logLikelihood(static_cast<int>(i)));
    std::stable_sort(pairs.begin(), pairs.end(),
                     [](const Pair& x, const Pair& y) { return x.logLikelihood > y.logLikelihood; });
    std::vector<Suspect> out;
    for (const Pair& pair : pairs) {
        if (out.size() < pairsKept && pair.logLikelihood > single + pairMustGain)
            out.push_back(pairOf(in.suspects, pair, sharpeningSteps[std::size(sharpeningSteps) - 1], 2));
    }
    return out;
}

}  // namespace ilvek
