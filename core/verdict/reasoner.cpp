#include "verdict/reasoner.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <numeric>
#include <set>
#include <thread>

#include "base/parallel.h"
#include "base/stop.h"
#include "belief/condense.h"
#include "belief/doubt.h"
#include "belief/further.h"
#include "belief/in_doubt.h"
#include "choice/case.h"
#include "choice/hunt.h"
#include "choice/stretch.h"
#include "choice/test_cost.h"
#include "circuit/blown_fuses.h"
#include "machine/connector_face.h"
#include "proving/unstated.h"
#include "suspects/blown_by.h"
#include "suspects/severity.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Beyond this many sigma under every likely suspect, no single fault explains the readings.
constexpr double misfit = 5.0;
// Observations between two searches for further suspects: of a small machine at once.
constexpr std::size_t furtherEvery = 3, furtherEveryOfSheet = 1;
// From this share of the belief on it is asked in which way the map is wrong.
constexpr double mapInDoubt = 0.05;
constexpr std::size_t mostShown = 12, mostExcluded = 9;
constexpr double worthShowing = 5e-4;
// Suspects as likely as this call for tests of their own.
constexpr double worthHunting = 0.15;
constexpr std::size_t mostHunted = 3;
// Suspects that are fitted whatever the table makes of them, and from which share of the belief on others are.
constexpr std::size_t fittedAtOnce = 14, fittedBeside = 10, mostFitted = 36;
constexpr std::size_t mostCores = 4;
// A machine several times a large one: fewer severities, the table in smaller parts, and no more of it than this.
constexpr std::size_t mostCases = 25'000, mostAtOnce = 4'000'000, mostTable_bytes = 600'000'000;
constexpr double worthRefitting = 5e-3;
constexpr std::size_t mostRefitted = 8;
constexpr double leastFitted = 1e-7, worthFitting = 2e-3;

}  // namespace

Reasoner::Reasoner(const Map& map, const WayOfWorking& working, bool complaint)
    : map_(map),
      working_(working),
      suspects_(suspectsOf(map_, complaint)),
      candidates_(candidatesOf(map_, working_)),
      setups_(setupsOf(candidates_))
{
    thinOut(suspects_, mostCases);
    blowFuses(map_, suspects_);
    singles_ = suspects_.size();
    // The quietest set-ups first: they are the cheapest to try and the first to be suggested.
    const auto trouble = [&](const SetupProbes& s) {
        return map_.state(s.setup.state).effort_s + 100.0 * static_cast<double>(s.setup.unplugged.size()) +
               (s.setup.load ? 200.0 : 0.0);
    };
    std::stable_sort(setups_.begin(), setups_.end(),
                     [&](const SetupProbes& a, const SetupProbes& b) { return trouble(a) < trouble(b); });
    // What functions and codes are judged by comes with the set-ups that are built anyway.
    Reports all;
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
    // Another battery of which only that it is charged is known the table follows well enough.
    const std::vector<Unknown> unknowns = unknownsOf(map_);
    isVague_ = std::any_of(unknowns.begin(), unknowns.end(),
                           [&](const Unknown& u) { return map_.element(u.element).assumed; });
    const std::size_t cores = std::clamp<std::size_t>(std::thread::hardware_concurrency(), 1, mostCores);
    for (std::size_t core = 0; isVague_ && core < cores; ++core)
        fitters_.push_back(std::make_unique<Fitter>(map_, table_));
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
        if (auto prediction = predict(map_, suspects_, wanted.setup, missing)) table_.add(std::move(*prediction));
    }
    return true;
}

void Reasoner::restart()
{
    belief_ = std::make_unique<Belief>(suspects_);
    refinement_.forget();
    unfit_.clear();
    for (const Observation& o : observations_)
        belief_->take(table_, o);
}

void Reasoner::dropFurther()
{
    furtherAt_ = 0;
    if (suspects_.size() == singles_) return;
    suspects_.resize(singles_);
    table_ = singlesOnly_;
    built_ = builtSinglesOnly_;
}

