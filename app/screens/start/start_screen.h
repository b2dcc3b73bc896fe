// First start: what can be opened.
#pragma once

class QLabel;
class QListWidget;

#include "screens/window_screen.h"

namespace ilvek::app {

class StartScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit StartScreen(QWidget* parent = nullptr);
    // Jobs kept in the usual place, newest first.
    void showJobs(const QStringList& paths);
    void showMessage(const QString& message);

signals:
    void mapWanted();
    void handOverWanted();
    void demoWanted();
    void sheetWanted();
    void benchWanted();
    void jobWanted(const QString& path);
    void fileWanted();

private:
    QListWidget* jobs_;
    QLabel* jobsTitle_;
    QLabel* message_;
};

}  // namespace ilvek::app
