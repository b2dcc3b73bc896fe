#include "belief/belief.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "belief/likelihood.h"
#include "circuit/blown_fuses.h"
#include "suspects/severity.h"
#include "suspects/sights.h"

namespace ilvek {

namespace {

constexpr double narrowed = 8;  // severities that share the weight of a suspect whose severity is known
constexpr double comesAndGoesPrior = 0.12, growsPrior = 0.01;
// Chance that a fuse which a fault has blown is put in anew between two readings.
constexpr double renewedPrior = 0.15;
// What the interpolation may have cost a suspect, in log-likelihood: less is not worth computing.
constexpr double worthKnowing = 0.05;
constexpr double impossible = -1e9;  // log-likelihood
// Its share and a single turn cost what grows so much that unless it could explain all by this much better, it is not a
// half per cent of the rest.
constexpr double worthGrowing = 0.8;

}  // namespace

Belief::Belief(const std::vector<Suspect>& suspects) : suspects_(suspects), grid_(suspects)
{
    steady_.assign(grid_.size(), 0.0);
    comesAndGoes_ = growsAtMost_ = slack_ = looseSlack_ = steady_;
    otherBattery_.resize(grid_.size());
    touched_.assign(suspects.size(), 0);
    handedOn_.resize(suspects.size());
    findTurns();
}

std::vector<double> Belief::reported(int suspect) const
{
    std::vector<double> sums(weighed(suspect), 0.0);
    for (std::size_t o = 0; o < rows_.size(); ++o) {
        if (taken_[o].kind == Observation::Kind::Reading) continue;
        for (std::size_t k = 0; k < sums.size(); ++k)
            sums[k] += rows_[o].soundLogLikelihood + static_cast<double>(rows_[o].gain[grid_.begin(suspect) + k]);
    }
    return sums;
}

void Belief::weighBy(int suspect, Fit fit)
{
    known_.clear();
    fits_.insert_or_assign(suspect, std::move(fit));
}

const Fit* Belief::fitOf(int suspect) const
{
    const auto at = fits_.find(suspect);
    return at == fits_.end() ? nullptr : &at->second;
}

namespace {

double logMeanOf(const std::vector<double>& logs)
{
    return logMean(logs, std::vector<double>(logs.size(), 1.0));
}

}  // namespace

double Belief::steadyByTable(int suspect, const Counted& counted) const
{
    std::vector<double> sums;
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k) {
        double steady = steady_[k] + (counted.slack ? slack_[k] : 0);
        for (const std::size_t o : counted.leftOut)
            steady -= static_cast<double>(rows_[o].gain[k]);
        sums.push_back(steady);
    }
    return logMeanOf(sums);
}

// To one that comes and goes each observation is as of the fault or as of the sound machine; by the table.
namespace {

// Of a suspect's fine severities those in front of the ones that have a fuse blown.
std::size_t finesWithoutBlown(const std::vector<Suspect>& suspects, int suspect, const SeverityGrid& grid)
{
    const Suspect& s = suspects[static_cast<std::size_t>(suspect)];
    if (!mayBlow(s)) return grid.of(suspect);
    const std::size_t own = ownFaults(s.severities.front());
    const auto blown = std::ranges::find_if(s.severities, [&](const auto& faults) { return faults.size() > own; });
    const auto whole = static_cast<std::size_t>(blown - s.severities.begin());
    return s.graded ? (whole - 1) * SeverityGrid::between + SeverityGrid::between / 2 : whole;
}

}  // namespace

// A fuse that blew does not come and go.
double Belief::looseByTable(int suspect, const Counted& counted) const
{
    std::vector<double> sums;
    const std::size_t begin = grid_.begin(suspect), whole = finesWithoutBlown(suspects_, suspect, grid_);
    for (std::size_t k = begin; k < begin + whole; ++k) {
        double loose = comesAndGoes_[k] + (counted.slack ? looseSlack_[k] : 0);
        for (const std::size_t o : counted.leftOut)
            loose -= looseGain(rows_[o], static_cast<double>(rows_[o].gain[k]));
        sums.push_back(loose);
    }
    return logMeanOf(sums);
}

