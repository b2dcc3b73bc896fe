// The Suspects screen: what may be wrong and how likely, what the chosen suspect makes of every reading, and the tests
// that tell most about them.
#pragma once

#include <QPushButton>

#include "models/live_job.h"
#include "screens/window_screen.h"

class QLabel;
class QTableWidget;
class QVBoxLayout;

namespace ilvek::app {

// One group of suspects: its likelihood as a bar and a figure, its words; the module's own carry a diamond.
class SuspectRow : public QPushButton {
    Q_OBJECT
public:
    explicit SuspectRow(QWidget* parent = nullptr);
    void show(const SuspectGroup& group, bool chosen);
    QSize sizeHint() const override { return {300, 58}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    SuspectGroup group_;
};

// One suggested test: its key, title, and why.
class TestCard : public QPushButton {
    Q_OBJECT
public:
    explicit TestCard(QWidget* parent = nullptr);
    void show(int number, const Step& step, const RankedTest& test);
    int heightForWidth(int width) const override;
    bool hasHeightForWidth() const override { return true; }
    QSize sizeHint() const override { return {300, heightForWidth(300)}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QString number_, title_, reason_;
};

class SuspectsScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit SuspectsScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) override;
    // 1 to 3 take a test, X the one that would exclude the chosen suspect, arrows choose one; true when the key was
    // used.
    bool key(int key, Qt::KeyboardModifiers modifiers, const QString& text) override;

public slots:
    void refresh() override;

signals:
    void testTaken();
    // What can be followed about these parts and terminals.
    void proceduresWanted(const QStringList& about);

private:
    void choose(int group);
    void fillReadings(const Reasoning& reasoning);
    void showExclusion(const Reasoning& reasoning);
    void takeExclusion();
    QStringList placesOfChosen() const;

    LiveJob* liveJob_ = nullptr;
    int chosen_ = 0;
    QLabel *progress_, *verdict_, *glance_, *suspect_, *members_, *tests_, *exclusion_;
    QPushButton* exclude_;
    QVBoxLayout *rows_, *cards_;
    QTableWidget* readings_;
};

}  // namespace ilvek::app
