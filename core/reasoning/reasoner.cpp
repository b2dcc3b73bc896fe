#include "reasoning/reasoner.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "reasoning/further.h"
#include "reasoning/hunt.h"
#include "reasoning/severity.h"

namespace ilvek {

namespace {

// Beyond this many sigma under every likely suspect, no single fault explains the readings.
constexpr double misfit = 5.0;
constexpr std::size_t furtherEvery = 3;  // observations between two searches for further suspects
// From this share of the belief on it is asked in which way the map is wrong.
constexpr double mapInDoubt = 0.05;
// A wire that ends at another conductor reads like a short: where shorts have this share of the belief it is asked
// which it is, and none is concluded while such a wire that explains every reading is left with so much of it.
constexpr double shortsLead = 0.9, otherEndLeft = 1e-3;
constexpr std::size_t mostShown = 12, mostExcluded = 9;
constexpr double doubtfulZ = 4.0;
// A suspect outside the module of at least this likelihood stands in the way of a verdict against it.
constexpr double stillLikely = 1e-6;
constexpr double explainedZ = 2.5;
// Suspects as likely as this call for tests of their own.
constexpr double worthHunting = 0.15;
constexpr std::size_t mostHunted = 3;
// What a verdict names must be this likely without any single reading.
constexpr double confirmedAt = 0.05;

// What of a group's likelihood lies outside the module: a terminal that was seen to be bad speaks against what it is
// plugged into.
double outsideOf(const std::vector<Suspect>& suspects, const SuspectGroup& group, const std::vector<double>& p)
{
    double sum = 0;
    for (const int m : group.members)
        sum += suspects[static_cast<std::size_t>(m)].insideModule ? 0 : p[static_cast<std::size_t>(m)];
    return sum;
}

Conclusion concluded(const std::vector<Suspect>& suspects, const std::vector<SuspectGroup>& groups,
                     const std::vector<double>& p)
{
    Conclusion c;
    if (groups.empty() || groups.front().members.empty()) return c;
    const SuspectGroup& top = groups.front();
    c.probability = top.probability;
    c.words = top.words;
    double inside = 0;
    for (const SuspectGroup& g : groups)
        inside += g.insideModule ? g.probability : 0;
    // All that is inside the module is mended alike: by another module.
    if (top.insideModule) {
        if (inside >= condemnAt) c.kind = Conclusion::Kind::Inside;
        c.probability = inside;
        return c;
    }
    if (top.probability < verdictAt) return c;
    const Suspect& first = suspects[static_cast<std::size_t>(top.members.front())];
    if (std::find(top.members.begin(), top.members.end(), 0) != top.members.end())
        c.kind = Conclusion::Kind::Nothing;
    else if (isOfTheMap(first))
        c.kind = Conclusion::Kind::MapWrong;
    else if (top.partlyInside)
        c.kind = outsideOf(suspects, top, p) >= verdictAt ? Conclusion::Kind::Outside : Conclusion::Kind::Either;
    else
        c.kind = Conclusion::Kind::Outside;
    return c;
}

// No reading is out of reach for the suspect at its likeliest severity.
bool explainsAll(const Belief& belief, int suspect)
{
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        if (belief.taken()[o].kind == Observation::Kind::Reading && std::abs(belief.against(suspect, o).z) > explainedZ)
            return false;
    }
    return true;
}

// Whether the group would still be worth naming without any single one of the readings: nothing is concluded from one
// odd contact alone (T8).
bool isConfirmed(const Belief& belief, const SuspectGroup& group)
{
    for (std::size_t o = 0; o < belief.taken().size(); ++o) {
        // An empty cavity and another wire are no odd contact: they were seen.
        const Observation& seen = belief.taken()[o];
        const bool dirt = seen.kind == Observation::Kind::Look && seen.found == Found::Damaged;
        if (seen.kind != Observation::Kind::Reading && !dirt) continue;
        const std::vector<double> p = belief.probabilities(o);
        double sum = 0;
        for (const int m : group.members)
            sum += p[static_cast<std::size_t>(m)];
        if (sum < confirmedAt) return false;
    }
    return true;
}

}  // namespace