void Reasoner::forget(bool complaint)
{
    dropFurther();
    const auto priors = suspectsOf(map_, complaint);
    for (std::size_t i = 0; i < suspects_.size(); ++i)
        suspects_[i].prior = priors[i].prior;
    observations_.clear();
    counted_ = 0;
    weighed_ = -1;
    waiting_ = false;
    refined_ = true;
    hunted_.clear();
    restart();
}

bool Reasoner::observe(const Assessment& assessment, const Reports& reports, std::int64_t revision,
                       std::size_t mostSetups)
{
    revision_ = revision;
    std::set<std::int64_t> failures;
    for (std::size_t i = 0; i < assessment.judgements.size(); ++i) {
        if (isFailure(assessment.judgements[i].verdict)) failures.insert(assessment.evidence.readings[i].id);
    }
    read_.clear();
    held_.clear();
    mute_.clear();
    auto all = observationsOf(map_, assessment, reports);
    const auto isFigure = [&](std::int64_t id) {
        return std::any_of(all.begin(), all.end(),
                           [&](const Observation& o) { return o.id == id && o.kind == Observation::Kind::Reading; });
    };
    for (std::size_t i = 0; i < assessment.evidence.readings.size(); ++i) {
        const Reading& r = assessment.evidence.readings[i];
        const auto setup = assessment.stale[i] ? std::nullopt : conditionOf(map_, r);
        const bool ohms = unitAsked(r.test) == Unit::Ohm;
        if (setup) read_.emplace_back(*setup, Probe{map_.nodeIndex(r.red), map_.nodeIndex(r.black), 10e6, -1, ohms});
        if (setup && mayBeHeldWire(map_, r)) held_.push_back(*setup);
        if (setup && map_.isOfSheet() && isVoltageTest(r.test) && !isFigure(r.id))
            mute_.emplace_back(read_.back().second, *setup);
    }
    const std::size_t seen = all.size();
    const auto now = condensed(std::move(all), failures);
    leftOut_ = seen - now.size();
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
    if (!waiting_) counted_ = assessment.evidence.readings.size();
    if (!waiting_ && refined_) weighed_ = revision_;
    return !waiting_;
}

bool Reasoner::refine()
{
    if (waiting_) return false;
    if (refined_) return true;
    bool whole = refinement_.refine(map_, *belief_);
    const std::size_t every = map_.isOfSheet() ? furtherEveryOfSheet : furtherEvery;
    if (whole && observations_.size() >= furtherAt_ + every && addFurther()) whole = refinement_.refine(map_, *belief_);
    if (!whole) return false;
    fitLikeliest();
    // What a wrong figure explains shows only when it is fitted, and then what it hides is looked for at once.
    if (!hasBesideFigure() && doesWrongFigureHide(search()) && addFurther()) {
        if (!refinement_.refine(map_, *belief_)) return false;
        fitLikeliest();
    }
    addHunts();
    // Not before: what was stopped on the way begins anew.
    refined_ = true;
    weighed_ = revision_;
    return true;
}

// The few that matter, with what nobody stated; more of them where those fall.
void Reasoner::fitLikeliest()
{
    const bool read = std::any_of(observations_.begin(), observations_.end(),
                                  [](const Observation& o) { return o.kind == Observation::Kind::Reading; });
    if (!isVague_ || !read) return;
    for (const auto& fitter : fitters_)
        fitter->observe(belief_->taken());
    std::size_t fitted = 0;
    for (bool first = true; fitted < mostFitted; first = false) {
        const std::vector<double> p = belief_->probabilities();
        std::vector<int> next;
        std::size_t rank = 0, beside = 0;
        for (const int s : belief_->ranked(suspects_.size(), suspects_.size())) {
            const auto i = static_cast<std::size_t>(s);
            // The table makes little of a figure that is wrong, and of what fails beside it.
            const bool isBeside = first && suspects_[i].besides > 0 && beside < fittedBeside;
            const bool isWorth = first ? rank < fittedAtOnce && p[i] >= leastFitted : p[i] >= worthFitting;
            ++rank;
            if (fitted + next.size() >= mostFitted) break;
            if (!isWorth && !isBeside) continue;
            beside += isBeside ? 1 : 0;
            if (!belief_->fitOf(s) && suspects_[i].kind != SuspectKind::EmptyCavity && !unfit_.contains(s))
                next.push_back(s);
        }
        if (next.empty()) break;
        fit(next);
        fitted += next.size();
    }
    fitFromEachOther();
}

