#include "circuit/equations.h"

#include <suitesparse/klu.h>
#include <algorithm>
#include <numeric>

namespace ilvek {

struct Equations::Factors {
    klu_common common;
    klu_symbolic* symbolic = nullptr;
    klu_numeric* numeric = nullptr;
    std::vector<int> starts, rows;  // compressed columns
    std::vector<double> values;
    std::vector<Entry> stamped;      // the order the columns were arranged for
    std::vector<std::size_t> slots;  // entry to place in `values`

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

// Where each stamped entry goes in the compressed columns. Devices stamp in the same order each time, so this is worked
// out once and kept for as long as the order of (row, column) is the same.
void Equations::arrange()
{
    Factors& f = *factors_;
    std::vector<std::size_t> order(entries_.size());
    std::iota(order.begin(), order.end(), 0U);
    std::sort(order.begin(), order.end(), [&](std::size_t x, std::size_t y) {
        const Entry &a = entries_[x], &b = entries_[y];
        return a.column != b.column ? a.column < b.column : a.row < b.row;
    });
    f.release();
    f.stamped = entries_;
    f.starts.assign(static_cast<std::size_t>(nodes_) + 1, 0);
    f.rows.clear();
    f.slots.assign(entries_.size(), 0);
    for (std::size_t i = 0; i < order.size(); ++i) {
        const Entry& e = entries_[order[i]];
        const bool same = i > 0 && entries_[order[i - 1]].row == e.row && entries_[order[i - 1]].column == e.column;
        if (!same) {
            f.rows.push_back(e.row);
            ++f.starts[static_cast<std::size_t>(e.column) + 1];
        }
        f.slots[order[i]] = f.rows.size() - 1;
    }
    for (std::size_t i = 0; i < static_cast<std::size_t>(nodes_); ++i)
        f.starts[i + 1] += f.starts[i];
    f.symbolic = klu_analyze(nodes_, f.starts.data(), f.rows.data(), &f.common);
}

bool Equations::solve(std::vector<double>& step)
{
    Factors& f = *factors_;
    const bool sameOrder =
        f.symbolic && std::equal(entries_.begin(), entries_.end(), f.stamped.begin(), f.stamped.end(),
                                 [](const Entry& a, const Entry& b) { return a.row == b.row && a.column == b.column; });
    if (!sameOrder) arrange();
    if (!f.symbolic) return false;
    f.values.assign(f.rows.size(), 0.0);
    for (std::size_t i = 0; i < entries_.size(); ++i)
        f.values[f.slots[i]] += entries_[i].value;
    // A refactorisation keeps the old pivots; when those have become poor, factorise anew.
    bool usable =
        f.numeric &&
        klu_refactor(f.starts.data(), f.rows.data(), f.values.data(), f.symbolic, f.numeric, &f.common) != 0 &&
        klu_rcond(f.symbolic, f.numeric, &f.common) != 0 && f.common.rcond > 1e-14;
    if (!usable) {
        if (f.numeric) klu_free_numeric(&f.numeric, &f.common);
        f.numeric = klu_factor(f.starts.data(), f.rows.data(), f.values.data(), f.symbolic, &f.common);
        usable = f.numeric && f.common.status == KLU_OK;
    }
    if (!usable) return false;
    step.resize(static_cast<std::size_t>(nodes_));
    for (std::size_t i = 0; i < step.size(); ++i)
        step[i] = -residual_[i];
    return klu_solve(f.symbolic, f.numeric, nodes_, 1, step.data(), &f.common) != 0;
}

}  // namespace ilvek
