// The unknowns of one severity of one suspect fitted to the readings, and the evidence about where they come to rest.
// Of fit.cpp only.
#pragma once

#include <Eigen/Cholesky>
#include <algorithm>
#include <cmath>
#include <memory>
#include <optional>
#include <utility>
#include <vector>

#include "base/stop.h"
#include "belief/fit.h"
#include "belief/likelihood.h"
#include "belief/weighing.h"
#include "circuit/warm_circuit.h"

namespace ilvek {

struct FitReadings {
    struct Circuit {
        Condition setup;
        WarmCircuit sweep;
    };
    struct Channel {  // what is read of one circuit
        std::size_t circuit = 0;
        Probe probe;
        std::vector<std::size_t> differenced;  // unknowns that are differenced where no slope is at hand
    };
    struct Reading {
        std::size_t observation = 0;
        std::size_t channel = 0;
        std::optional<std::size_t> battery;  // the posts, as they were read
        Spread spread;
        double sound = 0;     // as of the sound machine with the map's figures
        double byMotors = 0;  // of what moves it, the share that motors draw
    };
    std::vector<std::unique_ptr<Circuit>> circuits;
    std::vector<Channel> channels;
    std::vector<Reading> readings;
    std::vector<Observation> observed;
};

// One severity of one suspect, and the unknowns where the fit stands.
struct FitPoint {
    using Matrix = Eigen::MatrixXd;
    using Vector = Eigen::VectorXd;
    // An unknown that is off by less than this share is left at the map's figure.
    static constexpr double leastShare = 0.004;
    // Beyond so many sigma a reading pulls no harder while the fit looks for its place.
    static constexpr double pullsUpTo = 3;
    static constexpr int mostSteps = 6;
    static constexpr double settled = 0.02, arrived = 0.0005;  // in log-likelihood
    // What sound parts beside a fault make of what it moves, one sigma: their tolerances, and the solver's own.
    static constexpr double besideShare = 0.01;

    FitPoint(FitReadings& r, const std::vector<Unknown>& u, const Map& m, const Suspect& s)
        : in(r), unknowns(u), map(m), suspect(s)
    {
        u_ = Vector::Zero(static_cast<Eigen::Index>(u.size()));
    }

    struct Point {
        std::vector<double> value, batterySlope;                 // by channel
        std::vector<double> predicted, sigma, z, logLikelihood;  // by reading
        std::vector<HandedOn> handedOn;                          // the same
        double sum = 0,
               pulled = 0;  // log-likelihood with the prior; the same where no reading pulls further than it may
    };

    bool countsIn(const Unknown& unknown, std::size_t circuit) const
    {
        return unknown.state < 0 || unknown.state == in.circuits[circuit]->setup.state;
    }

    // Of one circuit.
    std::vector<Fault> edits(const Vector& u, std::size_t circuit) const
    {
        std::vector<Fault> out;
        for (std::size_t i = 0; i < unknowns.size();) {
            const int element = unknowns[i].element;
            double log = 0;
            for (; i < unknowns.size() && unknowns[i].element == element; ++i)
                if (countsIn(unknowns[i], circuit)) log += unknowns[i].logFactor(u(static_cast<Eigen::Index>(i)));
            if (std::abs(log) > leastShare) out.push_back({Fault::Kind::OutOfValue, element, -1, -1, 0, std::exp(log)});
        }
        out.insert(out.end(), faults.begin(), faults.end());
        return out;
    }

