// How an observation enters the belief: under every suspect whose circuit it could tell from the sound one.
#include <algorithm>
#include <cmath>

#include "base/stop.h"
#include "belief/belief.h"
#include "belief/likelihood.h"
#include "suspects/sights.h"

namespace ilvek {

namespace {

// A circuit that chatters shows a mean that hangs on how fast its parts follow.
constexpr double chatterShare = 0.3, chatterAtLeast_V = 0.2;
constexpr double negligible = 1e-3;  // in log-likelihood
// A suspect that moves a reading by less than this share of its sigma leaves it as it is.
constexpr double sameShare = 1e-3;

// Whether a reading jumps from one severity to the next, a → b, V or decades, as where a fuse blows between them: it
// goes on far faster than from the severity before, or turns round. That stretch, before → a, is to this one as one to
// `longer`.
bool isJump(double before, double a, double b, double longer, double sigma)
{
    constexpr double bendsBy = 4, seenFrom = 3;
    const double goesOn = (a - before) * longer, comes = b - a;
    return std::abs(comes) > (goesOn * comes > 0 ? bendsBy * std::abs(goesOn) : 0) + seenFrom * sigma;
}

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

void Belief::touch(int suspect)
{
    const auto i = static_cast<std::size_t>(suspect);
    if (touched_[i]) return;
    touched_[i] = 1;
    for (std::size_t o = 0; o < rows_.size(); ++o)
        handedOn_[i].insert(handedOn_[i].end(), weighed(suspect), handedOn_.front()[o]);
}

void Belief::push(Row row)
{
    rows_.push_back(std::move(row));
    // Reports and looks hand on nothing.
    for (std::size_t i = 0; i < suspects_.size(); ++i) {
        if (i == 0 || touched_[i]) handedOn_[i].resize(rows_.size() * weighed(static_cast<int>(i)));
    }
}

void Belief::add(Row& row, std::size_t fine, double logLikelihood, double more)
{
    const double gain = logLikelihood - row.sound, loose = looseGain(row, gain);
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
        markMoved(*c, first_, 0, moves);
    Row row;
    const double sound = chanceOf(o, columns, 0);
    row.predicted.assign(fine_.size(), static_cast<float>(sound));
    row.sigma.assign(fine_.size(), 0.2F);
    row.gain.assign(fine_.size(), 0.0F);
    row.sound = logOfReport(o, sound);
    for (std::size_t i = 1; i < suspects_.size(); ++i) {
        const bool open = touches(suspects_[i], o);
        if (!moves[i] && !open) continue;
        touch(static_cast<int>(i));
        for (std::size_t k = begin(static_cast<int>(i)); k < end(static_cast<int>(i)); ++k) {
            const Fine& f = fine_[k];
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
    }
    push(std::move(row));
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
    push(std::move(row));
    return true;
}

// Every suspect reads as the sound circuit at first.
void Belief::readAsSound(Row& row, const Observation& o)
{
    row.predicted.assign(1, 0.0F);
    row.sigma = row.predicted;
    const double healthy = shifted(*row.column, 0, row.battery, o);
    const Seen seen{healthy, 0, healthy, false, 0};
    const Weighed weighed = weigh(row, o, seen, givenBefore(row, 0).front().value);
    handedOn_.front().push_back(keep(row, 0, seen, weighed));
    row.sound = weighed.logLikelihood;
    row.predicted.assign(fine_.size(), row.predicted.front());
    row.sigma.assign(fine_.size(), row.sigma.front());
    row.gain.assign(fine_.size(), 0.0F);
}

bool Belief::takeReading(const PredictionTable& table, const Observation& o)
{
    const Column* column = table.find(o.setup, o.probe);
    // Ohms where the sound circuit is live are no figure of anything.
    if (!column || std::isnan(column->value[0])) return false;
    const Column* battery = o.battery_V ? table.find(o.batterySetup, o.batteryProbe) : nullptr;
    Row row{spreadOf(*column, battery, o)};
    shareWith(
        rows_.size(), [&](std::size_t r) -> const Row& { return rows_[r]; }, o, row);
    readAsSound(row, o);
    std::vector<char> moves(suspects_.size(), 0), chatters(column->value.size(), 0);
    markMoved(*column, first_, sameShare * o.sigma, moves);
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

void Belief::leaveFree(Row& row, const Observation& o, std::size_t k)
{
    row.predicted[k] = static_cast<float>(o.value);
    row.sigma[k] = freeSigma;
    add(row, k, std::log(freeDensity));
}

// A reading under the severities of one suspect, from the first to the last: as computed at those of the table,
// interpolated between two of them.
class Belief::Passage {
public:
    Passage(const Row& row, const Observation& o) : row_(row), o_(o), healthy_(at(0)) { before_ = a_ = b_ = healthy_; }

    // Of the next fine case; NaN where a neighbour has no figure.
    Seen to(const Fine& f)
    {
        if (f.share <= 0) {
            arrive(f);
            return leave({a_, 0, healthy_, false, 0});
        }
        if (isFirst_) depart(f);
        isFirst_ = false;
        if (std::isnan(a_) || std::isnan(b_)) return {std::nan(""), 0, healthy_, false, 0};
        Seen seen{between3(healthy_, f.x1, a_, f.x2, b_, f.x, f.share), 0, healthy_, false, 0};
        // The same from a neighbouring severity instead of the sound circuit: where both agree the circuit is linear
        // here; where not, its laws change between the two.
        const double bend = f.third >= 0 ? bendShare * (seen.v - curveThrough(f, a_, b_, third_)) : 0;
        // Severities lie as close as the fine cases and no closer.
        seen.grid2 = square(bend) + square(cellShare * (seen.v - last_));
        return leave(seen);
    }

    // Between two severities, where the reading jumps: on either side of the jump.
    std::vector<double> sidesOfJump(const Fine& f) const
    {
        return f.share > 0 && jumps_ ? std::vector<double>{a_, b_} : std::vector<double>{};
    }

private:
    double at(int tableCase) const
    {
        return shifted(*row_.column, static_cast<std::size_t>(tableCase), row_.battery, o_);
    }

    void arrive(const Fine& f)
    {
        before_ = a_;
        a_ = b_ = at(f.low);
        isFirst_ = true;
    }

    void depart(const Fine& f)
    {
        b_ = at(f.high);
        third_ = f.third >= 0 ? at(f.third) : 0;
        jumps_ = isJump(before_, a_, b_, (f.x2 - f.x1) / (f.x1 - x0_), std::sqrt(row_.left));
        x0_ = f.x1;
    }

    Seen leave(const Seen& seen)
    {
        last_ = seen.v;
        return seen;
    }

    const Row& row_;
    const Observation& o_;
    double healthy_;
    double before_ = 0, x0_ = 0;        // the severity before: its reading and its number
    double a_ = 0, b_ = 0, third_ = 0;  // of the two that a fine case lies between, and of a third
    double last_ = 0;                   // of the fine case before
    bool isFirst_ = false, jumps_ = false;
};

void Belief::weighReading(Row& row, const Observation& o, int suspect, const std::vector<char>& chatters)
{
    stopPoint();
    const Suspect& s = suspects_[static_cast<std::size_t>(suspect)];
    // Only of a feed another battery is looked for in the column: it is a search.
    const bool open = touches(s, o), fed = s.kind == SuspectKind::BackFeed;
    const std::vector<Given> before = givenBefore(row, suspect);
    handedOn_[static_cast<std::size_t>(suspect)].resize((rows_.size() + 1) * weighed(suspect));
    Passage passage(row, o);
    for (std::size_t k = begin(suspect); k < end(suspect); ++k) {
        const Fine& f = fine_[k];
        Seen seen = passage.to(f);
        if (open || std::isnan(seen.v)) {
            leaveFree(row, o, k);
            continue;
        }
        seen.chatters = chatters[static_cast<std::size_t>(f.low)] || chatters[static_cast<std::size_t>(f.high)];
        const auto [given, unsure2] = before[k - begin(suspect)];
        seen.grid2 += unsure2;
        const double by = fed ? fedBy(*row.column, f.low, f.high, f.share) : 0;
        feeds_[k].expect(by, seen);
        const Weighed weighed = weigh(row, o, seen, given);
        feeds_[k].learn(by, weighed.z, weighed.sigma);
        handedOn(suspect, rows_.size(), k) = keep(row, k, seen, weighed);
        // Where it jumps it reads as on one side or as on the other.
        double most = weighed.logLikelihood;
        for (const double v : passage.sidesOfJump(f))
            most = std::max(most, weigh(row, o, {v, 0, seen.healthy, seen.chatters, seen.feed}, given).logLikelihood);
        add(row, k, weighed.logLikelihood, halfLog(seen.grid2 / row.left) + most - weighed.logLikelihood);
    }
}

double Belief::fedBy(const Column& column, int low, int high, double share)
{
    if (column.fed.empty()) return 0;
    return share > 0 ? (1 - share) * column.fedBy(low) + share * column.fedBy(high) : column.fedBy(low);
}

void Belief::Feed::expect(double by, Seen& seen) const
{
    if (by == 0) return;
    seen.v += by * mean;
    seen.feed = std::abs(by) * std::sqrt(variance);
}

// SOURCE: Kalman's update of one unknown, m += K r, P −= K b P with K = P b / sigma², from a reading that it moves by
// b.
void Belief::Feed::learn(double by, double z, double sigma)
{
    if (by == 0 || shareable(z) == 0) return;
    const double gain = variance * by / (sigma * sigma);
    mean += gain * z * sigma;
    variance -= gain * by * variance;
}

std::vector<Belief::Given> Belief::givenBefore(const Row& row, int suspect) const
{
    stopPoint();
    std::vector<Given> given(weighed(suspect));
    auto own = handedOn_[static_cast<std::size_t>(suspect)].begin();
    for (std::size_t r = 0; r + 1 < row.shared.size(); ++r) {
        const double shared = row.shared[r];
        for (Given& g : given) {
            g.value += shared * static_cast<double>(own->z);
            g.unsure2 += square(shared * static_cast<double>(own->unsure));
            ++own;
        }
    }
    return given;
}

Belief::Weighed Belief::weigh(const Row& row, const Observation& o, const Seen& seen, double given)
{
    const double spread = o.besideShare * (seen.v - seen.healthy);
    const double rough = seen.chatters ? chatterShare * std::abs(seen.v - seen.healthy) + chatterAtLeast_V : 0;
    Weighed w;
    w.sigma = std::sqrt(row.left + seen.grid2 + square(spread) + square(rough) + square(seen.feed));
    w.z = (o.value - seen.v - given) / w.sigma;
    w.logLikelihood = logNormalOrSlip(w.z, w.sigma, o.slip);
    return w;
}

Belief::HandedOn Belief::keep(Row& row, std::size_t k, const Seen& seen, const Weighed& weighed)
{
    row.predicted[k] = static_cast<float>(seen.v);
    row.sigma[k] = static_cast<float>(weighed.sigma);
    return {static_cast<float>(shareable(weighed.z)), static_cast<float>(std::sqrt(seen.grid2) / weighed.sigma)};
}

}  // namespace ilvek
