#include "screens/start/start_screen.h"

#include <QDateTime>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

QLabel* listTitle(const QString& words, QWidget* parent)
{
    auto* title = new QLabel(words, parent);
    title->setFont(face(18, QFont::Bold));
    return title;
}

}  // namespace

StartScreen::StartScreen(QWidget* parent) : WindowScreen(parent)
{
    setObjectName(QStringLiteral("startScreen"));
    // The logbook at the left, where there are jobs; what begins a new one beside it.
    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(20, 16, 20, 16);
    outer->setSpacing(26);
    outer->addStretch(1);
    outer->addWidget(jobsBox_ = makeJobs(), 8);
    auto* column = new QVBoxLayout;
    column->setSpacing(8);
    outer->addLayout(column, 7);
    outer->addStretch(1);
    auto* title = new QLabel(tr("What is on the bench?"), this);
    title->setFont(face(30, QFont::Bold));
    title->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    column->addWidget(title);
    auto* hint = new QLabel(
        tr("Ilvek needs the map of the machine: a ready one, or one made from a list of the module's pins."), this);
    hint->setWordWrap(true);
    hint->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Minimum);
    column->addWidget(hint);
    column->addSpacing(12);
    const auto button = [&](const char* name, const QString& words, void (StartScreen::*signal)()) {
        auto* b = new QPushButton(words, this);
        b->setObjectName(QLatin1String(name));
        b->setMinimumHeight(42);
        b->setFont(face(17));
        connect(b, &QPushButton::clicked, this, signal);
        column->addWidget(b);
        return b;
    };
    button("openDemo", tr("&Demonstration: a groomer that loses its drive supply"), &StartScreen::demoWanted)
        ->setFocus();
    button("openMap", tr("New job from a &map …"), &StartScreen::mapWanted);
    button("typePins", tr("New job: &type the pins of a machine …"), &StartScreen::benchWanted);
    button("openSheet", tr("New job from a &pin sheet (CSV) …"), &StartScreen::sheetWanted);
    button("openFile", tr("Open a &job, or any file Ilvek reads …"), &StartScreen::fileWanted);
    button("openHandOver", tr("Open a &hand-over file …"), &StartScreen::handOverWanted);
    button("openShop", tr("The &shop's jobs on its server …"), &StartScreen::shopWanted);
    shop_ = wrappedLabel("shopState", face(14), this);
    shop_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    shop_->hide();
    column->addWidget(shop_);
    message_ = new QLabel(this);
    message_->setObjectName(QStringLiteral("startMessage"));
    message_->setWordWrap(true);
    message_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    message_->setFont(face(15, QFont::Bold));
    message_->setTextFormat(Qt::PlainText);
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(message_);
    column->addSpacing(10);
    column->addWidget(machinesBox_ = makeMachines(), 1);
    column->addStretch(0);
}

QWidget* StartScreen::makeJobs()
{
    auto* box = new QWidget(this);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(listTitle(tr("Jobs kept here"), box));
    search_ = new QLineEdit(box);
    search_->setObjectName(QStringLiteral("jobSearch"));
    search_->setPlaceholderText(tr("search: machine, customer, complaint, code, any word in it"));
    search_->setAccessibleName(tr("Search the jobs"));
    search_->setClearButtonEnabled(true);
    connect(search_, &QLineEdit::textChanged, this, &StartScreen::searchChanged);
    column->addWidget(search_);
    jobs_ = new QListWidget(box);
    jobs_->setObjectName(QStringLiteral("jobs"));
    jobs_->setAccessibleName(tr("Jobs kept here"));
    jobs_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    jobs_->setTextElideMode(Qt::ElideRight);
    jobs_->setSpacing(2);
    connect(jobs_, &QListWidget::itemActivated, this,
            [this](QListWidgetItem* item) { emit jobWanted(item->data(Qt::UserRole).toString()); });
    column->addWidget(jobs_, 1);
    return box;
}

