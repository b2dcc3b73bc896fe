#include "trace/signal/axis.h"

#include <cmath>
#include "base/expects.h"

namespace ilvek {

namespace {

constexpr double mostTicks = 200;

}  // namespace

double niceStep(double span, double parts)
{
    EXPECTS(span > 0 && parts > 0);
    const double rough = span / parts, power = std::pow(10.0, std::floor(std::log10(rough)));
    for (const double m : {1.0, 2.0, 5.0}) {
        if (m * power >= rough) return m * power;
    }
    return 10 * power;
}

std::vector<double> ticks(double low, double high, double step)
{
    std::vector<double> out;
    const double first = std::ceil(low / step);
    if (!(step > 0) || !((high - low) / step <= mostTicks) || !(first + 1 > first) || !(high - low < HUGE_VAL))
        return out;
    for (double k = 0; (first + k) * step <= high; ++k)
        out.push_back((first + k) * step);
    return out;
}

}  // namespace ilvek
