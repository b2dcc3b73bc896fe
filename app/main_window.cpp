#include "main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDateTime>
#include <QDialogButtonBox>
#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QStackedWidget>
#include <QTextBrowser>
#include <QTimer>
#include <QVBoxLayout>

#include "base/file.h"
#include "bench_map/map_correction.h"
#include "experience/case_file.h"
#include "experience/known_good.h"
#include "job/file_kind.h"
#include "job/hand_over.h"
#include "job/machine_file.h"
#include "keys.h"
#include "machine/map_reader.h"
#include "models/job_list.h"
#include "models/shop_link.h"
#include "procedures/in_words.h"
#include "proving/own_current.h"
#include "quantity/trade.h"
#include "screens/job/job_screen.h"
#include "screens/papers/papers_screen.h"
#include "screens/procedures/procedures_screen.h"
#include "screens/prove/prove_screen.h"
#include "screens/repair/repair_screen.h"
#include "screens/report/report_screen.h"
#include "screens/sheet/sheet_dialog.h"
#include "screens/sheet/terminal_dialog.h"
#include "screens/start/shop_dialog.h"
#include "screens/start/start_screen.h"
#include "screens/suspects/suspects_screen.h"
#include "screens/traces/traces_screen.h"
#include "theme.h"
#include "widgets/accessible.h"
#include "widgets/labels.h"
#include "widgets/reading_dock.h"
#include "widgets/tell_dialogs.h"
#include "widgets/text_area.h"
#include "widgets/top_bar.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

QString words(const Problems& problems)
{
    QStringList lines;
    for (std::size_t i = 0; i < problems.size() && i < 12; ++i)
        lines << text(problems[i].message());
    if (problems.size() > 12) lines << MainWindow::tr("and %1 more").arg(problems.size() - 12);
    return lines.join(QLatin1Char('\n'));
}

QString age(double seconds)
{
    if (seconds < 100) return MainWindow::tr("read %1 s ago").arg(static_cast<int>(seconds));
    if (seconds < 5400) return MainWindow::tr("read %1 min ago").arg(static_cast<int>(seconds / 60));
    if (seconds < 172800) return MainWindow::tr("read %1 h ago").arg(static_cast<int>(seconds / 3600));
    return MainWindow::tr("read %1 days ago").arg(static_cast<int>(seconds / 86400));
}

QString fileName(const QString& wanted)
{
    QString name;
    for (const QChar c : wanted.toLower())
        name += c.isLetterOrNumber() ? c : QLatin1Char('-');
    return name.isEmpty() ? QStringLiteral("job") : name.left(60);
}

bool takesText(const QWidget* widget)
{
    return widget &&
           (widget->inherits("QLineEdit") || widget->inherits("QPlainTextEdit") || widget->inherits("QComboBox") ||
            widget->inherits("QAbstractSpinBox") || widget->inherits("QTableWidget"));
}

}  // namespace

