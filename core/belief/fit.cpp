#include "belief/fit.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <set>

#include "belief/fit_point.h"
#include "quantity/trade.h"
#include "suspects/severity.h"

namespace ilvek {

namespace {

// Severities further below the best one, in log-likelihood, are not followed any further.
constexpr double farBelow = 10;
constexpr std::size_t mostFiner = 14;
constexpr double finestStep = 0.01, smoothEnough = 0.5;
// A reading that is passed between two severities further than this from both, in sigmas, calls for one between.
constexpr double passesWithin = 0.7;
// What is passed within so little, with both ends far from the best, is jumped.
constexpr double jumpWithin = 0.1;
// Nor is known what lies between two severities of which one leaves a reading this far out, and the other takes the
// unknowns far to reach it: all may be well between them, and both ends be as bad.
constexpr double outOfReach = 4, reachedStep = 0.1, worthLooking = 2;
// Of a log-likelihood.
constexpr double told = 1e-3;
// So many times the map's figure no wire of a sound loom has: it is dimensioned for what it carries.
constexpr double mostOfWire = 6;
// A module draws for all that it drives, of which at rest hardly anything is on: how much less nobody knows.
constexpr double lessAtRest = 2.5;
// Worth telling: an unknown that the fit takes for so many times the map's figure, or less.
constexpr double worthTelling = 1.25;

// The profile between two of its points, on the parabola in logarithms through them and a neighbour; no higher above
// both than a step between points that needs none finer.
double between(const std::vector<Fit::At>& profile, std::size_t i, double x)
{
    const Fit::At &a = profile[i], &b = profile[i + 1];
    const double share = (x - a.severity) / (b.severity - a.severity);
    const double line = (1 - share) * a.logLikelihood + share * b.logLikelihood;
    double bend = 0;
    int neighbours = 0;
    const auto bendBy = [&](const Fit::At& c) {
        const double s = (c.severity - a.severity) / (b.severity - a.severity);
        bend += (c.logLikelihood - (1 - s) * a.logLikelihood - s * b.logLikelihood) / (s * (s - 1));
        ++neighbours;
    };
    if (i > 0) bendBy(profile[i - 1]);
    if (i + 2 < profile.size()) bendBy(profile[i + 2]);
    if (neighbours == 0) return line;
    return line + std::clamp(bend / neighbours * share * (share - 1), -smoothEnough, smoothEnough);
}

// log ∫ over the profile, per unit of the whole length.
double logMeanOf(const std::vector<Fit::At>& profile, double length)
{
    if (profile.size() == 1 || length <= 0) return profile.front().logLikelihood;
    constexpr int points = 8;  // of each stretch
    double most = -1e300, sum = 0;
    for (const Fit::At& at : profile)
        most = std::max(most, at.logLikelihood);
    for (std::size_t i = 0; i + 1 < profile.size(); ++i) {
        const double width = profile[i + 1].severity - profile[i].severity;
        for (int n = 0; n < points; ++n)
            sum +=
                width / points * std::exp(between(profile, i, profile[i].severity + width * (n + 0.5) / points) - most);
    }
    return most + std::log(std::max(sum / length, 1e-300));
}

// The same of severities between which nothing lies.
double logMeanOfEach(const std::vector<Fit::At>& profile, std::size_t count)
{
    double sum = -1e300;
    for (const Fit::At& at : profile)
        sum = logAdd(sum, at.logLikelihood);
    return sum - std::log(static_cast<double>(count));
}

}  // namespace

double Unknown::logFactor(double u) const
{
    if (u > 0 && std::isfinite(most)) return most * -std::expm1(-spread * u / most);
    const double below = (std::log1p(std::exp(-turns * u)) - std::numbers::ln2) / turns;
    return spread * (u - (less - 1) * below);
}

double Unknown::slope(double u) const
{
    if (u > 0 && std::isfinite(most)) return spread * std::exp(-spread * u / most);
    return spread * (1 + (less - 1) / (1 + std::exp(turns * u)));
}

std::vector<Unknown> unknownsOf(const Map& map, const std::vector<int>& states)
{
    std::vector<Unknown> out;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        const int element = static_cast<int>(i);
        const bool otherBattery = e.kind == ElementKind::Battery && element != map.battery;
        const double tolerance = toleranceOf(map, element);
        if ((e.assumed || otherBattery) && tolerance > 0) {
            out.push_back({element, -1, std::log1p(tolerance)});
            if (e.kind == ElementKind::Wire) out.back().most = std::log(mostOfWire);
            if (e.kind == ElementKind::HighSideDriver)
                out.back().most = std::log((1 - trade::pulledUp) / trade::driverKeeps);
            if (e.kind == ElementKind::LowSideDriver)
                out.back().most = std::log(trade::pulledDown / trade::driverKeeps);
            if (e.kind == ElementKind::SupplyPort && e.assumed) out.back().less = lessAtRest;
        }
        if (!drawsByState(map, element)) continue;
        for (const int state : states)
            out.push_back({element, state, std::log1p(trade::spread::drawByState), lessAtRest});
    }
    return out;
}

