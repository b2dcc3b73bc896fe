// How an observation enters the belief: under every suspect whose circuit it could tell from the sound one.
#include <algorithm>
#include <cmath>

#include "base/stop.h"
#include "belief/belief.h"
#include "belief/likelihood.h"
#include "belief/passage.h"
#include "suspects/sights.h"

namespace ilvek {

namespace {

constexpr double negligible = 1e-3;  // in log-likelihood
// A suspect that moves a reading by less than this share of its sigma leaves it as it is.
constexpr double sameShare = 1e-3;

// log √(1 + x).
double halfLog(double x)
{
    return 0.5 * (x < negligible ? x : std::log1p(x));
}

// Suspects of which some severity reads further than `within` from the sound circuit, or has no figure.
void markMoved(const Column& column, const std::vector<int>& first, double within, std::vector<char>& moves)
{
    const auto isFar = [&](const std::vector<float>& v, std::size_t k) { return !(std::abs(v[k] - v[0]) <= within); };
    for (std::size_t i = 0; i + 1 < first.size(); ++i) {
        for (auto k = static_cast<std::size_t>(first[i]); k < static_cast<std::size_t>(first[i + 1]); ++k) {
            if (isFar(column.value, k) || isFar(column.batterySlope, k)) moves[i] = 1;
        }
    }
}

}  // namespace

bool Belief::take(const PredictionTable& table, const Observation& o)
{
    fits_.clear();
    known_.clear();
    const bool taken = o.kind == Observation::Kind::Reading ? takeReading(table, o)
                       : o.kind == Observation::Kind::Look  ? takeLook(o)
                                                            : takeReport(table, o);
    if (taken) taken_.push_back(o);
    return taken;
}

void Belief::touch(int suspect)
{
    const auto i = static_cast<std::size_t>(suspect);
    if (touched_[i]) return;
    touched_[i] = 1;
    for (std::size_t o = 0; o < rows_.size(); ++o)
        handedOn_[i].insert(handedOn_[i].end(), weighed(suspect), handedOn_.front()[o]);
}

void Belief::push(WeighedRow row)
{
    rows_.push_back(std::move(row));
    // Reports and looks hand on nothing.
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        if (i == 0 || touched_[i]) handedOn_[i].resize(rows_.size() * weighed(static_cast<int>(i)));
    }
}

void Belief::add(WeighedRow& row, std::size_t fine, double logLikelihood, double more)
{
    const double gain = logLikelihood - row.soundLogLikelihood, loose = looseGain(row, gain);
    row.gain[fine] = static_cast<float>(gain);
    steady_[fine] += gain;
    comesAndGoes_[fine] += loose;
    slack_[fine] += more;
    // To one that comes and goes it is worth no more than that.
    looseSlack_[fine] += more < negligible ? more : looseGain(row, gain + more) - loose;
}

bool Belief::takeReport(const PredictionTable& table, const Observation& o)
{
    std::vector<const Column*> columns;
    for (const auto& need : o.needs) {
        columns.push_back(table.find(o.setup, need.probe));
        if (!columns.back()) return false;
    }
    const auto chanceBetween = [&](const Fine& f) {
        return chanceBy(o, [&](std::size_t n) {
            const double a = static_cast<double>(columns[n]->value[static_cast<std::size_t>(f.low)]);
            const double b = static_cast<double>(columns[n]->value[static_cast<std::size_t>(f.high)]);
            return (1 - f.share) * a + f.share * b;
        });
    };
    std::vector<char> moves(suspects_.size(), 0);
    for (const Column* c : columns)
        markMoved(*c, grid_.firstCases(), 0, moves);
    WeighedRow row;
    const double sound = chanceOf(o, columns, 0);
    row.predicted.assign(grid_.size(), static_cast<float>(sound));
    row.sigma.assign(grid_.size(), 0.2F);
    row.gain.assign(grid_.size(), 0.0F);
    row.soundLogLikelihood = logOfReport(o, sound);
    for (std::size_t i = 1; i < suspects_.size(); ++i) {
        const bool open = touches(suspects_[i], o);
        if (!moves[i] && !open) continue;
        touch(static_cast<int>(i));
        for (std::size_t k = grid_.begin(static_cast<int>(i)); k < grid_.end(static_cast<int>(i)); ++k) {
            const Fine& f = grid_[k];
            const double p = open ? evenOdds : chanceBetween(f);
            row.predicted[k] = static_cast<float>(p);
            const double is = logOfReport(o, p);
            if (open || f.share <= 0) {
                add(row, k, is);
                continue;
            }
            // Where it turns between two severities is not known: it is as at one of them or as at the other.
            const double most = std::max(logOfReport(o, chanceOf(o, columns, static_cast<std::size_t>(f.low))),
                                         logOfReport(o, chanceOf(o, columns, static_cast<std::size_t>(f.high))));
            add(row, k, is, std::max(0.0, most - is));
        }
        grow(row, static_cast<int>(i));
    }
    push(std::move(row));
    return true;
}

