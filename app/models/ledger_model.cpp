#include "models/ledger_model.h"

#include "theme.h"

namespace ilvek::app {

void LedgerModel::show(const LiveJob& liveJob)
{
    std::vector<LedgerRow> rows;
    Group group = Group::Empty;
    for (const int terminal : provingOrder(liveJob.map(), liveJob.job().evidence.working)) {
        const Terminal& t = liveJob.map().terminal(terminal);
        if (rows.empty() || groupOf(*t.role) != group) {
            group = groupOf(*t.role);
            LedgerRow heading;
            heading.isHeading = true;
            heading.heading =
                QString::fromUtf8(groupName(group).data(), static_cast<qsizetype>(groupName(group).size()));
            rows.push_back(heading);
        }
        const Proof proof = liveJob.proof(terminal);
        LedgerRow row;
        row.terminal = terminal;
        row.id = QString::fromStdString(t.id);
        row.circuit = QString::fromStdString(t.circuit);
        row.figure = QString::fromStdString(proof.figure);
        row.colour = t.colour;
        row.state = proof.state;
        rows.push_back(row);
    }
    const bool sameShape = rows.size() == rows_.size() &&
                           std::equal(rows.begin(), rows.end(), rows_.begin(),
                                      [](const auto& a, const auto& b) { return a.terminal == b.terminal; });
    if (sameShape) {
        rows_ = std::move(rows);
        emit dataChanged(index(0), index(rowCount() - 1));
        return;
    }
    beginResetModel();
    rows_ = std::move(rows);
    endResetModel();
}

int LedgerModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

QVariant LedgerModel::data(const QModelIndex& index, int role) const
{
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const LedgerRow& r = row(index.row());
    if (role == Qt::UserRole) return r.terminal;
    if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole && role != Qt::ToolTipRole) return {};
    if (r.isHeading) return r.heading;
    const auto state = proofWords(r.state);
    QString words =
        tr("%1, %2, %3").arg(r.id, r.circuit, QString::fromUtf8(state.data(), static_cast<qsizetype>(state.size())));
    if (!r.figure.isEmpty()) words += QStringLiteral(", ") + r.figure;
    return role == Qt::ToolTipRole ? plainTip(words) : words;
}

Qt::ItemFlags LedgerModel::flags(const QModelIndex& index) const
{
    if (!index.isValid() || row(index.row()).isHeading) return Qt::NoItemFlags;
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable;
}

int LedgerModel::rowOf(int terminal) const
{
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (!rows_[i].isHeading && rows_[i].terminal == terminal) return static_cast<int>(i);
    }
    return -1;
}

std::pair<int, int> LedgerModel::proven() const
{
    std::pair<int, int> count{0, 0};
    for (const LedgerRow& r : rows_) {
        if (r.isHeading) continue;
        ++count.second;
        if (r.state == ProofState::ProvenLoaded) ++count.first;
    }
    return count;
}

}  // namespace ilvek::app