// What grows is at other times as bad as it can be; behind what blows a fuse that one is whole or blown.
void Belief::findTurns()
{
    turns_.resize(grid_.size());
    std::iota(turns_.begin(), turns_.end(), std::size_t{0});
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        const int suspect = static_cast<int>(i);
        const std::size_t begin = grid_.begin(suspect), end = grid_.end(suspect);
        const bool grows = mayGrow(suspects_[i]), blows = mayBlow(suspects_[i]);
        const auto steps = static_cast<double>(grid_.steps(suspect));
        for (std::size_t k = begin; k < end && (grows || blows); ++k) {
            const double at = static_cast<double>(k - begin) / steps;
            const auto twin = blows ? withOrWithoutBlown(suspects_[i], at) : std::nullopt;
            if (grows) turns_[k] = end - 1;
            // Of those that blow nothing it is another severity.
            const bool isTwin = twin && *twin > at &&
                                *twin <= static_cast<double>(suspects_[i].severities.size()) - 1 &&
                                std::abs(*withOrWithoutBlown(suspects_[i], *twin) - at) < 1e-9;
            if (isTwin) turns_[k] = begin + static_cast<std::size_t>(std::lround(*twin * steps));
        }
    }
}

double Belief::turnsPrior(int suspect) const
{
    const Suspect& s = suspects_[static_cast<std::size_t>(suspect)];
    return mayGrow(s) ? growsPrior : mayBlow(s) ? renewedPrior : 0;
}

void Belief::grow(const WeighedRow& row, int suspect)
{
    if (turnsPrior(suspect) == 0) return;
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k)
        if (turns_[k] != k) growsAtMost_[k] += static_cast<double>(std::max(row.gain[k], row.gain[turns_[k]]));
}

// By the table; impossible where nothing turns.
std::vector<double> Belief::growingSums(int suspect, const Counted& counted) const
{
    const std::size_t first = grid_.begin(suspect), last = grid_.end(suspect);
    std::vector<Growth> growth(last - first);
    for (std::size_t o = 0; o < rows_.size(); ++o) {
        const auto gain = [&](std::size_t k) { return static_cast<double>(rows_[o].gain[k]); };
        if (std::count(counted.leftOut.begin(), counted.leftOut.end(), o)) continue;
        for (std::size_t k = first; k < last; ++k) {
            if (turns_[k] == k) continue;
            if (rows_[o].stays)
                growth[k - first].tellOfBoth(gain(k));
            else if (gain(k) != 0 || gain(turns_[k]) != 0)
                growth[k - first].tell(gain(k), gain(turns_[k]));
        }
    }
    std::vector<double> sums;
    for (std::size_t k = first; k < last; ++k)
        sums.push_back(turns_[k] == k ? impossible : growth[k - first].logLikelihood());
    return sums;
}

// `beside`: what stays as it is, or comes and goes.
double Belief::growingByTable(int suspect, const Counted& counted, double beside) const
{
    const double most = std::ranges::max(of(suspect, growsAtMost_));
    if (most <= beside + worthGrowing) return impossible;
    std::vector<double> sums = growingSums(suspect, counted);
    std::erase(sums, impossible);
    return sums.empty() ? impossible : logMeanOf(sums);
}

// All is told against the sound machine with the map's figures, as by the table.
double Belief::steadyByFit(int suspect, const Fit& fit, const Counted& counted) const
{
    double steady = fit.logEvidence;
    for (const WeighedRow& row : rows_)
        steady -= row.soundLogLikelihood;
    for (const std::size_t o : counted.leftOut) {
        const bool reading = taken_[o].kind == Observation::Kind::Reading;
        steady -= reading ? fit.readings[o].logLikelihood - rows_[o].soundLogLikelihood
                          : static_cast<double>(rows_[o].gain[best(suspect)]);
    }
    return steady;
}

Belief::Ways Belief::evidence(int suspect, const Counted& counted) const
{
    const Suspect& s = suspects_[static_cast<std::size_t>(suspect)];
    const Fit* fit = fitOf(suspect);
    Ways is{fit ? steadyByFit(suspect, *fit, counted) : steadyByTable(suspect, counted), impossible, impossible};
    if (suspect == 0 || (fit && !isFault(s))) return is;
    const double grows = turnsPrior(suspect), stays = std::log(1 - comesAndGoesPrior - grows);
    is.loose = std::log(comesAndGoesPrior) + looseByTable(suspect, counted);
    if (grows > 0) is.growing = std::log(grows) + growingByTable(suspect, counted, logAdd(is.steady, is.loose));
    is.steady += stays;
    return is;
}