MainWindow::MainWindow(QString jobsFolder, QWidget* parent) : QMainWindow(parent), jobsFolder_(std::move(jobsFolder))
{
    installAccessibility();
    setWindowTitle(QStringLiteral("Ilvek"));
    setWindowIcon(QIcon(QStringLiteral(":/ilvek.svg")));
    setMinimumSize(960, 640);
    resize(1280, 800);
    auto* central = new QWidget(this);
    auto* layout = new QVBoxLayout(central);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    bar_ = new TopBar(central);
    message_ = new QLabel(central);
    message_->setObjectName(QStringLiteral("message"));
    message_->setWordWrap(true);
    message_->setTextFormat(Qt::PlainText);
    message_->setContentsMargins(16, 6, 16, 6);
    message_->hide();
    notice_ = new QWidget(central);
    notice_->setObjectName(QStringLiteral("noticeBar"));
    auto* noticeRow = new QHBoxLayout(notice_);
    noticeRow->setContentsMargins(16, 6, 16, 6);
    noticeText_ = wrappedLabel("notice", face(15, QFont::Bold), notice_);
    saveElsewhere_ = new QPushButton(tr("Save this job elsewhere …"), notice_);
    saveElsewhere_->setObjectName(QStringLiteral("saveElsewhere"));
    saveElsewhere_->setMinimumHeight(34);
    connect(saveElsewhere_, &QPushButton::clicked, this, &MainWindow::askSaveElsewhere);
    noticeRow->addWidget(noticeText_, 1);
    noticeRow->addWidget(saveElsewhere_);
    notice_->hide();
    stack_ = new QStackedWidget(central);
    start_ = new StartScreen(stack_);
    job_ = new JobScreen(stack_);
    papers_ = new PapersScreen(stack_);
    prove_ = new ProveScreen(stack_);
    procedures_ = new ProceduresScreen(stack_);
    suspects_ = new SuspectsScreen(stack_);
    traces_ = new TracesScreen(stack_);
    repair_ = new RepairScreen(stack_);
    report_ = new ReportScreen(stack_);
    // In the order of the enumeration.
    screens_ = {start_, job_, papers_, prove_, procedures_, suspects_, traces_, repair_, report_};
    for (WindowScreen* screen : screens_)
        stack_->addWidget(screen);
    layout->addWidget(bar_);
    layout->addWidget(notice_);
    layout->addWidget(message_);
    layout->addWidget(stack_, 1);
    setCentralWidget(central);

    connect(bar_, &TopBar::screenWanted, this, [this](int index) { show(static_cast<Screen>(index + 1)); });
    connect(bar_, &TopBar::keysWanted, this, &MainWindow::showKeys);
    jobList_ = new JobList(jobsFolder_, this);
    const auto listJobs = [this] { start_->showJobs(jobList_->find(start_->searched())); };
    connect(jobList_, &JobList::changed, this, listJobs);
    connect(start_, &StartScreen::searchChanged, this, listJobs);
    shop_ = new ShopLink(QDir(jobsFolder_).filePath(QStringLiteral("shop.json")), this);
    start_->showShop(shop_->state(), false);
    connect(start_, &StartScreen::shopWanted, this, &MainWindow::askShop);
    connect(shop_, &ShopLink::filesCame, this, [this] {
        if (screen() == Screen::Start) start_->showMachines(machinesIn(machinesFolder()));
    });
    shareWithShop();
    connect(shop_, &ShopLink::changed, this, [this] {
        start_->showShop(shop_->state(), shop_->isRefused());
        if (shop_->isRefused() && liveJob_) say(shop_->state(), true);
    });
    connect(start_, &StartScreen::demoWanted, this, &MainWindow::openDemo);
    connect(start_, &StartScreen::mapWanted, this,
            [this] { askOpen(tr("Open a map"), tr("Maps (*.json)"), &MainWindow::openMap); });
    connect(start_, &StartScreen::handOverWanted, this, [this] {
        askOpen(tr("Open a hand-over file"), tr("Hand-over files (*.json)"), &MainWindow::openHandOver);
    });
    connect(start_, &StartScreen::benchWanted, this, &MainWindow::typePins);
    connect(start_, &StartScreen::sheetWanted, this,
            [this] { askOpen(tr("Open a pin sheet"), tr("Sheets (*.csv *.txt *.tsv)"), &MainWindow::openSheet); });
    connect(start_, &StartScreen::jobWanted, this, &MainWindow::openJob);
    connect(start_, &StartScreen::fileWanted, this, [this] {
        askOpen(tr("Open a job or any other file"),
                tr("All that Ilvek reads (*.ilvek *.json *.csv *.txt *.tsv *.wav *.mat *.npy);;All files (*)"),
                &MainWindow::openFile);
    });
    connect(start_, &StartScreen::machineWanted, this, &MainWindow::startOn);
    connect(start_, &StartScreen::machinePinsWanted, this, &MainWindow::editMachine);
    connect(start_, &StartScreen::machineExportWanted, this, [this](const QString& machine) {
        const QString to =
            QFileDialog::getSaveFileName(this, tr("Export the machine"),
                                         QDir::home().filePath(QFileInfo(machine).fileName()), tr("Machines (*.json)"));
        if (!to.isEmpty()) exportMachine(machine, to);
    });
    connect(job_, &JobScreen::keepWanted, this, &MainWindow::keepThisMachine);
    connect(job_, &JobScreen::pinsWanted, this, &MainWindow::askPins);
    connect(job_, &JobScreen::said, this, &MainWindow::say);
    connect(prove_, &ProveScreen::checkWanted, this, &MainWindow::askCheck);
    connect(prove_, &ProveScreen::assumptionWanted, this, &MainWindow::askAssumption);
    connect(prove_, &ProveScreen::correctionWanted, this, &MainWindow::askCorrection);
    connect(prove_, &ProveScreen::figureWanted, this, &MainWindow::askFigure);
    connect(prove_, &ProveScreen::proceduresWanted, this, [this] { show(Screen::Procedures); });
    connect(suspects_, &SuspectsScreen::proceduresWanted, this, [this](const QStringList& about) {
        procedures_->showAbout(about);
        show(Screen::Procedures);
        procedures_->showAbout({});
    });
    connect(prove_, &ProveScreen::tellWanted, this, &MainWindow::askTold);
    connect(procedures_, &ProceduresScreen::followed, this, [this] { show(Screen::Prove); });
    connect(suspects_, &SuspectsScreen::testTaken, this, [this] { show(Screen::Prove); });
    connect(traces_, &TracesScreen::said, this, &MainWindow::say);
    connect(papers_, &PapersScreen::said, this, &MainWindow::say);
    connect(papers_, &PapersScreen::testWanted, this, [this] { show(Screen::Prove); });
    connect(papers_, &PapersScreen::watchWanted, this, [this] {
        show(Screen::Procedures);
        say(tr("What is absent is watched for: choose a watch, over the circuit that it should show in."), false);
    });
    connect(repair_, &RepairScreen::jobClosed, this, &MainWindow::countThisJob);
    connect(repair_, &RepairScreen::keepWanted, this, &MainWindow::keepGoodReadings);
    connect(repair_, &RepairScreen::said, this, &MainWindow::say);
    connect(repair_, &RepairScreen::testWanted, this, [this] { show(Screen::Prove); });
    connect(report_, &ReportScreen::said, this, &MainWindow::say);
    auto* clock = new QTimer(this);
    clock->setInterval(1000);
    connect(clock, &QTimer::timeout, this, &MainWindow::refreshBar);
    clock->start();
    qApp->installEventFilter(this);
    show(Screen::Start);
}