    bool solve(const Vector& u, Point& at)
    {
        solved_.resize(0);
        at.value.assign(in.channels.size(), 0.0);
        at.batterySlope = at.value;
        for (std::size_t c = 0; c < in.circuits.size(); ++c) {
            bool solved = false;
            for (std::size_t k = 0; k < in.channels.size(); ++k) {
                const FitReadings::Channel& channel = in.channels[k];
                if (channel.circuit != c) continue;
                WarmCircuit& sweep = in.circuits[c]->sweep;
                if (!solved && !sweep.apply(edits(u, c))) return false;
                solved = true;
                at.value[k] = shownBy(channel.probe, sweep);
                const bool volts = channel.probe.element < 0 && !channel.probe.ohms;
                at.batterySlope[k] = volts ? sweep.batterySlope(channel.probe.red, channel.probe.black) : 0.0;
            }
        }
        weigh(u, at);
        solved_ = u;
        return true;
    }

    // The circuits stand as they were solved last.
    bool isSolvedAt(const Vector& u) const { return solved_.size() == u.size() && solved_ == u; }

    // The shift of the battery's own voltage that its posts show.
    double shift(const FitReadings::Reading& r, const Point& at) const
    {
        if (!r.battery) return 0;
        return batteryShift(at.value[*r.battery], at.batterySlope[*r.battery], *in.observed[r.observation].battery_V);
    }

    void weigh(const Vector& u, Point& at) const
    {
        const std::size_t n = in.readings.size();
        at.predicted.assign(n, 0.0);
        at.sigma = at.z = at.logLikelihood = at.predicted;
        at.handedOn.assign(n, {});
        at.sum = -0.5 * u.squaredNorm();
        at.pulled = at.sum;
        for (std::size_t i = 0; i < n; ++i) {
            const FitReadings::Reading& r = in.readings[i];
            const Observation& o = in.observed[r.observation];
            at.predicted[i] = at.value[r.channel] + shift(r, at) * at.batterySlope[r.channel];
            // Ohms where it is live now; or the map is wrong there.
            if (std::isnan(at.predicted[i]) || touches(suspect, o)) {
                at.predicted[i] = o.value;
                at.sigma[i] = static_cast<double>(freeSigma);
                at.logLikelihood[i] = logOfUnforetold(suspect, o);
            } else {
                Given given;
                for (std::size_t j = 0; j < i; ++j) {
                    given.value += r.spread.shared[j] * static_cast<double>(at.handedOn[j].z);
                    given.untold =
                        std::hypot(given.untold, r.spread.shared[j] * static_cast<double>(at.handedOn[j].untold));
                }
                const ReadUnder seen{at.predicted[i], 0, r.sound, false, starved(o, r, at.predicted[i])};
                const Weighed weighed = ilvek::weigh(o, r.spread.left, besideShare, seen, given);
                at.sigma[i] = weighed.sigma;
                at.z[i] = weighed.z;
                at.logLikelihood[i] = weighed.logLikelihood;
                at.handedOn[i] = handedOnBy(weighed, 0);
            }
            at.sum += at.logLikelihood[i];
            const double z = std::abs(at.z[i]);
            if (i != slipped_) at.pulled -= z < pullsUpTo ? 0.5 * z * z : pullsUpTo * (z - 0.5 * pullsUpTo);
        }
    }

    // What a module that is hardly fed still passes nobody knows; nor what a motor takes at fewer volts than its own:
    // as its load is, in proportion or as much as before. I = Iᵣ (U / Uᵣ)^a, a from 0 to 1. Where next to nothing drops
    // on the sound machine a reading is what the motor lacks. A clamp shows it as it is.
    double starved(const Observation& o, const FitReadings::Reading& r, double predicted) const
    {
        if (o.probe.element >= 0) {
            // In proportion is what the circuit takes; as much as before is the other end.
            constexpr double between = 0.5;
            const double lacks = std::abs(r.sound) - std::abs(predicted);
            constexpr double stillTurns = 0.1;
            const bool isFed = std::abs(predicted) > stillTurns * std::abs(r.sound);
            return isFed && lacks > 0 ? between * r.byMotors * lacks : 0;
        }
        constexpr double hardlyFed = 0.25, fed = 0.5, passes = 0.05;  // shares of the system voltage
        const double v = map.systemVoltage_V;
        const bool volts = o.probe.element < 0 && !o.probe.ohms && !o.setup.load;
        constexpr double dropped = 0.1;
        const bool level = std::abs(r.sound) > fed * v;
        if (!volts || (!level && std::abs(r.sound) > dropped * v)) return 0;
        constexpr double turns = 0.4, least = 0.05, most = 0.4;  // behind an open place it takes nothing all the same
        const double whole = level ? std::abs(r.sound) : v;
        const double stays = level ? std::abs(predicted) : std::max(0.0, v - std::abs(predicted));
        const double left = std::clamp(stays / whole, least, 1.0);
        const double byMotors = std::min(turns * r.byMotors * -std::log(left) * (1 - left) * whole, most * stays);
        return std::hypot(byMotors, level && stays < hardlyFed * v ? passes * v : 0.0);
    }

