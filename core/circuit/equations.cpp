#include "circuit/equations.h"

#include <algorithm>
#include <suitesparse/klu.h>

namespace ilvek {

struct Equations::Factors {
    klu_common common;
    klu_symbolic* symbolic = nullptr;
    klu_numeric* numeric = nullptr;
    std::vector<int> starts, rows;  // compressed columns
    std::vector<double> values;

    Factors() { klu_defaults(&common); }
    ~Factors() { release(); }
    Factors(const Factors&) = delete;
    Factors& operator=(const Factors&) = delete;

    void release()
    {
        if (numeric) klu_free_numeric(&numeric, &common);
        if (symbolic) klu_free_symbolic(&symbolic, &common);
    }
};

Equations::Equations(int nodes)
    : nodes_(nodes), residual_(static_cast<std::size_t>(nodes), 0.0), factors_(std::make_unique<Factors>())
{
}

Equations::~Equations() = default;

void Equations::clear()
{
    std::fill(residual_.begin(), residual_.end(), 0.0);
    entries_.clear();
}

void Equations::leave(int node, double current_A)
{
    if (node >= 0) residual_[static_cast<std::size_t>(node)] += current_A;
}

void Equations::slope(int node, int byNode, double conductance_S)
{
    if (node >= 0 && byNode >= 0) entries_.push_back({node, byNode, conductance_S});
}

void Equations::branch(int a, int b, double current_A, double conductance_S)
{
    leave(a, current_A);
    leave(b, -current_A);
    slope(a, a, conductance_S);
    slope(b, b, conductance_S);
    slope(a, b, -conductance_S);
    slope(b, a, -conductance_S);
}

bool Equations::solve(std::vector<double>& step)
{
    std::sort(entries_.begin(), entries_.end(), [](const Entry& x, const Entry& y) {
        return x.column != y.column ? x.column < y.column : x.row < y.row;
    });
    std::vector<int> starts(static_cast<std::size_t>(nodes_) + 1, 0), rows;
    std::vector<double> values;
    for (std::size_t i = 0; i < entries_.size(); ++i) {
        const Entry& e = entries_[i];
        const bool same = i > 0 && entries_[i - 1].row == e.row && entries_[i - 1].column == e.column;
        if (same) {
            values.back() += e.value;
            continue;
        }
        rows.push_back(e.row);
        values.push_back(e.value);
        ++starts[static_cast<std::size_t>(e.column) + 1];
    }
    for (std::size_t i = 0; i < static_cast<std::size_t>(nodes_); ++i)
        starts[i + 1] += starts[i];

    Factors& f = *factors_;
    const bool samePattern = f.symbolic && starts == f.starts && rows == f.rows;
    f.values = std::move(values);
    if (!samePattern) {
        f.release();
        f.starts = std::move(starts);
        f.rows = std::move(rows);
        f.symbolic = klu_analyze(nodes_, f.starts.data(), f.rows.data(), &f.common);
        if (!f.symbolic) return false;
    }
    const bool refactored =
        f.numeric && klu_refactor(f.starts.data(), f.rows.data(), f.values.data(), f.symbolic, f.numeric, &f.common);
    if (!refactored) {
        if (f.numeric) klu_free_numeric(&f.numeric, &f.common);
        f.numeric = klu_factor(f.starts.data(), f.rows.data(), f.values.data(), f.symbolic, &f.common);
    }
    if (!f.numeric || f.common.status != KLU_OK) return false;
    step.resize(static_cast<std::size_t>(nodes_));
    for (std::size_t i = 0; i < step.size(); ++i)
        step[i] = -residual_[i];
    return klu_solve(f.symbolic, f.numeric, nodes_, 1, step.data(), &f.common) != 0;
}

}  // namespace ilvek
