// New map from a pin sheet: the rows as understood, the problems row by row, what the schedule lacks.
#pragma once

#include <QDialog>

#include "machine/sheet_map.h"

class QDialogButtonBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QTableWidget;

namespace ilvek::app {

class SheetDialog : public QDialog {
    Q_OBJECT
public:
    explicit SheetDialog(QWidget* parent = nullptr);
    // Reads a sheet and shows it. False when nothing of it can be used; the reason is shown.
    bool load(const QString& path);
    // The map document, once accepted.
    std::string document() const { return document_; }
    // Everything wrong, as shown.
    QStringList problems() const;

private:
    void rebuild();
    void fillTable();

    PinSheet sheet_;
    std::string document_;
    QLineEdit *maker_, *model_, *module_;
    QDoubleSpinBox* volts_;
    QTableWidget* rows_;
    QListWidget* problems_;
    QLabel* summary_;
    QDialogButtonBox* buttons_;
};

}  // namespace ilvek::app
