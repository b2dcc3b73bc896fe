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
    double beside = 0;   // what else is not known under it, one sigma: another battery's voltage, a starved module
    double remains = 1;  // r, what the fault leaves in it of what sound parts make of it
};

// A sensor's output that is shorted to ground says nothing of its parts. With e the reading's own sigma
//   r = (min(|v|, |sound|) + e) / (max(|v|, |sound|) + e), nothing across zero; of ohms 10^−|v − sound|.
double remains(const ReadUnder& seen, double left, bool ohms);

struct Weighed {
    double sigma = 0, z = 0, logLikelihood = 0;
    double noSlip = 1;  // the chance
    double own = 0;     // r √left as a share of sigma, less what interpolation makes of that
};

// One reading's row: what it may be off by, and by fine case what each suspect makes of it.
struct WeighedRow : Spread {
    std::vector<float> predicted = {}, sigma = {};
    std::vector<float> gain = {};   // log-likelihood less that of the sound circuit
    double soundLogLikelihood = 0;  // under the sound circuit
    bool stays = false;             // what was seen stays to be seen while the fault comes and goes
};

// What earlier readings say of one, V or decades, and what of it they leave untold, one sigma.
struct Given {
    double value = 0, untold = 0;
};

// With `left`, V², of the reading's own spread, own² of the instrument in it, and the share of what the fault moves
// that sound parts beside it make; k is r where it falls, 1 where it rises:
//   sigma² = k² left + (1 − k²) own² + (r untold)² + unsure² + (share (v − sound))² + rough² + beside²,
//   z = (measured − v − r given) / sigma.
Weighed weigh(const Observation& o, double left, double besideShare, const ReadUnder& seen, const Given& given);

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

// What one reading hands on to the next through what they share, in sigmas: how far that is off, how far that is not
// known, and what the interpolation may be off by.
struct HandedOn {
    float z = 0, untold = 1, unsure = 0;
};

// p the chance that it is no slip, a what of sigma is its own share:  z = p a z,  untold² = 1 − a².
HandedOn handedOnBy(const Weighed& weighed, double unsure2);

// Where figures are not stated the table only screens, as wide as it is: all of a reading is its own share, z = p z.
// The fit follows what a fault leaves of it.
bool isVague(const Observation& o);
HandedOn handedOnInTable(const Observation& o, const Weighed& weighed, double unsure2);

// An earlier reading whose share in this one is `shared`, V or decades, r counted, after this one was weighed.
// SOURCE: Kalman's update of each by itself, z += K (measured − expected), untold² −= K shared untold², with
// K = p shared untold² / sigma².
void learn(HandedOn& earlier, double shared, const Weighed& weighed);

}  // namespace ilvek
