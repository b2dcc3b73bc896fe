// The belief and the ranking beside slow references: Bayes' rule with dense matrices, information by integration.
#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <cmath>
#include <map>
#include <numeric>

#include "circuit/operating_point.h"
#include "support/maps.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

constexpr double battery_V = 0.35;  // one sigma of a battery that nobody has read

struct Seen {
    const Column* column = nullptr;
    Observation o;
};

class PlainBayes : public testing::Test {
protected:
    PlainBayes() : map(test::smallMap()), reasoner(map, WayOfWorking{}, true)
    {
        while (reasoner.buildNext()) {
        }
        setup.state = map.stateIndex("key-on");
        for (const char* node : {"M-1.a", "F1.out", "M-3.a", "M-5.a", "M-2.a"})
            probes.push_back({map.nodeIndex(node), map.batteryMinus()});
        auto prediction = predict(map, reasoner.suspects(), setup, probes);
        if (prediction) table.add(std::move(*prediction));
    }

    // Readings of the sound machine, each a little off, at places of one state.
    std::vector<Seen> readings(double off) const
    {
        std::vector<Seen> out;
        for (const Probe& probe : probes) {
            Seen s;
            s.o.id = static_cast<std::int64_t>(out.size()) + 1;
            s.o.setup = setup;
            s.o.probe = probe;
            s.column = table.find(setup, probe);
            if (!s.column) continue;
            s.o.sigma = 0.02;
            s.o.gain = 0.002;
            s.o.value = static_cast<double>(s.column->value[0]) + off * (out.size() % 2 == 0 ? 0.02 : -0.02);
            out.push_back(std::move(s));
        }
        return out;
    }

    // What sound parts, the meter's scale and the battery do to all readings together, and each display by itself.
    static Eigen::MatrixXd spread(const std::vector<Seen>& seen)
    {
        const auto n = static_cast<Eigen::Index>(seen.size());
        Eigen::MatrixXd S = Eigen::MatrixXd::Zero(n, n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const Seen& a = seen[static_cast<std::size_t>(i)];
            for (Eigen::Index k = 0; k < n; ++k) {
                const Seen& b = seen[static_cast<std::size_t>(k)];
                std::map<int, double> parts(b.column->parts.begin(), b.column->parts.end());
                for (const auto& [part, moved] : a.column->parts) {
                    if (parts.contains(part)) S(i, k) += static_cast<double>(moved) * parts[part];
                }
                S(i, k) += a.o.gain * b.o.gain;
                S(i, k) += battery_V * battery_V * static_cast<double>(a.column->batterySlope[0]) *
                           static_cast<double>(b.column->batterySlope[0]);
            }
            S(i, i) += a.o.sigma * a.o.sigma;
        }
        return S;
    }

    static double logNormal(const Eigen::VectorXd& x, const Eigen::MatrixXd& S)
    {
        return -0.5 * x.dot(S.ldlt().solve(x)) - 0.5 * std::log(S.determinant());
    }

    const Map& map;
    Reasoner reasoner;
    Condition setup;
    std::vector<Probe> probes;
    PredictionTable table;
};

// One small fault for every conductor, of a few hundredths of an ohm, and the sound machine first.
std::vector<Suspect> slightOnes(const std::vector<Suspect>& all)
{
    std::vector<Suspect> out{all.front()};
    for (const Suspect& s : all) {
        if (s.kind != SuspectKind::Resistance) continue;
        for (const double r : {0.02, 0.05, 0.08}) {
            out.push_back(s);
            out.back().graded = false;
            out.back().severities = {{Fault{Fault::Kind::AddedResistance, s.element, -1, -1, r}}};
        }
    }
    return out;
}

