// The Procedures screen: all that can be followed on this machine, and one of them stage by stage.
#pragma once

#include <QPushButton>

#include "screens/window_screen.h"

class QLabel;
class QScrollArea;
class QVBoxLayout;

namespace ilvek::app {

class StageGrid;

// One procedure: its name, and how it stands.
class ProcedureRow : public QPushButton {
    Q_OBJECT
public:
    explicit ProcedureRow(QWidget* parent);
    void show(const QString& title, const Procedure& procedure, bool chosen, bool isFollowed);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QString title_, stand_;
    int mark_ = 0;
    bool isFollowed_ = false;
};

class ProceduresScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit ProceduresScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) override;
    // Those about these parts and terminals come first, the next time that it is shown.
    void showAbout(const QStringList& ids) { about_ = ids; }
    bool key(int key, Qt::KeyboardModifiers modifiers, const QString& text) override;

public slots:
    void refresh() override;

signals:
    void followed();

protected:
    void showEvent(QShowEvent*) override;

private:
    void choose(int index);
    void list();
    void showChosen();
    void followChosen();
    void addStage(const Stage& stage, int number);

    LiveJob* liveJob_ = nullptr;
    std::vector<Procedure> all_, shown_;
    int chosen_ = 0;
    QString filter_;
    QStringList about_;
    QLabel* found_;
    QScrollArea* listArea_;
    QVBoxLayout* rows_;
    QLabel *title_, *purpose_, *called_, *caution_, *end_;
    StageGrid* grid_;
    QPushButton* follow_;
    QScrollArea* stageArea_;
    QVBoxLayout* stages_;
};

}  // namespace ilvek::app
