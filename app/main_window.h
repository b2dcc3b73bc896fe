// The window: top bar, screens, keys, opening and closing of jobs.
#pragma once

#include <QMainWindow>
#include <filesystem>
#include <memory>
#include <vector>

#include "models/live_job.h"
#include "widgets/text_dialog.h"

class QLabel;
class QPushButton;
class QStackedWidget;

namespace ilvek::app {

class JobScreen;
class ProceduresScreen;
class ProveScreen;
class JobList;
class PapersScreen;
class ShopLink;
class RepairScreen;
class ReportScreen;
class StartScreen;
class SuspectsScreen;
class TopBar;
class TracesScreen;
class WindowScreen;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    // Jobs are kept in `jobsFolder`.
    explicit MainWindow(QString jobsFolder, QWidget* parent = nullptr);
    ~MainWindow() override;

    // Each shows why when it fails, and leaves what was open as it was.
    bool openJob(const QString& path);
    bool openHandOver(const QString& path);
    bool openMap(const QString& path);
    bool openSheet(const QString& path);
    // A bench map typed in, and a job on it.
    bool typePins();
    bool openDemo();
    // Machines kept for the next job: a job on one, its pins, in and out as a file.
    bool startOn(const QString& machine);
    bool editMachine(const QString& machine);
    bool exportMachine(const QString& machine, const QString& to);
    bool importMachine(const QString& path);
    // What this job found goes back to its machine.
    bool keepThisMachine();
    // Any file that Ilvek knows, by what is in it: a job, a hand-over file, a map, a pin sheet, a recording.
    bool openFile(const QString& path);
    bool openRecording(const QString& path);
    // Everything that is in memory as a new job file, and on with that one.
    bool saveElsewhere(const QString& path);
    // A new job around a map document.
    bool startJob(const std::string& mapDocument, const QString& name);

    LiveJob* liveJob() const { return liveJob_.get(); }
    ProveScreen* prove() const { return prove_; }
    RepairScreen* repair() const { return repair_; }
    SuspectsScreen* suspects() const { return suspects_; }
    TracesScreen* traces() const { return traces_; }
    ReportScreen* report() const { return report_; }
    enum class Screen { Start, Job, Papers, Prove, Procedures, Suspects, Traces, Repair, Report };
    void show(Screen screen);
    Screen screen() const;
    using QMainWindow::show;
    void setNight(bool night);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void closeEvent(QCloseEvent* event) override;

private:
    bool adopt(Result<Journal, Problems> journal);
    bool shortcut(int key, Qt::KeyboardModifiers modifiers);
    void say(const QString& message, bool bad);
    template <class Make>
    TextDialog::Take entering(Make make);
    void askCheck(const QString& id);
    void askAssumption(int terminal);
    void askCorrection(int terminal);
    void askFigure(int terminal);
    void askPins();
    // What the procedure wants that is no reading.
    void askTold();
    std::filesystem::path machinesFolder() const;
    std::filesystem::path ownCasesFile() const;
    std::filesystem::path knownGoodFile() const;
    void askShop();
    void shareWithShop();
    void pushToShop();
    void weighOwnCases();
    void countThisJob();
    void keepGoodReadings();
    void keepIfNew(const std::string& document);
    void askSaveElsewhere();
    void showNotice();
    void askOpen(const QString& title, const QString& filter, bool (MainWindow::*open)(const QString&));
    void showKeys();
    void showAbout();
    void giveJob(LiveJob* liveJob);
    QString freshPath(const QString& name) const;
    void refreshBar();

    QString jobsFolder_;
    std::unique_ptr<LiveJob> liveJob_;
    TopBar* bar_;
    QStackedWidget* stack_;
    std::vector<WindowScreen*> screens_;  // by the enumeration
    StartScreen* start_;
    JobScreen* job_;
    ProveScreen* prove_;
    ProceduresScreen* procedures_;
    SuspectsScreen* suspects_;
    TracesScreen* traces_;
    JobList* jobList_;
    ShopLink* shop_;
    PapersScreen* papers_;
    RepairScreen* repair_;
    ReportScreen* report_;
    QLabel* message_;
    QWidget* notice_;
    QLabel* noticeText_;
    QPushButton* saveElsewhere_;
};

}  // namespace ilvek::app