TEST_F(PlainBayes, ManyReadingsTogetherWeighAsTheirWholeCovarianceSays)
{
    const auto suspects = slightOnes(reasoner.suspects());
    auto prediction = predict(map, suspects, setup, probes);
    ASSERT_TRUE(prediction);
    table = {};
    table.add(std::move(*prediction));
    int compared = 0, told = 0;
    for (const double off : {0.0, 1.0, -1.5, 2.0}) {
        const auto seen = readings(off);
        ASSERT_EQ(seen.size(), probes.size());
        Belief belief(suspects);
        for (const Seen& s : seen)
            ASSERT_TRUE(belief.take(table, s.o));
        const Eigen::MatrixXd S = spread(seen);
        const auto residue = [&](std::size_t at) {
            Eigen::VectorXd r(static_cast<Eigen::Index>(seen.size()));
            for (std::size_t i = 0; i < seen.size(); ++i)
                r(static_cast<Eigen::Index>(i)) = seen[i].o.value - static_cast<double>(seen[i].column->value[at]);
            return r;
        };
        const double sound = logNormal(residue(0), S);
        for (std::size_t i = 1; i < suspects.size(); ++i) {
            const double plain = logNormal(residue(i), S) - sound;
            // What is far off is a slip to the belief, which the reference does not know.
            if (plain < -3) continue;
            EXPECT_NEAR(belief.logLikelihood(static_cast<int>(i)), plain, 0.05 + 0.05 * std::abs(plain))
                << suspects[i].id << " when readings are off by " << off;
            ++compared;
            told += std::abs(plain) > 0.3 ? 1 : 0;
        }
    }
    EXPECT_GT(compared, 60);
    EXPECT_GT(told, 15);
}

// The battery was read with the same instrument: the reference keeps that reading beside the others, with the scale of
// the instrument and the battery's own voltage unknown, and takes the others given it. What each battery reading is off
// by for itself comes on top.
TEST_F(PlainBayes, TheInstrumentsScaleCancelsWhereAReadingFollowsTheBattery)
{
    constexpr double known_V = 0.015;  // the belief's own figure
    const auto suspects = slightOnes(reasoner.suspects());
    const Probe posts = batteryProbeOf(map);
    probes.push_back(posts);
    auto prediction = predict(map, suspects, setup, probes);
    ASSERT_TRUE(prediction);
    table = {};
    table.add(std::move(*prediction));
    probes.pop_back();
    auto seen = readings(1.0);
    Seen battery;
    battery.column = table.find(setup, posts);
    battery.o.value = static_cast<double>(battery.column->value[0]);
    for (Seen& s : seen) {
        s.o.gain = 0.004 * s.o.value;
        s.o.battery_V = battery.o.value;
        s.o.batterySetup.state = s.o.setup.state;
        s.o.batteryProbe = posts;
    }
    battery.o.gain = 0.004 * battery.o.value;
    battery.o.sigma = 0;
    const auto n = static_cast<Eigen::Index>(seen.size());
    Belief belief(suspects);
    for (const Seen& s : seen)
        ASSERT_TRUE(belief.take(table, s.o));
    seen.push_back(battery);
    const Eigen::MatrixXd W = spread(seen);
    const Eigen::VectorXd with = W.col(n).head(n);
    const Eigen::VectorXd follows = with / W(n, n);
    Eigen::MatrixXd S = W.topLeftCorner(n, n) - with * with.transpose() / W(n, n);
    S.diagonal() += (known_V * follows).cwiseAbs2();
    const auto residue = [&](std::size_t at) {
        Eigen::VectorXd r(n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const Seen& s = seen[static_cast<std::size_t>(i)];
            r(i) = s.o.value - static_cast<double>(s.column->value[at]);
        }
        // Under the suspect the posts would stand elsewhere: the battery's own voltage makes up for it.
        const double off = battery.o.value - static_cast<double>(battery.column->value[at]);
        return Eigen::VectorXd(r - follows * off);
    };
    const double sound = logNormal(residue(0), S);
    int told = 0;
    for (std::size_t i = 1; i < suspects.size(); ++i) {
        const double plain = logNormal(residue(i), S) - sound;
        if (plain < -3) continue;
        EXPECT_NEAR(belief.logLikelihood(static_cast<int>(i)), plain, 0.1 + 0.1 * std::abs(plain)) << suspects[i].id;
        told += std::abs(plain) > 0.3 ? 1 : 0;
    }
    EXPECT_GT(told, 3);
}

