#include <algorithm>
#include <cmath>
#include <set>

#include "belief/trial.h"
#include "circuit/blown_fuses.h"
#include "suspects/severity.h"
#include "wording/words.h"

namespace ilvek {

namespace {

constexpr std::size_t firstsTried = 6, secondsTried = 5, mostPairs = 24;
// Of the best pairs each fault in turn is held, and the other one sought anew among this many.
constexpr std::size_t pairsHeld = 3, othersTried = 20;
constexpr double sharpeningSteps[] = {1, 0.5, 0.25, 0.12, 0.06};  // of the way from one severity to the next
constexpr double finest = sharpeningSteps[std::size(sharpeningSteps) - 1];
// In logarithms: what a pair must explain better than any single fault, how far behind the likeliest pair one may be,
// and what the second must explain of what the first leaves.
constexpr double pairMustGain = 4, pairMayLag = 25, secondMustGain = 1;
// Two faults at once are rarer than their product only by what has one cause (water, an accident).
constexpr double commonCauseFactor = 5;
// Of a machine that nobody mapped it is not known what its module wants to see before it drives. With a fault outside
// it this often holds back what it would drive.
constexpr double holdsBack = 0.3, heldBackMustGain = 1.5;
// A reading this far off, and by more than this share of what it is off the sound machine's, is left for another fault.
constexpr double unexplainedZ = 4.0, openShare = 0.3;

// Two suspects at once, each at a severity.
struct Pair {
    int a = -1, b = -1;
    double severityA = 0, severityB = 0;
    double logLikelihood = -1e300;
};

// Nothing but that drives do not come.
bool isDriveDead(const Map& map, const Suspect& s)
{
    const auto isOpenDrive = [&](const Fault& f) {
        if (f.kind != Fault::Kind::Open || f.element < 0) return false;
        const ElementKind kind = map.element(f.element).kind;
        return kind == ElementKind::LowSideDriver || kind == ElementKind::HighSideDriver;
    };
    return s.insideModule && !s.severities.empty() && std::ranges::all_of(s.severities.front(), isOpenDrive);
}

// The second is a drive that does not come, and the first may be why.
bool mayBeHeldBack(const Search& in, const Pair& pair)
{
    return in.map.isOfSheet() && !in.suspects[static_cast<std::size_t>(pair.a)].insideModule &&
           isDriveDead(in.map, in.suspects[static_cast<std::size_t>(pair.b)]);
}

// The cause first.
Pair ordered(const Search& in, const Pair& pair)
{
    Pair turned = pair;
    std::swap(turned.a, turned.b), std::swap(turned.severityA, turned.severityB);
    return mayBeHeldBack(in, turned) ? turned : pair;
}

double priorOf(const Search& in, const Pair& pair)
{
    const auto prior = [&](int s) { return in.suspects[static_cast<std::size_t>(s)].prior; };
    return mayBeHeldBack(in, pair) ? holdsBack * prior(pair.a) : commonCauseFactor * prior(pair.a) * prior(pair.b);
}

// What is added to the severities of the two, that of neither first: of what reads alike it is left where it is.
std::vector<std::pair<int, int>> stepsWithin(int reach)
{
    std::vector<std::pair<int, int>> steps{{0, 0}};
    for (int i = -reach; i <= reach; ++i) {
        for (int k = -reach; k <= reach; ++k) {
            if (i != 0 || k != 0) steps.emplace_back(i, k);
        }
    }
    return steps;
}

// Both at once, each at its severity and at `reach` steps of `step` to both sides.
Suspect pairOf(const Search& in, const Pair& pair, double step, int reach)
{
    const Suspect& a = in.suspects[static_cast<std::size_t>(pair.a)];
    const Suspect& b = in.suspects[static_cast<std::size_t>(pair.b)];
    Suspect s;
    s.kind = a.kind;
    // Of two parts it is neither one of them; what is held back comes by itself when the first is mended.
    const bool isHeldBack = mayBeHeldBack(in, pair);
    if (a.element == b.element || isHeldBack) s.element = a.element, s.node = a.node;
    s.insideModule = a.insideModule && b.insideModule;
    s.prior = priorOf(in, pair);
    s.graded = false;
    s.id = a.id + " + " + b.id;
    s.place = isHeldBack ? a.place : a.place + " and " + b.place;
    s.sentences = {a.words, isHeldBack ? inWords("suspects.held-back", b.place) : b.words};
    s.secondAt = ownFaults(a.severities.front());
    // What is held back stands in its sentences only: it is the first that is mended.
    s.words = isHeldBack ? a.words : s.sentences[0] + ". And " + s.sentences[1];
    s.sights = a.sights;
    s.sights.insert(s.sights.end(), b.sights.begin(), b.sights.end());
    const auto both = [&](double atA, double atB) { return bothFaults(faultsAt(a, atA), faultsAt(b, atB)); };
    for (const auto& [i, k] : stepsWithin(reach))
        s.severities.push_back(both(pair.severityA + i * step, pair.severityB + k * step));
    return s;
}

// As it was found, and with either or both of the two at its worst: what nobody stated hides how bad a fault is from
// the table, and the worst is what parts are mostly found at.
Suspect foundPair(const Search& in, const Pair& pair)
{
    Suspect s = pairOf(in, pair, finest, 2);
    const auto worstOf = [&](int i) {
        return static_cast<double>(in.suspects[static_cast<std::size_t>(i)].severities.size()) - 1;
    };
    const double worstA = worstOf(pair.a), worstB = worstOf(pair.b);
    for (const auto& [a, b] : {std::pair{pair.severityA, worstB}, {worstA, pair.severityB}, {worstA, worstB}})
        s.severities.push_back(pairOf(in, {pair.a, pair.b, a, b}, 0, 0).severities.front());
    return s;
}

// Whether another fault is needed for an observation. What `held` brings most of the way from the sound machine's it
// explains at another severity.
bool leavesOpen(const Belief& belief, int held, std::size_t observation)
{
    const Belief::AsLikeliest is = belief.asLikeliest(held);
    if (belief.isContradicted(is, observation)) return true;
    const double z = std::abs(belief.against(is, observation).z);
    return z > unexplainedZ && z > openShare * std::abs(belief.against(0, observation).z);
}

// Faults that explain what `held` leaves unexplained, likeliest first, each with it.
std::vector<Pair> pairsWith(const Search& in, int held, std::size_t most)
{
    Belief rest(in.suspects);
    for (std::size_t o = 0; o < in.belief.taken().size(); ++o) {
        if (leavesOpen(in.belief, held, o)) rest.take(in.table, in.belief.taken()[o]);
    }
    std::vector<Pair> pairs;
    if (rest.taken().empty()) return pairs;
    const double sound = rest.logLikelihood(0);
    for (const int other : rest.ranked(most, in.singles)) {
        const bool explains = rest.logLikelihood(other) > sound + secondMustGain;
        if (other != held && explains && isFault(in.suspects[static_cast<std::size_t>(other)]))
            pairs.push_back(ordered(in, {held, other, in.belief.severity(held), rest.severity(other)}));
    }
    return pairs;
}

// The first fault is one that explains most; the second one that explains what the first leaves.
std::vector<Pair> possiblePairs(const Search& in)
{
    std::vector<Pair> pairs;
    for (const int first : in.belief.ranked(firstsTried, in.singles)) {
        if (!isFault(in.suspects[static_cast<std::size_t>(first)])) continue;
        for (const Pair& pair : pairsWith(in, first, secondsTried)) {
            if (pairs.size() < mostPairs) pairs.push_back(pair);
        }
    }
    return pairs;
}

void sharpen(const Search& in, std::vector<Pair>& pairs, double step, const std::vector<Wanted>& wanted)
{
    std::vector<Suspect> tried;
    for (const Pair& pair : pairs)
        tried.push_back(pairOf(in, pair, step, 1));
    const Trial trial(in, tried, wanted);
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const auto [a, b] = stepsWithin(1)[static_cast<std::size_t>(trial.severity(i))];
        pairs[i].severityA += a * step;
        pairs[i].severityB += b * step;
        pairs[i].logLikelihood = trial.logLikelihood(i);
    }
}

double logBelief(const Search& in, const Pair& pair)
{
    return pair.logLikelihood + std::log(priorOf(in, pair));
}

// The likeliest after what was observed first.
void sortByBelief(const Search& in, std::vector<Pair>& pairs)
{
    std::stable_sort(pairs.begin(), pairs.end(),
                     [&](const Pair& x, const Pair& y) { return logBelief(in, x) > logBelief(in, y); });
}

// The severities stand by what was read; what was told is weighed at the end. Best first.
void sharpenAll(const Search& in, std::vector<Pair>& pairs)
{
    std::vector<Observation> read;
    std::copy_if(in.observations.begin(), in.observations.end(), std::back_inserter(read), [](const Observation& o) {
        return o.kind == Observation::Kind::Reading || o.source != Observation::Source::Told;
    });
    const auto wanted = wantedBy(in.map, read);
    for (std::size_t i = 0; i < std::size(sharpeningSteps) && !pairs.empty(); ++i) {
        const bool last = i + 1 == std::size(sharpeningSteps);
        sharpen(in, pairs, sharpeningSteps[i], last ? wantedBy(in.map, in.observations) : wanted);
        sortByBelief(in, pairs);
        if (pairs.size() > mostPairs) pairs.resize(mostPairs);
    }
}

bool isNew(std::set<std::pair<int, int>>& known, const Pair& pair)
{
    return known.insert(std::minmax(pair.a, pair.b)).second;
}

// Pairs that read like the best of `pairs`: a pair is not concluded while another one stands for the same readings.
std::vector<Pair> pairsLike(const Search& in, const std::vector<Pair>& pairs)
{
    std::set<std::pair<int, int>> known;
    for (const Pair& pair : pairs)
        isNew(known, pair);
    std::set<int> held;
    std::vector<Pair> found;
    for (std::size_t i = 0; i < std::min(pairsHeld, pairs.size()); ++i) {
        for (const int one : {pairs[i].a, pairs[i].b}) {
            if (!held.insert(one).second) continue;
            for (const Pair& pair : pairsWith(in, one, othersTried)) {
                if (isNew(known, pair)) found.push_back(pair);
            }
        }
    }
    return found;
}

}  // namespace

std::vector<Suspect> explainingPairs(const Search& in)
{
    std::vector<Pair> pairs = possiblePairs(in);
    sharpenAll(in, pairs);
    std::vector<Pair> more = pairsLike(in, pairs);
    sharpenAll(in, more);
    pairs.insert(pairs.end(), more.begin(), more.end());
    sortByBelief(in, pairs);
    double single = -1e300;
    for (std::size_t i = 0; i < in.singles; ++i)
        single = std::max(single, in.belief.logLikelihood(static_cast<int>(i)));
    std::vector<Suspect> out;
    std::set<std::pair<int, int>> kept;
    for (const Pair& pair : pairs) {
        const bool lags = logBelief(in, pair) < logBelief(in, pairs.front()) - pairMayLag;
        const double gains = mayBeHeldBack(in, pair) ? heldBackMustGain : pairMustGain;
        if (out.size() < mostPairs && !lags && pair.logLikelihood > single + gains && isNew(kept, pair))
            out.push_back(foundPair(in, pair));
    }
    return out;
}

}  // namespace ilvek
