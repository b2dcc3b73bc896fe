// The ledger: a list with a mark, the wire, the circuit and the figure for each terminal.
#pragma once

#include <QListView>

#include "models/ledger_model.h"

namespace ilvek::app {

class LedgerView : public QListView {
    Q_OBJECT
public:
    explicit LedgerView(QWidget* parent = nullptr);
    void show(const LiveJob& liveJob);
    void moveBy(int rows);  // to the next selectable row that way

signals:
    void chosen(int terminal);

private:
    LedgerModel* model_;
};

}  // namespace ilvek::app