TEST_F(PlainBayes, ProbabilitiesArePriorTimesLikelihoodOverTheirSum)
{
    const auto seen = readings(0.5);
    Belief belief(reasoner.suspects());
    const auto before = belief.probabilities();
    for (const Seen& s : seen)
        ASSERT_TRUE(belief.take(table, s.o));
    const auto after = belief.probabilities();
    EXPECT_NEAR(std::accumulate(after.begin(), after.end(), 0.0), 1, 1e-9);
    // Two suspects that nothing read tells from the sound machine keep their odds.
    std::vector<std::size_t> untouched;
    const auto first = firstCases(reasoner.suspects());
    for (std::size_t i = 1; i < reasoner.suspects().size(); ++i) {
        const Suspect& s = reasoner.suspects()[i];
        bool moves = s.kind == SuspectKind::MapWrong;
        for (const Seen& one : seen) {
            for (auto k = static_cast<std::size_t>(first[i]); k < static_cast<std::size_t>(first[i + 1]); ++k)
                moves = moves || one.column->value[k] != one.column->value[0] ||
                        one.column->batterySlope[k] != one.column->batterySlope[0];
        }
        if (!moves) untouched.push_back(i);
    }
    ASSERT_GE(untouched.size(), 2U);
    for (const std::size_t i : untouched)
        EXPECT_NEAR(after[i] / after[untouched[0]], before[i] / before[untouched[0]],
                    1e-6 * before[i] / before[untouched[0]])
            << reasoner.suspects()[i].id;
}

// Also to suspects that only the look, or only a later reading, tells from the sound machine.
TEST_F(PlainBayes, ALookBetweenTwoReadingsTakesNothingFromWhatTheyShare)
{
    const auto& suspects = reasoner.suspects();
    const auto seen = readings(1.0);
    Observation look;
    look.kind = Observation::Kind::Look;
    look.terminal = 0;
    look.found = Found::Damaged;
    Belief between(suspects), after(suspects);
    for (std::size_t i = 0; i < seen.size(); ++i) {
        if (i == 1) {
            ASSERT_TRUE(between.take(table, look));
        }
        ASSERT_TRUE(between.take(table, seen[i].o));
        ASSERT_TRUE(after.take(table, seen[i].o));
    }
    const Belief before = after;
    ASSERT_TRUE(after.take(table, look));
    int shown = 0;
    for (int i = 0; i < static_cast<int>(suspects.size()); ++i) {
        EXPECT_NEAR(between.logLikelihood(i), after.logLikelihood(i), 1e-9) << suspects[static_cast<std::size_t>(i)].id;
        EXPECT_NEAR(between.against(i, 4).z, after.against(i, 3).z, 1e-5) << suspects[static_cast<std::size_t>(i)].id;
        shown += std::abs(after.logLikelihood(i) - before.logLikelihood(i)) > 0.1 ? 1 : 0;
    }
    EXPECT_GT(shown, 0);
}

// I(group; reading) = H(group) − ∫ p(x) H(group | x) dx, with every way's reading normal about its value.
class PlainInformation {
public:
    explicit PlainInformation(std::size_t groups) : byGroup_(groups, 0.0) {}
    void add(std::size_t group, double weight, double value, double sigma)
    {
        ways_.push_back({group, weight, value, sigma});
        byGroup_[group] += weight;
    }
    // A reading that may be anything tells itself from all others.
    void addApart(std::size_t group, double weight)
    {
        apart_ += weight;
        apartLogs_[group] += weight;
        byGroup_[group] += weight;
    }

