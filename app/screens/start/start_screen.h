// First start: what can be opened.
#pragma once

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

#include <vector>

#include "job/machine_file.h"
#include "logbook/logbook.h"
#include "screens/window_screen.h"

namespace ilvek::app {

class StartScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit StartScreen(QWidget* parent = nullptr);
    // Jobs kept in the usual place, newest first, or those that were searched for.
    void showJobs(const std::vector<LoggedJob>& jobs);
    QString searched() const;
    // Machines kept for the next job, by title.
    void showMachines(const std::vector<KeptMachine>& machines);
    void showMessage(const QString& message);
    // How it stands with the shop's server; empty: none is used.
    void showShop(const QString& state, bool refused);

signals:
    void searchChanged();
    void mapWanted();
    void handOverWanted();
    void demoWanted();
    void sheetWanted();
    void benchWanted();
    void jobWanted(const QString& path);
    void fileWanted();
    void machineWanted(const QString& path);
    void machinePinsWanted(const QString& path);
    void machineExportWanted(const QString& path);
    void shopWanted();

private:
    QWidget* makeJobs();
    QWidget* makeMachines();
    QString chosenMachine() const;

    QListWidget* machines_;
    QWidget* machinesBox_;
    QWidget* jobsBox_;
    QLineEdit* search_;
    QListWidget* jobs_;
    QLabel *message_, *shop_;
};

}  // namespace ilvek::app
