// The hinge from sums of powers beside the plain least squares that it stands for.
#include "trace/signal/hinge.h"

#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <random>

namespace ilvek {
namespace {

// Slow and obvious: every column written out, solved by QR.
double plainRest(const std::vector<double>& y, std::size_t first, std::size_t last, std::size_t k)
{
    const auto n = static_cast<Eigen::Index>(last - first);
    Eigen::MatrixXd M(n, 6);
    Eigen::VectorXd v(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const double t =
            (static_cast<double>(first) + static_cast<double>(i) - static_cast<double>(k)) / static_cast<double>(n);
        const double h = std::max(0.0, t), g = std::min(0.0, t);
        M.row(i) << 1, t, h, h * h, g * g, g * g * g;
        v(i) = y[first + static_cast<std::size_t>(i)];
    }
    const Eigen::VectorXd fit = M.colPivHouseholderQr().solve(v);
    return fit(2) > 0 ? (v - M * fit).squaredNorm() : 1e300;
}

TEST(Hinge, IsThePlainLeastSquares)
{
    std::mt19937 random(7);
    std::normal_distribution<double> noise(0, 0.01);
    int bent = 0;
    for (int draw = 0; draw < 20; ++draw) {
        std::vector<double> y;
        const double corner = 60 + 4 * draw;
        for (int i = 0; i < 200; ++i)
            y.push_back(1 + 0.002 * i + (i > corner ? 0.004 * (i - corner) : 0) + noise(random));
        const HingeSums sums(y, 10, 190);
        for (std::size_t k = 20; k < 180; k += 7) {
            const double plain = plainRest(y, 10, 190, k), ours = sums.restAt(k);
            // One that hardly bends may be taken either way.
            if (plain > 1e299 || ours > 1e299) continue;
            EXPECT_NEAR(ours, plain, 1e-6 * plain + 1e-9) << draw << " at " << k;
            ++bent;
        }
    }
    EXPECT_GT(bent, 200);
}

TEST(Hinge, LeavesLeastWhereTheCornerIs)
{
    std::vector<double> y;
    for (int i = 0; i < 300; ++i)
        y.push_back(0.001 * i + (i > 140 ? 0.003 * (i - 140) : 0));
    const HingeSums sums(y, 20, 280);
    std::size_t best = 30;
    for (std::size_t k = 30; k < 270; ++k)
        best = sums.restAt(k) < sums.restAt(best) ? k : best;
    EXPECT_EQ(best, 140U);
    for (double& v : y)
        v = -v;
    EXPECT_GT(HingeSums(y, 20, 280).restAt(140), 1e299) << "this one bends downwards";
}

}  // namespace
}  // namespace ilvek
