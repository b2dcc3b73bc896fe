#include "belief/belief.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "belief/likelihood.h"
#include "suspects/severity.h"
#include "suspects/sights.h"

namespace ilvek {

namespace {

constexpr double narrowed = 8;  // severities that share the weight of a suspect whose severity is known
constexpr double comesAndGoesPrior = 0.12;
// What the interpolation may have cost a suspect, in log-likelihood: less is not worth computing.
constexpr double worthKnowing = 0.05;

}  // namespace

Belief::Belief(const std::vector<Suspect>& suspects) : suspects_(suspects), grid_(suspects)
{
    steady_.assign(grid_.size(), 0.0);
    comesAndGoes_ = slack_ = looseSlack_ = steady_;
    otherBattery_.resize(grid_.size());
    touched_.assign(suspects.size(), 0);
    handedOn_.resize(suspects.size());
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
    fits_.insert_or_assign(suspect, std::move(fit));
}

const Fit* Belief::fitOf(int suspect) const
{
    const auto at = fits_.find(suspect);
    return at == fits_.end() ? nullptr : &at->second;
}

// To one that comes and goes each observation is as of the fault or as of the sound machine; by the table.
double Belief::looseEvidence(int suspect, const Counted& counted) const
{
    double most = -1e300, share = 0;
    std::vector<double> sums;
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k) {
        double loose = comesAndGoes_[k];
        for (const std::size_t o : counted.leftOut)
            loose -= looseGain(rows_[o], static_cast<double>(rows_[o].gain[k]));
        sums.push_back(loose);
        most = std::max(most, loose);
    }
    for (const double loose : sums)
        share += std::exp(loose - most);
    return most + std::log(share / static_cast<double>(sums.size()));
}

// All is told against the sound machine with the map's figures, as by the table.
double Belief::fittedEvidence(int suspect, const Fit& fit, const Counted& counted) const
{
    double steady = fit.logEvidence;
    for (const WeighedRow& row : rows_)
        steady -= row.soundLogLikelihood;
    for (const std::size_t o : counted.leftOut) {
        const bool reading = taken_[o].kind == Observation::Kind::Reading;
        steady -= reading ? fit.readings[o].logLikelihood - rows_[o].soundLogLikelihood
                          : static_cast<double>(rows_[o].gain[best(suspect)]);
    }
    const double prior = std::log(suspects_[static_cast<std::size_t>(suspect)].prior);
    if (!isFault(suspects_[static_cast<std::size_t>(suspect)])) return prior + steady;
    return prior + logAdd(std::log(1 - comesAndGoesPrior) + steady,
                          std::log(comesAndGoesPrior) + looseEvidence(suspect, counted));
}

double Belief::logEvidence(int suspect, const Counted& counted) const
{
    const auto i = static_cast<std::size_t>(suspect);
    const double prior = std::log(suspects_[i].prior);
    if (const Fit* fit = fitOf(suspect)) return fittedEvidence(suspect, *fit, counted);
    if (!touched_[i]) return prior;
    const auto sums = [&](std::size_t k) {
        std::pair<double, double> s{steady_[k], comesAndGoes_[k]};
        if (counted.slack) s.first += slack_[k], s.second += looseSlack_[k];
        for (const std::size_t o : counted.leftOut) {
            const double gain = static_cast<double>(rows_[o].gain[k]);
            s.first -= gain;
            s.second -= looseGain(rows_[o], gain);
        }
        return s;
    };
    double most = -1e300;
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k) {
        const auto [steady, loose] = sums(k);
        most = std::max({most, steady, loose});
    }
    const double goes = i == 0 ? 0.0 : comesAndGoesPrior;
    double share = 0;
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k) {
        const auto [steady, loose] = sums(k);
        share += (1 - goes) * std::exp(steady - most) + goes * std::exp(loose - most);
    }
    return prior + most + std::log(share / static_cast<double>(weighed(suspect)));
}

std::vector<double> Belief::probabilities(std::optional<std::size_t> leftOut) const
{
    Counted counted;
    for (std::size_t o = 0; leftOut && o < rows_.size(); ++o) {
        const std::int64_t id = taken_[*leftOut].id;
        if (o == *leftOut || (id != 0 && taken_[o].id == id)) counted.leftOut.push_back(o);
    }
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

std::size_t Belief::best(int suspect) const
{
    if (const Fit* fit = fitOf(suspect)) {
        const double at = fit->severity * grid_.steps(suspect);
        return std::min(grid_.end(suspect) - 1, grid_.begin(suspect) + static_cast<std::size_t>(std::lround(at)));
    }
    const auto sums = of(suspect, intermittent(suspect) > 0.5 ? comesAndGoes_ : steady_);
    return grid_.begin(suspect) + static_cast<std::size_t>(std::max_element(sums.begin(), sums.end()) - sums.begin());
}

double Belief::severity(int suspect) const
{
    if (const Fit* fit = fitOf(suspect)) return fit->severity;
    const double at = static_cast<double>(best(suspect) - grid_.begin(suspect));
    return at / grid_.steps(suspect);
}

double Belief::intermittent(int suspect) const
{
    const auto i = static_cast<std::size_t>(suspect);
    double steady = -1e300, loose = -1e300;
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k) {
        steady = logAdd(steady, steady_[k]);
        loose = logAdd(loose, comesAndGoes_[k]);
    }
    if (suspect == 0) return 0;
    if (const Fit* fit = fitOf(suspect)) {
        if (!isFault(suspects_[i])) return 0;
        const double with = fittedEvidence(suspect, *fit, {}) - std::log(suspects_[i].prior);
        return std::exp(std::log(comesAndGoesPrior) + looseEvidence(suspect, {}) - with);
    }
    const double a = std::log(comesAndGoesPrior) + loose, b = std::log(1 - comesAndGoesPrior) + steady;
    return std::exp(a - logAdd(a, b));
}

double Belief::logLikelihood(int suspect) const
{
    return std::ranges::max(of(suspect, steady_));
}

double Belief::worstMisfit() const
{
    double least = 1e9;
    const std::vector<double> p = probabilities();
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        if (p[i] < 0.01) continue;
        double worst = 0;
        for (std::size_t o = 0; o < rows_.size(); ++o) {
            if (taken_[o].kind == Observation::Kind::Reading)
                worst = std::max(worst, std::abs(against(static_cast<int>(i), o).z));
        }
        least = std::min(least, worst);
    }
    return least;
}

Belief::Against Belief::against(int suspect, std::size_t observation) const
{
    const Observation& o = taken_[observation];
    const WeighedRow& row = rows_[observation];
    if (const Fit* fit = fitOf(suspect); fit && o.kind == Observation::Kind::Reading) {
        const Fit::Read& read = fit->readings[observation];
        return {read.predicted, read.sigma, read.z};
    }
    const std::size_t k = best(suspect);
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