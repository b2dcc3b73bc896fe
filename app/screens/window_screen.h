// What the window knows of each of its screens.
#pragma once

#include <QWidget>

#include "models/live_job.h"

namespace ilvek::app {

class WindowScreen : public QWidget {
public:
    using QWidget::QWidget;
    // The job that is open from here on; nullptr: none. It outlives what the screen keeps of it.
    virtual void setLiveJob(LiveJob*) {}
    // A key pressed anywhere while this screen is shown and no field takes text; true when it was used.
    virtual bool key(int, Qt::KeyboardModifiers, const QString&) { return false; }
    // Enters what was typed and not yet taken; whenever the screen is left.
    virtual void takeOver() {}
    // Shows the job as it stands.
    virtual void refresh() {}
};

}  // namespace ilvek::app