    // How each reading moves with each unknown, of which one sigma is the unit: dz/du. REQUIRES: solved at u.
    Matrix slopes(const Vector& u, const Point& at)
    {
        const auto p = static_cast<Eigen::Index>(unknowns.size());
        Matrix byChannel = Matrix::Zero(static_cast<Eigen::Index>(in.channels.size()), p);
        for (std::size_t c = 0; c < in.circuits.size(); ++c)
            slopesOf(c, u, at, byChannel);
        Matrix J = Matrix::Zero(static_cast<Eigen::Index>(in.readings.size()), p);
        for (std::size_t i = 0; i < in.readings.size(); ++i) {
            const FitReadings::Reading& r = in.readings[i];
            const auto row = static_cast<Eigen::Index>(i);
            if (at.sigma[i] == static_cast<double>(freeSigma)) continue;
            J.row(row) = -byChannel.row(static_cast<Eigen::Index>(r.channel));
            if (r.battery) {
                const double follows =
                    at.batterySlope[r.channel] / std::max(leastBatterySlope, at.batterySlope[*r.battery]);
                J.row(row) += follows * byChannel.row(static_cast<Eigen::Index>(*r.battery));
            }
            for (std::size_t j = 0; j < i; ++j) {
                if (r.spread.shared[j] == 0 || at.z[j] == 0) continue;
                const double handedOn = static_cast<double>(at.handedOn[j].z) / at.z[j];
                J.row(row) -= r.spread.shared[j] * handedOn * J.row(static_cast<Eigen::Index>(j));
            }
            J.row(row) /= at.sigma[i];
        }
        return J;
    }

    // Of a part with added resistance only its own share of it grows with its figure.
    double ownShare(const Unknown& unknown, double u) const
    {
        for (const Fault& f : faults) {
            if (f.element != unknown.element) continue;
            if (f.kind == Fault::Kind::Open || f.kind == Fault::Kind::Blown) return 0;
            if (f.kind != Fault::Kind::AddedResistance) continue;
            const double own = std::exp(unknown.logFactor(u)) * map.soundResistance_ohm(map.element(unknown.element));
            return own / (own + f.resistance_ohm);
        }
        return 1;
    }