MainWindow::~MainWindow()
{
    giveJob(nullptr);
}

void MainWindow::giveJob(LiveJob* liveJob)
{
    for (WindowScreen* screen : screens_)
        screen->setLiveJob(liveJob);
}

void MainWindow::show(Screen screen)
{
    if (screen != this->screen()) screens_[static_cast<std::size_t>(this->screen())]->takeOver();
    if (screen != Screen::Start && screen != Screen::Traces && !liveJob_) screen = Screen::Start;
    if (screen == Screen::Start) {
        start_->showJobs(jobList_->find(start_->searched()));
        jobList_->refresh();
        start_->showMachines(machinesIn(machinesFolder()));
    }
    stack_->setCurrentIndex(static_cast<int>(screen));
    bar_->setScreen(static_cast<int>(screen) - 1);
    bar_->setJobOpen(liveJob_ != nullptr);
    if (screen == Screen::Prove) prove_->setFocus();
    if (screen == Screen::Procedures) procedures_->refresh();
    message_->hide();
    refreshBar();
}

MainWindow::Screen MainWindow::screen() const
{
    return static_cast<Screen>(stack_->currentIndex());
}

void MainWindow::say(const QString& message, bool bad)
{
    if (screen() == Screen::Start) return start_->showMessage(message);
    message_->setText(message);
    setTextColour(message_, bad ? Theme::current().bad : Theme::current().good);
    message_->setFont(face(15, QFont::Bold));
    message_->show();
    // Something wrong stays until the screen changes or it is put right; a success goes by itself.
    if (!bad) QTimer::singleShot(6000, message_, &QWidget::hide);
}

void MainWindow::refreshBar()
{
    if (!liveJob_) {
        bar_->setJob({}, tr("Ilvek"));
        bar_->setBattery({}, {}, false);
        return;
    }
    const Job& job = liveJob_->job();
    bar_->setJob(tr("%1 · %2").arg(text(job.map.title()), text(job.map.module)),
                 job.details.title.empty() ? tr("New job") : text(job.details.title));
    const QString state = text(job.map.state(job.map.stateIndex(job.state)).name).toLower();
    const auto battery = liveJob_->batteryNow();
    if (!battery) return bar_->setBattery(tr("Battery not read"), state, true);
    const bool stale = !battery->age_s || *battery->age_s > trade::batteryFreshFor_s;
    const QString when = battery->age_s ? age(*battery->age_s) : tr("read at an unknown time");
    bar_->setBattery(tr("Battery %1").arg(text(formatQuantity(volts(battery->volts)))),
                     stale ? tr("%1, %2: stale").arg(when, state) : tr("%1, %2").arg(when, state), stale);
}

bool MainWindow::adopt(Result<Journal, Problems> journal)
{
    if (!journal) {
        say(words(journal.error()), true);
        return false;
    }
    auto liveJob = LiveJob::make(std::move(*journal));
    if (!liveJob) {
        say(words(liveJob.error()), true);
        return false;
    }
    job_->takeOverAll();
    giveJob(nullptr);
    liveJob_ = std::move(*liveJob);
    giveJob(liveJob_.get());
    connect(liveJob_.get(), &LiveJob::changed, this, &MainWindow::refreshBar);
    connect(liveJob_.get(), &LiveJob::changed, this, &MainWindow::showNotice);
    connect(liveJob_.get(), &LiveJob::changed, this, &MainWindow::pushToShop);
    connect(liveJob_.get(), &LiveJob::refused, this, [this](const QString& message) {
        if (screen() != Screen::Prove) say(message, true);
    });
    showNotice();
    auto known = KnownGood::read(knownGoodFile());
    if (known) liveJob_->setKnownGood(std::move(*known));
    show(Screen::Prove);
    if (!known) say(text(known.error().message()), true);
    if (!liveJob_->job().problems.empty()) say(words(liveJob_->job().problems), true);
    return true;
}