// A fit that is strained may have come to rest beside a better place, which the likeliest other one has found.
void Reasoner::fitFromEachOther()
{
    const std::vector<double> p = belief_->probabilities();
    std::vector<int> fitted;
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (p[i] >= worthRefitting && belief_->fitOf(static_cast<int>(i))) fitted.push_back(static_cast<int>(i));
    }
    // What is as likely to three digits stands in the order of the list, whatever the last digits of its fit are.
    std::stable_sort(fitted.begin(), fitted.end(), [&](int a, int b) {
        return std::lround(1e3 * p[static_cast<std::size_t>(a)]) > std::lround(1e3 * p[static_cast<std::size_t>(b)]);
    });
    std::vector<int> strained;
    std::map<int, Fit> from;
    for (std::size_t i = 0; fitted.size() > 1 && i < fitted.size() && strained.size() < mostRefitted; ++i) {
        if (!belief_->fitOf(fitted[i])->isStrained) continue;
        strained.push_back(fitted[i]);
        from.emplace(fitted[i], *belief_->fitOf(fitted[i == 0 ? 1 : 0]));
    }
    fit(strained, from);
}

// Side by side; each core has circuits of its own.
void Reasoner::fit(const std::vector<int>& suspects, const std::map<int, Fit>& from)
{
    std::vector<std::optional<Fit>> fits(suspects.size());
    std::atomic<std::size_t> next = 0, core = 0;
    onSeveralCores(fitters_.size(), [&] {
        Fitter& fitter = *fitters_[core++];
        for (std::size_t i = next++; i < suspects.size(); i = next++) {
            stopPoint();
            const int s = suspects[i];
            const auto start = from.find(s);
            fits[i] = fitter.fit(suspects_[static_cast<std::size_t>(s)], belief_->reported(s),
                                 start == from.end() ? belief_->severity(s) : start->second.severity,
                                 start == from.end() ? nullptr : &start->second);
        }
    });
    for (std::size_t i = 0; i < suspects.size(); ++i) {
        const Fit* before = belief_->fitOf(suspects[i]);
        if (before && (!fits[i] || fits[i]->logEvidence <= before->logEvidence)) continue;
        if (fits[i])
            belief_->weighBy(suspects[i], std::move(*fits[i]));
        else
            unfit_.insert(suspects[i]);
    }
}

// Tests that only the likeliest faults call for join the others; what they would read is built behind, as the rest was.
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
            const auto at = std::find_if(setups_.begin() + static_cast<std::ptrdiff_t>(built_), setups_.end(),
                                         [&](const SetupProbes& to) { return to.setup == c.setup; });
            if (at != setups_.end())
                at->probes.push_back(probe);
            else
                setups_.push_back({c.setup, {probe}});
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

Search Reasoner::search() const
{
    return {map_, suspects_, singles_, *belief_, table_, observations_};
}

bool Reasoner::hasBesideFigure() const
{
    return std::any_of(suspects_.begin() + static_cast<std::ptrdiff_t>(singles_), suspects_.end(),
                       [](const Suspect& s) { return s.besides > 0; });
}

// True when there are other ones than before.
bool Reasoner::addFurther()
{
    const bool unexplained = belief_->worstMisfit() > misfit;
    const bool everywhere = unexplained || restsOnShorts(suspects_, *belief_);
    if (!everywhere && mapDoubt() < mapInDoubt) return false;
    furtherAt_ = observations_.size();
    std::vector<Suspect> more = explainingOtherEnds(search(), everywhere);
    if (unexplained) {
        for (Suspect& pair : explainingPairs(search()))
            more.push_back(std::move(pair));
    }
    for (Suspect& beside : faultsBesideWrongFigure(search()))
        more.push_back(std::move(beside));
    if (more.empty()) return false;
    if (suspects_.size() == singles_) singlesOnly_ = table_, builtSinglesOnly_ = built_;
    suspects_.resize(singles_);
    table_.extend(map_, firstCases(suspects_).back(), more);
    suspects_.insert(suspects_.end(), more.begin(), more.end());
    restart();
    return true;
}