    double bits() const
    {
        double low = 1e300, high = -1e300, step = 1e300, total = 0, before = 0;
        for (const Way& w : ways_) {
            low = std::min(low, w.value - 5 * w.sigma), high = std::max(high, w.value + 5 * w.sigma);
            step = std::min(step, w.sigma / 3);
        }
        for (const double w : byGroup_)
            total += w;
        for (const double w : byGroup_)
            before -= plogp(w / total);
        double after = 0;
        // Only where something can be read.
        std::map<long, bool> places;
        for (const Way& w : ways_) {
            for (auto k = static_cast<long>((w.value - 5 * w.sigma) / step);
                 k <= static_cast<long>((w.value + 5 * w.sigma) / step); ++k)
                places[k] = true;
        }
        std::vector<double> density(byGroup_.size());
        for (const auto& [k, there] : places) {
            const double x = static_cast<double>(k) * step;
            std::fill(density.begin(), density.end(), 0.0);
            double whole = 0;
            for (const Way& w : ways_) {
                const double z = (x - w.value) / w.sigma;
                if (std::abs(z) > 6) continue;
                const double p = w.weight / total * std::exp(-0.5 * z * z) / (w.sigma * std::sqrt(2 * M_PI)) * step;
                density[w.group] += p, whole += p;
            }
            for (const double p : density) {
                if (p > 0) after -= p * std::log2(p / whole);
            }
        }
        for (const auto& [group, w] : apartLogs_)
            after -= w / total * std::log2(w / apart_);
        return before - after;
    }

private:
    struct Way {
        std::size_t group;
        double weight, value, sigma;
    };
    static double plogp(double p) { return p > 0 ? p * std::log2(p) : 0; }
    std::vector<Way> ways_;
    std::vector<double> byGroup_;
    double apart_ = 0;
    std::map<std::size_t, double> apartLogs_;
};

TEST_F(PlainBayes, BitsOfATestAreThoseOfIntegration)
{
    reasoner.observe({}, {});
    const Belief& belief = reasoner.belief();
    const auto groups = groupsOf(reasoner.suspects(), belief, reasoner.table(), reasoner.candidates());
    std::vector<std::size_t> groupOf(reasoner.suspects().size());
    // Whoever is not named is a group by himself.
    std::iota(groupOf.begin(), groupOf.end(), groups.size());
    for (std::size_t g = 0; g < groups.size(); ++g) {
        for (const int m : groups[g].members)
            groupOf[static_cast<std::size_t>(m)] = g;
    }
    const auto ranked = rankTests(map, reasoner.suspects(), belief, groups, reasoner.table(), reasoner.candidates(), {},
                                  {}, reasoner.candidates().size());
    int compared = 0;
    double ours = 0, plain = 0, bestOurs = 0, bestPlain = 0, plainOfBest = 0;
    for (const RankedTest& test : ranked) {
        const Candidate& c = reasoner.candidates()[static_cast<std::size_t>(test.candidate)];
        if (test.look || c.kind == Candidate::Kind::Ohms) continue;
        const Column& column = *reasoner.table().find(c.setup, probeOf(c));
        Condition bare;
        bare.state = c.setup.state;
        const Column* battery = reasoner.table().find(bare, batteryProbeOf(map));
        const BatteryShifts posts = battery ? shiftsOf(*battery) : BatteryShifts{};
        const double sigma = std::hypot(meterSigma(column), static_cast<double>(column.tolerance));
        PlainInformation information(groups.size() + reasoner.suspects().size());
        for (const auto& h : belief.hypotheses()) {
            const Suspect& s = reasoner.suspects()[static_cast<std::size_t>(h.suspect)];
            const double v = belief.valueAt(column, h, battery ? &posts : nullptr);
            const std::size_t g = groupOf[static_cast<std::size_t>(h.suspect)];
            const bool free = s.kind == SuspectKind::MapWrong && s.node == column.probe.red;
            if (free || std::isnan(v))
                information.addApart(g, h.weight);
            else
                information.add(g, h.weight, v, sigma);
        }
        const double bits = information.bits();
        // Bins of three sigma stand for the densities: right to a third, and never information out of nothing.
        EXPECT_LT(test.bits, 1.35 * bits + 0.02) << test.reason;
        EXPECT_GT(test.bits, 0.6 * bits - 0.02) << test.reason;
        ours += test.bits, plain += bits;
        if (test.bits > bestOurs) bestOurs = test.bits, plainOfBest = bits;
        bestPlain = std::max(bestPlain, bits);
        ++compared;
    }
    EXPECT_GT(compared, 8);
    EXPECT_NEAR(ours / plain, 1, 0.25);
    EXPECT_GT(plainOfBest, 0.9 * bestPlain) << "the test that is said to tell most does";
}

}  // namespace
}  // namespace ilvek
