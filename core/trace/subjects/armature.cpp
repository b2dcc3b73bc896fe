#include "trace/subjects/armature.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/stop.h"

namespace ilvek {

namespace {

struct Fineness {
    std::size_t points;  // at most
    double step_s;       // of the law, at most
    int rounds;          // at most
};
constexpr Fineness coarse{300, 1e-5, 25}, fine{1000, 2.5e-6, 12};
constexpr double travels_s[] = {1.5e-4, 3e-4, 6e-4};    // T to begin with
constexpr double usualGain = 0.3, usualSaturation = 2;  // a; i_s over I
// How far parts of this kind lie about those, one sigma of the logarithm: what the current hardly shows stays near.
constexpr double usualSpread = 0.7;
constexpr std::size_t fewestPoints = 40;
// Points further apart than this do not show an armature on its way, which takes the travels above; and the work grows
// with it.
constexpr double widestPitch_s = 3e-4;

enum Parameter { End, Tau, Saturation, Gain, Pull, Travel, On, count };
using Parameters = Eigen::Matrix<double, count, 1>;  // logarithms of A and s, but for On: samples
using Square = Eigen::Matrix<double, count, count>;

struct Usual {
    Parameters at, weight;  // weight: 1/sigma² of what is known before
};

// For slopes by differences.
double nudge(int parameter)
{
    return parameter == On ? 0.2 : 1e-3;
}

// The samples of one rise, with the law followed along them.
class Rise {
public:
    Rise(const std::vector<double>& y, double interval_s, double noise, double on, std::size_t last, Fineness how)
        : how_(how), interval_s_(interval_s)
    {
        // Several samples as one where there are more than the law needs.
        const auto from = static_cast<std::size_t>(std::max(0.0, on - 8));
        const std::size_t stride = std::max<std::size_t>(1, (last - from) / how.points);
        for (std::size_t k = from; k + stride <= last; k += stride) {
            const auto begin = y.begin() + static_cast<std::ptrdiff_t>(k);
            mean_.push_back(std::accumulate(begin, begin + static_cast<std::ptrdiff_t>(stride), 0.0) /
                            static_cast<double>(stride));
        }
        first_s_ = (static_cast<double>(from) + 0.5 * static_cast<double>(stride - 1)) * interval_s;
        pitch_s_ = static_cast<double>(stride) * interval_s;
        noise_ = noise / std::sqrt(static_cast<double>(stride));
    }

    std::size_t points() const { return mean_.size(); }
    double pitch_s() const { return pitch_s_; }
    double end() const
    {
        const auto tail = static_cast<std::ptrdiff_t>(points() / 8);
        return std::accumulate(mean_.end() - tail, mean_.end(), 0.0) / static_cast<double>(tail);
    }

    // The current at every point; the sample at which the armature lands.
    //   (1 + a x) di/dt / cosh²(i/i_s) + a ẋ i_s tanh(i/i_s) = (I − i) R/L₀,   ẍ = ((i/i_p)² − 1)/T²
    std::optional<double> follow(const Parameters& p, std::vector<double>& out) const
    {
        const double I = std::exp(p(End)), tau = std::exp(p(Tau)), s = std::exp(p(Saturation)), a = std::exp(p(Gain)),
                     pull = std::exp(p(Pull)), T = std::exp(p(Travel));
        const auto parts = static_cast<int>(std::ceil(pitch_s_ / how_.step_s));
        std::optional<double> landing;
        double i = 0, x = 0, v = 0, t = p(On) * interval_s_;
        out.assign(mean_.size(), 0.0);
        for (std::size_t k = 0; k < mean_.size(); ++k) {
            const double until = first_s_ + static_cast<double>(k) * pitch_s_;
            if (until <= t) continue;
            stopPoint();
            const double h = std::min(until - t, pitch_s_) / parts;
            for (int j = 0; j < parts; ++j, t += h) {
                const double bend = std::tanh(i / s);
                i += h * ((I - i) / tau - a * v * s * bend) / ((1 + a * x) * (1 - bend * bend));
                const double force = i / pull;
                if (landing || (force < 1 && x <= 0)) continue;
                v += h * (force * force - 1) / (T * T);
                const double before = x;
                x += h * v;
                if (x < 1) continue;
                landing = (t + h * (1 - before) / (x - before)) / interval_s_;
                x = 1, v = 0;
            }
            out[k] = i;
        }
        return landing;
    }

    // Least squares from a beginning, by rounds of Levenberg and Marquardt; a still armature keeps its parameters.
    // Returns what is left, in squares of the noise.
    double fit(Parameters& p, const Usual& usual, bool moves, Square* information = nullptr) const
    {
        std::vector<double> is;
        follow(p, is);
        double left = rest(is, p, usual), damping = 1e-2;
        for (int round = 0; round < how_.rounds; ++round) {
            const Eigen::MatrixXd J = slopes(p, is, moves);
            const Square A = Square(J.transpose() * J) + Square(usual.weight.asDiagonal());
            const Parameters g = Parameters(J.transpose() * residues(is)) + usual.weight.cwiseProduct(usual.at - p);
            if (information) *information = A;
            const double before = left;
            if (!improve(p, is, left, damping, A, g, usual) || before - left < 1e-3) break;
        }
        return left;
    }

private:
    bool improve(Parameters& p, std::vector<double>& is, double& left, double& damping, const Square& A,
                 const Parameters& g, const Usual& usual) const
    {
        std::vector<double> other;
        for (int tries = 0; tries < 6; ++tries, damping *= 5) {
            Square B = A;
            B.diagonal() += damping * A.diagonal() + Parameters::Constant(1e-9);
            const Parameters next = p + B.ldlt().solve(g).cwiseMax(-0.7).cwiseMin(0.7);
            follow(next, other);
            const double then = rest(other, next, usual);
            if (!(then < left)) continue;
            left = then, p = next, damping /= 25;
            is.swap(other);
            return true;
        }
        return false;
    }

