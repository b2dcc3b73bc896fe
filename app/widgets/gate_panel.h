// "May the module be blamed?": the sentence, the lines of the gate, what is located, and what else it could be.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "models/live_job.h"

class QLabel;
class QVBoxLayout;

namespace ilvek::app {

class GatePanel : public QWidget {
    Q_OBJECT
public:
    explicit GatePanel(QWidget* parent = nullptr);
    void show(const LiveJob& liveJob);

signals:
    void checkWanted(const QString& id);  // a line that only the technician can earn

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QLabel* title_;
    QLabel* sentence_;
    QVBoxLayout* lines_;
    QLabel* located_;
    QLabel* alternative_;
};

// One line: mark, title, count or short state. A line of the technician's own can be pressed.
class GateLineButton : public QPushButton {
    Q_OBJECT
public:
    explicit GateLineButton(QWidget* parent = nullptr) : QPushButton(parent) {}
    void show(const GateLine& line, bool pressable);
    QSize sizeHint() const override { return {200, 23}; }
    QSize minimumSizeHint() const override { return {100, 23}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    GateLine line_;
};

}  // namespace ilvek::app
