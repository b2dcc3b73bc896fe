#include "reasoning/belief.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

namespace {

constexpr int between = 3;  // fine cases per step between two severities
constexpr double slip = 0.01;
constexpr double slipDensity = 1.0 / 20;  // a slip may read anything within some 20 V
// A prediction between two severities is good to this share of their difference.
constexpr double gridShare = 0.04;
// Without a battery reading of the minute its own voltage is known within this; with one, within its last digits.
constexpr double batteryUnknown_V = 0.35;
constexpr double batteryKnown_V = 0.015;
constexpr double comesAndGoesPrior = 0.12;
// What people and modules report is right this often.
constexpr double reportWrong = 0.04;
constexpr double codeWhenMet = 0.9, codeWhenNot = 0.03;
// A map that is wrong at a terminal says nothing about what is read there.
constexpr double mapWrongDensity = 1.0 / 15;

double logAdd(double a, double b)
{
    const double high = std::max(a, b);
    return high + std::log1p(std::exp(std::min(a, b) - high));
}

double logNormalOrSlip(double z, double sigma)
{
    const double density = std::exp(-0.5 * z * z) / (sigma * 2.5066282746310002);
    return std::log((1 - slip) * density + slip * slipDensity);
}

// Chance that a need holds: inside its bounds, fading over `soft`.
double chance(const Observation::Need& need, double value)
{
    const double inside = std::min(value - need.low, need.high - value);
    return 1.0 / (1.0 + std::exp(-std::clamp(inside / need.soft, -30.0, 30.0)));
}

bool touches(const Suspect& s, const Observation& o)
{
    if (s.kind != SuspectKind::MapWrong) return false;
    return o.kind == Observation::Kind::Reading && (o.probe.red == s.node || o.probe.black == s.node);
}

}  // namespace

Belief::Belief(const std::vector<Suspect>& suspects) : suspects_(suspects), first_(firstCases(suspects))
{
    firstFine_.push_back(0);
    for (const Suspect& s : suspects) {
        const int steps = static_cast<int>(s.severities.size());
        firstFine_.push_back(firstFine_.back() + (s.graded ? (steps - 1) * between + 1 : steps));
    }
    steady_.assign(static_cast<std::size_t>(firstFine_.back()), 0.0);
    comesAndGoes_ = steady_;
}

bool Belief::take(const PredictionTable& table, const Observation& o)
{
    struct Seen {
        const Column* column;
        Observation::Need need;
    };
    std::vector<Seen> sources;
    double shift = 0, shiftSigma = batteryUnknown_V;
    if (o.kind == Observation::Kind::Reading) {
        const Column* column = table.find(o.setup, o.probe);
        if (!column) return false;
        sources.push_back({column, {}});
        Condition bare;
        bare.state = o.setup.state;
        if (const Column* battery = o.battery_V ? table.find(bare, o.batteryProbe) : nullptr) {
            // The battery's own voltage, from what its posts show. Beside a running alternator they say little of it,
            // and little hangs on it.
            const double slope = std::max(0.3, static_cast<double>(battery->batterySlope[0]));
            shift = std::clamp((*o.battery_V - static_cast<double>(battery->value[0])) / slope, -3.0, 3.0);
            shiftSigma = batteryKnown_V / slope;
        }
    } else {
        for (const auto& need : o.needs) {
            const Column* column = table.find(o.setup, need.probe);
            if (!column) return false;
            sources.push_back({column, need});
        }
    }
    Row row;
    row.predicted.resize(steady_.size());
    row.extra.resize(steady_.size());
    // Predicted value and its sigma in a coarse case.
    const auto valueAt = [&](const Seen& s, std::size_t at) {
        return static_cast<double>(s.column->value[at]) + shift * static_cast<double>(s.column->batterySlope[at]);
    };
    const auto evaluate = [&](std::size_t fine, std::size_t low, std::size_t high, double share,
                              const Suspect& suspect) {
        if (o.kind != Observation::Kind::Reading) {
            double p = 1;
            for (const Seen& s : sources) {
                const double v = (1 - share) * valueAt(s, low) + share * valueAt(s, high);
                p *= std::isnan(v) ? 0.5 : chance(s.need, v);
            }
            row.predicted[fine] = static_cast<float>(p);
            const double seen = o.kind == Observation::Kind::Code ? codeWhenNot + (codeWhenMet - codeWhenNot) * p
                                : o.kind == Observation::Kind::FunctionWorks
                                    ? reportWrong + (1 - 2 * reportWrong) * p
                                    : 1 - reportWrong - (1 - 2 * reportWrong) * p;
            return std::log(seen);
        }
        if (touches(suspect, o)) {
            row.predicted[fine] = static_cast<float>(o.value);
            row.extra[fine] = 5;
            return std::log(mapWrongDensity);
        }
        const Seen& s = sources.front();
        const double a = valueAt(s, low), b = valueAt(s, high);
        if (std::isnan(a) || std::isnan(b)) {
            row.predicted[fine] = static_cast<float>(o.value);
            row.extra[fine] = 5;
            return std::log(slipDensity);
        }
        const double predicted = (1 - share) * a + share * b;
        const double slope = static_cast<double>(s.column->batterySlope[low]);
        const double tolerance = static_cast<double>(s.column->tolerance);
        const double grid = share > 0 ? gridShare * (b - a) : 0;
        // Sound parts beside a fault differ too: one per cent of what the fault moved.
        const double moved = 0.01 * (predicted - static_cast<double>(s.column->value[0]));
        const double variance = o.sigma * o.sigma + tolerance * tolerance + slope * slope * shiftSigma * shiftSigma +
                                grid * grid + moved * moved;
        const double sigma = std::sqrt(variance);
        row.predicted[fine] = static_cast<float>(predicted);
        row.extra[fine] = static_cast<float>(sigma);
        return logNormalOrSlip((o.value - predicted) / sigma, sigma);
    };
    double sound = 0;
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        const auto coarse = static_cast<std::size_t>(first_[i]);
        const auto fine0 = static_cast<std::size_t>(firstFine_[i]);
        const auto fineCount = static_cast<std::size_t>(firstFine_[i + 1]) - fine0;
        for (std::size_t k = 0; k < fineCount; ++k) {
            const std::size_t step = suspects_[i].graded ? k / between : k;
            const double share = suspects_[i].graded ? static_cast<double>(k % between) / between : 0;
            const std::size_t low = coarse + step, high = share > 0 ? low + 1 : low;
            const double l = evaluate(fine0 + k, low, high, share, suspects_[i]);
            if (i == 0) sound = l;
            steady_[fine0 + k] += l;
            comesAndGoes_[fine0 + k] += logAdd(l, sound) - std::log(2.0);
        }
    }
    taken_.push_back(o);
    rows_.push_back(std::move(row));
    return true;
}

