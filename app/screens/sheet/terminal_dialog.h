// Adding, correcting or marking as found a single terminal.
#pragma once

#include <QDialog>
#include <optional>

#include "bench_map/pin_sheet.h"
#include "machine/map.h"

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;

namespace ilvek::app {

class TerminalDialog : public QDialog {
    Q_OBJECT
public:
    // `terminal` is -1 to add one. `measured_A`: what a clamp showed on it, offered as its current.
    TerminalDialog(const Map& map, int terminal, QWidget* parent = nullptr, std::optional<double> measured_A = {});
    // The row that carries only what was changed.
    PinRow row() const;
    void accept() override;

private:
    void askWhichSourceHolds(const Terminal& t, QFormLayout* form);
    void offer(double measured_A);

    const Map& map_;
    int terminal_;
    PinRow before_;  // of a map that keeps its sheet: the row as it stands
    QLineEdit *cavity_, *circuit_, *colour_, *fuse_, *relay_, *ground_, *splice_, *otherEnd_, *source_;
    QLineEdit *route_, *section_, *current_, *expected_, *ownReturn_;
    QComboBox *role_, *found_;
    QComboBox* holds_ = nullptr;  // where sources disagree
    QLabel* problem_;
};

}  // namespace ilvek::app