bool Belief::takeLook(const Observation& o)
{
    WeighedRow row;
    row.stays = true;
    const double sound = chanceOfFinding(suspects_.front(), o.terminal, o.found);
    row.predicted.assign(grid_.size(), static_cast<float>(sound));
    row.sigma.assign(grid_.size(), 0.2F);
    row.gain.assign(grid_.size(), 0.0F);
    row.soundLogLikelihood = logOfReport(o, sound);
    for (std::size_t i = 1; i < suspects_.size(); ++i) {
        if (!showsAt(suspects_[i], o.terminal)) continue;
        touched_[i] = 1;
        const double p = chanceOfFinding(suspects_[i], o.terminal, o.found);
        for (std::size_t k = grid_.begin(static_cast<int>(i)); k < grid_.end(static_cast<int>(i)); ++k) {
            row.predicted[k] = static_cast<float>(p);
            add(row, k, logOfReport(o, p));
        }
        grow(row, static_cast<int>(i));
    }
    push(std::move(row));
    return true;
}

// Every suspect reads as the sound circuit at first.
void Belief::readAsSound(WeighedRow& row, const Observation& o)
{
    row.predicted.assign(1, 0.0F);
    row.sigma = row.predicted;
    const double healthy = shifted(*row.column, 0, row.battery, o);
    const ReadUnder seen{healthy, 0, healthy, false, 0};
    const Weighed weighed = weigh(o, row.left, o.besideShare, seen, givenBefore(row, 0).front());
    keep(row, 0, seen, weighed);
    handedOn_.front().push_back(handedOnInTable(o, weighed, 0));
    row.soundLogLikelihood = weighed.logLikelihood;
    row.predicted.assign(grid_.size(), row.predicted.front());
    row.sigma.assign(grid_.size(), row.sigma.front());
    row.gain.assign(grid_.size(), 0.0F);
}

bool Belief::takeReading(const PredictionTable& table, const Observation& o)
{
    const Column* column = table.find(o.setup, o.probe);
    // Ohms where the sound circuit is live are no figure of anything.
    if (!column || std::isnan(column->value[0])) return false;
    const Column* battery = o.battery_V ? table.find(o.batterySetup, o.batteryProbe) : nullptr;
    WeighedRow row{spreadOf(*column, battery, o)};
    shareWith(
        rows_.size(), [&](std::size_t r) -> const WeighedRow& { return rows_[r]; }, o, row);
    readAsSound(row, o);
    std::vector<char> moves(suspects_.size(), 0), chatters(column->value.size(), 0);
    markMoved(*column, grid_.firstCases(), sameShare * o.sigma, moves);
    for (const int c : column->chattering)
        chatters[static_cast<std::size_t>(c)] = 1;
    for (std::size_t i = 1; i < suspects_.size(); ++i) {
        if (!moves[i] && !touched_[i] && !touches(suspects_[i], o)) continue;
        touch(static_cast<int>(i));
        weighReading(row, o, static_cast<int>(i), chatters);
    }
    push(std::move(row));
    return true;
}