bool Reasoner::buildNext()
{
    const std::size_t atOnce = mostAtOnce / static_cast<std::size_t>(firstCases(suspects_).back());
    while (built_ < setups_.size() && table_.bytes() < mostTable_bytes) {
        stopPoint();
        const SetupProbes& next = setups_[built_];
        std::vector<Probe> missing;
        for (const Probe& probe : next.probes) {
            if (missing.size() <= atOnce && !table_.find(next.setup, probe)) missing.push_back(probe);
        }
        const bool whole = missing.size() <= atOnce;
        if (!whole) missing.pop_back();
        built_ += whole ? 1 : 0;
        if (missing.empty()) continue;
        auto prediction = predict(map_, suspects_, next.setup, missing);
        if (prediction)
            table_.add(std::move(*prediction));
        else
            built_ += whole ? 0 : 1;
        return true;
    }
    return false;
}

// A level that nobody stated said nothing, and by the map the same one stands there in this state too. At the other end
// of its wire it is still worth reading in the same state: the two are held against each other.
bool Reasoner::isMuteToo(const Condition& setup, const Probe& probe) const
{
    constexpr double sameLevel_V = 0.1;
    const bool isVolts = !probe.ohms && probe.element < 0 && !setup.load;
    const int signal = mute_.empty() || !isVolts ? -1 : signalOn(probe.red);
    bool isMute = false;
    for (const auto& [leads, read] : mute_) {
        if (signal < 0 || signalOn(leads.red) != signal) continue;
        if (read == setup && leads.red != probe.red) return false;
        const Column *is = table_.find(setup, probe), *was = table_.find(read, leads);
        isMute = isMute || (is && was && std::abs(is->value[0] - was->value[0]) < sameLevel_V);
    }
    return isMute;
}

int Reasoner::signalOn(int node) const
{
    const auto [known, isNew] = signalOn_.try_emplace(node, -1);
    if (!isNew || node < 0) return known->second;
    const int at = terminalOnWire(map_, node);
    const auto role = at < 0 ? std::nullopt : map_.terminal(at).role;
    if (role && (groupOf(*role) == Group::Inputs || role == Role::DifferentialBus)) known->second = at;
    return known->second;
}

bool Reasoner::isHeldToo(const Condition& setup, const Probe& probe) const
{
    constexpr double soundAtMost_V = 0.1;
    if (probe.ohms || std::find(held_.begin(), held_.end(), setup) == held_.end()) return false;
    const Column* column = table_.find(setup, probe);
    return column && std::abs(column->value[0]) < soundAtMost_V;
}

// Candidates that were read and told nothing, as on a sheet a level does that nobody stated.
std::vector<char> Reasoner::passedOver() const
{
    std::vector<char> passed(candidates_.size(), 0);
    if (!map_.isOfSheet()) return passed;
    for (std::size_t i = 0; i < candidates_.size(); ++i) {
        const Candidate& c = candidates_[i];
        if (c.kind == Candidate::Kind::Look || !takenBefore(*belief_, c).empty()) continue;
        const Probe probe = probeOf(c);
        passed[i] = isHeldToo(c.setup, probe) || isMuteToo(c.setup, probe) ||
                    std::any_of(read_.begin(), read_.end(), [&](const auto& r) {
                        return r.second.red == probe.red && r.second.black == probe.black &&
                               r.second.ohms == probe.ohms && r.first == c.setup;
                    });
    }
    return passed;
}