Fitter::Fitter(const Map& map, const PredictionTable& table)
    : map_(map), table_(table), unknowns_(unknownsOf(map)), readings_(std::make_unique<FitReadings>())
{
}

Fitter::~Fitter() = default;

namespace {

// Of the loads whose figures move a reading, by how much of it they move, the share of motors.
double shareOfMotors(const Map& map, const Column& column)
{
    double motors = 0, all = 0;
    for (const auto& [element, volts] : column.parts) {
        if (element < 0 || element >= static_cast<int>(map.elements.size())) continue;  // what is on no list
        const ElementKind kind = map.element(element).kind;
        const bool isMotor = kind == ElementKind::Motor;
        const bool isLoad = isMotor || kind == ElementKind::Lamp || kind == ElementKind::Resistor ||
                            kind == ElementKind::Winding || kind == ElementKind::SupplyPort;
        if (!isLoad) continue;
        const double moves = std::abs(static_cast<double>(volts)) / std::max(1e-3, toleranceOf(map, element));
        motors += isMotor ? moves : 0;
        all += moves;
    }
    return all > 0 ? motors / all : 0;
}

}  // namespace

void Fitter::observe(const std::vector<Observation>& observations)
{
    FitReadings& in = *readings_;
    in.observed = observations;
    in.channels.clear();
    in.readings.clear();
    std::set<int> states;
    for (const Observation& o : observations)
        if (o.kind == Observation::Kind::Reading) states.insert(o.setup.state);
    unknowns_ = unknownsOf(map_, {states.begin(), states.end()});
    const auto circuit = [&](const Condition& setup) -> std::optional<std::size_t> {
        for (std::size_t i = 0; i < in.circuits.size(); ++i) {
            if (in.circuits[i]->setup == setup) return i;
        }
        auto sweep = WarmCircuit::of(map_, setup);
        if (!sweep) return std::nullopt;
        in.circuits.push_back(std::make_unique<FitReadings::Circuit>(FitReadings::Circuit{setup, std::move(*sweep)}));
        return in.circuits.size() - 1;
    };
    const auto channel = [&](const Condition& setup, const Probe& probe,
                             const Column& column) -> std::optional<std::size_t> {
        const auto c = circuit(setup);
        if (!c) return std::nullopt;
        for (std::size_t k = 0; k < in.channels.size(); ++k) {
            if (in.channels[k].circuit == *c && in.channels[k].probe == probe) return k;
        }
        FitReadings::Channel made{*c, probe, {}};
        for (std::size_t i = 0; i < unknowns_.size(); ++i) {
            const auto moves = [&](const auto& part) { return part.first == unknowns_[i].element; };
            if (unknowns_[i].state >= 0 && unknowns_[i].state != setup.state) continue;
            if (std::any_of(column.parts.begin(), column.parts.end(), moves)) made.differenced.push_back(i);
        }
        in.channels.push_back(std::move(made));
        return in.channels.size() - 1;
    };
    const auto isUnknown = [&](const std::pair<int, double>& part) {
        return part.first >= static_cast<int>(map_.elements.size()) ||
               std::any_of(unknowns_.begin(), unknowns_.end(),
                           [&](const Unknown& u) { return u.element == part.first; });
    };
    for (std::size_t i = 0; i < observations.size(); ++i) {
        const Observation& o = observations[i];
        if (o.kind != Observation::Kind::Reading) continue;
        const Column* column = table_.find(o.setup, o.probe);
        if (!column || std::isnan(column->value[0])) continue;
        const Column* battery = o.battery_V ? table_.find(o.batterySetup, o.batteryProbe) : nullptr;
        FitReadings::Reading r;
        r.observation = i;
        const auto seen = channel(o.setup, o.probe, *column);
        if (!seen) continue;
        r.channel = *seen;
        if (battery) r.battery = channel(o.batterySetup, o.batteryProbe, *battery);
        r.sound = shifted(*column, 0, battery, o);
        if (map_.isOfSheet()) r.byMotors = shareOfMotors(map_, *column);
        r.spread = spreadOf(*column, battery, o);
        std::erase_if(r.spread.parts, isUnknown);
        Observation told = o;
        told.untoldShare = 0;  // the circuit is followed, not its tangent
        shareWith(
            in.readings.size(), [&](std::size_t k) -> const Spread& { return in.readings[k].spread; }, told, r.spread);
        in.readings.push_back(std::move(r));
    }
}

