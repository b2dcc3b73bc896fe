#include "belief/other_battery.h"

#include <cmath>

#include "belief/likelihood.h"

namespace ilvek {

double OtherBattery::movesBy(const Column& column, int low, int high, double share)
{
    if (column.fed.empty()) return 0;
    return share > 0 ? (1 - share) * column.fedBy(low) + share * column.fedBy(high) : column.fedBy(low);
}

void OtherBattery::expect(double by, ReadUnder& seen) const
{
    if (by == 0) return;
    seen.v += by * mean;
    seen.beside = std::abs(by) * std::sqrt(variance);
}

// SOURCE: Kalman's update of one unknown, m += K r, P −= K b P with K = P b / sigma², from a reading that it moves by
// b.
void OtherBattery::learn(double by, const Weighed& weighed)
{
    if (by == 0 || weighed.noSlip < 0.5) return;
    const double gain = variance * by / (weighed.sigma * weighed.sigma);
    mean += gain * weighed.z * weighed.sigma;
    variance -= gain * by * variance;
}

}  // namespace ilvek
