// The one thing that is next: title, set-up, red lead, black lead, what should be read, why, and the cautions.
#pragma once

#include <QPointer>
#include <QWidget>

#include "models/live_job.h"

class QLabel;
class QPushButton;
class QTimer;

namespace ilvek::app {

class StepCard : public QWidget {
    Q_OBJECT
public:
    explicit StepCard(QWidget* parent = nullptr);
    void show(const LiveJob& liveJob);
    // On a low screen the reason gives way (it stays as a tool tip); cautions and expectation never do.
    void setLow(bool low) { isLow_ = low; }

signals:
    // What the circuit carries is to be stated.
    void figureWanted(int terminal);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void hideEmpty();
    void showNothingToRead(const LiveJob& liveJob);
    bool showOpen(const LiveJob& liveJob);
    void showProcedure(const LiveJob& liveJob);
    void showAsked(const LiveJob& liveJob);
    void countDown();
    void offerFigure(const LiveJob& liveJob);

    QLabel* procedure_;
    QLabel* title_;
    QLabel* effort_;
    QTimer* clock_;
    QPointer<const LiveJob> liveJob_;  // while a window counts down
    bool isLow_ = false;
    QWidget* rounds_[3];
    QLabel* lines_[3];
    QLabel* expectation_;
    QLabel* caution_;
    QPushButton* figure_;
    int figureOf_ = -1;  // terminal
};

}  // namespace ilvek::app