QWidget* StartScreen::makeMachines()
{
    auto* box = new QWidget(this);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(listTitle(tr("Machines kept for the next job"), box));
    machines_ = new QListWidget(box);
    machines_->setObjectName(QStringLiteral("machines"));
    machines_->setAccessibleName(tr("Machines kept for the next job"));
    machines_->setToolTip(tr("Enter begins a new job on the chosen machine"));
    machines_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    machines_->setTextElideMode(Qt::ElideMiddle);
    connect(machines_, &QListWidget::itemActivated, this, [this] { emit machineWanted(chosenMachine()); });
    column->addWidget(machines_, 1);
    auto* row = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& words, void (StartScreen::*signal)(const QString&)) {
        auto* b = new QPushButton(words, box);
        b->setObjectName(QLatin1String(name));
        b->setMinimumHeight(34);
        connect(b, &QPushButton::clicked, this, [this, signal] {
            if (!chosenMachine().isEmpty()) emit(this->*signal)(chosenMachine());
        });
        row->addWidget(b);
    };
    button("machineJob", tr("&New job on it"), &StartScreen::machineWanted);
    button("machinePins", tr("P&ins …"), &StartScreen::machinePinsWanted);
    button("machineExport", tr("E&xport …"), &StartScreen::machineExportWanted);
    row->addStretch(1);
    column->addLayout(row);
    return box;
}

QString StartScreen::chosenMachine() const
{
    const QListWidgetItem* item = machines_->currentItem();
    return item ? item->data(Qt::UserRole).toString() : QString();
}

void StartScreen::showMachines(const std::vector<KeptMachine>& machines)
{
    machines_->clear();
    for (const KeptMachine& machine : machines) {
        auto* item = new QListWidgetItem(QString::fromStdString(machine.title));
        item->setData(Qt::UserRole, QString::fromStdString(machine.path.string()));
        item->setToolTip(item->text());
        item->setFont(face(16));
        machines_->addItem(item);
    }
    machines_->setCurrentRow(0);
    machinesBox_->setVisible(!machines.empty());
}

QString StartScreen::searched() const
{
    return search_->text().trimmed();
}

namespace {

QString itemWords(const LoggedJob& job)
{
    const QString file = QFileInfo(QString::fromStdString(job.file.string())).completeBaseName();
    if (!job.trouble.empty()) return StartScreen::tr("▲  %1\nCannot be read.").arg(file);
    const QString title = job.title.empty() ? file : QString::fromStdString(job.title);
    const QString state = job.waits            ? StartScreen::tr("waits for the part")
                          : job.closed.empty() ? StartScreen::tr("open")
                                               : QString::fromStdString(job.closed);
    QStringList below;
    if (job.last_ms > 0)
        below << QDateTime::fromMSecsSinceEpoch(job.last_ms).toString(QStringLiteral("d MMM yyyy, hh:mm"));
    if (!job.machine.empty()) below << QString::fromStdString(job.machine);
    if (!job.complaint.empty()) below << QString::fromStdString(job.complaint).simplified();
    return StartScreen::tr("%1  %2 – %3%4\n%5")
        .arg(job.waits            ? QStringLiteral("◷")
             : job.closed.empty() ? QStringLiteral("□")
                                  : QStringLiteral("✓"),
             title, state, job.owes ? StartScreen::tr(", something is owed") : QString(),
             below.join(QStringLiteral(" · ")));
}

}  // namespace

void StartScreen::showJobs(const std::vector<LoggedJob>& jobs)
{
    const QString was = jobs_->currentItem() ? jobs_->currentItem()->data(Qt::UserRole).toString() : QString();
    constexpr int twoLines = 46;
    jobs_->clear();
    for (const LoggedJob& job : jobs) {
        auto* item = new QListWidgetItem(itemWords(job));
        const QString path = QString::fromStdString(job.file.string());
        item->setToolTip(plainTip(job.trouble.empty() ? tr("%1, %n entries", nullptr, job.entries).arg(path)
                                                      : QString::fromStdString(job.trouble)));
        item->setData(Qt::UserRole, path);
        item->setFont(face(15));
        item->setSizeHint(QSize(0, twoLines));  // whatever font its marks come from
        jobs_->addItem(item);
        if (path == was) jobs_->setCurrentItem(item);
    }
    jobsBox_->setVisible(!jobs.empty() || !searched().isEmpty());
}

void StartScreen::showShop(const QString& state, bool refused)
{
    shop_->setVisible(!state.isEmpty());
    shop_->setText(state);
    setTextColour(shop_, refused ? Theme::current().bad : Theme::current().ink);
}

void StartScreen::showMessage(const QString& message)
{
    message_->setText(message);
    setTextColour(message_, Theme::current().bad);
}

}  // namespace ilvek::app
