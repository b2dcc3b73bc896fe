// The belief in a few suspects weighed anew with computed readings at every severity.
#include <algorithm>
#include <cmath>

#include "base/stop.h"
#include "belief/belief.h"
#include "belief/likelihood.h"
#include "suspects/severity.h"
#include "suspects/sights.h"

namespace ilvek {

namespace {

// Where both ends are computed each severity again, so finely that a reading moves by this share of its sigma.
constexpr double finestStep = 0.5;
constexpr std::size_t mostFiner = 64;
constexpr double passesWithin = 2;  // sigma by which a reading may lie beside what it shares with others
constexpr double farBelow = 9;      // in log-likelihood
// What interpolation may cost a severity, in log-likelihood, that is not worth computing.
constexpr double exactEnough = 0.01;

}  // namespace

std::vector<std::size_t> Belief::worthComputing(int suspect) const
{
    const std::size_t first = begin(suspect), cases = weighed(suspect);
    double best = -1e300;
    for (std::size_t k = first; k < end(suspect); ++k)
        best = std::max({best, steady_[k], comesAndGoes_[k]});
    const auto decides = [&](double sum, double slack) { return slack > exactEnough && sum + slack > best - farBelow; };
    // Each with both its neighbours: a stretch is looked at from both of its ends.
    std::vector<char> wanted(cases, 0);
    for (std::size_t k = 0; k < cases; ++k) {
        const std::size_t at = first + k;
        if (!decides(steady_[at], slack_[at]) && !decides(comesAndGoes_[at], looseSlack_[at])) continue;
        for (std::size_t j = k == 0 ? 0 : k - 1; j <= k + 1 && j < cases; ++j)
            wanted[j] = 1;
    }
    std::vector<std::size_t> out;
    for (std::size_t k = 0; k < cases; ++k) {
        if (wanted[k]) out.push_back(k);
    }
    return out;
}

// Whether a computed severity has a neighbour that was not computed.
bool Belief::isEdge(int suspect, const std::vector<std::size_t>& severities, std::size_t k) const
{
    const std::size_t s = severities[k];
    const bool before = s == 0 || (k > 0 && severities[k - 1] == s - 1);
    const bool after =
        begin(suspect) + s + 1 == end(suspect) || (k + 1 < severities.size() && severities[k + 1] == s + 1);
    return !before || !after;
}

Suspect Belief::dense(int suspect, const std::vector<std::size_t>& severities) const
{
    const Suspect& s = suspects_[static_cast<std::size_t>(suspect)];
    Suspect out = s;
    out.severities.clear();
    for (const std::size_t k : severities) {
        const Fine& f = fine_[begin(suspect) + k];
        out.severities.push_back(
            faultsBetween(s, static_cast<std::size_t>(f.low - first_[static_cast<std::size_t>(suspect)]), f.share));
    }
    return out;
}

// Between two severities that are both computed a reading runs straight enough for many finer ones. Each is followed
// through all observations by itself; a severity then stands for those about it.
struct Belief::Followed {
    struct Point {
        std::size_t low = 0, high = 0;  // computed severities
        double share = 0, weight = 1;
        double steady = 0, loose = 0;
        Feed feed = {};
    };
    std::vector<std::vector<double>> value;  // by observation, by computed severity; a chance for reports
    std::vector<double> healthy;             // by observation
    std::vector<Point> points;
    std::vector<std::vector<double>> z;         // by observation, by point
    std::vector<std::vector<Weighed>> weighed;  // the same
    std::vector<std::vector<Seen>> seen;        // the same
};

void Belief::readExact(int suspect, const std::vector<std::size_t>& severities, const std::vector<Exact>& exact,
                       Followed& f) const
{
    stopPoint();
    for (std::size_t o = 0; o < taken_.size(); ++o) {
        const Exact& e = exact[o];
        const bool report = !rows_[o].column;
        const auto at = [&](std::size_t k) {
            if (touches(suspects_[static_cast<std::size_t>(suspect)], taken_[o]))
                return report ? evenOdds : std::nan("");
            if (taken_[o].kind == Observation::Kind::Look)
                return chanceOfFinding(suspects_[static_cast<std::size_t>(suspect)], taken_[o].terminal,
                                       taken_[o].found);
            return report ? chanceOf(taken_[o], e.columns, k) : shifted(*e.columns.front(), k, e.battery, taken_[o]);
        };
        std::vector<double> value;
        for (std::size_t k = 0; k < severities.size(); ++k)
            value.push_back(at(e.first + k));
        f.value.push_back(std::move(value));
        f.healthy.push_back(report ? 0.0 : at(0));
    }
}

void Belief::divide(const std::vector<std::size_t>& severities, Followed& f) const
{
    // What each stretch between two severities could be worth at most; only those that could decide are looked at
    // closely.
    const auto isStretch = [&](std::size_t k) {
        return k + 1 < severities.size() && severities[k + 1] == severities[k] + 1;
    };
    std::vector<double> most;
    for (std::size_t k = 0; k < severities.size(); ++k)
        most.push_back(isStretch(k) ? mostWithin(f, k) : -1e300);
    const double worth = *std::max_element(most.begin(), most.end()) - farBelow;
    for (std::size_t k = 0; k < severities.size(); ++k) {
        if (!isStretch(k)) continue;
        double steps = 2;
        for (std::size_t o = 0; o < taken_.size() && most[k] > worth; ++o) {
            const double moves = std::abs(f.value[o][k + 1] - f.value[o][k]);
            if (rows_[o].column && moves > 0) steps = std::max(steps, moves / (finestStep * std::sqrt(rows_[o].left)));
        }
        const auto parts = std::min(mostFiner, static_cast<std::size_t>(std::ceil(steps)));
        for (std::size_t j = 0; j < parts; ++j)
            f.points.push_back({k, k + 1, (static_cast<double>(j) + 0.5) / static_cast<double>(parts),
                                1.0 / static_cast<double>(parts)});
    }
}

// The readings that the stretch passes count in full, the others as slips.
double Belief::mostWithin(const Followed& f, std::size_t k) const
{
    double sum = 0;
    for (std::size_t o = 0; o < taken_.size(); ++o) {
        const double a = f.value[o][k], b = f.value[o][k + 1];
        if (!rows_[o].column) {
            sum += std::max(logOfReport(taken_[o], a), logOfReport(taken_[o], b));
            continue;
        }
        if (std::isnan(a) || std::isnan(b)) continue;
        double whole = rows_[o].left;
        for (std::size_t r = 0; r + 1 < rows_[o].shared.size(); ++r)
            whole += rows_[o].shared[r] * rows_[o].shared[r];
        const double off = std::max({0.0, std::min(a, b) - taken_[o].value, taken_[o].value - std::max(a, b)});
        sum += logNormalOrSlip(std::max(0.0, off / std::sqrt(whole) - passesWithin), std::sqrt(rows_[o].left),
                               taken_[o].slip);
    }
    return sum;
}

void Belief::follow(std::size_t o, const Exact& exact, Followed& f) const
{
    stopPoint();
    const Row& row = rows_[o];
    for (std::size_t i = 0; i < f.points.size(); ++i) {
        Followed::Point& p = f.points[i];
        const double a = f.value[o][p.low], b = f.value[o][p.high];
        const double v = p.share > 0 ? (1 - p.share) * a + p.share * b : a;
        Weighed& w = f.weighed[o][i];
        Seen& seen = f.seen[o][i];
        if (!row.column) {
            w.logLikelihood = logOfReport(taken_[o], v);
        } else if (std::isnan(v)) {
            seen.v = taken_[o].value;
            w = {static_cast<double>(freeSigma), 0, std::log(freeDensity)};
        } else {
            const auto chatters = [&](std::size_t k) {
                const auto& all = exact.columns.front()->chattering;
                return std::binary_search(all.begin(), all.end(), static_cast<int>(exact.first + k));
            };
            seen = {v, square(cellShare * (b - a) * p.weight), f.healthy[o], chatters(p.low) || chatters(p.high), 0};
            double given = 0;
            for (std::size_t r = 0; r < o; ++r)
                given += row.shared[r] * f.z[r][i];
            const auto at = [&](std::size_t k) { return static_cast<int>(exact.first + k); };
            const double by = fedBy(*exact.columns.front(), at(p.low), at(p.high), p.share);
            p.feed.expect(by, seen);
            w = weigh(row, taken_[o], seen, given);
            p.feed.learn(by, w.z, w.sigma);
            f.z[o][i] = shareable(w.z);
        }
        p.steady += w.logLikelihood - row.sound;
        p.loose += looseGain(row, w.logLikelihood - row.sound);
    }
}

void Belief::refine(int suspect, const std::vector<std::size_t>& severities, const std::vector<Exact>& observations)
{
    if (severities.empty()) return;
    touch(suspect);
    Followed f;
    readExact(suspect, severities, observations, f);
    if (suspects_[static_cast<std::size_t>(suspect)].graded) {
        divide(severities, f);
    } else {
        for (std::size_t k = 0; k < severities.size(); ++k)
            f.points.push_back({k, k});
    }
    const std::size_t count = f.points.size();
    f.z.assign(taken_.size(), std::vector<double>(count, 0.0));
    f.weighed.assign(taken_.size(), std::vector<Weighed>(count));
    f.seen.assign(taken_.size(), std::vector<Seen>(count));
    for (std::size_t o = 0; o < taken_.size(); ++o)
        follow(o, observations[o], f);
    // Back to the severities that have both their neighbours: each takes the points that are nearer to it than to the
    // next.
    std::vector<std::vector<std::size_t>> near(severities.size());
    for (std::size_t i = 0; i < count; ++i)
        near[f.points[i].share < 0.5 ? f.points[i].low : f.points[i].high].push_back(i);
    for (std::size_t k = 0; k < near.size(); ++k) {
        const std::size_t fine = begin(suspect) + severities[k];
        if (isEdge(suspect, severities, k)) continue;
        std::vector<double> steady, loose, weight;
        std::size_t best = near[k].front();
        for (const std::size_t i : near[k]) {
            steady.push_back(f.points[i].steady);
            loose.push_back(f.points[i].loose);
            weight.push_back(f.points[i].weight);
            if (f.points[i].steady > f.points[best].steady) best = i;
        }
        steady_[fine] = logMean(steady, weight);
        comesAndGoes_[fine] = logMean(loose, weight);
        slack_[fine] = looseSlack_[fine] = 0;
        feeds_[fine] = f.points[best].feed;
        for (std::size_t o = 0; o < taken_.size(); ++o) {
            rows_[o].gain[fine] = static_cast<float>(f.weighed[o][best].logLikelihood - rows_[o].sound);
            if (rows_[o].column) handedOn(suspect, o, fine) = keep(rows_[o], fine, f.seen[o][best], f.weighed[o][best]);
        }
    }
}

}  // namespace ilvek
