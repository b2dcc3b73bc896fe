// The belief in a few suspects weighed anew with computed readings at every severity.
#include <algorithm>
#include <cmath>

#include "belief/belief.h"
#include "belief/break.h"
#include "belief/likelihood.h"

namespace ilvek {

namespace {

constexpr double farBelow = 9;  // in log-likelihood
// What interpolation may cost a severity, in log-likelihood, that is not worth computing.
constexpr double exactEnough = 0.01;
// A neighbour of which it may cost more than this is no end of a stretch.
constexpr double unsure = 0.5;

// How far what a reading hands on lies from `z` over some points, one sigma, each as likely as all that was read has
// it.
float spreadAbout(float z, const ComputedSeverities& computed, std::size_t observation,
                  const std::vector<std::size_t>& points, const std::vector<double>& logs,
                  const std::vector<double>& weights)
{
    const double most = *std::max_element(logs.begin(), logs.end());
    double sum = 0, whole = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const double w = weights[i] * std::exp(logs[i] - most);
        sum += w * square(static_cast<double>(computed.handedOn(observation, points[i]).z - z));
        whole += w;
    }
    return static_cast<float>(std::sqrt(sum / whole));
}

}  // namespace

std::vector<std::size_t> Belief::worthComputing(int suspect) const
{
    const std::size_t first = grid_.begin(suspect), cases = weighed(suspect);
    double best = -1e300;
    for (std::size_t k = first; k < grid_.end(suspect); ++k)
        best = std::max({best, steady_[k], comesAndGoes_[k]});
    const auto decides = [&](double sum, double slack) { return slack > exactEnough && sum + slack > best - farBelow; };
    // Each with both its neighbours, for a stretch is looked at from both of its ends; and where such a neighbour is
    // itself not known, with one more.
    std::vector<char> wanted(cases, 0);
    const auto isUnsure = [&](std::size_t k) { return slack_[first + k] > unsure; };
    const auto want = [&](std::size_t k) {
        const std::size_t before = k > 1 && isUnsure(k - 1) ? 2 : 1, after = k + 1 < cases && isUnsure(k + 1) ? 2 : 1;
        for (std::size_t j = k - std::min(k, before); j <= k + after && j < cases; ++j)
            wanted[j] = 1;
    };
    for (std::size_t k = 0; k < cases; ++k) {
        const std::size_t at = first + k, turned = turns_[at];
        if (decides(steady_[at], slack_[at]) || decides(comesAndGoes_[at], looseSlack_[at])) want(k);
        if (turned == at || !decides(growsAtMost_[at], slack_[at] + slack_[turned])) continue;
        want(k);
        want(turned - first);
    }
    // On to the break behind a severity, and back to the one before it: as the severity itself.
    const Suspect& s = suspects_[static_cast<std::size_t>(suspect)];
    constexpr std::size_t half = SeverityGrid::between / 2;
    for (std::size_t k = 0; k + 1 < cases; ++k) {
        if (!isBreak(s, k)) continue;
        const std::size_t low = k + 1 - half, high = low + SeverityGrid::between;
        if (wanted[low]) std::fill_n(wanted.begin() + static_cast<std::ptrdiff_t>(low), half, 1);
        if (high < cases && wanted[high]) std::fill_n(wanted.begin() + static_cast<std::ptrdiff_t>(k + 1), half, 1);
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
    const Suspect& of = suspects_[static_cast<std::size_t>(suspect)];
    const bool before = s == 0 || isBreak(of, s - 1) || (k > 0 && severities[k - 1] == s - 1);
    const bool after = grid_.begin(suspect) + s + 1 == grid_.end(suspect) || isBreak(of, s) ||
                       (k + 1 < severities.size() && severities[k + 1] == s + 1);
    return !before || !after;
}

void Belief::refine(int suspect, const std::vector<std::size_t>& severities, const std::vector<Exact>& observations)
{
    if (severities.empty()) return;
    known_.clear();
    touch(suspect);
    const ComputedSeverities computed(suspects_[static_cast<std::size_t>(suspect)], taken_, rows_, severities,
                                      observations);
    // Back to the severities that have both their neighbours: each takes the points that are nearer to it than to the
    // next.
    for (std::size_t k = 0; k < severities.size(); ++k) {
        if (isEdge(suspect, severities, k)) continue;
        const std::size_t fine = grid_.begin(suspect) + severities[k];
        const std::vector<std::size_t> near = computed.near(k);
        if (near.empty()) continue;
        std::vector<double> steady, loose, weight;
        std::size_t best = near.front();
        for (const std::size_t i : near) {
            const ComputedSeverities::Point& p = computed.points()[i];
            steady.push_back(p.steady);
            loose.push_back(p.loose);
            weight.push_back(p.weight);
            if (p.steady > computed.points()[best].steady) best = i;
        }
        steady_[fine] = logMean(steady, weight);
        comesAndGoes_[fine] = logMean(loose, weight);
        slack_[fine] = looseSlack_[fine] = 0;
        otherBattery_[fine] = computed.points()[best].battery;
        for (std::size_t o = 0; o < taken_.size(); ++o) {
            WeighedRow& row = rows_[o];
            const Weighed& weighed = computed.weighed(o, best);
            row.gain[fine] = static_cast<float>(weighed.logLikelihood - row.soundLogLikelihood);
            if (!row.column) continue;
            keep(row, fine, computed.seen(o, best), weighed);
            HandedOn& on = handedOn(suspect, o, fine);
            on = computed.handedOn(o, best);
            // The next reading may well speak for another of them.
            on.unsure = std::hypot(on.unsure, spreadAbout(on.z, computed, o, near, steady, weight));
        }
    }
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k)
        growsAtMost_[k] = 0;
    for (const WeighedRow& row : rows_)
        grow(row, suspect);
}

}  // namespace ilvek