std::vector<double> Belief::probabilities() const
{
    std::vector<double> logs(suspects_.size());
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        const auto begin = static_cast<std::size_t>(firstFine_[i]), end = static_cast<std::size_t>(firstFine_[i + 1]);
        double sum = -1e300;
        for (std::size_t k = begin; k < end; ++k) {
            const double both =
                logAdd(std::log(1 - comesAndGoesPrior) + steady_[k], std::log(comesAndGoesPrior) + comesAndGoes_[k]);
            sum = logAdd(sum, i == 0 ? steady_[k] : both);
        }
        logs[i] = std::log(suspects_[i].prior) + sum - std::log(static_cast<double>(end - begin));
    }
    const double highest = *std::max_element(logs.begin(), logs.end());
    double sum = 0;
    for (double& l : logs)
        sum += l = std::exp(l - highest);
    for (double& l : logs)
        l /= sum;
    return logs;
}

std::vector<double> Belief::cases() const
{
    const std::vector<double> p = probabilities();
    std::vector<double> out(static_cast<std::size_t>(first_.back()), 0.0);
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        if (p[i] < 1e-6) continue;
        const auto begin = static_cast<std::size_t>(firstFine_[i]), end = static_cast<std::size_t>(firstFine_[i + 1]);
        const double highest = *std::max_element(steady_.begin() + firstFine_[i], steady_.begin() + firstFine_[i + 1]);
        double sum = 0;
        for (std::size_t k = begin; k < end; ++k)
            sum += std::exp(steady_[k] - highest);
        for (std::size_t k = begin; k < end; ++k) {
            const double weight = p[i] * std::exp(steady_[k] - highest) / sum;
            const std::size_t at = k - begin;
            const auto low = static_cast<std::size_t>(first_[i]) + (suspects_[i].graded ? at / between : at);
            const double share = suspects_[i].graded ? static_cast<double>(at % between) / between : 0;
            out[low] += (1 - share) * weight;
            if (share > 0) out[low + 1] += share * weight;
        }
    }
    return out;
}

std::size_t Belief::best(int suspect) const
{
    const auto i = static_cast<std::size_t>(suspect);
    const auto begin = steady_.begin() + firstFine_[i], end = steady_.begin() + firstFine_[i + 1];
    const auto steady = std::max_element(begin, end);
    if (intermittent(suspect) <= 0.5) return static_cast<std::size_t>(steady - steady_.begin());
    const auto loose =
        std::max_element(comesAndGoes_.begin() + firstFine_[i], comesAndGoes_.begin() + firstFine_[i + 1]);
    return static_cast<std::size_t>(loose - comesAndGoes_.begin());
}

double Belief::severity(int suspect) const
{
    const auto i = static_cast<std::size_t>(suspect);
    const double at = static_cast<double>(best(suspect)) - firstFine_[i];
    return suspects_[i].graded ? at / between : at;
}

double Belief::intermittent(int suspect) const
{
    const auto i = static_cast<std::size_t>(suspect);
    double steady = -1e300, loose = -1e300;
    for (auto k = static_cast<std::size_t>(firstFine_[i]); k < static_cast<std::size_t>(firstFine_[i + 1]); ++k) {
        steady = logAdd(steady, steady_[k]);
        loose = logAdd(loose, comesAndGoes_[k]);
    }
    if (suspect == 0) return 0;
    const double a = std::log(comesAndGoesPrior) + loose, b = std::log(1 - comesAndGoesPrior) + steady;
    return std::exp(a - logAdd(a, b));
}

double Belief::logLikelihood(int suspect) const
{
    const auto i = static_cast<std::size_t>(suspect);
    return *std::max_element(steady_.begin() + firstFine_[i], steady_.begin() + firstFine_[i + 1]);
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
    const std::size_t k = best(suspect);
    Against a;
    a.predicted = static_cast<double>(rows_[observation].predicted[k]);
    a.sigma = o.kind == Observation::Kind::Reading ? static_cast<double>(rows_[observation].extra[k]) : 0.2;
    const double measured = o.kind == Observation::Kind::Reading         ? o.value
                            : o.kind == Observation::Kind::FunctionWorks ? 1.0
                            : o.kind == Observation::Kind::Code          ? 1.0
                                                                         : 0.0;
    a.z = (measured - a.predicted) / std::max(1e-9, a.sigma);
    return a;
}

}  // namespace ilvek