bool MainWindow::openJob(const QString& path)
{
    if (liveJob_ && QFileInfo(path).canonicalFilePath() ==
                        QFileInfo(text(liveJob_->journal().path().string())).canonicalFilePath()) {
        show(Screen::Prove);
        return true;
    }
    auto journal = Journal::open(path.toStdString());
    const QFileInfo file(path);
    // Where the place cannot be written to the job is shown all the same, and says so.
    if (!journal && (!file.isWritable() || !QFileInfo(file.absolutePath()).isWritable()))
        journal = Journal::open(path.toStdString(), Access::ReadOnly);
    if (!journal) return adopt(tl::unexpected(Problems{journal.error()}));
    return adopt(std::move(*journal));
}

bool MainWindow::openFile(const QString& path)
{
    switch (fileKindOf(path.toStdString())) {
        case FileKind::Job:
            return openJob(path);
        case FileKind::HandOver:
            return openHandOver(path);
        case FileKind::Machine:
            return importMachine(path);
        case FileKind::Map:
            return openMap(path);
        case FileKind::PinSheet:
            return openSheet(path);
        case FileKind::Recording:
            return openRecording(path);
        case FileKind::None:
            break;
    }
    say(tr("%1: this is no job, hand-over file, machine, map, pin sheet or recording that Ilvek can read.").arg(path),
        true);
    return false;
}

bool MainWindow::openRecording(const QString& path)
{
    show(Screen::Traces);
    traces_->open(path);
    return true;
}

bool MainWindow::saveElsewhere(const QString& path)
{
    if (!liveJob_) return false;
    auto journal = liveJob_->saveElsewhere(path);
    if (!journal) {
        say(text(journal.error().message()), true);
        return false;
    }
    const Screen before = screen();
    if (!adopt(std::move(*journal))) return false;
    show(before);
    say(tr("The job goes on in %1.").arg(path), false);
    return true;
}

void MainWindow::askSaveElsewhere()
{
    if (!liveJob_) return;
    const QString name = QFileInfo(text(liveJob_->journal().path().string())).completeBaseName();
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Save this job elsewhere"), freshPath(name), tr("Jobs (*.ilvek)"));
    if (!path.isEmpty()) saveElsewhere(path);
}

// What is wrong with the file of the job, for as long as it is.
void MainWindow::showNotice()
{
    const QString trouble = liveJob_ ? liveJob_->trouble() : QString();
    const Journal* journal = liveJob_ ? &liveJob_->journal() : nullptr;
    QStringList lines;
    if (!trouble.isEmpty())
        lines << tr("Not taken: %1").arg(trouble);
    else if (journal && !journal->readOnlyBecause().empty())
        lines << tr("Nothing can be entered into this job: %1. Save it elsewhere to go on with it.")
                     .arg(text(journal->readOnlyBecause()));
    if (journal && !journal->content().setAside.empty()) {
        const auto& aside = journal->content().setAside;
        lines << text(setAsideWords(aside.front()));
        if (aside.size() > 1)
            lines << tr("And %n more; the Job screen names them.", nullptr, static_cast<int>(aside.size()) - 1);
    }
    noticeText_->setText(lines.join(QLatin1Char('\n')));
    setTextColour(noticeText_, Theme::current().bad);
    saveElsewhere_->setVisible(journal && (!trouble.isEmpty() || !journal->readOnlyBecause().empty()));
    notice_->setVisible(!lines.isEmpty());
}

QString MainWindow::freshPath(const QString& name) const
{
    const QDir folder(jobsFolder_);
    QString path = folder.filePath(name + QStringLiteral(".ilvek"));
    for (int n = 2; QFile::exists(path); ++n)
        path = folder.filePath(QStringLiteral("%1-%2.ilvek").arg(name).arg(n));
    return path;
}

bool MainWindow::openHandOver(const QString& path)
{
    return adopt(importJob(path.toStdString(), freshPath(fileName(QFileInfo(path).completeBaseName())).toStdString()));
}

bool MainWindow::startJob(const std::string& mapDocument, const QString& name)
{
    auto journal = Journal::create(freshPath(fileName(name)).toStdString(), mapDocument);
    if (!journal) return adopt(tl::unexpected(Problems{journal.error()}));
    if (!adopt(std::move(*journal))) return false;
    weighOwnCases();
    show(Screen::Job);
    return true;
}

