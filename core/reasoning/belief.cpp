#include "reasoning/belief.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

namespace {

constexpr int between = 6;  // fine cases per step between two severities
constexpr double slip = 0.01;
constexpr double slipDensity = 1.0 / 20;  // a slip may read anything within some 20 V
// Between two severities: share of the disagreement of two curves through different points, and of the distance to the
// next fine case, taken as one sigma.
constexpr double bendShare = 0.5;
constexpr double cellShare = 0.3;
// Sound parts beside a fault differ by this share of what the fault moved.
constexpr double movedShare = 0.01;
// A circuit that chatters shows a mean that hangs on how fast its parts follow.
constexpr double chatterShare = 0.3, chatterAtLeast_V = 0.2;
// Where a suspect leaves a reading free (a map that is wrong there, ohms on a live circuit).
constexpr double freeDensity = 1.0 / 15;
constexpr double slipZ = 5;
// Without a battery reading of the minute its own voltage is known within this; with one, within its last digits.
constexpr double batteryUnknown_V = 0.35;
constexpr double batteryKnown_V = 0.015;
constexpr double comesAndGoesPrior = 0.12;
// What people and modules report is right this often.
constexpr double reportWrong = 0.04;
constexpr double codeWhenMet = 0.9, codeWhenNot = 0.03;

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

// The voltage at severity x of a linear circuit, from the sound one (x = 0) and two others: V(x) = (V0 + b x)/(1 + c
// x). Straight between the two where they do not fit such a curve.
double between3(double v0, double x1, double v1, double x2, double v2, double x, double share)
{
    const double straight = (1 - share) * v1 + share * v2;
    if (std::abs(v2 - v1) < 1e-9) return straight;
    const double c = ((v1 - v0) / x1 - (v2 - v0) / x2) / (v2 - v1);
    const double b = (v1 - v0) / x1 + c * v1;
    const double v = (v0 + b * x) / (1 + c * x);
    return v >= std::min(v1, v2) && v <= std::max(v1, v2) ? v : straight;
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

// The curve V(x) = (a + b x)/(1 + c x) through the two severities and a third.
double Belief::curveThrough(const Fine& f, double v1, double v2, double v3)
{
    // Moved so that the third stands at x = 0: such curves stay such curves.
    return between3(v3, f.x1 - f.x3, v1, f.x2 - f.x3, v2, f.x - f.x3, f.share);
}

Belief::Belief(const std::vector<Suspect>& suspects) : suspects_(suspects), first_(firstCases(suspects))
{
    for (std::size_t i = 0; i < suspects.size(); ++i) {
        firstFine_.push_back(static_cast<int>(fine_.size()));
        const Suspect& s = suspects[i];
        for (std::size_t k = 0; k < s.severities.size(); ++k) {
            Fine f;
            f.suspect = static_cast<int>(i);
            f.low = f.high = first_[i] + static_cast<int>(k);
            fine_.push_back(f);
            if (!s.graded || k + 1 == s.severities.size()) continue;
            ++f.high;
            f.x1 = severityNumber(s.severities[k]);
            f.x2 = severityNumber(s.severities[k + 1]);
            const bool after = k + 2 < s.severities.size();
            if (after || k > 0) {
                f.third = first_[i] + static_cast<int>(after ? k + 2 : k - 1);
                f.x3 = severityNumber(s.severities[after ? k + 2 : k - 1]);
            }
            for (int n = 1; n < between; ++n) {
                f.share = static_cast<double>(n) / between;
                f.x = numberBetween(s, k, f.share);
                fine_.push_back(f);
            }
        }
    }
    firstFine_.push_back(static_cast<int>(fine_.size()));
    steady_.assign(fine_.size(), 0.0);
    comesAndGoes_ = steady_;
    asSound_.assign(fine_.size(), 1);
}

bool Belief::take(const PredictionTable& table, const Observation& o)
{
    const bool taken = o.kind == Observation::Kind::Reading ? takeReading(table, o) : takeReport(table, o);
    if (taken) taken_.push_back(o);
    return taken;
}

void Belief::add(std::size_t fine, double logLikelihood, double& sound)
{
    if (fine == 0) sound = logLikelihood;
    steady_[fine] += logLikelihood;
    comesAndGoes_[fine] += logAdd(logLikelihood, sound) - std::log(2.0);
}

bool Belief::takeReport(const PredictionTable& table, const Observation& o)
{
    std::vector<const Column*> columns;
    for (const auto& need : o.needs) {
        columns.push_back(table.find(o.setup, need.probe));
        if (!columns.back()) return false;
    }
    Row row;
    row.sigma.assign(fine_.size(), 0.2F);
    double sound = 0;
    for (std::size_t k = 0; k < fine_.size(); ++k) {
        const Fine& f = fine_[k];
        double p = 1;
        for (std::size_t n = 0; n < columns.size(); ++n) {
            const double a = static_cast<double>(columns[n]->value[static_cast<std::size_t>(f.low)]);
            const double b = static_cast<double>(columns[n]->value[static_cast<std::size_t>(f.high)]);
            p *= chance(o.needs[n], (1 - f.share) * a + f.share * b);
        }
        row.predicted.push_back(static_cast<float>(p));
        const double seen = o.kind == Observation::Kind::Code            ? codeWhenNot + (codeWhenMet - codeWhenNot) * p
                            : o.kind == Observation::Kind::FunctionWorks ? reportWrong + (1 - 2 * reportWrong) * p
                                                                         : 1 - reportWrong - (1 - 2 * reportWrong) * p;
        add(k, std::log(seen), sound);
    }
    rows_.push_back(std::move(row));
    return true;
}

double Belief::covariance(const Column& column, const Observation& o, std::size_t earlier) const
{
    const Column* other = rows_[earlier].column;
    // Volts lend nothing to ohms.
    if (!other || column.probe.ohms != other->probe.ohms) return 0;
    // Both lists are in the order of the elements.
    double sum = o.gain * taken_[earlier].gain;
    auto b = other->parts.begin();
    for (const auto& [part, moved] : column.parts) {
        while (b != other->parts.end() && b->first < part)
            ++b;
        if (b == other->parts.end()) break;
        if (b->first == part) sum += static_cast<double>(moved) * static_cast<double>(b->second);
    }
    if (!o.battery_V && !taken_[earlier].battery_V)
        sum += batteryUnknown_V * batteryUnknown_V * static_cast<double>(column.batterySlope[0]) *
               static_cast<double>(other->batterySlope[0]);
    return sum;
}

bool Belief::takeReading(const PredictionTable& table, const Observation& o)
{
    const Column* column = table.find(o.setup, o.probe);
    if (!column) return false;
    // The battery's own voltage, from what its posts show. Beside a running alternator they say little of it, and
    // little hangs on it.
    double shift = 0, shiftSigma = batteryUnknown_V;
    Condition bare;
    bare.state = o.setup.state;
    if (const Column* battery = o.battery_V ? table.find(bare, o.batteryProbe) : nullptr) {
        const double slope = std::max(0.3, static_cast<double>(battery->batterySlope[0]));
        shift = std::clamp((*o.battery_V - static_cast<double>(battery->value[0])) / slope, -3.0, 3.0);
        shiftSigma = batteryKnown_V / slope;
    }
    Row row;
    row.column = column;
    // Row of the Cholesky factor of the spread: L l = covariances with the earlier readings.
    const double battery = shiftSigma * static_cast<double>(column->batterySlope[0]);
    const double whole = o.sigma * o.sigma + o.gain * o.gain +
                         static_cast<double>(column->tolerance) * static_cast<double>(column->tolerance) +
                         battery * battery;
    double left = whole;
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        double l = 0;
        if (rows_[r].column) {
            l = covariance(*column, o, r);
            for (std::size_t q = 0; q < r; ++q)
                l -= row.shared[q] * rows_[r].shared[q];
            l /= rows_[r].shared[r];
        }
        row.shared.push_back(l);
        left -= l * l;
    }
    left = std::max(left, o.sigma * o.sigma);
    row.shared.push_back(std::sqrt(left));
    // Most suspects leave most readings as they are: they share the sound circuit's row.
    std::vector<char> moved(column->value.size(), 0);
    for (std::size_t i = 1; i < moved.size(); ++i)
        moved[i] = !(column->value[i] == column->value[0] && column->batterySlope[i] == column->batterySlope[0]);
    const std::vector<char> chatters = [&] {
        std::vector<char> out(column->value.size(), 0);
        for (const int c : column->chattering)
            out[static_cast<std::size_t>(c)] = 1;
        return out;
    }();
    const auto at = [&](int c) {
        const auto i = static_cast<std::size_t>(c);
        return static_cast<double>(column->value[i]) + shift * static_cast<double>(column->batterySlope[i]);
    };
    row.predicted.resize(fine_.size());
    row.sigma.resize(fine_.size());
    row.z.assign(fine_.size(), 0.0F);
    const double sound0 = at(0);
    double sound = 0, last = 0;
    for (std::size_t k = 0; k < fine_.size(); ++k) {
        const Fine& f = fine_[k];
        const bool unmoved = k > 0 && asSound_[k] && !moved[static_cast<std::size_t>(f.low)] &&
                             (f.share == 0 || !moved[static_cast<std::size_t>(f.high)]) &&
                             !touches(suspects_[static_cast<std::size_t>(f.suspect)], o);
        if (unmoved) {
            row.predicted[k] = row.predicted[0];
            row.sigma[k] = row.sigma[0];
            row.z[k] = row.z[0];
            steady_[k] += sound;
            comesAndGoes_[k] += sound;
            last = sound0;
            continue;
        }
        asSound_[k] = k == 0;
        const double a = at(f.low), b = f.share > 0 ? at(f.high) : a;
        const bool free = touches(suspects_[static_cast<std::size_t>(f.suspect)], o) || std::isnan(a) || std::isnan(b);
        if (free) {
            row.predicted[k] = static_cast<float>(o.value);
            row.sigma[k] = 5;
            add(k, std::log(freeDensity), sound);
            continue;
        }
        double v = a, grid = 0;
        if (f.share > 0) {
            v = between3(sound0, f.x1, a, f.x2, b, f.x, f.share);
            // The same from a neighbouring severity instead of the sound circuit: where both agree the circuit is
            // linear here; where not, its laws change between the two.
            if (f.third >= 0) grid = bendShare * (v - curveThrough(f, a, b, at(f.third)));
        }
        // Severities lie as close as the fine cases and no closer.
        if (k > 0 && fine_[k - 1].suspect == f.suspect && f.share > 0) grid += cellShare * std::abs(v - last);
        last = v;
        // What earlier readings say of this one through the parts, the meter and the battery they share.
        double given = 0;
        for (std::size_t r = 0; r < rows_.size(); ++r)
            given += row.shared[r] * (rows_[r].z.empty() ? 0.0 : static_cast<double>(rows_[r].z[k]));
        // Sound parts beside a fault differ too: one per cent of what the fault moved.
        const double spread = movedShare * (v - sound0);
        const bool chatter = chatters[static_cast<std::size_t>(f.low)] || chatters[static_cast<std::size_t>(f.high)];
        const double rough = chatter ? chatterShare * std::abs(v - sound0) + chatterAtLeast_V : 0;
        const double sigma = std::sqrt(left + grid * grid + spread * spread + rough * rough);
        const double z = (o.value - v - given) / sigma;
        row.predicted[k] = static_cast<float>(v);
        row.sigma[k] = static_cast<float>(sigma);
        // A slip tells nothing about what it shares.
        row.z[k] = std::abs(z) < slipZ ? static_cast<float>(z) : 0.0F;
        add(k, logNormalOrSlip(z, sigma), sound);
    }
    rows_.push_back(std::move(row));
    return true;
}

std::vector<double> Belief::probabilities() const
{
    std::vector<double> logs(suspects_.size());
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        const auto begin = static_cast<std::size_t>(firstFine_[i]), end = static_cast<std::size_t>(firstFine_[i + 1]);
        double most = -1e300;
        for (std::size_t k = begin; k < end; ++k)
            most = std::max({most, steady_[k], comesAndGoes_[k]});
        const double goes = i == 0 ? 0.0 : comesAndGoesPrior;
        double share = 0;
        for (std::size_t k = begin; k < end; ++k)
            share += (1 - goes) * std::exp(steady_[k] - most) + goes * std::exp(comesAndGoes_[k] - most);
        const double sum = most + std::log(share);
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
            out[static_cast<std::size_t>(fine_[k].low)] += (1 - fine_[k].share) * weight;
            out[static_cast<std::size_t>(fine_[k].high)] += fine_[k].share * weight;
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
    const Row& row = rows_[observation];
    const std::size_t k = best(suspect);
    Against a;
    a.predicted = static_cast<double>(row.predicted[k]);
    a.sigma = static_cast<double>(row.sigma[k]);
    const bool isReading = o.kind == Observation::Kind::Reading;
    const double measured = isReading ? o.value : o.kind == Observation::Kind::FunctionDead ? 0.0 : 1.0;
    double given = 0;
    for (std::size_t r = 0; isReading && r < observation; ++r)
        given += row.shared[r] * (rows_[r].z.empty() ? 0.0 : static_cast<double>(rows_[r].z[k]));
    a.z = (measured - a.predicted - given) / std::max(1e-9, a.sigma);
    return a;
}

}  // namespace ilvek
