#include "trace/signal/hinge.h"

#include <Eigen/Dense>

namespace ilvek {

HingeSums::HingeSums(const std::vector<double>& y, std::size_t first, std::size_t last)
    : first_(first), count_(static_cast<double>(last - first)), sums_(last - first + 1)
{
    for (std::size_t i = first; i < last; ++i) {
        Sums next = sums_[i - first];
        double power = 1;
        for (std::size_t p = 0; p < next.u.size(); ++p, power *= at(i)) {
            next.u[p] += power;
            if (p < next.uy.size()) next.uy[p] += power * y[i];
        }
        next.yy += y[i] * y[i];
        sums_[i - first + 1] = next;
    }
}

double HingeSums::restAt(std::size_t k) const
{
    const auto [l, yl] = about(k, false);
    const auto [r, yr] = about(k, true);
    Eigen::Matrix<double, 6, 6> g;
    g << l[0] + r[0], l[1] + r[1], r[1], r[2], l[2], l[3],  //
        l[1] + r[1], l[2] + r[2], r[2], r[3], l[3], l[4],   //
        r[1], r[2], r[2], r[3], 0, 0,                       //
        r[2], r[3], r[3], r[4], 0, 0,                       //
        l[2], l[3], 0, 0, l[4], l[5],                       //
        l[3], l[4], 0, 0, l[5], l[6];
    Eigen::Matrix<double, 6, 1> h;
    h << yl[0] + yr[0], yl[1] + yr[1], yr[1], yr[2], yl[2], yl[3];
    const Eigen::Matrix<double, 6, 1> fit = g.ldlt().solve(h);
    return fit(2) > 0 ? sums_.back().yy - h.dot(fit) : 1e300;
}

// Σ t^p and Σ t^p y of one side, t = u − u_k: Σ C(p, j) (−u_k)^(p−j) Σ u^j.
std::pair<std::array<double, 7>, std::array<double, 4>> HingeSums::about(std::size_t k, bool right) const
{
    const Sums& here = sums_[k - first_];
    const double shift = -at(k);
    std::array<double, 7> u = here.u, out{};
    std::array<double, 4> uy = here.uy, outY{};
    if (right) {
        for (std::size_t p = 0; p < u.size(); ++p)
            u[p] = sums_.back().u[p] - u[p];
        for (std::size_t p = 0; p < uy.size(); ++p)
            uy[p] = sums_.back().uy[p] - uy[p];
    }
    for (std::size_t p = 0; p < out.size(); ++p) {
        double factor = 1;  // C(p, j) shift^(p − j), j from p down
        for (std::size_t j = p + 1; j-- > 0;) {
            out[p] += factor * u[j];
            if (p < outY.size()) outY[p] += factor * uy[j];
            factor *= shift * static_cast<double>(j) / static_cast<double>(p - j + 1);
        }
    }
    return {out, outY};
}

}  // namespace ilvek
