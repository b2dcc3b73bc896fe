// The law by which a reading weighs: once, for the belief by the table and for the fit.
#pragma once

#include <vector>

#include "belief/observations.h"
#include "belief/spread.h"

namespace ilvek {

// A reading under one way that things may be, V, A or decades.
struct ReadUnder {
    double v = 0;
    double unsure2 = 0;  // squared, what the interpolation or an earlier reading may be off by
    double sound = 0;    // under the sound circuit
    bool chatters = false;
    double beside = 0;  // what else is not known under it, one sigma: another battery's voltage, a starved module
};

struct Weighed {
    double sigma = 0, z = 0, logLikelihood = 0;
    double handsOn = 0;  // z, as far as it is no slip
};

// One reading's row: what it may be off by, and by fine case what each suspect makes of it.
struct WeighedRow : Spread {
    std::vector<float> predicted = {}, sigma = {};
    std::vector<float> gain = {};   // log-likelihood less that of the sound circuit
    double soundLogLikelihood = 0;  // under the sound circuit
    bool stays = false;             // what was seen stays to be seen while the fault comes and goes
};

// With `left`, V², of the reading's own spread, `given` what earlier readings say of it, and the share of what the
// fault moves that sound parts beside it make:
//   sigma² = left + unsure² + (share (v − sound))² + rough² + beside²,  z = (measured − v − given) / sigma.
Weighed weigh(const Observation& o, double left, double besideShare, const ReadUnder& seen, double given);

// What a gain is worth to a fault that is there half the time; what stays to be seen is worth all of it.
double halfTheTime(double gain);
double looseGain(const WeighedRow& row, double gain);

// One that grows, as a contact that opens when it is warm, is at each observation that tells as bad as it was, or as
// bad as it can be; it seldom turns from one to the other, and did so at least once. Forward over the observations in
// their order, s and w what is told by those so far with the fault now slight or now at its worst, r the chance that it
// turns:
//   s ← e^gain ((1 − r) s + r w),  w ← e^worst (r s + (1 − r) w);  less the two ways in which it never turned.
// SOURCE: L. R. Rabiner, "A tutorial on hidden Markov models", Proc. IEEE 77 (1989), the forward procedure.
class Growth {
public:
    void tell(double gain, double atWorst);
    // The same whatever the severity.
    void tellOfBoth(double gain) { both_ += gain; }
    double logLikelihood() const;  // of nothing where it never turned

private:
    double slight_ = 0, worst_ = 0;          // log s, log w
    double onlySlight_ = 0, onlyWorst_ = 0;  // without a turn
    double both_ = 0;
    bool any_ = false;
};

// What one reading hands on to the next through what they share: the sigmas it is off by, and what of that the
// interpolation may be off by.
struct HandedOn {
    float z = 0, unsure = 0;
};
HandedOn handedOnBy(const ReadUnder& seen, const Weighed& weighed);

}  // namespace ilvek
