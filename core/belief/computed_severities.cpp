#include "belief/computed_severities.h"

#include <algorithm>
#include <cmath>

#include "base/stop.h"
#include "belief/break.h"
#include "belief/likelihood.h"
#include "suspects/sights.h"

namespace ilvek {

namespace {

// Where both ends are computed each severity again, so finely that a reading moves by this share of its sigma.
constexpr double finestStep = 0.5;
constexpr std::size_t mostFiner = 64;
constexpr double passesWithin = 2;  // sigma by which a reading may lie beside what it shares with others
constexpr double farBelow = 9;      // in log-likelihood

}  // namespace

ComputedSeverities::ComputedSeverities(const Suspect& suspect, const std::vector<Observation>& taken,
                                       const std::vector<WeighedRow>& rows, const std::vector<std::size_t>& severities,
                                       const std::vector<Exact>& exact)
    : suspect_(suspect), taken_(taken), rows_(rows)
{
    read(exact, severities.size());
    if (suspect.graded) {
        divide(severities);
    } else {
        for (std::size_t k = 0; k < severities.size(); ++k)
            points_.push_back({k, k});
    }
    weighed_.assign(taken_.size(), std::vector<Weighed>(points_.size()));
    handedOn_.assign(taken_.size(), std::vector<HandedOn>(points_.size()));
    seen_.assign(taken_.size(), std::vector<ReadUnder>(points_.size()));
    for (std::size_t o = 0; o < taken_.size(); ++o)
        follow(o, exact[o]);
}

std::vector<std::size_t> ComputedSeverities::near(std::size_t severity) const
{
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < points_.size(); ++i) {
        if ((points_[i].share < 0.5 ? points_[i].low : points_[i].high) == severity) out.push_back(i);
    }
    return out;
}

void ComputedSeverities::read(const std::vector<Exact>& exact, std::size_t count)
{
    stopPoint();
    for (std::size_t o = 0; o < taken_.size(); ++o) {
        const Exact& e = exact[o];
        const bool report = !rows_[o].column;
        const auto at = [&](std::size_t k) {
            if (touches(suspect_, taken_[o])) return report ? evenOdds : std::nan("");
            if (taken_[o].kind == Observation::Kind::Look)
                return chanceOfFinding(suspect_, taken_[o].terminal, taken_[o].found);
            return report ? chanceOf(taken_[o], e.columns, k) : shifted(*e.columns.front(), k, e.battery, taken_[o]);
        };
        std::vector<double> value;
        for (std::size_t k = 0; k < count; ++k)
            value.push_back(at(e.first + k));
        value_.push_back(std::move(value));
        sound_.push_back(report ? 0.0 : at(0));
    }
}

void ComputedSeverities::divide(const std::vector<std::size_t>& severities)
{
    // What each stretch between two severities could be worth at most; only those that could decide are looked at
    // closely.
    const auto isStretch = [&](std::size_t k) {
        return k + 1 < severities.size() && severities[k + 1] == severities[k] + 1 && !isBreak(suspect_, severities[k]);
    };
    std::vector<double> most;
    for (std::size_t k = 0; k < severities.size(); ++k)
        most.push_back(isStretch(k) ? mostWithin(k) : -1e300);
    const double worth = *std::max_element(most.begin(), most.end()) - farBelow;
    for (std::size_t k = 0; k < severities.size(); ++k) {
        if (!isStretch(k)) continue;
        double steps = 2;
        for (std::size_t o = 0; o < taken_.size() && most[k] > worth; ++o) {
            const double moves = std::abs(value_[o][k + 1] - value_[o][k]);
            if (rows_[o].column && moves > 0) steps = std::max(steps, moves / (finestStep * std::sqrt(rows_[o].left)));
        }
        const auto parts = std::min(mostFiner, static_cast<std::size_t>(std::ceil(steps)));
        for (std::size_t j = 0; j < parts; ++j)
            points_.push_back({k, k + 1, (static_cast<double>(j) + 0.5) / static_cast<double>(parts),
                               1.0 / static_cast<double>(parts)});
    }
}