void Belief::leaveFree(WeighedRow& row, const Observation& o, int suspect, std::size_t k)
{
    row.predicted[k] = static_cast<float>(o.value);
    row.sigma[k] = freeSigma;
    handedOn(suspect, rows_.size(), k) = {};
    add(row, k, logOfUnforetold(suspects_[static_cast<std::size_t>(suspect)], o));
}

void Belief::weighReading(WeighedRow& row, const Observation& o, int suspect, const std::vector<char>& chatters)
{
    stopPoint();
    const Suspect& s = suspects_[static_cast<std::size_t>(suspect)];
    // Only of a feed another battery is looked for in the column: it is a search.
    const bool open = touches(s, o), fed = s.kind == SuspectKind::BackFeed;
    const std::vector<GivenBefore> before = givenBefore(row, suspect);
    handedOn_[static_cast<std::size_t>(suspect)].resize((rows_.size() + 1) * weighed(suspect));
    Passage passage(row, o);
    for (std::size_t k = grid_.begin(suspect); k < grid_.end(suspect); ++k) {
        const Fine& f = grid_[k];
        ReadUnder seen = passage.to(f);
        if (open || std::isnan(seen.v)) {
            leaveFree(row, o, suspect, k);
            continue;
        }
        seen.chatters = chatters[static_cast<std::size_t>(f.low)] || chatters[static_cast<std::size_t>(f.high)];
        const GivenBefore& given = before[k - grid_.begin(suspect)];
        seen.unsure2 += given.unsure2;
        if (!isVague(o)) seen.remains = remains(seen, row.left, o.probe.ohms);
        const double by = fed ? OtherBattery::movesBy(*row.column, f.low, f.high, f.share) : 0;
        otherBattery_[k].expect(by, seen);
        const Weighed weighed = weigh(o, row.left, o.besideShare, seen, given);
        otherBattery_[k].learn(by, weighed);
        keep(row, k, seen, weighed);
        if (given.untold > 0) learn(row, suspect, k, weighed, seen.remains);
        handedOn(suspect, rows_.size(), k) = handedOnInTable(o, weighed, seen.unsure2);
        // Where it jumps it reads as on one side or as on the other.
        double most = weighed.logLikelihood;
        for (const double v : passage.sidesOfJump(f))
            most = std::max(
                most,
                weigh(o, row.left, o.besideShare, {v, 0, seen.sound, seen.chatters, seen.beside}, given).logLikelihood);
        add(row, k, weighed.logLikelihood, halfLog(seen.unsure2 / row.left) + most - weighed.logLikelihood);
    }
    grow(row, suspect);
}

std::vector<Belief::GivenBefore> Belief::givenBefore(const WeighedRow& row, int suspect) const
{
    stopPoint();
    std::vector<GivenBefore> given(weighed(suspect));
    auto own = handedOn_[static_cast<std::size_t>(suspect)].begin();
    for (std::size_t r = 0; r + 1 < row.shared.size(); ++r) {
        const double shared = row.shared[r];
        for (GivenBefore& g : given) {
            g.value += shared * static_cast<double>(own->z);
            g.untold += square(shared * static_cast<double>(own->untold));
            g.unsure2 += square(shared * static_cast<double>(own->unsure));
            ++own;
        }
    }
    for (GivenBefore& g : given)
        g.untold = std::sqrt(g.untold);
    return given;
}

void Belief::keep(WeighedRow& row, std::size_t k, const ReadUnder& seen, const Weighed& weighed)
{
    row.predicted[k] = static_cast<float>(seen.v);
    row.sigma[k] = static_cast<float>(weighed.sigma);
}

void Belief::learn(const WeighedRow& row, int suspect, std::size_t fine, const Weighed& weighed, double remains)
{
    for (std::size_t r = 0; r + 1 < row.shared.size(); ++r)
        ilvek::learn(handedOn(suspect, r, fine), remains * row.shared[r], weighed);
}

}  // namespace ilvek
