// The law by which a reading weighs, beside the whole covariance of three readings that share a part.
#include "belief/weighing.h"

#include <gtest/gtest.h>

#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <array>
#include <cmath>
#include <numbers>

#include "belief/likelihood.h"

namespace ilvek {
namespace {

constexpr double own_V = 0.005, part_V = 0.05, beside = 0.01;

// A sensor whose output may stand `part_V` off, read three times: the first time with a share r of it left by a fault.
struct ThreeReadings {
    double remains = 1;                     // r of the first
    std::array<double, 3> off = {0, 0, 0};  // measured less what is expected
    std::array<double, 3> sound = {1.0, 1.0, 1.0};

    Eigen::Matrix3d covariance() const
    {
        const Eigen::Vector3d part = Eigen::Vector3d(remains, 1, 1) * part_V;
        Eigen::Matrix3d S = part * part.transpose();
        S.diagonal().array() += own_V * own_V;
        S(0, 0) += std::pow(beside * (1 - remains), 2);
        return S;
    }

    double whole() const
    {
        const Eigen::LLT<Eigen::Matrix3d> factor(covariance());
        const Eigen::Vector3d z = factor.matrixL().solve(Eigen::Vector3d(off[0], off[1], off[2]));
        return -0.5 * z.squaredNorm() - std::log(factor.matrixL().determinant()) - 1.5 * std::log(2 * std::numbers::pi);
    }

    // One after the other, as belief takes them: with the rows of the sound machine's Cholesky factor.
    double oneByOne() const
    {
        ThreeReadings asSound = *this;
        asSound.remains = 1;
        const Eigen::Matrix3d L = asSound.covariance().llt().matrixL();
        std::array<HandedOn, 3> handedOn;
        double sum = 0;
        for (int i = 0; i < 3; ++i) {
            Observation o;
            o.sigma = own_V;
            o.slip = 0;
            const double v = i == 0 ? remains : 1.0;
            o.value = v + off[static_cast<std::size_t>(i)];
            ReadUnder seen{v, 0, 1.0, false, 0};
            seen.remains = i == 0 ? remains : 1.0;
            Given given;
            for (int j = 0; j < i; ++j) {
                given.value += L(i, j) * static_cast<double>(handedOn[static_cast<std::size_t>(j)].z);
                given.untold = std::hypot(given.untold,
                                          L(i, j) * static_cast<double>(handedOn[static_cast<std::size_t>(j)].untold));
            }
            const Weighed weighed = weigh(o, L(i, i) * L(i, i), beside, seen, given);
            sum += weighed.logLikelihood;
            for (int j = 0; j < i; ++j)
                learn(handedOn[static_cast<std::size_t>(j)], seen.remains * L(i, j), weighed);
            handedOn[static_cast<std::size_t>(i)] = handedOnBy(weighed, 0);
        }
        return sum;
    }
};

TEST(Weighing, IsTheWholeCovarianceWhereNoFaultMovesTheReadings)
{
    for (const double off : {0.0, 0.03, -0.06})
        EXPECT_NEAR((ThreeReadings{1, {off, off + 0.004, off - 0.002}}.oneByOne()),
                    (ThreeReadings{1, {off, off + 0.004, off - 0.002}}.whole()), 1e-6);
}

// A sensor that stands high by more than a sigma; its output was shorted in the first reading, and free in the others.
TEST(Weighing, WhatAFaultHasTakenFromAReadingTellsNothingOfTheNext)
{
    for (const double remains : {0.01, 0.1, 0.4, 0.8}) {
        for (const double high : {0.0, 0.03, 0.06}) {
            const ThreeReadings three{remains, {remains * high, high, high + 0.003}};
            EXPECT_NEAR(three.oneByOne(), three.whole(), 0.6) << remains << " left, " << high << " V high";
        }
    }
}

TEST(Weighing, RemainsOfWhatFallsOrRisesAndNothingAcrossZero)
{
    constexpr double left = own_V * own_V;
    EXPECT_DOUBLE_EQ(remains({1.0, 0, 1.0, false, 0}, left, false), 1);
    EXPECT_NEAR(remains({0.0, 0, 1.0, false, 0}, left, false), own_V, 1e-4);
    EXPECT_NEAR(remains({12.0, 0, 1.0, false, 0}, left, false), 1.0 / 12, 1e-3);
    EXPECT_EQ(remains({-0.5, 0, 1.0, false, 0}, left, false), 0);
    EXPECT_EQ(remains({-0.001, 0, 0.001, false, 0}, left, false), 1) << "within its own digits";
    EXPECT_DOUBLE_EQ(remains({2.0, 0, 4.0, false, 0}, left, true), 0.01) << "decades of ohms";
}

}  // namespace
}  // namespace ilvek
