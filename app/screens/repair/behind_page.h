// What lies behind what was found: questions, each answered by a reading, a look or in words, or left open.
#pragma once

#include <QWidget>

#include "models/live_job.h"
#include "repair/behind.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QTreeWidget;

namespace ilvek::app {

class BehindPage : public QWidget {
    Q_OBJECT
public:
    explicit BehindPage(QWidget* parent = nullptr);
    void show(LiveJob* liveJob);
    // Up and down choose, O leaves open, L places the leads; false: not used.
    bool key(int key);

signals:
    void testWanted();

private:
    void answer(bool leftOpen);
    void choose(int by);
    void placeFor(const BehindQuestion& question);
    void showChosen();
    const BehindQuestion* chosen() const;

    LiveJob* liveJob_ = nullptr;
    std::vector<BehindQuestion> questions_;
    QTreeWidget* list_;
    QLabel *hint_, *why_;
    QLineEdit* answer_;
    QPushButton *open_, *place_;
};

}  // namespace ilvek::app