double Belief::logEvidence(int suspect, const Counted& counted) const
{
    const auto i = static_cast<std::size_t>(suspect);
    const double prior = std::log(suspects_[i].prior);
    if (!fitOf(suspect) && !touched_[i]) return prior;
    const Ways w = evidence(suspect, counted);
    return prior + logAdd(logAdd(w.steady, w.loose), w.growing);
}

std::vector<double> Belief::probabilities(std::optional<std::size_t> leftOut) const
{
    if (leftOut) {
        Counted counted;
        for (std::size_t o = 0; o < rows_.size(); ++o) {
            const std::int64_t id = taken_[*leftOut].id;
            if (o == *leftOut || (id != 0 && taken_[o].id == id)) counted.leftOut.push_back(o);
        }
        return probabilitiesOf(counted);
    }
    const std::lock_guard lock(knowing_);
    if (known_.empty()) known_ = probabilitiesOf({});
    return known_;
}

std::vector<double> Belief::probabilitiesOf(const Counted& counted) const
{
    std::vector<double> logs(suspects_.size());
    for (std::size_t i = 0; i < suspects_.size(); ++i)
        logs[i] = logEvidence(static_cast<int>(i), counted);
    const double highest = *std::max_element(logs.begin(), logs.end());
    double sum = 0;
    for (double& l : logs)
        sum += l = std::exp(l - highest);
    for (double& l : logs)
        l /= sum;
    return logs;
}

std::vector<int> Belief::ranked(std::size_t most, std::size_t below) const
{
    const std::vector<double> p = probabilities();
    std::vector<int> order(below);
    std::iota(order.begin(), order.end(), 0);
    std::sort(order.begin(), order.end(),
              [&](int a, int b) { return p[static_cast<std::size_t>(a)] > p[static_cast<std::size_t>(b)]; });
    order.resize(std::min(most, order.size()));
    return order;
}

std::vector<int> Belief::couldBe(double share, std::size_t atMost) const
{
    std::vector<std::pair<double, int>> order;
    double highest = logEvidence(0, {});
    for (std::size_t i = 1; i < suspects_.size(); ++i) {
        const double is = logEvidence(static_cast<int>(i), {}), most = logEvidence(static_cast<int>(i), {true, {}});
        highest = std::max(highest, is);
        if (most > is + worthKnowing) order.emplace_back(most, static_cast<int>(i));
    }
    std::sort(order.rbegin(), order.rend());
    std::vector<int> out;
    for (const auto& [evidence, suspect] : order) {
        if (evidence < highest + std::log(share) || out.size() >= atMost) break;
        out.push_back(suspect);
    }
    return out;
}

Belief::Hypothesis Belief::hypothesis(std::size_t fine, double weight) const
{
    return {grid_[fine], weight, fine};
}

Belief::Hypothesis Belief::likeliest(int suspect) const
{
    return hypothesis(best(suspect), 1);
}

BatteryShifts shiftsOf(const Column& posts)
{
    BatteryShifts shifts;
    for (std::size_t i = 0; i < posts.value.size(); ++i)
        shifts.push_back(batteryShift(posts, i, static_cast<double>(posts.value[0])));
    return shifts;
}

double Belief::valueAt(const Column& column, const Hypothesis& h, const BatteryShifts* shifts,
                       double* uncertainty) const
{
    const Fine& f = h;
    const auto at = [&](int c) {
        const auto i = static_cast<std::size_t>(c);
        const auto value = static_cast<double>(column.value[i]);
        return shifts ? value + (*shifts)[i] * static_cast<double>(column.batterySlope[i]) : value;
    };
    ReadUnder seen{at(f.low), 0, 0, false, 0};
    if (f.share > 0) {
        seen.v = between3(at(0), f.x1, at(f.low), f.x2, at(f.high), f.x, f.share);
        if (uncertainty && f.third >= 0)
            seen.unsure2 = square(bendShare * (seen.v - curveThrough(f, at(f.low), at(f.high), at(f.third))));
    }
    if (f.fed) otherBattery_[h.fine].expect(OtherBattery::movesBy(column, f.low, f.high, f.share), seen);
    if (uncertainty) *uncertainty = std::sqrt(seen.unsure2 + square(seen.beside));
    return seen.v;
}

