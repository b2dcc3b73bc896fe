#include "belief/likelihood.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

namespace {

// What people and modules report is right this often.
constexpr double reportWrong = 0.04;
constexpr double seenWrong = 0.004;       // of a lamp or a breaker that somebody looked at
constexpr double readWrong = 0.0005;      // of a figure that says yes or no: as a reading of its spread is a slip
constexpr double mayMoveWrong = 0.01;     // of two figures between which a sensor at rest may have moved
constexpr double vagueWrong = 0.4;        // of what was called weak, and of a signal while it turns
constexpr double complaintWrong = 0.015;  // what fails is why the machine was brought in
constexpr double codeWhenMet = 0.9, codeWhenNot = 0.03;

}  // namespace

double logAdd(double a, double b)
{
    const double high = std::max(a, b);
    return high + std::log1p(std::exp(std::min(a, b) - high));
}

namespace {

double normalDensity(double z, double sigma)
{
    return std::exp(-0.5 * z * z) / (sigma * 2.5066282746310002);
}

}  // namespace

double logNormalOrSlip(double z, double sigma, const Observation& o)
{
    return std::log((1 - o.slip) * normalDensity(z, sigma) + o.slip * o.slipDensity);
}

double chanceOfNoSlip(double z, double sigma, const Observation& o)
{
    const double read = (1 - o.slip) * normalDensity(z, sigma);
    return read / (read + o.slip * o.slipDensity);
}

double logOfUnforetold(const Suspect& suspect, const Observation& o)
{
    constexpr double beyondRange = 7.5, showsThat = 0.5;  // decades; of meters
    if (!o.probe.ohms || o.value < beyondRange || touches(suspect, o)) return std::log(freeDensity);
    return std::log(showsThat) + logNormalOrSlip(0, o.sigma, o);
}

double logMean(const std::vector<double>& logs, const std::vector<double>& weights)
{
    const double most = *std::max_element(logs.begin(), logs.end());
    double sum = 0, whole = 0;
    for (std::size_t i = 0; i < logs.size(); ++i) {
        sum += weights[i] * std::exp(logs[i] - most);
        whole += weights[i];
    }
    return most + std::log(sum / whole);
}

double chance(const Observation::Need& need, double value)
{
    if (std::isnan(value)) return 1 - need.share;  // ohms of a circuit that is live under it
    const double inside = std::min(value - need.low, need.high - value);
    const double holds = 1.0 / (1.0 + std::exp(-std::clamp(inside / need.soft, -30.0, 30.0)));
    return 1 - need.share * (1 - holds);
}

double logOfReport(const Observation& o, double p)
{
    if (o.source != Observation::Source::Told) {
        const double wrong = o.source == Observation::Source::Vague     ? vagueWrong
                             : o.source == Observation::Source::MayMove ? mayMoveWrong
                             : o.source == Observation::Source::Seen    ? seenWrong
                                                                        : readWrong;
        return std::log(wrong + (1 - 2 * wrong) * (o.kind == Observation::Kind::FunctionWorks ? p : 1 - p));
    }
    switch (o.kind) {
        case Observation::Kind::Code:
            return std::log(codeWhenNot + (codeWhenMet - codeWhenNot) * p);
        case Observation::Kind::Look:
            return std::log(p);
        case Observation::Kind::FunctionWorks:
            return std::log(reportWrong + (1 - 2 * reportWrong) * p);
        default:
            return std::log(1 - reportWrong - (1 - reportWrong - complaintWrong) * p);
    }
}

double chanceOf(const Observation& o, const std::vector<const Column*>& columns, std::size_t at)
{
    return chanceBy(o, [&](std::size_t n) { return static_cast<double>(columns[n]->value[at]); });
}

bool touches(const Suspect& s, const Observation& o)
{
    if (s.kind != SuspectKind::MapWrong) return false;
    const auto at = [&](const Probe& p) { return p.element < 0 && (leavesOpen(s, p.red) || leavesOpen(s, p.black)); };
    if (o.kind == Observation::Kind::Reading) return at(o.probe);
    return std::any_of(o.needs.begin(), o.needs.end(), [&](const Observation::Need& need) { return at(need.probe); });
}

}  // namespace ilvek
