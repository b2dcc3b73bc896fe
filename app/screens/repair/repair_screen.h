// After the fault was found: what failed and reads now, what is owed to the machine, and the end of the job.
#pragma once

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;
class QTabWidget;

#include "screens/window_screen.h"

namespace ilvek::app {

class BehindPage;
class StaircasePicture;
class WaysPage;

class RepairScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit RepairScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) override;
    bool key(int key, Qt::KeyboardModifiers modifiers, const QString& text) override;
    void refresh() override;
    void takeOver() override;
    // A photo file becomes an entry, made smaller where it is large.
    void keepPhoto(const QString& path);

signals:
    void jobClosed();   // with its verdict
    void keepWanted();  // what its sound circuits read, for this type of machine
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
    void enterWork(bool held);
    void tryFunctions();
    void attachPhoto();
    void fillTests();
    void fillStaircase();
    void fillWork();
    void fillDebts();
    void fillEnd();

    LiveJob* liveJob_ = nullptr;
    QTabWidget* pages_ = nullptr;
    BehindPage* behind_ = nullptr;
    WaysPage* ways_ = nullptr;
    StaircasePicture* staircase_ = nullptr;
    QLineEdit *work_ = nullptr, *values_ = nullptr;
    QLabel* worked_ = nullptr;
    QLabel *tests_ = nullptr, *open_ = nullptr, *ended_ = nullptr;
    QTableWidget* table_ = nullptr;
    QComboBox *part_ = nullptr, *verdict_ = nullptr;
    QLineEdit *done_ = nullptr, *debt_ = nullptr, *place_ = nullptr, *reasons_ = nullptr;
    QListWidget* debts_ = nullptr;
    QPushButton *good_ = nullptr, *close_ = nullptr, *keep_ = nullptr;
};

}  // namespace ilvek::app