std::vector<Belief::Hypothesis> Belief::hypotheses() const
{
    const std::vector<double> p = probabilities();
    std::vector<Hypothesis> out;
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        if (p[i] < 1e-6) continue;
        const std::size_t first = grid_.begin(static_cast<int>(i)), last = grid_.end(static_cast<int>(i));
        const std::vector<double> steady = severityWeights(static_cast<int>(i));
        const double highest = *std::max_element(steady.begin(), steady.end());
        double sum = 0, squares = 0;
        for (std::size_t k = first; k < last; ++k) {
            const double w = std::exp(steady[k - first] - highest);
            sum += w;
            squares += w * w;
        }
        // So many severities share the weight.
        const bool narrow = sum * sum <= narrowed * squares;
        const std::size_t step = narrow ? 1 : static_cast<std::size_t>(grid_.steps(static_cast<int>(i)));
        double kept = 0;
        for (std::size_t k = first; k < last; k += step)
            kept += std::exp(steady[k - first] - highest);
        for (std::size_t k = first; k < last; k += step)
            out.push_back(hypothesis(k, p[i] * std::exp(steady[k - first] - highest) / kept));
    }
    return out;
}

std::vector<double> Belief::severityWeights(int suspect) const
{
    const Fit* fit = fitOf(suspect);
    const bool grows = growing(suspect) > evenOdds;
    if (grows) {
        return growingSums(suspect, {});
    }
    const auto steady = of(suspect, steady_);
    if (!fit || fit->profile.size() < 2) return {steady.begin(), steady.end()};
    std::vector<double> out;
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k) {
        const double at = static_cast<double>(k - grid_.begin(suspect)) / grid_.steps(suspect);
        const auto after = std::find_if(fit->profile.begin(), fit->profile.end(),
                                        [&](const Fit::At& a) { return a.severity >= at - 1e-9; });
        double weight = -1e3;
        if (after != fit->profile.end() && after->severity <= at + 1e-9) {
            weight = after->logLikelihood;
        } else if (after != fit->profile.end() && after != fit->profile.begin()) {
            const Fit::At &a = *(after - 1), &b = *after;
            const double share = (at - a.severity) / (b.severity - a.severity);
            weight = (1 - share) * a.logLikelihood + share * b.logLikelihood;
        } else {
            weight += fit->profile.front().logLikelihood;
        }
        out.push_back(weight);
    }
    return out;
}

Belief::AsLikeliest Belief::asLikeliest(int suspect) const
{
    const Fit* fit = fitOf(suspect);
    const Ways w = ways(suspect);
    AsLikeliest is{suspect, grid_.begin(suspect), w.growing > evenOdds};
    const auto place = [](const auto& sums) {
        return static_cast<std::size_t>(std::max_element(sums.begin(), sums.end()) - sums.begin());
    };
    if (is.grows)
        is.fine += place(growingSums(suspect, {}));
    else if (fit)
        is.fine +=
            std::min(weighed(suspect) - 1, static_cast<std::size_t>(std::lround(fit->severity * grid_.steps(suspect))));
    else if (w.loose > evenOdds)
        is.fine += place(of(suspect, comesAndGoes_).first(finesWithoutBlown(suspects_, suspect, grid_)));
    else
        is.fine += place(of(suspect, steady_));
    return is;
}

std::size_t Belief::best(int suspect) const
{
    return asLikeliest(suspect).fine;
}

double Belief::severity(int suspect) const
{
    const AsLikeliest is = asLikeliest(suspect);
    if (const Fit* fit = fitOf(suspect); fit && !is.grows) return fit->severity;
    return static_cast<double>(is.fine - grid_.begin(suspect)) / grid_.steps(suspect);
}