bool MainWindow::openMap(const QString& path)
{
    const auto map = readMapFile(path.toStdString());
    if (!map) {
        say(words(map.error()), true);
        return false;
    }
    return startJob(map->document, text(map->model + " " + map->module));
}

bool MainWindow::openSheet(const QString& path)
{
    SheetDialog dialog(this);
    dialog.load(path);
    if (dialog.exec() != QDialog::Accepted) return false;
    keepIfNew(dialog.document());
    return startJob(dialog.document(), QFileInfo(path).completeBaseName());
}

bool MainWindow::typePins()
{
    SheetDialog dialog(this);
    if (dialog.exec() != QDialog::Accepted) return false;
    keepIfNew(dialog.document());
    return startJob(dialog.document(), dialog.name());
}

std::filesystem::path MainWindow::machinesFolder() const
{
    return QDir(jobsFolder_).filePath(QStringLiteral("machines")).toStdString();
}

void MainWindow::shareWithShop()
{
    shop_->shareFolders(QDir(jobsFolder_).filePath(QStringLiteral("machines")),
                        QDir(jobsFolder_).filePath(QStringLiteral("known-good")));
}

void MainWindow::askShop()
{
    QDir().mkpath(jobsFolder_);
    ShopDialog dialog(shop_, this);
    connect(&dialog, &ShopDialog::fetched, this, [this](const JobContent& content, const QString& title) {
        adopt([&]() -> Result<Journal, Problems> {
            auto journal = Journal::create(freshPath(fileName(title)).toStdString(), content);
            if (!journal) return tl::unexpected(Problems{journal.error()});
            return std::move(*journal);
        }());
    });
    dialog.exec();
}

void MainWindow::pushToShop()
{
    if (!liveJob_ || !shop_->place().isSet()) return;
    const Job& job = liveJob_->job();
    shop_->want(liveJob_->journal().content(), text(job.details.title),
                job.closed ? QString::fromUtf8(verdictWords(job.closed->how.verdict).data()) : tr("open"));
}

std::filesystem::path MainWindow::ownCasesFile() const
{
    return QDir(jobsFolder_).filePath(QStringLiteral("own-cases.json")).toStdString();
}

std::filesystem::path MainWindow::knownGoodFile() const
{
    return KnownGood::fileIn(QDir(jobsFolder_).filePath(QStringLiteral("known-good")).toStdString(), liveJob_->map());
}

// What the shop's own closed jobs say goes into a new one as an entry: it can be withdrawn like any other.
void MainWindow::weighOwnCases()
{
    const auto cases = CaseFile::read(ownCasesFile());
    if (!cases) return say(text(cases.error().message()), true);
    if (cases->size() > 0) liveJob_->enter(cases->all());
}

void MainWindow::countThisJob()
{
    auto cases = CaseFile::read(ownCasesFile());
    if (!cases) return say(text(cases.error().message()), true);
    cases->count(liveJob_->journal().path().stem().string(), liveJob_->job(), liveJob_->assessment());
    if (const auto done = cases->write(ownCasesFile()); !done) say(text(done.error().message()), true);
}

void MainWindow::keepGoodReadings()
{
    const auto file = knownGoodFile();
    auto known = KnownGood::read(file);
    if (!known) return say(text(known.error().message()), true);
    const auto taken =
        known->add(goodReadings(liveJob_->job(), liveJob_->assessment(), liveJob_->journal().path().stem().string()));
    QDir().mkpath(QString::fromStdString(file.parent_path().string()));
    if (const auto done = known->write(file); !done) return say(text(done.error().message()), true);
    liveJob_->setKnownGood(std::move(*known));
    shareWithShop();
    say(tr("%1 figures kept. They stand beside the map's on the next machine of this type.").arg(taken), false);
}

// A machine that was typed in is there for the next job. One of the same name is never written over unasked.
void MainWindow::keepIfNew(const std::string& document)
{
    for (const KeptMachine& kept : machinesIn(machinesFolder())) {
        if (kept.title == machineTitle(document)) return;
    }
    if (const auto kept = keepMachine(machinesFolder(), {document, {}}); !kept) say(text(kept.error().message()), true);
}

bool MainWindow::startOn(const QString& path)
{
    const auto machine = readMachineFile(path.toStdString());
    if (!machine) {
        say(words(machine.error()), true);
        return false;
    }
    const QString name = fileName(text(machineTitle(machine->document)));
    auto journal = newJobOn(*machine, freshPath(name).toStdString(), QDateTime::currentMSecsSinceEpoch());
    if (!journal) return adopt(tl::unexpected(Problems{journal.error()}));
    if (!adopt(std::move(*journal))) return false;
    weighOwnCases();
    show(Screen::Job);
    return true;
}

