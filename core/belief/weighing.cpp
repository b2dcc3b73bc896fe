#include "belief/weighing.h"

#include <algorithm>
#include <cmath>

#include "belief/likelihood.h"

namespace ilvek {

namespace {

// A circuit that chatters shows a mean that hangs on how fast its parts follow.
constexpr double chatterShare = 0.3, chatterAtLeast_V = 0.2;

bool falls(const ReadUnder& seen, bool ohms)
{
    return ohms ? seen.v < seen.sound : std::abs(seen.v) < std::abs(seen.sound);
}

}  // namespace

double remains(const ReadUnder& seen, double left, bool ohms)
{
    if (ohms) return std::pow(10.0, -std::abs(seen.v - seen.sound));
    const double own = std::sqrt(left), v = std::abs(seen.v), sound = std::abs(seen.sound);
    if (seen.v * seen.sound < 0 && std::abs(seen.v - seen.sound) > own) return 0;
    return (std::min(v, sound) + own) / (std::max(v, sound) + own);
}

Weighed weigh(const Observation& o, double left, double besideShare, const ReadUnder& seen, const Given& given)
{
    const double moved = seen.v - seen.sound;
    const double rough = seen.chatters ? chatterShare * std::abs(moved) + chatterAtLeast_V : 0;
    const double r = seen.remains, k2 = falls(seen, o.probe.ohms) ? r * r : 1;
    const double certain2 = k2 * left + (1 - k2) * std::min(o.sigma * o.sigma, left) + square(r * given.untold) +
                            square(besideShare * moved) + square(rough) + square(seen.beside);
    Weighed w;
    w.sigma = std::sqrt(certain2 + seen.unsure2);
    w.own = r * std::sqrt(left / certain2);
    w.z = (o.value - seen.v - r * given.value) / w.sigma;
    w.logLikelihood = logNormalOrSlip(w.z, w.sigma, o);
    w.noSlip = chanceOfNoSlip(w.z, w.sigma, o);
    return w;
}

double halfTheTime(double gain)
{
    return logAdd(gain, 0.0) - std::log(2.0);
}

double looseGain(const WeighedRow& row, double gain)
{
    return row.stays ? gain : halfTheTime(gain);
}

void Growth::tell(double gain, double atWorst)
{
    constexpr double turns = 0.15, half = 0.5;
    static const double logTurns = std::log(turns), logStays = std::log(1 - turns), even = std::log(half);
    const double s = any_ ? logAdd(logStays + slight_, logTurns + worst_) : even;
    const double w = any_ ? logAdd(logTurns + slight_, logStays + worst_) : even;
    onlySlight_ += gain + (any_ ? logStays : even);
    onlyWorst_ += atWorst + (any_ ? logStays : even);
    slight_ = s + gain;
    worst_ = w + atWorst;
    any_ = true;
}

double Growth::logLikelihood() const
{
    constexpr double nothing = -1e9, rounding = 1e-9;
    const double all = logAdd(slight_, worst_), turned = -std::expm1(logAdd(onlySlight_, onlyWorst_) - all);
    return any_ && turned > rounding ? both_ + all + std::log(turned) : nothing;
}

HandedOn handedOnBy(const Weighed& w, double unsure2)
{
    return {static_cast<float>(w.noSlip * w.own * w.z), static_cast<float>(std::sqrt(std::max(0.0, 1 - w.own * w.own))),
            static_cast<float>(std::sqrt(unsure2) / w.sigma)};
}

bool isVague(const Observation& o)
{
    return o.untoldShare > 0;
}

HandedOn handedOnInTable(const Observation& o, const Weighed& w, double unsure2)
{
    if (!isVague(o)) return handedOnBy(w, unsure2);
    return {static_cast<float>(w.noSlip * w.z), 0, static_cast<float>(std::sqrt(unsure2) / w.sigma)};
}

void learn(HandedOn& earlier, double shared, const Weighed& w)
{
    const double untold2 = square(static_cast<double>(earlier.untold));
    if (untold2 == 0 || shared == 0) return;
    const double gain = w.noSlip * shared * untold2 / square(w.sigma);
    earlier.z += static_cast<float>(gain * w.z * w.sigma);
    earlier.untold = static_cast<float>(std::sqrt(std::max(0.0, untold2 - gain * shared * untold2)));
}

}  // namespace ilvek