Reasoner::Reasoner(const Map& map, const School& school, bool complaint)
    : map_(map),
      school_(school),
      suspects_(suspectsOf(map_, complaint)),
      candidates_(candidatesOf(map_, school_)),
      setups_(setupsOf(candidates_))
{
    singles_ = suspects_.size();
    // The quietest set-ups first: they are the cheapest to try and the first to be suggested.
    const auto trouble = [&](const SetupProbes& s) {
        return map_.state(s.setup.state).effort_s + 100.0 * static_cast<double>(s.setup.unplugged.size()) +
               (s.setup.load ? 200.0 : 0.0);
    };
    std::stable_sort(setups_.begin(), setups_.end(),
                     [&](const SetupProbes& a, const SetupProbes& b) { return trouble(a) < trouble(b); });
    // What functions and codes are judged by comes with the set-ups that are built anyway.
    Paper all;
    for (const Function& f : map_.functions)
        all.dead.push_back(f.id);
    for (const CodeCondition& c : map_.codes)
        all.codes.push_back(c.code);
    for (const Wanted& wanted : wantedBy(map_, observationsOf(map_, {}, all))) {
        const auto at =
            std::find_if(setups_.begin(), setups_.end(), [&](const SetupProbes& s) { return s.setup == wanted.setup; });
        if (at != setups_.end()) at->probes.insert(at->probes.end(), wanted.probes.begin(), wanted.probes.end());
    }
    belief_ = std::make_unique<Belief>(suspects_);
}

bool Reasoner::provide(const std::vector<Observation>& observations, std::size_t mostSetups)
{
    std::size_t computed = 0;
    for (const Wanted& wanted : wantedBy(map_, observations)) {
        std::vector<Probe> missing;
        for (const Probe& probe : wanted.probes) {
            if (!table_.find(wanted.setup, probe)) missing.push_back(probe);
        }
        if (missing.empty()) continue;
        if (computed++ >= mostSetups) return false;
        if (auto prediction = predict(map_, suspects_, wanted.setup, missing, stop_))
            table_.add(std::move(*prediction));
    }
    return true;
}

void Reasoner::restart()
{
    belief_ = std::make_unique<Belief>(suspects_);
    refinement_.forget();
    for (const Observation& o : observations_)
        belief_->take(table_, o);
}

void Reasoner::dropFurther()
{
    furtherAt_ = 0;
    if (suspects_.size() == singles_) return;
    suspects_.resize(singles_);
    table_ = singlesOnly_;
    built_ = 0;  // what was built since is looked for again
}

void Reasoner::forget(bool complaint)
{
    dropFurther();
    const auto priors = suspectsOf(map_, complaint);
    for (std::size_t i = 0; i < suspects_.size(); ++i)
        suspects_[i].prior = priors[i].prior;
    observations_.clear();
    waiting_ = false;
    refined_ = true;
    hunted_.clear();
    restart();
}

bool Reasoner::observe(const Assessment& assessment, const Paper& paper, std::size_t mostSetups)
{
    const auto now = observationsOf(map_, assessment, paper);
    const bool continues = !waiting_ && now.size() >= observations_.size() &&
                           std::equal(observations_.begin(), observations_.end(), now.begin());
    // Something was withdrawn or mended: pairs found with it are forgotten too.
    if (!continues) dropFurther();
    const std::size_t known = continues ? observations_.size() : 0;
    waiting_ = !provide(now, mostSetups);
    if (!continues) {
        observations_.clear();
        restart();
    }
    for (std::size_t i = known; i < now.size(); ++i)
        belief_->take(table_, now[i]);
    refined_ = refined_ && continues && known == now.size();
    observations_ = now;
    return !waiting_;
}

bool Reasoner::refine()
{
    if (refined_) return true;
    if (waiting_) return false;
    refined_ = refinement_.refine(map_, *belief_, stop_);
    if (refined_ && observations_.size() >= furtherAt_ + furtherEvery && addFurther())
        refined_ = refinement_.refine(map_, *belief_, stop_);
    if (refined_) addHunts();
    return refined_;
}