// Changes stand beside the drawing, as what a job found does.
bool MainWindow::editMachine(const QString& path)
{
    auto machine = readMachineFile(path.toStdString());
    if (!machine) {
        say(words(machine.error()), true);
        return false;
    }
    std::string document = machine->document;
    for (const FoundOnMachine& found : machine->found)
        document = withCorrection(document, found.row).value_or(document);
    SheetDialog dialog(this);
    if (!dialog.edit(document)) {
        say(tr("This map was not made of a list of pins; correct it in a job, terminal by terminal."), true);
        return false;
    }
    if (dialog.exec() != QDialog::Accepted) return false;
    for (const PinRow& row : dialog.corrections())
        machine->found.push_back({writePinRow(row), QDateTime::currentMSecsSinceEpoch(), {}});
    if (const auto kept = keepMachine(machinesFolder(), *machine); !kept) {
        say(text(kept.error().message()), true);
        return false;
    }
    show(Screen::Start);
    return true;
}

bool MainWindow::exportMachine(const QString& path, const QString& to)
{
    const auto machine = readMachineFile(path.toStdString());
    auto done = machine ? checkOutput(to.toStdString(), {path.toStdString()})
                        : Result<void>(tl::unexpected(machine.error().front()));
    if (done) done = writeFile(to.toStdString(), writeMachine(*machine));
    say(done ? tr("The machine is in %1.").arg(to) : text(done.error().message()), !done);
    return done.has_value();
}

bool MainWindow::importMachine(const QString& path)
{
    const auto machine = readMachineFile(path.toStdString());
    if (!machine) {
        say(words(machine.error()), true);
        return false;
    }
    for (const KeptMachine& kept : machinesIn(machinesFolder())) {
        if (kept.title != machineTitle(machine->document)) continue;
        const auto answer = QMessageBox::question(
            this, tr("A machine of this name is kept already"),
            tr("%1 is kept already. Put the one from the file in its place?").arg(text(kept.title)));
        if (answer != QMessageBox::Yes) return false;
    }
    const auto kept = keepMachine(machinesFolder(), *machine);
    if (!kept) {
        say(text(kept.error().message()), true);
        return false;
    }
    show(Screen::Start);
    return true;
}

bool MainWindow::keepThisMachine()
{
    if (!liveJob_) return false;
    const std::string& drawn = liveJob_->journal().mapDocument();
    std::optional<Machine> before;
    for (const KeptMachine& kept : machinesIn(machinesFolder())) {
        if (kept.title != machineTitle(drawn)) continue;
        auto there = readMachineFile(kept.path);
        if (!there) {
            say(words(there.error()), true);
            return false;
        }
        before = std::move(*there);
    }
    // What was found on another drawing may be of another cavity.
    if (before && !isSameDrawing(before->document, drawn)) {
        const auto answer = QMessageBox::question(
            this, tr("Another drawing of this machine is kept"),
            tr("%1 is kept with another drawing. Put this job's in its place, without what was found on that one?")
                .arg(text(machineTitle(drawn))));
        if (answer != QMessageBox::Yes) return false;
        before.reset();
    }
    const Machine machine = machineOf(liveJob_->journal(), before ? &*before : nullptr);
    const auto kept = keepMachine(machinesFolder(), machine);
    if (!kept) {
        say(text(kept.error().message()), true);
        return false;
    }
    const int found = static_cast<int>(machine.found.size());
    say(found == 0 ? tr("Kept for the next job: %1.").arg(text(machineTitle(machine.document)))
                   : tr("Kept for the next job: %1. Corrections beside the drawing: %2.")
                         .arg(text(machineTitle(machine.document)))
                         .arg(found),
        false);
    return true;
}

bool MainWindow::openDemo()
{
    const QString path = QDir(jobsFolder_).filePath(QStringLiteral("demonstration.ilvek"));
    if (QFile::exists(path)) return openJob(path);
    QFile file(QStringLiteral(":/demo/reduced-power.json"));
    if (!file.open(QIODevice::ReadOnly)) return false;
    auto handOver = readHandOver(file.readAll().toStdString(), "the demonstration");
    if (!handOver) return adopt(tl::unexpected(handOver.error()));
    auto journal = Journal::create(path.toStdString(), std::move(*handOver));
    if (!journal) return adopt(tl::unexpected(Problems{journal.error()}));
    return adopt(std::move(*journal));
}

void MainWindow::askOpen(const QString& title, const QString& filter, bool (MainWindow::*open)(const QString&))
{
    const QString path = QFileDialog::getOpenFileName(this, title, QDir::homePath(), filter);
    if (!path.isEmpty()) (this->*open)(path);
}