// A suspect followed over its severities.
struct Fitter::Walk {
    struct Node {
        double severity = 0, sum = 0;
        std::vector<double> z;
    };

    Walk(FitReadings& in, const std::vector<Unknown>& unknowns, const Map& map, const Suspect& s,
         const std::vector<double>& o)
        : work(in, unknowns, map, s), suspect(s), others(o), last(static_cast<double>(s.severities.size()) - 1)
    {
    }

    // What reports and looks say at a severity.
    double other(double severity) const
    {
        if (others.empty()) return 0;
        const double at = std::clamp(severity / std::max(last, 1.0), 0.0, 1.0) * static_cast<double>(others.size() - 1);
        return others[static_cast<std::size_t>(std::lround(at))];
    }

    // From where the work stands.
    double visit(double severity)
    {
        const auto readings = work.fitted(faultsAt(suspect, severity));
        if (!readings) return -1e300;
        const double sum = *readings + other(severity);
        const auto at = std::find_if(nodes.begin(), nodes.end(), [&](const Node& n) { return n.severity >= severity; });
        const Node node{severity, sum, work.at_.z};
        if (at == nodes.end() || at->severity > severity)
            nodes.insert(at, node);
        else if (at->sum < sum)
            *at = node;
        if (sum > bestSum) {
            bestSum = sum;
            bestAt = severity;
            best.emplace(work);
        }
        return sum;
    }

    // Both ways from a severity, until nothing is left of weight.
    void outwards(double near)
    {
        const double first = std::clamp(std::round(near), 0.0, last);
        for (const int way : {1, -1}) {
            int low = 0;
            if (best) work.u_ = best->u_;
            for (double s = way > 0 ? first : first - 1; s >= 0 && s <= last && low < 2; s += way)
                low = visit(s) < bestSum - farBelow ? low + 1 : 0;
        }
    }

    // Where a reading is passed between two severities, and how far it lies from both: of the best such stretch the
    // place; else within the one of weight that is steepest, or that may hide most.
    std::optional<double> nextFiner() const
    {
        double most = 0;
        std::optional<double> next;
        for (std::size_t i = 0; i + 1 < nodes.size(); ++i) {
            const Node &a = nodes[i], &b = nodes[i + 1];
            const double width = b.severity - a.severity;
            if (width <= finestStep) continue;
            double passed = 0, share = 0.5;
            bool reached = false;
            for (std::size_t r = 0; r < a.z.size(); ++r) {
                const double least = std::min(std::abs(a.z[r]), std::abs(b.z[r]));
                const double furthest = std::max(std::abs(a.z[r]), std::abs(b.z[r]));
                reached |= width > reachedStep && furthest > outOfReach && least < passesWithin;
                if (a.z[r] * b.z[r] >= 0 || least < passesWithin || least <= passed) continue;
                passed = least;
                share = std::clamp(std::abs(a.z[r]) / (std::abs(a.z[r]) + std::abs(b.z[r])), 0.2, 0.8);
            }
            const double high = std::max(a.sum, b.sum);
            const bool far = high < bestSum - farBelow;
            if (far && width < jumpWithin) passed = 0;
            const double hides = std::max(reached ? worthLooking : 0, std::abs(a.sum - b.sum));
            const double rise = far ? 0 : hides * std::exp(0.3 * (high - bestSum));
            const double worth = passed > 0 ? 1e3 + high : rise > smoothEnough ? rise : 0;
            if (worth <= most) continue;
            most = worth;
            next = a.severity + share * width;
        }
        return next;
    }

