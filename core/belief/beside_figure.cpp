// A fault on a machine of which the sheet tells one figure wrongly: neither alone explains both what the figure moves
// and what fails.
#include <algorithm>
#include <cmath>
#include <numeric>

#include "belief/further.h"
#include "belief/likelihood.h"
#include "circuit/blown_fuses.h"
#include "suspects/severity.h"

namespace ilvek {

namespace {

// Of the single suspects' belief on a wrong figure; how much better than a sound machine it explains what was seen.
constexpr double figureLeads = 0.5, figureShows = 20;
// Faults beside it that are weighed: those that its own readings leave likeliest.
constexpr std::size_t mostBeside = 80;
// In sigma: a reading that is out of reach, and one that is explained.
constexpr double outOfReachZ = 4, explainedZ = 2.5;
// A figure that moves a prediction by more than this many sigma is what its observation tells of.
constexpr double movesZ = 1;

// The likeliest of some kind among the single suspects; 0: there is none.
template <class Is>
int likeliestOf(const Search& in, const std::vector<double>& p, const Is& is)
{
    int out = 0;
    for (std::size_t i = 1; i < in.singles; ++i) {
        if (is(in.suspects[i]) && (out == 0 || p[i] > p[static_cast<std::size_t>(out)])) out = static_cast<int>(i);
    }
    return out;
}

// A reading that is out of reach for the one and not for the other.
bool explainsMore(const Belief& belief, int one, int other)
{
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        if (belief.taken()[o].kind != Observation::Kind::Reading) continue;
        if (std::abs(belief.against(other, o).z) > outOfReachZ && std::abs(belief.against(one, o).z) < explainedZ)
            return true;
    }
    return false;
}

// The wrong figure that leads, or that alone explains what the likeliest fault cannot; 0: there is none.
int figureToReckonWith(const Search& in)
{
    const std::vector<double> p = in.belief.probabilities();
    const int figure = likeliestOf(in, p, [](const Suspect& s) { return s.kind == SuspectKind::FigureWrong; });
    if (figure == 0 || in.belief.logSeen(figure) < in.belief.logSeen(0) + std::log(figureShows)) return 0;
    const double whole = std::accumulate(p.begin(), p.begin() + static_cast<std::ptrdiff_t>(in.singles), 0.0);
    if (p[static_cast<std::size_t>(figure)] > figureLeads * whole) return figure;
    const int fault = likeliestOf(in, p, isFault);
    return fault > 0 && explainsMore(in.belief, figure, fault) ? figure : 0;
}

// A function that fails though it should work then, a code that nothing sets, a reading out of reach.
bool isUnexplained(const Observation& seen, const Belief::Against& under)
{
    const bool holds = under.predicted > evenOdds;
    if (seen.kind == Observation::Kind::Reading) return std::abs(under.z) > outOfReachZ;
    if (seen.kind == Observation::Kind::Code) return !holds;
    return seen.kind == Observation::Kind::FunctionDead && holds;
}

bool leavesSomething(const Search& in, int figure)
{
    for (std::size_t o = 0; o < in.belief.taken().size(); ++o) {
        if (isUnexplained(in.belief.taken()[o], in.belief.against(figure, o))) return true;
    }
    return false;
}

// Of the figure's possible values the share that the readings leave: held at the likeliest one it is worth no more.
double narrowed(const Search& in, int figure)
{
    double most = 0, sum = 0, count = 0;
    for (const Belief::Hypothesis& h : in.belief.hypotheses()) {
        if (h.suspect != figure) continue;
        most = std::max(most, h.weight), sum += h.weight, ++count;
    }
    return count > 0 && most > 0 ? sum / (count * most) : 1;
}

// What the observations say that the figure leaves as they are.
Belief withoutFigure(const Search& in, int figure)
{
    Belief rest(in.suspects);
    for (std::size_t o = 0; o < in.belief.taken().size(); ++o) {
        const auto with = in.belief.against(figure, o), without = in.belief.against(0, o);
        if (std::abs(with.predicted - without.predicted) < movesZ * std::max(with.sigma, without.sigma))
            rest.take(in.table, in.belief.taken()[o]);
    }
    return rest;
}

}  // namespace

bool doesWrongFigureHide(const Search& in)
{
    const int figure = figureToReckonWith(in);
    return figure > 0 && leavesSomething(in, figure);
}

std::vector<Suspect> faultsBesideWrongFigure(const Search& in)
{
    std::vector<Suspect> out;
    const int figure = figureToReckonWith(in);
    if (figure == 0 || !leavesSomething(in, figure)) return out;
    const Suspect& wrong = in.suspects[static_cast<std::size_t>(figure)];
    const std::vector<Fault> moved = faultsAt(wrong, in.belief.severity(figure));
    const double prior = wrong.prior * narrowed(in, figure);
    for (const int other : withoutFigure(in, figure).ranked(mostBeside, in.singles)) {
        Suspect s = in.suspects[static_cast<std::size_t>(other)];
        if (!isFault(s) || (s.element >= 0 && s.element == wrong.element)) continue;
        s.besides = figure;
        s.prior *= prior;  // neither makes the other likelier
        s.id += " + " + wrong.id;
        s.sentences = {s.words, wrong.words};
        s.secondAt = ownFaults(s.severities.front());
        for (std::vector<Fault>& faults : s.severities)
            faults = bothFaults(faults, moved);
        out.push_back(std::move(s));
    }
    return out;
}

}  // namespace ilvek
