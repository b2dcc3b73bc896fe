#include "belief/weighing.h"

#include <cmath>

#include "belief/likelihood.h"

namespace ilvek {

namespace {

// A circuit that chatters shows a mean that hangs on how fast its parts follow.
constexpr double chatterShare = 0.3, chatterAtLeast_V = 0.2;

}  // namespace

Weighed weigh(const Observation& o, double left, double besideShare, const ReadUnder& seen, double given)
{
    const double moved = seen.v - seen.sound;
    const double rough = seen.chatters ? chatterShare * std::abs(moved) + chatterAtLeast_V : 0;
    Weighed w;
    w.sigma = std::sqrt(left + seen.unsure2 + square(besideShare * moved) + square(rough) + square(seen.beside));
    w.z = (o.value - seen.v - given) / w.sigma;
    w.logLikelihood = logNormalOrSlip(w.z, w.sigma, o);
    w.handsOn = w.z * chanceOfNoSlip(w.z, w.sigma, o);
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

HandedOn handedOnBy(const ReadUnder& seen, const Weighed& weighed)
{
    return {static_cast<float>(weighed.handsOn), static_cast<float>(std::sqrt(seen.unsure2) / weighed.sigma)};
}

}  // namespace ilvek