    FitPoint work;
    const Suspect& suspect;
    const std::vector<double>& others;
    double last = 0;
    std::vector<Node> nodes;  // rising in severity
    std::optional<FitPoint> best;
    double bestSum = -1e300, bestAt = 0;
};

std::vector<Fit::Assumed> Fitter::assumedAt(const std::vector<double>& u) const
{
    std::vector<Fit::Assumed> out;
    const auto logOf = [&](std::size_t i) { return unknowns_[i].logFactor(u[i]); };
    for (std::size_t i = 0; i < unknowns_.size();) {
        const int element = unknowns_[i].element;
        const std::size_t first = i;
        double inAll = 0, furthest = 0;
        int state = -1;
        for (; i < unknowns_.size() && unknowns_[i].element == element; ++i)
            if (unknowns_[i].state < 0) inAll += logOf(i);
        std::size_t states = 0;
        for (std::size_t k = first; k < i; ++k) {
            if (unknowns_[k].state < 0) continue;
            ++states;
            if (state >= 0 && std::abs(inAll + logOf(k)) <= std::abs(furthest)) continue;
            furthest = inAll + logOf(k);
            state = unknowns_[k].state;
        }
        const double factor = std::exp(state < 0 ? inAll : furthest);
        if (factor > worthTelling || factor < 1 / worthTelling)
            out.push_back({element, factor, states > 1 ? state : -1});
    }
    std::sort(out.begin(), out.end(),
              [](const auto& a, const auto& b) { return std::abs(std::log(a.factor)) > std::abs(std::log(b.factor)); });
    return out;
}

std::optional<Fit> Fitter::fit(const Suspect& suspect, const std::vector<double>& others, double near, const Fit* from)
{
    // The same whatever was fitted before.
    for (const auto& circuit : readings_->circuits)
        circuit->sweep.reset();
    Walk walk(*readings_, unknowns_, map_, suspect, others);
    if (from && from->unknowns.size() == unknowns_.size()) {
        walk.work.u_ = Eigen::Map<const Eigen::VectorXd>(from->unknowns.data(), walk.work.u_.size());
        if (near != std::round(near)) walk.visit(std::clamp(near, 0.0, walk.last));
    }
    walk.outwards(near);
    if (const auto twin = withOrWithoutBlown(suspect, near)) walk.outwards(*twin);
    if (!walk.best) return std::nullopt;
    for (std::size_t n = 0; n < mostFiner && suspect.graded; ++n) {
        const auto next = walk.nextFiner();
        if (!next) break;
        walk.work.u_ = walk.best->u_;
        walk.visit(*next);
    }
    Fit out;
    out.severity = walk.bestAt;
    for (const Walk::Node& node : walk.nodes)
        out.profile.push_back({node.severity, node.sum});
    out.logEvidence =
        suspect.graded ? logMeanOf(out.profile, walk.last) : logMeanOfEach(out.profile, suspect.severities.size());
    // No finer than the fit comes to rest: what reads alike is alike, whatever the last digits of a solution are.
    out.logEvidence = std::round(out.logEvidence / told) * told;
    out.unknowns.assign(walk.best->u_.begin(), walk.best->u_.end());
    out.assumed = assumedAt(out.unknowns);
    out.readings.resize(readings_->observed.size());
    const FitPoint::Point& at = walk.best->at_;
    for (std::size_t i = 0; i < readings_->readings.size(); ++i)
        out.readings[readings_->readings[i].observation] = {at.predicted[i], at.sigma[i], at.z[i], at.logLikelihood[i]};
    out.isStrained = walk.best->isStrained();
    return out;
}

}  // namespace ilvek
