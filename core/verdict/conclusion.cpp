#include "verdict/conclusion.h"

#include <algorithm>
#include <cmath>

#include "belief/doubt.h"
#include "belief/likelihood.h"
#include "suspects/severity.h"

namespace ilvek {

namespace {

using Kind = Conclusion::Kind;

// A reading that is no further than this from what the suspect gives is explained.
constexpr double explainedZ = 2.5;
// A suspect outside the module of at least this likelihood stands in the way of a verdict against it.
constexpr double stillLikely = 1e-6;
// What a verdict names must be this likely without any single reading.
constexpr double confirmedAt = 0.05;
// Of the belief on shorts; and of a wire that ends elsewhere and keeps a short from being concluded.
constexpr double shortsLead = 0.9, otherEndLeft = 1e-3;

// A verdict on a part explains what was seen and told so many times better than a sound machine, and what was seen by
// itself.
constexpr double leastAgainstSound = 20, leastSeen = 5;

bool isReading(const Observation& o)
{
    return o.kind == Observation::Kind::Reading;
}

double sumOver(const std::vector<int>& members, const std::vector<double>& p)
{
    double sum = 0;
    for (const int m : members)
        sum += p[static_cast<std::size_t>(m)];
    return sum;
}

// What of a group's likelihood lies outside the module: a terminal that was seen to be bad speaks against what it is
// plugged into.
double outsideOf(const std::vector<Suspect>& suspects, const SuspectGroup& group, const std::vector<double>& p)
{
    double sum = 0;
    for (const int m : group.members)
        sum += suspects[static_cast<std::size_t>(m)].insideModule ? 0 : p[static_cast<std::size_t>(m)];
    return sum;
}

// All that is inside the module is mended alike: by another module.
double insideOf(const std::vector<SuspectGroup>& groups)
{
    double inside = 0;
    for (const SuspectGroup& g : groups)
        inside += g.insideModule ? g.probability : 0;
    return inside;
}

bool isAgainstModule(const std::vector<SuspectGroup>& groups)
{
    return !groups.empty() && groups.front().insideModule && insideOf(groups) >= condemnAt;
}

// What the belief alone gives.
Conclusion believed(const std::vector<Suspect>& suspects, const std::vector<SuspectGroup>& groups,
                    const std::vector<double>& p)
{
    Conclusion c;
    if (groups.empty() || groups.front().members.empty()) return c;
    const SuspectGroup& top = groups.front();
    c.probability = top.probability;
    c.words = everyPlaceOf(suspects, top);
    if (top.insideModule) {
        if (isAgainstModule(groups)) c.kind = Kind::Inside;
        c.probability = insideOf(groups);
        return c;
    }
    if (top.probability < verdictAt) return c;
    const Suspect& first = suspects[static_cast<std::size_t>(top.members.front())];
    if (std::find(top.members.begin(), top.members.end(), 0) != top.members.end())
        c.kind = Kind::Nothing;
    else if (first.kind == SuspectKind::NotOnMap)
        c.kind = Kind::NotOnMap;
    else if (isOfTheMap(first))
        c.kind = Kind::MapWrong;
    else if (top.partlyInside)
        c.kind = outsideOf(suspects, top, p) >= verdictAt ? Kind::Outside : Kind::Either;
    else
        c.kind = Kind::Outside;
    return c;
}

// No reading is out of reach for the suspect at its likeliest severity.
bool explainsAll(const Belief& belief, std::size_t suspect)
{
    const Belief::AsLikeliest is = belief.asLikeliest(static_cast<int>(suspect));
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        if (isReading(belief.taken()[o]) && std::abs(belief.against(is, o).z) > explainedZ) return false;
    }
    return true;
}

// Nothing is found on reports and dirt alone; but an empty cavity was seen.
bool hasReading(const Belief& belief)
{
    return std::any_of(belief.taken().begin(), belief.taken().end(), isReading);
}

// Whether the group would still be worth naming without any single one of the readings: nothing is concluded from one
// odd contact alone (T8).
bool isConfirmed(const Belief& belief, const SuspectGroup& group)
{
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        // An empty cavity and another wire are no odd contact: they were seen.
        const Observation& seen = belief.taken()[o];
        const bool dirt = seen.kind == Observation::Kind::Look && seen.found == Found::Damaged;
        if (!isReading(seen) && !dirt) continue;
        if (sumOver(group.members, belief.probabilities(o)) < confirmedAt) return false;
    }
    return true;
}

// By how much the group explains what was seen better than a sound machine does. What is left only because all else was
// proven, and reads as a sound machine too, is not found: it is what nobody has read yet. Nor is what a complaint alone
// names, as long as every reading is as a sound machine would give it: the readings by themselves must show it.
bool isShown(const std::vector<Suspect>& suspects, const Belief& belief, const SuspectGroup& group)
{
    const std::vector<double> p = belief.probabilities();
    double prior = 0, seen = -INFINITY;
    const int alone = suspects[static_cast<std::size_t>(group.members.front())].besides;
    const auto without = static_cast<std::size_t>(alone);
    for (const int m : group.members) {
        prior += suspects[static_cast<std::size_t>(m)].prior;
        seen = std::max(seen, belief.logSeen(m));
    }
    const double sound = p[without] / suspects[without].prior;
    return sumOver(group.members, p) >= leastAgainstSound * sound * prior &&
           seen >= belief.logSeen(alone) + std::log(leastSeen);
}