// Tests that only the likeliest faults call for join the others.
void Reasoner::addHunts()
{
    const std::vector<double> p = belief_->probabilities();
    for (const int s : belief_->ranked(mostHunted, singles_)) {
        if (p[static_cast<std::size_t>(s)] < worthHunting || !hunted_.insert(s).second) continue;
        for (Candidate& c : huntFor(map_, faultsAt(suspects_[static_cast<std::size_t>(s)], belief_->severity(s)))) {
            const Probe probe = probeOf(c);
            const bool there = std::any_of(candidates_.begin(), candidates_.end(), [&](const Candidate& other) {
                return other.kind != Candidate::Kind::Look && other.setup == c.setup && probeOf(other) == probe;
            });
            if (there) continue;
            if (!table_.find(c.setup, probe)) {
                auto prediction = predict(map_, suspects_, c.setup, {probe}, stop_);
                if (!prediction) continue;
                table_.add(std::move(*prediction));
            }
            candidates_.push_back(std::move(c));
        }
    }
}

double Reasoner::mapDoubt() const
{
    const std::vector<double> p = belief_->probabilities();
    double sum = 0;
    for (std::size_t i = 0; i < p.size(); ++i)
        sum += isOfTheMap(suspects_[i]) ? p[i] : 0.0;
    return sum;
}

// Whether the belief rests on shorts.
bool Reasoner::likeAShort() const
{
    const std::vector<double> p = belief_->probabilities();
    double sum = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const SuspectKind kind = suspects_[i].kind;
        const bool isShort = kind == SuspectKind::ShortToNeighbour || kind == SuspectKind::ShortToSupply ||
                             kind == SuspectKind::ShortToGround || kind == SuspectKind::BackFeed;
        sum += isShort ? p[i] : 0.0;
    }
    return sum > shortsLead;
}

// True when there are other ones than before.
bool Reasoner::addFurther()
{
    const bool unexplained = belief_->worstMisfit() > misfit;
    if (!unexplained && mapDoubt() < mapInDoubt && !likeAShort()) return false;
    furtherAt_ = observations_.size();
    const Search search{map_, suspects_, singles_, *belief_, table_, observations_, stop_};
    std::vector<Suspect> more = explainingOtherEnds(search);
    if (unexplained) {
        for (Suspect& pair : explainingPairs(search))
            more.push_back(std::move(pair));
    }
    if (more.empty()) return false;
    if (suspects_.size() == singles_) singlesOnly_ = table_;
    suspects_.resize(singles_);
    table_.extend(map_, firstCases(suspects_).back(), more);
    suspects_.insert(suspects_.end(), more.begin(), more.end());
    restart();
    return true;
}

bool Reasoner::buildNext()
{
    while (built_ < setups_.size()) {
        const SetupProbes& next = setups_[built_++];
        std::vector<Probe> missing;
        for (const Probe& probe : next.probes) {
            if (!table_.find(next.setup, probe)) missing.push_back(probe);
        }
        if (missing.empty()) continue;
        if (auto prediction = predict(map_, suspects_, next.setup, missing, stop_)) table_.add(std::move(*prediction));
        return true;
    }
    return false;
}

