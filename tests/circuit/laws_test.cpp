// Every law: no current falls when its voltage rises, the slope it states is its slope, and Kirchhoff holds at its
// nodes.
#include "circuit/laws.h"

#include "circuit/equations.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <random>

namespace ilvek {
namespace {

using Law = std::function<void(const law::Voltages&, Equations&)>;

struct Named {
    const char* name;
    int nodes;
    int drive;  // the node whose voltage is swept
    Law stamp;
};

std::vector<double> currents(const Named& law, const std::vector<double>& v)
{
    Equations eq(law.nodes);
    law.stamp(law::Voltages(v), eq);
    return eq.residual();
}

class EveryLaw : public testing::TestWithParam<Named> {};

TEST_P(EveryLaw, LeavesNothingBehindAtItsNodes)
{
    // Reference excluded, all of a law's nodes are here: what leaves one enters another.
    std::mt19937 random(3);
    std::uniform_real_distribution<double> volts(-5, 15);
    for (int n = 0; n < 200; ++n) {
        std::vector<double> v(static_cast<std::size_t>(GetParam().nodes));
        for (double& x : v)
            x = volts(random);
        double sum = 0;
        for (const double i : currents(GetParam(), v))
            sum += i;
        EXPECT_NEAR(sum, 0.0, 1e-9);
    }
}

TEST_P(EveryLaw, NeverFallsWithTheVoltageThatDrivesIt)
{
    std::vector<double> v(static_cast<std::size_t>(GetParam().nodes), 0.0);
    if (GetParam().nodes == 3) v[0] = 12;
    double before = -1e9;
    for (double u = -3; u < 18; u += 0.003) {
        v[static_cast<std::size_t>(GetParam().drive)] = u;
        const double i = currents(GetParam(), v)[static_cast<std::size_t>(GetParam().drive)];
        EXPECT_GE(i, before - 1e-9) << "at " << u;
        before = i;
    }
}

const SubstituteLoad lamp{"l", "lamp", LoadKind::Lamp, 12, 1.75, 0};

INSTANTIATE_TEST_SUITE_P(
    Laws, EveryLaw,
    testing::Values(
        Named{"resistance", 2, 0, [](const auto& v, auto& eq) { law::source(0, 1, 0, 4, v, eq); }},
        Named{"battery", 2, 0, [](const auto& v, auto& eq) { law::source(0, 1, 12.5, 0.01, v, eq); }},
        Named{"constantDraw", 2, 0, [](const auto& v, auto& eq) { law::constantDraw(0, 1, 6, 8, v, eq); }},
        Named{"limitedSource", 2, 0, [](const auto& v, auto& eq) { law::limitedSource(0, 1, 14.3, 0.02, 95, v, eq); }},
        Named{"diode", 2, 0, [](const auto& v, auto& eq) { law::diode(0, 1, 0.7, v, eq); }},
        Named{"lamp", 2, 0,
              [](const auto& v, auto& eq) { law::filament(0, 1, lamp.ratedVoltage_V, lamp.ratedCurrent_A, v, eq); }},
        Named{"divider", 3, 1, [](const auto& v, auto& eq) { law::divider(0, 1, 2, 0.46, 470, v, eq); }},
        Named{"regulator", 3, 1,
              [](const auto& v, auto& eq) {
                  law::regulator(0, 1, 2, {5, 0.15, 0.16, 0.5}, v, eq);
              }}),
    [](const auto& one) { return one.param.name; });

// A track of 5 kΩ with the wiper at x is two resistors; the sensor's law gives the same currents at any voltages when
// its output resistance is that of its wiper, x (1 − x) R.
TEST(Divider, WithItsTrackIsAPotentiometer)
{
    constexpr double track = 5000;
    std::mt19937 random(7);
    std::uniform_real_distribution<double> volts(-5, 15), place(0.02, 0.98);
    for (int n = 0; n < 200; ++n) {
        const double x = place(random);
        const std::vector<double> v{volts(random), volts(random), volts(random)};  // supply, wiper, return
        Equations sensor(3), resistors(3);
        law::divider(0, 1, 2, x, x * (1 - x) * track, law::Voltages(v), sensor);
        law::source(0, 2, 0, track, law::Voltages(v), sensor);
        law::source(0, 1, 0, (1 - x) * track, law::Voltages(v), resistors);
        law::source(1, 2, 0, x * track, law::Voltages(v), resistors);
        for (std::size_t node = 0; node < 3; ++node)
            EXPECT_NEAR(sensor.residual()[node], resistors.residual()[node], 1e-12);
    }
}

TEST(Regulator, HoldsItsVoltageUntilItsLimit)
{
    // Supply 12 V, return 0: the current into a load that holds the output at a voltage.
    const auto into = [](double output) {
        Equations eq(3);
        const std::vector<double> v{12, output, 0};
        law::regulator(0, 1, 2, {5, 0.15, 0.16, 0.5}, law::Voltages(v), eq);
        return -eq.residual()[1];
    };
    EXPECT_NEAR(into(4.985), 0.1, 1e-9) << "15 mV below nominal through 0.15 Ω";
    EXPECT_DOUBLE_EQ(into(1.0), 0.16) << "dragged down: no more than the limit";
    EXPECT_DOUBLE_EQ(into(5.5), 0.0) << "it only gives";
}

TEST(Regulator, FollowsAStarvedSupply)
{
    Equations eq(3);
    const std::vector<double> v{4.5, 3.9, 0};
    law::regulator(0, 1, 2, {5, 0.5, 0.5, 0.5}, law::Voltages(v), eq);
    EXPECT_NEAR(-eq.residual()[1], (4.0 - 3.9) / 0.5, 1e-9);
}

TEST(ConstantDraw, FoldsBackBelowItsBrownOut)
{
    const auto drawn = [](double u) {
        Equations eq(2);
        const std::vector<double> v{u, 0};
        law::constantDraw(0, 1, 6, 8, law::Voltages(v), eq);
        return eq.residual()[0];
    };
    EXPECT_NEAR(drawn(12), 6, 1e-6);
    EXPECT_NEAR(drawn(4.8), 3, 1e-6);
    EXPECT_NEAR(drawn(1.5), 0, 1e-6) << "too little for electronics to wake";
    EXPECT_NEAR(drawn(-2), 0, 1e-6);
}

// Sparse LU against Gauss elimination with full pivoting, as slow and obvious as can be.
std::vector<double> gauss(std::vector<std::vector<double>> a, std::vector<double> b)
{
    const std::size_t n = b.size();
    for (std::size_t k = 0; k < n; ++k) {
        std::size_t pivot = k;
        for (std::size_t i = k; i < n; ++i) {
            if (std::abs(a[i][k]) > std::abs(a[pivot][k])) pivot = i;
        }
        std::swap(a[k], a[pivot]);
        std::swap(b[k], b[pivot]);
        for (std::size_t i = k + 1; i < n; ++i) {
            const double f = a[i][k] / a[k][k];
            for (std::size_t j = k; j < n; ++j)
                a[i][j] -= f * a[k][j];
            b[i] -= f * b[k];
        }
    }
    for (std::size_t k = n; k-- > 0;) {
        for (std::size_t j = k + 1; j < n; ++j)
            b[k] -= a[k][j] * b[j];
        b[k] /= a[k][k];
    }
    return b;
}

TEST(Equations, AgreeWithGaussOnRandomNetworks)
{
    std::mt19937 random(11);
    for (int n = 0; n < 60; ++n) {
        const int nodes = 3 + n % 25;
        Equations eq(nodes);
        std::vector<std::vector<double>> a(static_cast<std::size_t>(nodes),
                                           std::vector<double>(static_cast<std::size_t>(nodes), 0.0));
        std::vector<double> b(static_cast<std::size_t>(nodes), 0.0);
        const auto branch = [&](int p, int q, double i, double g) {
            eq.branch(p, q, i, g);
            for (const auto& [row, sign] : {std::pair{p, 1.0}, std::pair{q, -1.0}}) {
                if (row < 0) continue;
                b[static_cast<std::size_t>(row)] -= sign * i;
                if (p >= 0) a[static_cast<std::size_t>(row)][static_cast<std::size_t>(p)] += sign * g;
                if (q >= 0) a[static_cast<std::size_t>(row)][static_cast<std::size_t>(q)] -= sign * g;
            }
        };
        std::uniform_int_distribution<int> pick(-1, nodes - 1);
        std::uniform_real_distribution<double> value(0.01, 10);
        for (int i = 0; i < nodes; ++i)
            branch(i, -1, value(random) - 5, value(random));
        for (int k = 0; k < 3 * nodes; ++k) {
            const int p = pick(random), q = pick(random);
            if (p != q) branch(p, q, value(random) - 5, value(random));
        }
        std::vector<double> x;
        ASSERT_TRUE(eq.factorise() && eq.solve(x));
        const auto reference = gauss(a, b);
        for (std::size_t i = 0; i < x.size(); ++i)
            EXPECT_NEAR(x[i], reference[i], 1e-9 * (1 + std::abs(reference[i])));
        // The same pattern again takes the short way through the kept arrangement.
        ASSERT_TRUE(eq.factorise() && eq.solve(x));
        EXPECT_NEAR(x[0], reference[0], 1e-9 * (1 + std::abs(reference[0])));
    }
}

TEST(Equations, ASingularNetworkIsSaidToBeOne)
{
    Equations eq(2);
    eq.branch(0, 1, 1.0, 1.0);  // nothing ties either node to the reference
    std::vector<double> x;
    EXPECT_FALSE(eq.solve(x));
}

}  // namespace
}  // namespace ilvek
