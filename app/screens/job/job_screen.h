// The Job screen: machine, complaint, what still works, codes, notes, repairs, the way of working, and the journal.
#pragma once

#include <QWidget>

#include "models/live_job.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPlainTextEdit;
class QTableWidget;

namespace ilvek::app {

class JobScreen : public QWidget {
    Q_OBJECT
public:
    explicit JobScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob);
    // Enters what was changed and not yet taken; called when the screen is left.
    void takeOver();

public slots:
    void refresh();

private:
    QWidget* makeDetails();
    QWidget* makeComplaint();
    QWidget* makeCodes();
    QWidget* makeWay();
    QWidget* makeJournal();
    void enterNote();
    void enterRepair();
    void enterInstrument();

    LiveJob* liveJob_ = nullptr;
    bool filling_ = false;
    QLineEdit *title_, *customer_, *serial_, *hours_, *technician_, *when_, *note_, *repair_;
    QLabel* machine_;
    QComboBox* repaired_;
    QPlainTextEdit *complaint_, *fails_, *works_, *replaced_;
    QTableWidget* codes_;
    QComboBox *mated_, *order_, *state_;
    QLineEdit *meter_, *inputResistance_, *clamp_;
    QListWidget* journal_;
};

}  // namespace ilvek::app
