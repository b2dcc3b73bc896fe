// A reading anywhere: where the leads go and what is done to the machine for it, typed with a few letters, clicked on
// the loop strip or the connector face, or put together from lists.
#pragma once

#include <QWidget>

#include "models/live_job.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace ilvek::app {

class PlacePanel : public QWidget {
    Q_OBJECT
public:
    explicit PlacePanel(QWidget* parent = nullptr);
    // Filled with what stands now: what was placed, else the step's.
    void open(const LiveJob& liveJob);
    // A place was clicked: into the field that has the cursor, and on to the next.
    void take(int node);

signals:
    void placed(const ilvek::SetUp& setUp);
    void closed();
    void saysOtherwise();  // its words may need another height

protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void addLists(QPushButton* button, const QString& word, const QStringList& choices);
    void fillMenus();
    void append(const QString& clause);
    Result<SetUp> typed() const;
    void check();
    void accept();

    const LiveJob* liveJob_ = nullptr;
    QLineEdit* red_;
    QLineEdit* black_;
    QComboBox* state_;
    QLineEdit* done_;
    QLabel* says_;
    std::vector<std::pair<QPushButton*, QString>> buttons_;
};

}  // namespace ilvek::app