Reasoning Reasoner::reason(const Standing& standing) const
{
    Reasoning r;
    r.built = built_;
    r.toBuild = setups_.size();
    r.readings = counted_;
    r.leftOut = leftOut_;
    r.revision = weighed_;
    r.groups = groupsOf(suspects_, *belief_, table_, candidates_);
    const Aims aims{passedOver(), caseRestsOn(map_, suspects_, *belief_, r.groups, candidates_),
                    inTheWay(suspects_, *belief_, r.groups)};
    r.tests = rankTests(map_, suspects_, *belief_, r.groups, table_, candidates_, working_, standing, 3, aims);
    const bool nothingTells = r.tests.empty() && built_ == setups_.size();
    if (nothingTells) r.groups = joinedAtAnySeverity(std::move(r.groups), suspects_, *belief_, table_, candidates_);
    r.stretch = stretchOf(map_, suspects_, r.groups);
    std::set<std::string> alike;
    for (const int m : r.groups.empty() ? std::vector<int>{} : r.groups.front().members) {
        const Suspect& s = suspects_[static_cast<std::size_t>(m)];
        alike.insert(s.besides > 0 ? s.sentences.front() : s.words);
    }
    r.alike = static_cast<int>(alike.size());
    r.conclusion = conclusionOf(suspects_, *belief_, r.groups, singles_);
    // None before what was read last is weighed in full.
    if (!refined_) r.conclusion.kind = Conclusion::Kind::Open;
    r.worstMisfit = belief_->worstMisfit();
    for (const RankedTest& test : r.tests) {
        Step step = stepFor(map_, working_, candidates_[static_cast<std::size_t>(test.candidate)]);
        if (test.look) step.state = map_.state(standing.state).id;  // any will do
        step.why = test.reason + " " + step.why;
        r.steps.push_back(std::move(step));
    }
    r.exclusions =
        exclusionsOf(map_, suspects_, *belief_, r.groups, table_, candidates_, working_, standing, mostExcluded);
    const std::vector<double> p = belief_->probabilities();
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (!suspects_[i].insideModule) r.outsideProbability += p[i];
        if (suspects_[i].kind == SuspectKind::NotOnMap) r.notOnMap += p[i];
    }
    r.suspects = rankedSuspects();
    const int likeliest = r.suspects.empty() ? 0 : r.suspects.front().suspect;
    const int figure = suspects_[static_cast<std::size_t>(likeliest)].besides;
    if (figure > 0) {
        // As this suspect has it: alone the figure may fit elsewhere.
        const Suspect& likely = suspects_[static_cast<std::size_t>(likeliest)];
        const Fault moved = faultsAt(likely, belief_->severity(likeliest))[likely.secondAt];
        r.inDoubt = inWords("reasoner.figure-beside", assumedWords(map_, moved.element, moved.factor));
    }
    if (const Fit* fit = belief_->fitOf(likeliest); fit && figure == 0) r.inDoubt = inDoubtWords(map_, *fit);
    // A verdict that rests on a figure that nobody stated says which.
    if (r.conclusion.kind != Conclusion::Kind::Open && !r.suspects.empty() && !r.suspects.front().fitsIf.empty())
        r.conclusion.words += "; " + r.suspects.front().fitsIf;
    r.doubtful = doubtfulReadings(*belief_);
    r.slips = likelySlips(*belief_);
    r.misplaced = misplaced(r.doubtful);
    return r;
}

namespace {

// " (2.1 Ω to 6.3 Ω)": the severities that fit nearly as well as the likeliest.
std::string rangeWords(const Suspect& suspect, const Fit& fit)
{
    constexpr double nearly = 2;  // in log-likelihood: about two sigmas
    double most = -1e300, low = 1e9, high = -1;
    for (const Fit::At& at : fit.profile)
        most = std::max(most, at.logLikelihood);
    for (const Fit::At& at : fit.profile) {
        if (at.logLikelihood < most - nearly) continue;
        const double severity = std::min(at.severity, withOrWithoutBlown(suspect, at.severity).value_or(at.severity));
        low = std::min(low, severity);
        high = std::max(high, severity);
    }
    const auto bare = [&](double severity) {
        std::string words = severityWords(suspect, severity);
        if (words.starts_with("about ")) words = words.substr(6);
        return words.substr(0, words.find(" added"));
    };
    const std::string a = bare(low), b = bare(high);
    return !suspect.graded || a.empty() || a == b ? "" : fmt::format(" ({} to {})", a, b);
}

// The terminals whose wire side is a node, each with those in the next cavities.
std::vector<std::pair<int, int>> besides(const Map& map, int node)
{
    std::vector<std::pair<int, int>> out;
    for (std::size_t t = 0; t < map.terminals.size(); ++t) {
        const int one = static_cast<int>(t);
        if (map.terminals[t].a != node) continue;
        for (const int next : terminalsBeside(map, one))
            out.emplace_back(one, next);
    }
    return out;
}

}  // namespace

