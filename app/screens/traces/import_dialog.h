// How a recording was read: its columns, units and scales as they were guessed, with the first figures; every part can
// be corrected.
#pragma once

#include <QDialog>

#include "models/trace_model.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QSpinBox;
class QTableWidget;

namespace ilvek::app {

class ImportDialog : public QDialog {
    Q_OBJECT
public:
    // REQUIRES: the view outlives it.
    ImportDialog(const TraceView& view, QWidget* parent);

    // As corrected, once it was accepted.
    const ImportWish& wish() const { return wish_; }
    QTableWidget* table() const { return table_; }

public slots:
    // Stays open, with the place and the reason, when something in it cannot be meant.
    void accept() override;

private:
    enum Column { Name, Use, UnitColumn, Clamp, Divides, Turned, Zero, Figures };
    void addRow(int row, const QString& name, Unit unit, double unitScale, const Channel* channel,
                const QString& figures);
    QComboBox* useBox(int row) const;
    QComboBox* unitBox(int row) const;
    std::optional<double> figureIn(int row, Column column, double empty, const QString& what);
    bool takeColumns();
    bool takeLead(int row, ImportWish::Lead& lead);
    void complain(const QString& what);

    const TraceView& view_;
    ImportWish wish_;
    QTableWidget* table_;
    QComboBox *separator_ = nullptr, *decimal_ = nullptr;
    QSpinBox* head_ = nullptr;
    QLineEdit* interval_;
    QLabel* problem_;
};

}  // namespace ilvek::app