// An entry made of the text of a dialog, and what to say where it was not taken.
template <class Make>
TextDialog::Take MainWindow::entering(Make make)
{
    return [this, make](const QString& typed) {
        QString refusal;
        const auto listening = connect(liveJob_.get(), &LiveJob::refused, this, [&](const QString& m) { refusal = m; });
        const bool taken = liveJob_->enter(make(typed));
        disconnect(listening);
        return taken ? QString() : refusal.isEmpty() ? tr("This could not be taken.") : refusal;
    };
}

void MainWindow::askCheck(const QString& id)
{
    for (const GateCheck& check : gateChecks()) {
        if (text(check.id) != id || !liveJob_) continue;
        std::string before;
        for (const Statement& s : liveJob_->job().evidence.checks) {
            if (s.line == check.id) before = s.found;
        }
        const auto take = entering([&](const QString& found) {
            return EventBody(CheckMade{check.id, found.toStdString()});
        });
        TextDialog(
            text(check.title), text(check.question), text(before),
            [&](const QString& found) {
                return saysSomething(found.toStdString()) ? take(found) : tr("Say in a few words what was found.");
            },
            this)
            .exec();
    }
}

void MainWindow::askTold()
{
    const Stage* stage = liveJob_ ? liveJob_->asked() : nullptr;
    if (!stage || !stage->asked) return;
    const Asked asked = *stage->asked;
    const QString question = text(sentence(stage->title));
    if (asked.kind == Asked::Kind::States) return void(liveJob_->passStates());
    if (asked.kind == Asked::Kind::Functions) {
        FunctionsDialog dialog(question, liveJob_->map().functions, this);
        if (dialog.exec() == QDialog::Accepted && dialog.isAnyTried()) liveJob_->enter(dialog.seenIn(asked.step));
        return;
    }
    TellDialog(question, entering([&](const QString& found) {
                   return EventBody(CheckMade{asked.statement, found.toStdString()});
               }),
               this)
        .exec();
}

void MainWindow::askAssumption(int terminal)
{
    if (!liveJob_ || terminal < 0) return;
    const QString id = text(liveJob_->map().terminal(terminal).id);
    const auto take = entering([&](const QString& reason) {
        return EventBody(Assumption{id.toStdString(), reason.toStdString()});
    });
    TextDialog(
        tr("Assume %1 good").arg(id), tr("Assumed, not tested: the gate counts it apart. Why is it taken as good?"), {},
        [&](const QString& reason) { return reason.isEmpty() ? tr("Say why, or cancel.") : take(reason); }, this)
        .exec();
}

// The rows of a map that keeps its sheet; all that was changed is entered in one go.
void MainWindow::askPins()
{
    if (!liveJob_) return;
    SheetDialog dialog(this);
    if (!dialog.edit(liveJob_->map().document)) return askCorrection(-1);
    while (dialog.exec() == QDialog::Accepted) {
        std::vector<EventBody> entries;
        for (const PinRow& row : dialog.corrections())
            entries.push_back(MapCorrection{row.isTerminal() ? row.id() : row.circuit, writePinRow(row)});
        if (entries.empty() || liveJob_->enter(std::move(entries))) return;
    }
}

// What a circuit carries, as the last clamp reading on it showed.
void MainWindow::askFigure(int terminal)
{
    if (!liveJob_ || terminal < 0) return;
    const auto measured = measuredCurrent_A(liveJob_->map(), liveJob_->assessment().evidence, terminal);
    TerminalDialog dialog(liveJob_->map(), terminal, this, measured);
    dialog.setWindowTitle(tr("State a figure of %1").arg(text(liveJob_->map().terminal(terminal).id)));
    while (dialog.exec() == QDialog::Accepted) {
        const PinRow row = dialog.row();
        if (liveJob_->enter(MapCorrection{row.id(), writePinRow(row)})) return;
    }
}

void MainWindow::askCorrection(int terminal)
{
    if (!liveJob_) return;
    TerminalDialog dialog(liveJob_->map(), terminal, this);
    // What was typed stays until it is taken.
    while (dialog.exec() == QDialog::Accepted) {
        const PinRow row = dialog.row();
        if (liveJob_->enter(MapCorrection{row.id(), writePinRow(row)})) return;
    }
}

void MainWindow::setNight(bool night)
{
    Theme::use(night);
    if (liveJob_) {
        prove_->refresh();
        procedures_->refresh();
        papers_->refresh();
        repair_->refresh();
        report_->refresh();
    }
    showNotice();
    refreshBar();
    for (QWidget* widget : findChildren<QWidget*>())
        widget->update();
}

