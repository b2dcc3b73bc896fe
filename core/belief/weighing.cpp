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

HandedOn handedOnBy(const ReadUnder& seen, const Weighed& weighed)
{
    return {static_cast<float>(weighed.handsOn), static_cast<float>(std::sqrt(seen.unsure2) / weighed.sigma)};
}

}  // namespace ilvek
