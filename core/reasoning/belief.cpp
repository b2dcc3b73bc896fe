#include "reasoning/belief.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "reasoning/likelihood.h"
#include "reasoning/severity.h"
#include "reasoning/sights.h"

namespace ilvek {

namespace {

constexpr int between = 6;      // fine cases per step between two severities
constexpr double narrowed = 8;  // severities that share the weight of a suspect whose severity is known
// Between two severities the share of the disagreement of two curves through different points that is one sigma.
constexpr double bendShare = 0.5;
// Sound parts beside a fault differ by this share of what the fault moved.
constexpr double movedShare = 0.01;
// A circuit that chatters shows a mean that hangs on how fast its parts follow.
constexpr double chatterShare = 0.3, chatterAtLeast_V = 0.2;
// Without a battery reading of the minute its own voltage is known within this; with one, within its last digits.
constexpr double batteryUnknown_V = 0.35;
constexpr double batteryKnown_V = 0.015;
constexpr double comesAndGoesPrior = 0.12;
// What the interpolation may have cost a suspect, in log-likelihood: less is not worth computing.
constexpr double worthKnowing = 0.05;

// Whether a reading jumps from one severity to the next, a → b, V or decades, as where a fuse blows between them: it
// goes on far faster than from the severity before, or turns round. That stretch, before → a, is to this one as one to
// `longer`.
bool isJump(double before, double a, double b, double longer, double sigma)
{
    constexpr double bendsBy = 4, seenFrom = 3;
    const double goesOn = (a - before) * longer, comes = b - a;
    return std::abs(comes) > (goesOn * comes > 0 ? bendsBy * std::abs(goesOn) : 0) + seenFrom * sigma;
}

// Suspects of which some severity does not read as the sound circuit.
void markMoved(const Column& column, const std::vector<int>& first, std::vector<char>& moves)
{
    for (std::size_t i = 0; i + 1 < first.size(); ++i) {
        for (auto k = static_cast<std::size_t>(first[i]); k < static_cast<std::size_t>(first[i + 1]); ++k) {
            if (!(column.value[k] == column.value[0] && column.batterySlope[k] == column.batterySlope[0])) moves[i] = 1;
        }
    }
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
    comesAndGoes_ = slack_ = looseSlack_ = steady_;
    touched_.assign(suspects.size(), 0);
}

bool Belief::take(const PredictionTable& table, const Observation& o)
{
    const bool taken = o.kind == Observation::Kind::Reading ? takeReading(table, o)
                       : o.kind == Observation::Kind::Look  ? takeLook(o)
                                                            : takeReport(table, o);
    if (taken) taken_.push_back(o);
    return taken;
}

double Belief::halfTheTime(double gain)
{
    return logAdd(gain, 0.0) - std::log(2.0);
}

void Belief::add(Row& row, std::size_t fine, double logLikelihood)
{
    const double gain = logLikelihood - row.sound;
    row.gain[fine] = static_cast<float>(gain);
    steady_[fine] += gain;
    comesAndGoes_[fine] += looseGain(row, gain);
}

void Belief::couldGain(const Row& row, std::size_t fine, double more)
{
    const double gain = static_cast<double>(row.gain[fine]);
    slack_[fine] += more;
    looseSlack_[fine] += looseGain(row, gain + more) - looseGain(row, gain);
}

bool Belief::takeReport(const PredictionTable& table, const Observation& o)
{
    std::vector<const Column*> columns;
    for (const auto& need : o.needs) {
        columns.push_back(table.find(o.setup, need.probe));
        if (!columns.back()) return false;
    }
    const auto chanceBetween = [&](const Fine& f) {
        double p = 1;
        for (std::size_t n = 0; n < columns.size(); ++n) {
            const double a = static_cast<double>(columns[n]->value[static_cast<std::size_t>(f.low)]);
            const double b = static_cast<double>(columns[n]->value[static_cast<std::size_t>(f.high)]);
            p *= chance(o.needs[n], (1 - f.share) * a + f.share * b);
        }
        return p;
    };
    std::vector<char> moves(suspects_.size(), 0);
    for (const Column* c : columns)
        markMoved(*c, first_, moves);
    Row row;
    const double sound = chanceOf(o, columns, 0);
    row.predicted.assign(fine_.size(), static_cast<float>(sound));
    row.sigma.assign(fine_.size(), 0.2F);
    row.gain.assign(fine_.size(), 0.0F);
    row.sound = logOfReport(o, sound);
    for (std::size_t i = 1; i < suspects_.size(); ++i) {
        const bool open = touches(suspects_[i], o);
        if (!moves[i] && !open) continue;
        touched_[i] = 1;
        for (std::size_t k = begin(static_cast<int>(i)); k < end(static_cast<int>(i)); ++k) {
            const Fine& f = fine_[k];
            const double p = open ? evenOdds : chanceBetween(f);
            row.predicted[k] = static_cast<float>(p);
            add(row, k, logOfReport(o, p));
            if (open || f.share <= 0) continue;
            // Where it turns between two severities is not known: it is as at one of them or as at the other.
            const double most = std::max(logOfReport(o, chanceOf(o, columns, static_cast<std::size_t>(f.low))),
                                         logOfReport(o, chanceOf(o, columns, static_cast<std::size_t>(f.high))));
            couldGain(row, k, std::max(0.0, most - logOfReport(o, p)));
        }
    }
    rows_.push_back(std::move(row));
    return true;
}

bool Belief::takeLook(const Observation& o)
{
    Row row;
    row.stays = true;
    const double sound = chanceOfFinding(suspects_.front(), o.terminal, o.found);
    row.predicted.assign(fine_.size(), static_cast<float>(sound));
    row.sigma.assign(fine_.size(), 0.2F);
    row.gain.assign(fine_.size(), 0.0F);
    row.sound = logOfReport(o, sound);
    for (std::size_t i = 1; i < suspects_.size(); ++i) {
        if (!showsAt(suspects_[i], o.terminal)) continue;
        touched_[i] = 1;
        const double p = chanceOfFinding(suspects_[i], o.terminal, o.found);
        for (std::size_t k = begin(static_cast<int>(i)); k < end(static_cast<int>(i)); ++k) {
            row.predicted[k] = static_cast<float>(p);
            add(row, k, logOfReport(o, p));
        }
    }
    rows_.push_back(std::move(row));
    return true;
}

// What follows the battery is held against the battery as the same instrument read it: only the rest feels its scale.
double Belief::scaleOf(const Row& row, const Observation& o)
{
    if (!row.battery || o.value == 0) return o.gain;
    const double follows = static_cast<double>(row.column->batterySlope[0]) / batterySlopeOf(*row.battery, 0);
    return o.gain * (1 - follows * *o.battery_V / o.value);
}

double Belief::covariance(const Row& row, const Observation& o, std::size_t earlier) const
{
    const Column& column = *row.column;
    const Column* other = rows_[earlier].column;
    // Volts lend nothing to ohms.
    if (!other || column.probe.ohms != other->probe.ohms) return 0;
    // Both lists are in the order of the elements.
    double sum = row.scale * rows_[earlier].scale;
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
    // Ohms where the sound circuit is live are no figure of anything.
    if (!column || std::isnan(column->value[0])) return false;
    double shiftSigma = batteryUnknown_V;
    Row row;
    Condition bare;
    bare.state = o.setup.state;
    if (o.battery_V) row.battery = table.find(bare, o.batteryProbe);
    if (row.battery) shiftSigma = batteryKnown_V / batterySlopeOf(*row.battery, 0);
    row.column = column;
    row.scale = scaleOf(row, o);
    // Row of the Cholesky factor of the spread: L l = covariances with the earlier readings.
    const double battery = shiftSigma * static_cast<double>(column->batterySlope[0]);
    const double whole = o.sigma * o.sigma + row.scale * row.scale +
                         static_cast<double>(column->tolerance) * static_cast<double>(column->tolerance) +
                         battery * battery;
    double left = whole;
    for (std::size_t r = 0; r < rows_.size(); ++r) {
        double l = 0;
        if (rows_[r].column) {
            l = covariance(row, o, r);
            for (std::size_t q = 0; q < r; ++q)
                l -= row.shared[q] * rows_[r].shared[q];
            l /= rows_[r].shared[r];
        }
        row.shared.push_back(l);
        left -= l * l;
    }
    left = std::max(left, o.sigma * o.sigma);
    row.shared.push_back(std::sqrt(left));
    row.left = left;
    row.predicted.assign(1, 0.0F);
    row.sigma = row.z = row.unsure = row.predicted;
    const double healthy = shifted(*column, 0, row.battery, o);
    const Seen seen{healthy, 0, healthy, false};
    const Weighed weighed = weigh(row, o, seen, givenBefore(row, 0).value);
    keep(row, 0, seen, weighed);
    row.sound = weighed.logLikelihood;
    row.predicted.assign(fine_.size(), row.predicted[0]);
    row.sigma.assign(fine_.size(), row.sigma[0]);
    row.z.assign(fine_.size(), row.z[0]);
    row.unsure.assign(fine_.size(), 0.0F);
    row.gain.assign(fine_.size(), 0.0F);
    std::vector<char> moves(suspects_.size(), 0), chatters(column->value.size(), 0);
    markMoved(*column, first_, moves);
    for (const int c : column->chattering)
        chatters[static_cast<std::size_t>(c)] = 1;
    for (std::size_t i = 1; i < suspects_.size(); ++i) {
        if (!moves[i] && !touched_[i] && !touches(suspects_[i], o)) continue;
        touched_[i] = 1;
        weighReading(row, o, static_cast<int>(i), chatters);
    }
    rows_.push_back(std::move(row));
    return true;
}

void Belief::leaveFree(Row& row, const Observation& o, std::size_t k)
{
    row.predicted[k] = static_cast<float>(o.value);
    row.sigma[k] = freeSigma;
    row.z[k] = row.unsure[k] = 0;
    add(row, k, std::log(freeDensity));
}

void Belief::weighReading(Row& row, const Observation& o, int suspect, const std::vector<char>& chatters)
{
    const auto at = [&](int c) { return shifted(*row.column, static_cast<std::size_t>(c), row.battery, o); };
    const double healthy = at(0);
    const bool open = touches(suspects_[static_cast<std::size_t>(suspect)], o);
    double last = 0, x0 = 0, before = healthy;   // of the severity before
    double a = healthy, b = healthy, third = 0;  // of the two that a fine case lies between
    bool jumps = false;
    for (std::size_t k = begin(suspect); k < end(suspect); ++k) {
        const Fine& f = fine_[k];
        if (f.share <= 0) {
            if (k > begin(suspect)) x0 = fine_[k - 1].x1, before = a;
            a = b = at(f.low);
        } else if (fine_[k - 1].share <= 0) {
            b = at(f.high);
            third = f.third >= 0 ? at(f.third) : 0;
            jumps = isJump(before, a, b, (f.x2 - f.x1) / (f.x1 - x0), std::sqrt(row.left));
        }
        if (open || std::isnan(a) || std::isnan(b)) {
            leaveFree(row, o, k);
            continue;
        }
        Seen seen{a, 0, healthy,
                  chatters[static_cast<std::size_t>(f.low)] || chatters[static_cast<std::size_t>(f.high)]};
        if (f.share > 0) {
            seen.v = between3(healthy, f.x1, a, f.x2, b, f.x, f.share);
            // The same from a neighbouring severity instead of the sound circuit: where both agree the circuit is
            // linear here; where not, its laws change between the two.
            if (f.third >= 0) seen.grid = bendShare * (seen.v - curveThrough(f, a, b, third));
            // Severities lie as close as the fine cases and no closer.
            if (k > begin(suspect)) seen.grid += cellShare * std::abs(seen.v - last);
        }
        last = seen.v;
        const auto [given, unsure] = givenBefore(row, k);
        seen.grid = std::hypot(seen.grid, unsure);
        const Weighed weighed = weigh(row, o, seen, given);
        keep(row, k, seen, weighed);
        add(row, k, weighed.logLikelihood);
        double more = 0.5 * std::log1p(seen.grid * seen.grid / row.left);
        if (f.share > 0 && jumps) {
            // It reads as on one side of the jump or as on the other.
            const auto as = [&](double v) {
                return weigh(row, o, {v, 0, healthy, seen.chatters}, given).logLikelihood;
            };
            more += std::max(0.0, std::max(as(a), as(b)) - weighed.logLikelihood);
        }
        couldGain(row, k, more);
    }
}

Belief::Given Belief::givenBefore(const Row& row, std::size_t k) const
{
    Given given;
    for (std::size_t r = 0; r + 1 < row.shared.size(); ++r) {
        if (rows_[r].z.empty()) continue;
        given.value += row.shared[r] * static_cast<double>(rows_[r].z[k]);
        given.unsure = std::hypot(given.unsure, row.shared[r] * static_cast<double>(rows_[r].unsure[k]));
    }
    return given;
}

Belief::Weighed Belief::weigh(const Row& row, const Observation& o, const Seen& seen, double given)
{
    // Sound parts beside a fault differ too: one per cent of what the fault moved.
    const double spread = movedShare * (seen.v - seen.healthy);
    const double rough = seen.chatters ? chatterShare * std::abs(seen.v - seen.healthy) + chatterAtLeast_V : 0;
    Weighed w;
    w.sigma = std::sqrt(row.left + seen.grid * seen.grid + spread * spread + rough * rough);
    w.z = (o.value - seen.v - given) / w.sigma;
    w.logLikelihood = logNormalOrSlip(w.z, w.sigma);
    return w;
}

void Belief::keep(Row& row, std::size_t k, const Seen& seen, const Weighed& weighed) const
{
    row.predicted[k] = static_cast<float>(seen.v);
    row.sigma[k] = static_cast<float>(weighed.sigma);
    row.z[k] = static_cast<float>(shareable(weighed.z));
    row.unsure[k] = static_cast<float>(std::abs(seen.grid) / weighed.sigma);
}

double Belief::logEvidence(int suspect, const Counted& counted) const
{
    const auto i = static_cast<std::size_t>(suspect);
    const double prior = std::log(suspects_[i].prior);
    if (!touched_[i]) return prior;
    const auto sums = [&](std::size_t k) {
        std::pair<double, double> s{steady_[k], comesAndGoes_[k]};
        if (counted.slack) s.first += slack_[k], s.second += looseSlack_[k];
        for (const Row* row : counted.leftOut) {
            const double gain = static_cast<double>(row->gain[k]);
            s.first -= gain;
            s.second -= looseGain(*row, gain);
        }
        return s;
    };
    double most = -1e300;
    for (std::size_t k = begin(suspect); k < end(suspect); ++k) {
        const auto [steady, loose] = sums(k);
        most = std::max({most, steady, loose});
    }
    const double goes = i == 0 ? 0.0 : comesAndGoesPrior;
    double share = 0;
    for (std::size_t k = begin(suspect); k < end(suspect); ++k) {
        const auto [steady, loose] = sums(k);
        share += (1 - goes) * std::exp(steady - most) + goes * std::exp(loose - most);
    }
    return prior + most + std::log(share / static_cast<double>(end(suspect) - begin(suspect)));
}

std::vector<double> Belief::probabilities(std::optional<std::size_t> leftOut) const
{
    Counted counted;
    for (std::size_t o = 0; leftOut && o < rows_.size(); ++o) {
        const std::int64_t id = taken_[*leftOut].id;
        if (o == *leftOut || (id != 0 && taken_[o].id == id)) counted.leftOut.push_back(&rows_[o]);
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
    const Fine& f = fine_[fine];
    return {f.suspect, weight, fine, f.low, f.high};
}

Belief::Hypothesis Belief::likeliest(int suspect) const
{
    return hypothesis(best(suspect), 1);
}

double Belief::valueAt(const Column& column, const Hypothesis& h, const Column* battery, double* uncertainty) const
{
    const Fine& f = fine_[h.fine];
    const auto at = [&](int c) {
        const auto i = static_cast<std::size_t>(c);
        return battery ? shiftedTo(column, i, *battery, static_cast<double>(battery->value[0]))
                       : static_cast<double>(column.value[i]);
    };
    if (uncertainty) *uncertainty = 0;
    if (f.share <= 0) return at(f.low);
    const double v = between3(at(0), f.x1, at(f.low), f.x2, at(f.high), f.x, f.share);
    if (uncertainty && f.third >= 0)
        *uncertainty = bendShare * std::abs(v - curveThrough(f, at(f.low), at(f.high), at(f.third)));
    return v;
}

std::vector<Belief::Hypothesis> Belief::hypotheses() const
{
    const std::vector<double> p = probabilities();
    std::vector<Hypothesis> out;
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        if (p[i] < 1e-6) continue;
        const std::size_t first = begin(static_cast<int>(i)), last = end(static_cast<int>(i));
        const double highest = *std::max_element(steady_.begin() + firstFine_[i], steady_.begin() + firstFine_[i + 1]);
        double sum = 0, squares = 0;
        for (std::size_t k = first; k < last; ++k) {
            const double w = std::exp(steady_[k] - highest);
            sum += w;
            squares += w * w;
        }
        // So many severities share the weight.
        const bool narrow = sum * sum <= narrowed * squares;
        const std::size_t step = suspects_[i].graded && !narrow ? between : 1;
        double kept = 0;
        for (std::size_t k = first; k < last; k += step)
            kept += std::exp(steady_[k] - highest);
        for (std::size_t k = first; k < last; k += step)
            out.push_back(hypothesis(k, p[i] * std::exp(steady_[k] - highest) / kept));
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
    const double given = isReading ? givenBefore(row, k).value : 0;
    a.z = (measured - a.predicted - given) / std::max(1e-9, a.sigma);
    return a;
}

}  // namespace ilvek