bool isOfAPart(Kind kind)
{
    return kind == Kind::Outside || kind == Kind::Inside || kind == Kind::Either;
}

// Whether a wire that ends at another conductor explains every reading as well as the short does.
bool mayBeAnotherEnd(const std::vector<Suspect>& suspects, const Belief& belief, const std::vector<double>& p,
                     std::size_t singles)
{
    if (!restsOnShorts(suspects, belief)) return false;
    for (std::size_t i = singles; i < p.size(); ++i) {
        if (p[i] > otherEndLeft && isOfTheMap(suspects[i]) && explainsAll(belief, i)) return true;
    }
    return false;
}

// Wholly open, or so nearly that no voltmeter tells.
bool isOpen(const Suspect& suspect, double severity)
{
    constexpr double asOpen_ohm = 1e8;
    const std::vector<Fault> faults = faultsAt(suspect, severity);
    if (faults.empty()) return false;
    const bool adds = faults.front().kind == Fault::Kind::AddedResistance;
    return faults.front().kind == Fault::Kind::Open || (adds && faults.front().resistance_ohm >= asOpen_ohm);
}

// An open part reads as an open wire to it: its feed is read before the part is blamed. Of all severities of a wire
// only the last is open, so its belief is small.
void addOpenBeside(const std::vector<Suspect>& suspects, const Belief& belief, const std::vector<double>& p,
                   const SuspectGroup& top, std::vector<int>& out)
{
    constexpr double left = 0.005;
    const Suspect& first = suspects[static_cast<std::size_t>(top.members.front())];
    if (!isOpen(first, belief.severity(top.members.front()))) return;
    for (std::size_t i = 1; i < p.size(); ++i) {
        const int suspect = static_cast<int>(i);
        if (p[i] > left && suspects[i].graded && suspects[i].besides == first.besides &&
            std::ranges::count(top.members, suspect) == 0 && isOpen(suspects[i], belief.severity(suspect)) &&
            explainsAll(belief, i))
            out.push_back(suspect);
    }
}

// A short in what hangs on a wire reads as one of the wire: it is unplugged before the wire is blamed.
void addShortedPartBeside(const std::vector<Suspect>& suspects, const Belief& belief, const std::vector<double>& p,
                          const SuspectGroup& top, std::vector<int>& out)
{
    constexpr double left = 0.002;
    const Suspect& first = suspects[static_cast<std::size_t>(top.members.front())];
    if (first.kind != SuspectKind::ShortToGround) return;
    for (std::size_t i = 1; i < p.size(); ++i) {
        const bool isOfPart = suspects[i].kind == SuspectKind::Low && !suspects[i].insideModule;
        if (p[i] > left && isOfPart && suspects[i].besides == first.besides &&
            std::ranges::count(top.members, static_cast<int>(i)) == 0 && explainsAll(belief, i))
            out.push_back(static_cast<int>(i));
    }
}

}  // namespace

bool restsOnShorts(const std::vector<Suspect>& suspects, const Belief& belief)
{
    const std::vector<double> p = belief.probabilities();
    double sum = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const SuspectKind kind = suspects[i].kind;
        const bool isShort = kind == SuspectKind::ShortToNeighbour || kind == SuspectKind::ShortToSupply ||
                             kind == SuspectKind::ShortToGround || kind == SuspectKind::BackFeed;
        sum += isShort ? p[i] : 0.0;
    }
    return sum > shortsLead;
}

std::vector<int> inTheWay(const std::vector<Suspect>& suspects, const Belief& belief,
                          const std::vector<SuspectGroup>& groups)
{
    std::vector<int> out;
    const std::vector<double> p = belief.probabilities();
    if (isOfAPart(believed(suspects, groups, p).kind) && !isShown(suspects, belief, groups.front()))
        out.push_back(suspects[static_cast<std::size_t>(groups.front().members.front())].besides);
    if (isOfAPart(believed(suspects, groups, p).kind)) {
        addOpenBeside(suspects, belief, p, groups.front(), out);
        addShortedPartBeside(suspects, belief, p, groups.front(), out);
    }
    if (!isAgainstModule(groups)) return out;
    for (std::size_t i = 1; i < p.size(); ++i) {
        if (p[i] > stillLikely && !suspects[i].insideModule && suspects[i].kind != SuspectKind::MapWrong &&
            suspects[i].kind != SuspectKind::NotOnMap && explainsAll(belief, i))
            out.push_back(static_cast<int>(i));
    }
    return out;
}

Conclusion conclusionOf(const std::vector<Suspect>& suspects, const Belief& belief,
                        const std::vector<SuspectGroup>& groups, std::size_t singles)
{
    const std::vector<double> p = belief.probabilities();
    Conclusion c = believed(suspects, groups, p);
    if (c.kind == Kind::Open) return c;
    const SuspectGroup& top = groups.front();
    const bool open = !inTheWay(suspects, belief, groups).empty() ||
                      (c.kind != Kind::MapWrong && !hasReading(belief)) ||
                      !doubtfulUnder(belief, top.members.front()).empty() ||  // a verdict against a reading is none
                      (c.kind != Kind::Nothing && !isConfirmed(belief, top)) ||
                      (c.kind == Kind::Outside && mayBeAnotherEnd(suspects, belief, p, singles));
    if (open) c.kind = Kind::Open;
    return c;
}

}  // namespace ilvek
