#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "belief/trial.h"
#include "machine/paths.h"
#include "suspects/sights.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Of the ways in which the map can be wrong at a terminal this one has half.
constexpr double shareOfMapErrors = 0.5;
constexpr double otherWire_ohm = 0.03;
// Tried at first only on the readings that a sound machine explains least.
constexpr std::size_t firstSetups = 4, keptForAll = 150;
constexpr std::size_t kept = 8;
constexpr double worthKeeping = 1e-3;  // of the likeliest suspect

Suspect endsAt(const Map& map, const Suspect& wrong, const WireEnd& wire, const Terminal& there)
{
    const Terminal& here = map.terminal(wrong.terminal);
    Suspect s;
    s.kind = SuspectKind::EndsElsewhere;
    s.node = here.a;
    s.node2 = there.a;
    s.severities = {
        {Fault{Fault::Kind::Open, wire.element}, Fault{Fault::Kind::ShortBetween, -1, here.a, there.a, otherWire_ohm}}};
    s.graded = false;
    s.id = here.id + " ends at " + there.id;
    s.place = here.id;
    s.words = inWords("other-ends.wire-ends-where-does", here.id, there.id);
    s.sights = sightsOf(map, s);
    return s;
}

// How much the set-up's readings speak against the sound machine.
double surprise(const Search& in, const Condition& setup)
{
    double sum = 0;
    for (std::size_t o = 0; o < in.belief.taken().size(); ++o) {
        const Observation& seen = in.belief.taken()[o];
        if (seen.setup == setup && seen.kind == Observation::Kind::Reading)
            sum = std::max(sum, std::abs(in.belief.against(0, o).z));
    }
    return sum;
}

// log of prior times likelihood of each, on what was seen in some set-ups.
std::vector<double> weighed(const Search& in, const std::vector<Suspect>& ends, const std::vector<Wanted>& wanted)
{
    const Trial trial(in, ends, wanted);
    std::vector<double> out;
    for (std::size_t i = 0; i < ends.size(); ++i)
        out.push_back(std::log(ends[i].prior) + trial.logLikelihood(i));
    return out;
}

// The best of them, best first.
std::vector<Suspect> best(const std::vector<Suspect>& ends, const std::vector<double>& weight, std::size_t most,
                          double atLeast)
{
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < ends.size(); ++i) {
        if (weight[i] >= atLeast) order.push_back(i);
    }
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return weight[a] > weight[b]; });
    order.resize(std::min(most, order.size()));
    std::vector<Suspect> out;
    for (const std::size_t i : order)
        out.push_back(ends[i]);
    return out;
}

}  // namespace

std::vector<Suspect> otherEndsOf(const Map& map, const std::vector<Suspect>& suspects)
{
    std::vector<const Suspect*> wrong;
    for (const Suspect& s : suspects) {
        if (s.kind == SuspectKind::MapWrong && s.terminal >= 0) wrong.push_back(&s);
    }
    std::vector<Suspect> out;
    for (const Suspect* here : wrong) {
        const WireEnd wire = onlyWireAt(map, here->node);
        if (wire.element < 0) continue;
        const int drawn = map.element(wire.element).nodes[1 - wire.end];
        for (const Suspect* there : wrong) {
            const WireEnd other = onlyWireAt(map, there->node);
            const bool same = other.element >= 0 && map.element(other.element).nodes[1 - other.end] == drawn;
            if (there == here || there->node == drawn || same) continue;
            out.push_back(endsAt(map, *here, wire, map.terminal(there->terminal)));
            out.back().prior = shareOfMapErrors * here->prior / static_cast<double>(wrong.size());
        }
    }
    return out;
}

namespace {

// A wire that ends elsewhere shows where it should have ended: where a wrong map explains no more than a sound machine
// does, none is looked for.
void keepWhereInDoubt(const Search& in, std::vector<Suspect>& ends)
{
    const double sound = in.belief.logLikelihood(0);
    std::set<int> inDoubt;
    for (std::size_t i = 0; i < in.singles; ++i) {
        const bool wrong = in.suspects[i].kind == SuspectKind::MapWrong;
        if (wrong && in.belief.logLikelihood(static_cast<int>(i)) > sound) inDoubt.insert(in.suspects[i].node);
    }
    std::erase_if(ends, [&](const Suspect& s) { return !inDoubt.contains(s.node); });
}

}  // namespace

std::vector<Suspect> explainingOtherEnds(const Search& in, bool everywhere)
{
    std::vector<Wanted> wanted = wantedBy(in.map, in.observations);
    std::stable_sort(wanted.begin(), wanted.end(),
                     [&](const Wanted& a, const Wanted& b) { return surprise(in, a.setup) > surprise(in, b.setup); });
    std::vector<Suspect> ends = otherEndsOf(in.map, in.suspects);
    if (!everywhere) keepWhereInDoubt(in, ends);
    if (ends.empty()) return {};
    const std::vector<Wanted> few(wanted.begin(),
                                  wanted.begin() + static_cast<std::ptrdiff_t>(std::min(firstSetups, wanted.size())));
    ends = best(ends, weighed(in, ends, few), keptForAll, -1e300);
    double most = -1e300;
    for (std::size_t i = 0; i < in.singles; ++i)
        most = std::max(most, std::log(in.suspects[i].prior) + in.belief.logLikelihood(static_cast<int>(i)));
    return best(ends, weighed(in, ends, wanted), kept, most + std::log(worthKeeping));
}

}  // namespace ilvek