std::string Reasoner::misplaced(const std::vector<std::int64_t>& doubtful) const
{
    constexpr double fitsWithin = 0.02;  // of the system voltage
    const auto likeliest = belief_->ranked(1, suspects_.size());
    if (likeliest.empty()) return "";
    for (const Observation& o : belief_->taken()) {
        if (o.probe.ohms || o.probe.element >= 0 || !std::count(doubtful.begin(), doubtful.end(), o.id)) continue;
        for (const auto& [here, beside] : besides(map_, o.probe.red)) {
            Probe probe = o.probe;
            probe.red = map_.terminal(beside).a;
            const Column* column = probe.red < 0 ? nullptr : table_.find(o.setup, probe);
            if (!column) continue;
            const double there = belief_->valueAt(*column, belief_->likeliest(likeliest.front()));
            if (std::abs(there - o.value) > fitsWithin * map_.systemVoltage_V) continue;
            return inWords("reasoner.reading-fits-cavity-beside", o.id, map_.terminal(beside).id,
                           map_.terminal(here).id);
        }
    }
    return "";
}

std::vector<RankedSuspect> Reasoner::rankedSuspects() const
{
    std::vector<RankedSuspect> ranked;
    const std::vector<double> p = belief_->probabilities();
    for (const int s : belief_->ranked(mostShown, suspects_.size())) {
        const Suspect& suspect = suspects_[static_cast<std::size_t>(s)];
        const double probability = p[static_cast<std::size_t>(s)], severity = belief_->severity(s);
        if (probability < worthShowing) break;
        std::string words = wordsAt(suspect, severity);
        const Fit* fit = belief_->fitOf(s);
        // Of a pair it is the first one's.
        if (fit)
            words.insert(std::min(words.size(), suspect.sentences.empty() ? words.npos : words.find(". And ")),
                         rangeWords(suspect, *fit));
        std::vector<Fault> faults = faultsAt(suspect, severity);
        for (std::size_t i = ownFaults(faults); i < faults.size(); ++i)
            words += inWords("suspects.has-blown", map_.element(faults[i].element).id);
        ranked.push_back({s, probability, severity, belief_->intermittent(s), std::move(words), readingsUnder(s),
                          std::move(faults), fit ? fitsIf(map_, *fit, 2) : "",
                          mayGrow(suspect) ? belief_->growing(s) : 0.0});
    }
    return ranked;
}

std::vector<SuspectReading> Reasoner::readingsUnder(int suspect) const
{
    std::vector<SuspectReading> readings;
    const Belief::AsLikeliest is = belief_->asLikeliest(suspect);
    for (std::size_t o = 0; o < belief_->taken().size(); ++o) {
        const Observation& seen = belief_->taken()[o];
        const auto against = belief_->against(is, o);
        const bool reading = seen.kind == Observation::Kind::Reading;
        // Of what is no reading: that it was seen, and the chance of it.
        const bool isDead = seen.kind == Observation::Kind::FunctionDead;
        const double measured = reading ? seen.value : 1.0;
        const double predicted = isDead ? 1 - against.predicted : against.predicted;
        readings.push_back({seen.id, seen.words, measured, predicted, against.sigma, against.z, reading,
                            seen.probe.ohms, seen.probe.element >= 0});
    }
    return readings;
}

}  // namespace ilvek