    void slopesOf(std::size_t c, const Vector& u, const Point& at, Matrix& out)
    {
        std::vector<std::size_t> volts, others;
        std::vector<std::pair<int, int>> pairs;
        for (std::size_t k = 0; k < in.channels.size(); ++k) {
            const Probe& probe = in.channels[k].probe;
            if (in.channels[k].circuit != c) continue;
            const bool isVolts = probe.element < 0 && !probe.ohms;
            (isVolts ? volts : others).push_back(k);
            if (isVolts) pairs.emplace_back(probe.red, probe.black);
        }
        WarmCircuit& sweep = in.circuits[c]->sweep;
        if (!isSolvedAt(u) && (!volts.empty() || !others.empty())) sweep.apply(edits(u, c));
        if (!volts.empty()) {
            std::vector<int> elements;
            std::vector<double> own;  // d ln(figure) / du, of a part's own share of it
            for (std::size_t i = 0; i < unknowns.size(); ++i) {
                const double stands = u(static_cast<Eigen::Index>(i));
                elements.push_back(unknowns[i].element);
                own.push_back(countsIn(unknowns[i], c) ? unknowns[i].slope(stands) * ownShare(unknowns[i], stands)
                                                       : 0.0);
            }
            const auto slopes = sweep.valueSlopes(pairs, elements);
            for (std::size_t k = 0; k < volts.size(); ++k) {
                // The meter takes its share of what moves.
                const double open = sweep.voltage(pairs[k].first, pairs[k].second, INFINITY);
                const double shown = std::abs(open) > 1e-6 ? at.value[volts[k]] / open : 1.0;
                for (std::size_t i = 0; i < unknowns.size(); ++i)
                    out(static_cast<Eigen::Index>(volts[k]), static_cast<Eigen::Index>(i)) =
                        own[i] * shown * slopes[k][i];
            }
        }
        for (const std::size_t k : others)
            difference(k, u, at, out);
        if (!others.empty()) solved_.resize(0);
    }

    void difference(std::size_t k, const Vector& u, const Point& at, Matrix& out)
    {
        constexpr double step = 0.05;
        const std::size_t c = in.channels[k].circuit;
        WarmCircuit& sweep = in.circuits[c]->sweep;
        for (const std::size_t i : in.channels[k].differenced) {
            Vector moved = u;
            moved(static_cast<Eigen::Index>(i)) += step;
            if (!sweep.apply(edits(moved, c))) continue;
            const double by = (shownBy(in.channels[k].probe, sweep) - at.value[k]) / step;
            if (std::isfinite(by)) out(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(i)) = by;
        }
    }

    // The step of Gauss and Newton: u = −Aᵀ (1 + A Aᵀ)⁻¹ b with A = √w J and b = √w (z − J u), w the chance that a
    // reading is none that slipped, or what it may pull with. There are fewer readings than unknowns.
    static Vector step(const Matrix& J, const Vector& u, const Point& at, const Vector& root)
    {
        const Matrix A = root.asDiagonal() * J;
        const Vector z = Eigen::Map<const Vector>(at.z.data(), static_cast<Eigen::Index>(at.z.size()));
        const Vector b = root.asDiagonal() * (z - J * u);
        const Matrix S = Matrix::Identity(A.rows(), A.rows()) + A * A.transpose();
        return -A.transpose() * S.llt().solve(b);
    }

    Vector weights(const Point& at, bool pulling) const
    {
        Vector root(static_cast<Eigen::Index>(at.z.size()));
        for (std::size_t i = 0; i < at.z.size(); ++i) {
            const double z = std::abs(at.z[i]);
            double w = i == slipped_ ? 0 : z < pullsUpTo ? 1 : pullsUpTo / z;
            if (!pulling) {
                w = at.sigma[i] == static_cast<double>(freeSigma)
                        ? 1
                        : chanceOfNoSlip(z, at.sigma[i], in.observed[in.readings[i].observation]);
            }
            root(static_cast<Eigen::Index>(i)) = std::sqrt(w);
        }
        return root;
    }

    // What a step would gain if all were straight: (|d|² + |√w J d|²) / 2.
    static double promised(const Matrix& J, const Vector& d, const Vector& root)
    {
        return 0.5 * (d.squaredNorm() + (root.asDiagonal() * (J * d)).squaredNorm());
    }

    // Where it stands.
    const Matrix& slopesHere()
    {
        if (!sloped_) slopes_ = slopes(u_, at_);
        sloped_ = true;
        return slopes_;
    }

    void stand(const Vector& u, Point at)
    {
        u_ = u;
        at_ = std::move(at);
        sloped_ = false;
    }