// The readings that the stretch passes count in full, the others as slips.
double ComputedSeverities::mostWithin(std::size_t k) const
{
    double sum = 0;
    for (std::size_t o = 0; o < taken_.size(); ++o) {
        const double a = value_[o][k], b = value_[o][k + 1];
        if (!rows_[o].column) {
            sum += std::max(logOfReport(taken_[o], a), logOfReport(taken_[o], b));
            continue;
        }
        if (std::isnan(a) || std::isnan(b)) continue;
        double whole = rows_[o].left;
        for (std::size_t r = 0; r + 1 < rows_[o].shared.size(); ++r)
            whole += rows_[o].shared[r] * rows_[o].shared[r];
        const double off = std::max({0.0, std::min(a, b) - taken_[o].value, taken_[o].value - std::max(a, b)});
        sum +=
            logNormalOrSlip(std::max(0.0, off / std::sqrt(whole) - passesWithin), std::sqrt(rows_[o].left), taken_[o]);
    }
    return sum;
}

void ComputedSeverities::follow(std::size_t o, const Exact& exact)
{
    stopPoint();
    const WeighedRow& row = rows_[o];
    for (std::size_t i = 0; i < points_.size(); ++i) {
        Point& p = points_[i];
        const double a = value_[o][p.low], b = value_[o][p.high];
        seen_[o][i].v = p.share > 0 ? (1 - p.share) * a + p.share * b : a;
        Weighed& w = weighed_[o][i];
        if (!row.column) {
            w.logLikelihood = logOfReport(taken_[o], seen_[o][i].v);
        } else if (std::isnan(seen_[o][i].v)) {
            seen_[o][i].v = taken_[o].value;
            w = {static_cast<double>(freeSigma), 0, logOfUnforetold(suspect_, taken_[o])};
        } else {
            followReading(o, i, exact);
        }
        p.steady += w.logLikelihood - row.soundLogLikelihood;
        p.loose += looseGain(row, w.logLikelihood - row.soundLogLikelihood);
    }
}

void ComputedSeverities::followReading(std::size_t o, std::size_t i, const Exact& exact)
{
    Point& p = points_[i];
    const WeighedRow& row = rows_[o];
    const Column& column = *exact.columns.front();
    const auto at = [&](std::size_t k) { return static_cast<int>(exact.first + k); };
    const auto chatters = [&](std::size_t k) {
        return std::binary_search(column.chattering.begin(), column.chattering.end(), at(k));
    };
    ReadUnder& seen = seen_[o][i];
    const double moves = value_[o][p.high] - value_[o][p.low];
    seen = {seen.v, square(cellShare * moves * p.weight), sound_[o], chatters(p.low) || chatters(p.high), 0};
    Given given;
    for (std::size_t r = 0; r < o; ++r) {
        const HandedOn& on = handedOn_[r][i];
        given.value += row.shared[r] * static_cast<double>(on.z);
        given.untold = std::hypot(given.untold, row.shared[r] * static_cast<double>(on.untold));
    }
    const double by = OtherBattery::movesBy(column, at(p.low), at(p.high), p.share);
    p.battery.expect(by, seen);
    if (!isVague(taken_[o])) seen.remains = remains(seen, row.left, taken_[o].probe.ohms);
    weighed_[o][i] = weigh(taken_[o], row.left, taken_[o].besideShare, seen, given);
    p.battery.learn(by, weighed_[o][i]);
    for (std::size_t r = 0; r < o && given.untold > 0; ++r)
        learn(handedOn_[r][i], seen.remains * row.shared[r], weighed_[o][i]);
    handedOn_[o][i] = handedOnInTable(taken_[o], weighed_[o][i], seen.unsure2);
}

}  // namespace ilvek
