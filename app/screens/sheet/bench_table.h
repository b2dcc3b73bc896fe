// The bench map as a table: one row a terminal or a part beside the module, typed as in a spreadsheet. There is always
// an empty row below; a cavity follows by itself from the one above.
#pragma once

#include <QTableWidget>
#include <set>

#include "bench_map/pin_sheet.h"

namespace ilvek::app {

class BenchTable : public QTableWidget {
    Q_OBJECT
public:
    explicit BenchTable(QWidget* parent = nullptr);
    // Rows in the order of their lines, also those that could not be understood.
    void fill(const PinSheet& sheet);
    // As a sheet that readPinSheet() takes; its rows have the numbers that stand beside them.
    std::string csv() const;
    // Cells of a spreadsheet or of lines of text, from the current cell on.
    void paste(const QString& text);

    // Rows, by the number beside them, that are marked as wrong.
    void mark(const std::set<int>& wrong);

signals:
    void edited();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    QString cell(int row, int column) const;
    void put(int row, int column, const QString& text);
    void onChanged(int row);
    void growTo(int rows);
    void goOn();

    bool filling_ = false;
};

}  // namespace ilvek::app
