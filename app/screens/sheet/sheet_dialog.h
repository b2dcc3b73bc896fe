// The bench map: a module's pins typed or read from a sheet, the problems row by row, what the schedule lacks, the way
// of the row in hand.
#pragma once

#include <QDialog>

#include "bench_map/sheet_map.h"
#include "machine/map.h"

class QDialogButtonBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QListWidget;

namespace ilvek::app {

class BenchTable;
class LoopStrip;

class SheetDialog : public QDialog {
    Q_OBJECT
public:
    explicit SheetDialog(QWidget* parent = nullptr);
    // Reads a sheet and shows it. False when nothing of it can be used; the reason is shown.
    bool load(const QString& path);
    // The rows of a map that keeps its sheet, to be gone on with. False where it keeps none.
    bool edit(const std::string& document);
    // What was changed since, row by row.
    std::vector<PinRow> corrections() const;
    // The map document, once accepted.
    std::string document() const { return document_; }
    // Of the machine and its module, for the job's file.
    QString name() const;
    // Everything wrong, as shown.
    QStringList problems() const;

private:
    void rebuild();
    void readTable();
    void showWay();
    void markRows();
    void keepSheet();

    PinSheet sheet_;
    std::vector<PinRow> before_;  // of a map that is gone on with
    std::string document_;
    std::optional<Map> map_;
    QLineEdit *maker_, *model_, *variant_, *module_;
    QDoubleSpinBox* volts_;
    BenchTable* rows_;
    QListWidget* problems_;
    QLabel* summary_;
    LoopStrip* way_;
    QDialogButtonBox* buttons_;
};

}  // namespace ilvek::app
