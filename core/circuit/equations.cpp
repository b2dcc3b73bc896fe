#include "circuit/equations.h"

#include <suitesparse/klu.h>
#include <algorithm>
#include <numeric>

#include "base/expects.h"

namespace ilvek {

struct Equations::Factors {
    std::vector<double> factorised;  // the values that `numeric` stands for
    klu_common common;
    klu_symbolic* symbolic = nullptr;
    klu_numeric* numeric = nullptr;
    std::vector<int> starts, rows;  // compressed columns
    std::vector<double> values;
    std::vector<double> kept;  // slopes of the linear devices

    // Where a couple stands among the values: most nodes meet few others, a bus meets many.
    std::size_t placeOf(int node, int byNode) const
    {
        constexpr std::ptrdiff_t few = 12;
        const auto column = static_cast<std::size_t>(byNode);
        auto at = rows.begin() + starts[column];
        const auto end = rows.begin() + starts[column + 1];
        if (end - at > few) at = std::lower_bound(at, end, node);
        while (at != end && *at < node)
            ++at;
        EXPECTS(at != end && *at == node);
        return static_cast<std::size_t>(at - rows.begin());
    }
    Factors()
    {
        klu_defaults(&common);
        common.scale = -1;  // conductances need no scaling of rows: the diagonal is the largest of each
    }
    ~Factors() { release(); }
    Factors(const Factors&) = delete;
    Factors& operator=(const Factors&) = delete;

    void release()
    {
        if (numeric) klu_free_numeric(&numeric, &common);
        if (symbolic) klu_free_symbolic(&symbolic, &common);
    }
};

namespace {

std::vector<std::pair<int, int>> everyCouple(int nodes)
{
    std::vector<std::pair<int, int>> all;
    for (int a = 0; a < nodes; ++a) {
        for (int b = 0; b < nodes; ++b)
            all.emplace_back(a, b);
    }
    return all;
}

// The rows of each column, one after the other, each in order and once: all are counted, laid side by side, and what
// stands twice is then closed up.
void compress(int nodes, const std::vector<std::pair<int, int>>& couples, std::vector<int>& starts,
              std::vector<int>& rows)
{
    const auto n = static_cast<std::size_t>(nodes);
    std::vector<int> next(n + 1, 0);
    const auto each = [&](const auto& place) {
        for (int i = 0; i < nodes; ++i)
            place(i, i);
        for (const auto& [a, b] : couples) {
            if (a < 0 || b < 0) continue;
            place(a, b);
            place(b, a);
        }
    };
    each([&](int column, int) { ++next[static_cast<std::size_t>(column) + 1]; });
    std::partial_sum(next.begin(), next.end(), next.begin());
    rows.resize(static_cast<std::size_t>(next[n]));
    const std::vector<int> begins = next;
    each([&](int column, int row) { rows[static_cast<std::size_t>(next[static_cast<std::size_t>(column)]++)] = row; });
    starts.assign(1, 0);
    auto end = rows.begin();
    for (std::size_t column = 0; column < n; ++column) {
        const auto from = rows.begin() + begins[column], to = rows.begin() + begins[column + 1];
        std::sort(from, to);
        const auto last = std::unique(from, to);
        end = std::move(from, last, end);
        starts.push_back(static_cast<int>(end - rows.begin()));
    }
    rows.erase(end, rows.end());
}

}  // namespace

Equations::Equations(int nodes) : Equations(nodes, everyCouple(nodes)) {}

// Compressed columns, the diagonal always in them.
Equations::Equations(int nodes, const std::vector<std::pair<int, int>>& couples)
    : nodes_(nodes), residual_(static_cast<std::size_t>(nodes), 0.0), factors_(std::make_unique<Factors>())
{
    Factors& f = *factors_;
    compress(nodes, couples, f.starts, f.rows);
    f.values.assign(f.rows.size(), 0.0);
    f.symbolic = klu_analyze(nodes_, f.starts.data(), f.rows.data(), &f.common);
}

Equations::~Equations() = default;

void Equations::clear()
{
    std::fill(residual_.begin(), residual_.end(), 0.0);
    std::fill(factors_->values.begin(), factors_->values.end(), 0.0);
}

void Equations::keep()
{
    factors_->kept = factors_->values;
}

void Equations::restart(const std::vector<double>& v)
{
    Factors& f = *factors_;
    f.values = f.kept;
    // F = A v for what is linear.
    std::fill(residual_.begin(), residual_.end(), 0.0);
    for (std::size_t column = 0; column < v.size(); ++column) {
        const double u = v[column];
        for (int k = f.starts[column]; k < f.starts[column + 1]; ++k)
            residual_[static_cast<std::size_t>(f.rows[static_cast<std::size_t>(k)])] +=
                f.kept[static_cast<std::size_t>(k)] * u;
    }
}

void Equations::leave(int node, double current_A)
{
    if (node >= 0) residual_[static_cast<std::size_t>(node)] += current_A;
}

void Equations::slope(int node, int byNode, double conductance_S)
{
    if (node < 0 || byNode < 0) return;
    factors_->values[factors_->placeOf(node, byNode)] += conductance_S;
}

bool Equations::factorise()
{
    Factors& f = *factors_;
    if (!f.symbolic) return false;
    // Laws of straight pieces have the same slopes from step to step.
    if (f.numeric && f.values == f.factorised) return true;
    f.factorised.clear();
    // A refactorisation keeps the old pivots; when those have become poor, factorise anew.
    bool usable =
        f.numeric &&
        klu_refactor(f.starts.data(), f.rows.data(), f.values.data(), f.symbolic, f.numeric, &f.common) != 0 &&
        klu_rcond(f.symbolic, f.numeric, &f.common) != 0 && f.common.rcond > 1e-17;
    if (!usable) {
        if (f.numeric) klu_free_numeric(&f.numeric, &f.common);
        f.numeric = klu_factor(f.starts.data(), f.rows.data(), f.values.data(), f.symbolic, &f.common);
        usable = f.numeric && f.common.status == KLU_OK;
    }
    if (usable) f.factorised = f.values;
    return usable;
}

bool Equations::solve(std::vector<double>& step)
{
    const Factors& f = *factors_;
    step.resize(static_cast<std::size_t>(nodes_));
    for (std::size_t i = 0; i < step.size(); ++i)
        step[i] = -residual_[i];
    return klu_solve(f.symbolic, f.numeric, nodes_, 1, step.data(), &factors_->common) != 0;
}

std::vector<double> Equations::inverse() const
{
    const auto n = static_cast<std::size_t>(nodes_);
    std::vector<double> columns(n * n, 0.0);
    for (std::size_t i = 0; i < n; ++i)
        columns[i * n + i] = 1.0;
    klu_solve(factors_->symbolic, factors_->numeric, nodes_, nodes_, columns.data(), &factors_->common);
    return columns;
}

void Equations::apply(std::vector<double>& b) const
{
    klu_solve(factors_->symbolic, factors_->numeric, nodes_, 1, b.data(), &factors_->common);
}

void Equations::applyTransposed(std::vector<double>& b) const
{
    klu_tsolve(factors_->symbolic, factors_->numeric, nodes_, 1, b.data(), &factors_->common);
}

}  // namespace ilvek
