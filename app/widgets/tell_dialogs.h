// What a procedure wants that is no reading: a few words, or which functions of the machine came back.
#pragma once

#include <QDialog>
#include <vector>

#include "job/event.h"
#include "machine/map.h"
#include "widgets/text_dialog.h"

class QLabel;
class QLineEdit;
class QTableWidget;

namespace ilvek::app {

// One line of words; Enter takes it.
class TellDialog : public QDialog {
    Q_OBJECT
public:
    TellDialog(const QString& question, TextDialog::Take take, QWidget* parent);
    void accept() override;

private:
    QLineEdit* text_;
    QLabel* refusal_;
    TextDialog::Take take_;
};

// Each function is not tried, works, or fails: W, F and N say it of the row, a click goes round.
class FunctionsDialog : public QDialog {
    Q_OBJECT
public:
    FunctionsDialog(const QString& question, const std::vector<Function>& functions, QWidget* parent);
    bool isAnyTried() const;
    FunctionsSeen seenIn(const SetUp& setUp) const;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    enum class Tried { Not, Works, Fails };
    void set(int row, Tried tried);

    std::vector<std::string> ids_;
    std::vector<Tried> tried_;
    QTableWidget* table_;
};

}  // namespace ilvek::app