Belief::Ways Belief::ways(int suspect) const
{
    const Ways w = evidence(suspect, {});
    const double whole = logAdd(logAdd(w.steady, w.loose), w.growing);
    return {std::exp(w.steady - whole), std::exp(w.loose - whole), std::exp(w.growing - whole)};
}

double Belief::intermittent(int suspect) const
{
    return ways(suspect).loose;
}

double Belief::growing(int suspect) const
{
    return ways(suspect).growing;
}

double Belief::logLikelihood(int suspect) const
{
    return std::ranges::max(of(suspect, steady_));
}

double Belief::logSeen(int suspect) const
{
    const AsLikeliest is = asLikeliest(suspect);
    const Ways w = ways(suspect);
    const Fit* fit = is.grows || w.loose > evenOdds ? nullptr : fitOf(suspect);
    double sum = 0;
    for (std::size_t o = 0; o < rows_.size(); ++o) {
        if (taken_[o].id == 0) continue;
        if (fit && taken_[o].kind == Observation::Kind::Reading) {
            sum += fit->readings[o].logLikelihood;
            continue;
        }
        const auto gainAt = [&](std::size_t fine) { return static_cast<double>(rows_[o].gain[fine]); };
        const double steady = is.grows ? std::max(gainAt(is.fine), gainAt(turns_[is.fine])) : gainAt(is.fine);
        sum += rows_[o].soundLogLikelihood + (w.loose > evenOdds ? looseGain(rows_[o], steady) : steady);
    }
    for (const double u : fit ? fit->unknowns : std::vector<double>{})
        sum -= 0.5 * u * u;
    return sum;
}

double Belief::worstMisfit() const
{
    double least = 1e9;
    const std::vector<double> p = probabilities();
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        if (p[i] < 0.01) continue;
        const AsLikeliest is = asLikeliest(static_cast<int>(i));
        double worst = 0;
        for (std::size_t o = 0; o < rows_.size(); ++o) {
            if (taken_[o].kind == Observation::Kind::Reading) worst = std::max(worst, std::abs(against(is, o).z));
            if (isContradicted(is, o)) worst = INFINITY;
        }
        least = std::min(least, worst);
    }
    return least;
}

Belief::Against Belief::against(const AsLikeliest& is, std::size_t observation) const
{
    const Observation& o = taken_[observation];
    if (const Fit* fit = fitOf(is.suspect); fit && !is.grows && o.kind == Observation::Kind::Reading) {
        const Fit::Read& read = fit->readings[observation];
        return {read.predicted, read.sigma, read.z};
    }
    const Against slight = againstAt(observation, is.suspect, is.fine);
    if (!is.grows) return slight;
    const Against worst = againstAt(observation, is.suspect, turns_[is.fine]);
    return std::abs(worst.z) < std::abs(slight.z) ? worst : slight;
}

bool Belief::isContradicted(const AsLikeliest& is, std::size_t observation) const
{
    constexpr double hardly = 0.1;
    const Observation& o = taken_[observation];
    const bool isYesOrNo = o.kind == Observation::Kind::FunctionWorks || o.kind == Observation::Kind::FunctionDead;
    if (!isYesOrNo || o.source == Observation::Source::Told || o.source == Observation::Source::Vague) return false;
    const double holds = againstAt(observation, is.suspect, is.fine).predicted;
    return (o.kind == Observation::Kind::FunctionWorks ? holds : 1 - holds) < hardly;
}

Belief::Against Belief::againstAt(std::size_t observation, int suspect, std::size_t k) const
{
    const Observation& o = taken_[observation];
    const WeighedRow& row = rows_[observation];
    Against a;
    a.predicted = static_cast<double>(row.predicted[k]);
    a.sigma = static_cast<double>(row.sigma[k]);
    const bool isReading = o.kind == Observation::Kind::Reading;
    const double measured = isReading ? o.value : o.kind == Observation::Kind::FunctionDead ? 0.0 : 1.0;
    const bool asSound = !touched_[static_cast<std::size_t>(suspect)];
    const double given = !isReading ? 0
                         : asSound  ? givenBefore(row, 0).front().value
                                    : givenBefore(row, suspect)[k - grid_.begin(suspect)].value;
    a.z = (measured - a.predicted - given) / std::max(1e-9, a.sigma);
    return a;
}

}  // namespace ilvek