    // Downhill from where it stands.
    void descend(bool pulling, int most)
    {
        for (int n = 0; n < most; ++n) {
            stopPoint();
            const Matrix& J = slopesHere();
            const Vector root = weights(at_, pulling), to = step(J, u_, at_, root);
            if (promised(J, to - u_, root) < arrived) return;
            bool better = false;
            for (const double share : {1.0, 0.4, 0.12}) {
                const Vector u = u_ + share * (to - u_);
                Point point;
                if (!solve(u, point)) continue;
                const double gain = pulling ? point.pulled - at_.pulled : point.sum - at_.sum;
                if (!(gain > 0)) continue;  // nor where it is none
                stand(u, std::move(point));
                better = gain > settled;
                break;
            }
            if (!better) return;
        }
    }

    // The fit at these faults from where it stands. nullopt: no solution.
    std::optional<double> fitted(const std::vector<Fault>& at)
    {
        faults = at;
        sloped_ = false;
        if (!solve(u_, at_)) {
            u_.setZero();
            if (!solve(u_, at_)) return std::nullopt;
        }
        descend(true, mostSteps);
        descend(false, 2);
        double evidence = laplace();
        // Another may be the slip.
        if (!isStrained()) return evidence;
        evidence = logAdd(evidence, otherWay(evidence));
        // Or the furthest alone is, and only pulled the others out of reach.
        if (outOfReach() < 2) return evidence;
        const auto far =
            std::max_element(at_.z.begin(), at_.z.end(), [](double a, double b) { return std::abs(a) < std::abs(b); });
        slipped_ = static_cast<std::size_t>(far - at_.z.begin());
        const double other = otherWay(evidence);
        slipped_ = none;
        return logAdd(evidence, other);
    }

    // A reading is out of reach, or was reached at a price that no slip has.
    bool isStrained() const
    {
        constexpr double dear = 4;  // in log-likelihood
        return outOfReach() > 0 || 0.5 * u_.squaredNorm() >= dear;
    }

    // How many readings cannot be where it stands.
    std::ptrdiff_t outOfReach() const
    {
        return std::count_if(at_.z.begin(), at_.z.end(), [](double z) { return std::abs(z) > pullsUpTo; });
    }

    // log of the integral over the unknowns about where it stands.
    double laplace()
    {
        const Vector root = weights(at_, false);
        const Matrix A = root.asDiagonal() * slopesHere();
        const Matrix S = Matrix::Identity(A.rows(), A.rows()) + A * A.transpose();
        const Matrix L = S.llt().matrixL();
        return at_.sum - L.diagonal().array().log().sum();
    }

    // The same about where it comes to rest from the map's own figures, if that is elsewhere: no reading that is out of
    // reach there pulls, or all but the one that slipped do. It stays at the better one.
    double otherWay(double evidence)
    {
        constexpr double apart = 1;  // in sigmas of some reading
        const Vector u = u_;
        const Point was = at_;
        u_.setZero();
        sloped_ = false;
        if (solve(u_, at_)) {
            if (slipped_ != none) descend(true, mostSteps);
            descend(false, mostSteps);
            double most = 0;
            for (std::size_t i = 0; i < was.z.size(); ++i)
                most = std::max(most, std::abs(was.z[i] - at_.z[i]));
            const double other = most > apart ? laplace() : -1e300;
            if (other > evidence) return other;
            stand(u, was), solved_.resize(0);
            return other;
        }
        stand(u, was), solved_.resize(0);
        return -1e300;
    }

    FitReadings& in;
    const std::vector<Unknown>& unknowns;
    const Map& map;
    const Suspect& suspect;
    std::vector<Fault> faults;
    static constexpr std::size_t none = static_cast<std::size_t>(-1);
    std::size_t slipped_ = none;  // the reading that is left out while the fit looks for its place
    Vector u_, solved_;
    Point at_;
    Matrix slopes_;  // about where it stands
    bool sloped_ = false;
};

}  // namespace ilvek
