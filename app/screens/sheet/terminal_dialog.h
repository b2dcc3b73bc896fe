// Adding, correcting or marking as found a single terminal.
#pragma once

#include <QDialog>

#include "machine/map.h"
#include "machine/pin_sheet.h"

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;

namespace ilvek::app {

class TerminalDialog : public QDialog {
    Q_OBJECT
public:
    // `terminal` is -1 to add one.
    TerminalDialog(const Map& map, int terminal, QWidget* parent = nullptr);
    // The row that carries only what was changed.
    PinRow row() const;
    void accept() override;

private:
    void askWhichSourceHolds(const Terminal& t, QFormLayout* form);

    const Map& map_;
    int terminal_;
    QLineEdit *cavity_, *circuit_, *colour_, *fuse_, *relay_, *ground_, *splice_, *otherEnd_, *source_;
    QComboBox *role_, *found_;
    QComboBox* holds_ = nullptr;  // where sources disagree
    QLabel* problem_;
};

}  // namespace ilvek::app
