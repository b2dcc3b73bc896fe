// The module's terminals in proving order with their proof state, as rows; a heading row stands before each group.
#pragma once

#include <QAbstractListModel>
#include <vector>

#include "models/live_job.h"

namespace ilvek::app {

struct LedgerRow {
    bool isHeading = false;
    int terminal = -1;
    QString id, circuit, figure, heading;
    Colour colour;
    ProofState state = ProofState::Untouched;
};

class LedgerModel : public QAbstractListModel {
    Q_OBJECT
public:
    explicit LedgerModel(QObject* parent = nullptr) : QAbstractListModel(parent) {}

    void show(const LiveJob& liveJob);
    int rowCount(const QModelIndex& parent = {}) const override;
    // DisplayRole: the row in words. UserRole: the terminal's index, -1 for a heading.
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    const LedgerRow& row(int index) const { return rows_[static_cast<std::size_t>(index)]; }
    int rowOf(int terminal) const;
    // Terminals proven, and all that count.
    std::pair<int, int> proven() const;

private:
    std::vector<LedgerRow> rows_;
};

}  // namespace ilvek::app
