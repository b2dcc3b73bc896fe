// The one thing that is next: title, set-up, red lead, black lead, what should be read, why, and the cautions.
#pragma once

#include <QWidget>

#include "models/live_job.h"

class QLabel;

namespace ilvek::app {

class StepCard : public QWidget {
    Q_OBJECT
public:
    explicit StepCard(QWidget* parent = nullptr);
    void show(const LiveJob& liveJob);
    // On a low screen the reason gives way (it stays as a tool tip); cautions and expectation never do.
    void setLow(bool low) { isLow_ = low; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void hideEmpty();
    void showNothingToRead(const LiveJob& liveJob);
    bool showOpen(const LiveJob& liveJob);

    QLabel* title_;
    QLabel* effort_;
    bool isLow_ = false;
    QWidget* rounds_[3];
    QLabel* lines_[3];
    QLabel* expectation_;
    QLabel* caution_;
};

}  // namespace ilvek::app