Reasoning Reasoner::reason(const Standing& standing) const
{
    Reasoning r;
    r.built = built_;
    r.toBuild = setups_.size();
    r.groups = groupsOf(suspects_, *belief_, table_, candidates_);
    r.conclusion = concluded(suspects_, r.groups, belief_->probabilities());
    // Nothing is held against the module while something outside it still explains every reading (W30).
    if (r.conclusion.kind == Conclusion::Kind::Inside) {
        const std::vector<double> likely = belief_->probabilities();
        for (std::size_t i = 1; i < likely.size(); ++i) {
            if (likely[i] > stillLikely && !suspects_[i].insideModule && suspects_[i].kind != SuspectKind::MapWrong &&
                explainsAll(*belief_, static_cast<int>(i)))
                r.conclusion.kind = Conclusion::Kind::Open;
        }
    }
    // Nor before what was read last is weighed in full, nor on paper and dirt alone.
    const bool hasReading = std::any_of(belief_->taken().begin(), belief_->taken().end(),
                                        [](const Observation& o) { return o.kind == Observation::Kind::Reading; });
    if (!refined_ || (!hasReading && r.conclusion.kind != Conclusion::Kind::MapWrong))
        r.conclusion.kind = Conclusion::Kind::Open;
    // A verdict against a reading is none: that reading is taken again first (T8).
    if (r.conclusion.kind != Conclusion::Kind::Open) {
        const int top = r.groups.front().members.front();
        for (std::size_t o = 0; o < belief_->taken().size(); ++o) {
            if (belief_->taken()[o].kind == Observation::Kind::Reading &&
                std::abs(belief_->against(top, o).z) > doubtfulZ)
                r.conclusion.kind = Conclusion::Kind::Open;
        }
    }
    if (r.conclusion.kind != Conclusion::Kind::Open && r.conclusion.kind != Conclusion::Kind::Nothing &&
        !isConfirmed(*belief_, r.groups.front()))
        r.conclusion.kind = Conclusion::Kind::Open;
    if (r.conclusion.kind == Conclusion::Kind::Outside && likeAShort()) {
        const std::vector<double> likely = belief_->probabilities();
        for (std::size_t i = singles_; i < likely.size(); ++i) {
            if (likely[i] > otherEndLeft && isOfTheMap(suspects_[i]) && explainsAll(*belief_, static_cast<int>(i)))
                r.conclusion.kind = Conclusion::Kind::Open;
        }
    }
    r.worstMisfit = belief_->worstMisfit();
    r.tests = rankTests(map_, suspects_, *belief_, r.groups, table_, candidates_, school_, standing, 3);
    for (const RankedTest& test : r.tests) {
        Step step = stepFor(map_, school_, candidates_[static_cast<std::size_t>(test.candidate)]);
        if (test.look) step.state = map_.state(standing.state).id;  // any will do
        step.why = test.reason + " " + step.why;
        r.steps.push_back(std::move(step));
    }
    r.exclusions =
        exclusionsOf(map_, suspects_, *belief_, r.groups, table_, candidates_, school_, standing, mostExcluded);
    const std::vector<double> p = belief_->probabilities();
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (!suspects_[i].insideModule) r.outsideProbability += p[i];
    }
    for (const int s : belief_->ranked(mostShown, suspects_.size())) {
        const auto i = static_cast<std::size_t>(s);
        if (p[i] < 5e-4) break;
        RankedSuspect shown{s,
                            p[i],
                            belief_->severity(s),
                            belief_->intermittent(s),
                            suspects_[i].words,
                            {},
                            faultsAt(suspects_[i], belief_->severity(s))};
        const std::string severity = severityWords(suspects_[i], shown.severity);
        if (!severity.empty() && suspects_[i].words.find(severity) == std::string::npos) shown.words += ", " + severity;
        for (std::size_t o = 0; o < belief_->taken().size(); ++o) {
            const Observation& seen = belief_->taken()[o];
            const auto against = belief_->against(s, o);
            const bool reading = seen.kind == Observation::Kind::Reading;
            const double measured = reading ? seen.value : seen.kind == Observation::Kind::FunctionDead ? 0.0 : 1.0;
            shown.readings.push_back({seen.id, seen.words, measured, against.predicted, against.sigma, against.z,
                                      reading, seen.probe.ohms, seen.probe.element >= 0});
        }
        r.suspects.push_back(std::move(shown));
    }
    if (!r.suspects.empty() && r.suspects.front().probability > 0) {
        for (const SuspectReading& reading : r.suspects.front().readings) {
            if (reading.isReading && std::abs(reading.z) > doubtfulZ) r.doubtful.push_back(reading.id);
        }
    }
    return r;
}

}  // namespace ilvek