    Eigen::MatrixXd slopes(const Parameters& p, const std::vector<double>& is, bool moves) const
    {
        Eigen::MatrixXd J = Eigen::MatrixXd::Zero(static_cast<Eigen::Index>(points()), count);
        std::vector<double> other;
        for (int q = 0; q < count; ++q) {
            if (!moves && (q == Gain || q == Pull || q == Travel)) continue;
            Parameters moved = p;
            moved(q) += nudge(q);
            follow(moved, other);
            for (std::size_t k = 0; k < points(); ++k)
                J(static_cast<Eigen::Index>(k), q) = (other[k] - is[k]) / (nudge(q) * noise_);
        }
        return J;
    }

    Eigen::VectorXd residues(const std::vector<double>& is) const
    {
        Eigen::VectorXd r(static_cast<Eigen::Index>(points()));
        for (std::size_t k = 0; k < points(); ++k)
            r(static_cast<Eigen::Index>(k)) = (mean_[k] - is[k]) / noise_;
        return r;
    }

    double rest(const std::vector<double>& is, const Parameters& p, const Usual& usual) const
    {
        const double sum = residues(is).squaredNorm() + usual.weight.dot((p - usual.at).cwiseAbs2());
        return std::isfinite(sum) ? sum : 1e300;
    }

    Fineness how_;
    double interval_s_, first_s_ = 0, pitch_s_ = 0, noise_ = 0;
    std::vector<double> mean_;
};

Usual usualOf(const std::vector<double>& y, double I, double interval_s, double on, std::size_t last)
{
    auto third = static_cast<std::size_t>(std::max(0.0, on));
    while (third < last && y[third] < 0.33 * I)
        ++third;
    Usual usual;
    // i = I (1 − e^(−t R/L)) is a third after 0.4 L/R.
    usual.at << std::log(1.02 * I), std::log(std::max(2.0, static_cast<double>(third) - on) * interval_s / 0.4),
        std::log(usualSaturation * I), std::log(usualGain), 0, std::log(travels_s[1]), on;
    usual.weight.setZero();
    usual.weight(Saturation) = usual.weight(Gain) = usual.weight(Travel) = 1 / (usualSpread * usualSpread);
    return usual;
}

// The pull at which an armature of this travel lands where the kink is.
double pullFor(const Rise& rise, Parameters p, double I, double lift)
{
    std::vector<double> is;
    double low = std::log(0.02 * I), high = std::log(I);
    for (int n = 0; n < 18; ++n) {
        p(Pull) = 0.5 * (low + high);
        const auto landing = rise.follow(p, is);
        (landing && *landing < lift ? low : high) = p(Pull);
    }
    return p(Pull);
}

// One sigma of the landing, from those of the parameters.
double sigmaOf(const Rise& rise, const Parameters& p, double landing, const Square& information)
{
    std::vector<double> is;
    Parameters slope;
    for (int q = 0; q < count; ++q) {
        Parameters moved = p;
        moved(q) += nudge(q);
        slope(q) = (rise.follow(moved, is).value_or(landing) - landing) / nudge(q);
    }
    return std::sqrt(std::max(0.0, slope.dot(information.ldlt().solve(slope))));
}

}  // namespace

std::optional<ArmatureFit> fitArmature(const std::vector<double>& y, double interval_s, double noise, double on,
                                       std::size_t last, double lift)
{
    const Rise rise(y, interval_s, noise, on, last, fine), rough(y, interval_s, noise, on, last, coarse);
    if (rise.points() < fewestPoints || !(rise.pitch_s() <= widestPitch_s)) return std::nullopt;
    const double I = rise.end();
    if (!(I > 0)) return std::nullopt;
    const Usual usual = usualOf(y, I, interval_s, on, last);
    Parameters best = usual.at, still = usual.at;
    double least = 1e300;
    for (const double T : travels_s) {
        Parameters p = usual.at;
        p(Travel) = std::log(T);
        p(Pull) = pullFor(rough, p, I, lift);
        const double left = rough.fit(p, usual, true);
        if (left < least) least = left, best = p;
    }
    Square information;
    least = rise.fit(best, usual, true, &information);
    still(Pull) = std::log(1e3 * I);
    rough.fit(still, usual, false);
    const double without = rise.fit(still, usual, false);
    const auto points = static_cast<double>(rise.points());
    std::vector<double> is;
    const auto landing = rise.follow(best, is);
    if (!landing) return ArmatureFit{{}, 0, without / points, 0};
    return ArmatureFit{landing, sigmaOf(rise, best, *landing, information), least / points, without - least};
}

}  // namespace ilvek