bool MainWindow::shortcut(int key, Qt::KeyboardModifiers modifiers)
{
    if (key == Qt::Key_F1) return showKeys(), true;
    if (key == Qt::Key_F2) return show(modifiers & Qt::ShiftModifier ? Screen::Papers : Screen::Job), true;
    if (key == Qt::Key_F3) return show(Screen::Prove), true;
    if (key == Qt::Key_F4) return show(Screen::Suspects), true;
    if (key == Qt::Key_F5) return show(Screen::Report), true;
    if (key == Qt::Key_F6) return show(Screen::Start), true;
    if (key == Qt::Key_F7) return askPins(), true;
    if (key == Qt::Key_F8) return show(Screen::Traces), true;
    if (key == Qt::Key_F9) return setNight(!Theme::current().night), true;
    if (key == Qt::Key_F10) return showAbout(), true;
    if (key == Qt::Key_F12) return show(Screen::Repair), true;
    if (key == Qt::Key_F11) return show(Screen::Procedures), true;
    if (modifiers & Qt::ControlModifier) {
        if (key == Qt::Key_Z && liveJob_) return liveJob_->undo(), true;
        if (key == Qt::Key_S && liveJob_) return askSaveElsewhere(), true;
        if (key == Qt::Key_O) return emit start_->fileWanted(), true;
        if (key == Qt::Key_Q) return close();
    }
    return false;
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() != QEvent::KeyPress || QApplication::activeModalWidget() || QApplication::activePopupWidget())
        return QMainWindow::eventFilter(watched, event);
    const auto* widget = qobject_cast<QWidget*>(watched);
    if (!widget || widget->window() != this) return QMainWindow::eventFilter(watched, event);
    const auto* pressed = static_cast<QKeyEvent*>(event);
    const bool typingText = takesText(widget) || takesText(QApplication::focusWidget());
    const bool ownUndo = typingText && pressed->key() == Qt::Key_Z;
    if (!ownUndo && shortcut(pressed->key(), pressed->modifiers())) return true;
    // What is typed into a field stays there; on Suspects there is none but its list, which is moved by its keys.
    if (typingText && screen() != Screen::Suspects) return QMainWindow::eventFilter(watched, event);
    // A focused button keeps its own keys; all else goes to the screen.
    const bool press =
        pressed->key() == Qt::Key_Space ||
        ((pressed->key() == Qt::Key_Return || pressed->key() == Qt::Key_Enter) && !prove_->dock()->isTyping());
    if (press && qobject_cast<QPushButton*>(QApplication::focusWidget()))
        return QMainWindow::eventFilter(watched, event);
    return screens_[static_cast<std::size_t>(screen())]->key(pressed->key(), pressed->modifiers(), pressed->text()) ||
           QMainWindow::eventFilter(watched, event);
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    job_->takeOverAll();
    event->accept();
}

void MainWindow::showKeys()
{
    QDialog dialog(this);
    dialog.setObjectName(QStringLiteral("keys"));
    dialog.setWindowTitle(tr("All keys"));
    dialog.resize(720, 560);
    auto* browser = new QTextBrowser(&dialog);
    const QString row =
        QStringLiteral("<tr><td style='padding:3px 18px 3px 0'><b>%1</b></td><td style='padding:3px'>%2</td></tr>");
    QString html = QStringLiteral("<table>");
    for (const KeyLine& line : keyTable())
        html += row.arg(line.shown, line.words);
    browser->setFont(face(16));
    browser->setHtml(html + QStringLiteral("</table>"));
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, &dialog);
    connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    auto* layout = new QVBoxLayout(&dialog);
    layout->addWidget(browser);
    layout->addWidget(buttons);
    dialog.exec();
}

void MainWindow::showAbout()
{
    QDialog dialog(this);
    dialog.setObjectName(QStringLiteral("about"));
    dialog.setWindowTitle(tr("About Ilvek"));
    dialog.resize(700, 520);
    QFile licence(QStringLiteral(":/fonts/copyright"));
    const QString fontLicence =
        licence.open(QIODevice::ReadOnly) ? QString::fromUtf8(licence.readAll()) : tr("The licence text is missing.");
    auto* textArea = new TextArea(&dialog);
    textArea->setPlainText(tr("Ilvek %1\n\nVerifies a control module's powers, grounds, references and "
                              "signals before the module or the harness is condemned. "
                              "Local codes, the maker's procedure and licensed practice come "
                              "first.\n\nThe font is Lato. Its licence:\n\n%2")
                               .arg(QStringLiteral(ILVEK_VERSION), fontLicence));
    textArea->setReadOnly(true);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, &dialog);
    connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    auto* layout = new QVBoxLayout(&dialog);
    layout->addWidget(textArea);
    layout->addWidget(buttons);
    dialog.exec();
}

}  // namespace ilvek::app
