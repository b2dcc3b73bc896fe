// After the fault was found: what failed and reads now, what is owed to the machine, and the end of the job.
#pragma once

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;

#include "screens/window_screen.h"

namespace ilvek::app {

class RepairScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit RepairScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) override;
    bool key(int key, Qt::KeyboardModifiers modifiers, const QString& text) override;
    void refresh() override;

signals:
    // The leads are placed as for a test that failed.
    void testWanted();
    void said(const QString& message, bool bad);

protected:
    void showEvent(QShowEvent*) override;

private:
    QWidget* makeProof();
    QWidget* makeEnd();
    void enterRepair();
    void enterDebt();
    void makeGood();
    void closeJob();
    void takeAgain(int row);
    void fillTests();
    void fillDebts();
    void fillEnd();

    LiveJob* liveJob_ = nullptr;
    QLabel *tests_ = nullptr, *open_ = nullptr, *ended_ = nullptr;
    QTableWidget* table_ = nullptr;
    QComboBox *part_ = nullptr, *verdict_ = nullptr;
    QLineEdit *done_ = nullptr, *debt_ = nullptr, *place_ = nullptr, *reasons_ = nullptr;
    QListWidget* debts_ = nullptr;
    QPushButton *good_ = nullptr, *close_ = nullptr;
};

}  // namespace ilvek::app
