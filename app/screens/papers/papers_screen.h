// Before the first probe: what fails and what works, what that shares, what the codes can mean, and where to begin.
#pragma once

#include "papers/told.h"
#include "screens/window_screen.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTreeWidget;
class QVBoxLayout;

namespace ilvek::app {

class PaperWork;
class SharedPaths;

class PapersScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit PapersScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) override;
    bool key(int key, Qt::KeyboardModifiers modifiers, const QString& text) override;
    void refresh() override;

signals:
    void testWanted();   // the first test was taken
    void watchWanted();  // what is absent now is watched for
    void said(const QString& message, bool bad);

protected:
    void showEvent(QShowEvent*) override;

private:
    QWidget* makeTold();
    QWidget* makePaper();
    void tell(Does does);
    void addFunction();
    void addCodeMeaning();
    void fillFunctions();
    void fillShared();
    void fillCodes();
    void fillFirst();

    LiveJob* liveJob_ = nullptr;
    PaperWork* work_;
    QTreeWidget* functions_ = nullptr;
    QLineEdit* newFunction_ = nullptr;
    QPushButton *needs_ = nullptr, *take_ = nullptr;
    QComboBox *today_ = nullptr, *code_ = nullptr, *codeAt_ = nullptr, *codeSets_ = nullptr;
    QLabel *unweighed_ = nullptr, *sharedHint_ = nullptr, *codesText_ = nullptr, *first_ = nullptr, *own_ = nullptr;
    QWidget* codeRow_ = nullptr;
    SharedPaths* shared_ = nullptr;
};

}  // namespace ilvek::app
