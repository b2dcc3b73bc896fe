#include "screens/start/start_screen.h"

#include <QDateTime>
#include <QFileInfo>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

StartScreen::StartScreen(QWidget* parent) : WindowScreen(parent)
{
    setObjectName(QStringLiteral("startScreen"));
    auto* outer = new QHBoxLayout(this);
    outer->addStretch(1);
    auto* column = new QVBoxLayout;
    outer->addLayout(column, 4);
    outer->addStretch(1);
    column->addSpacing(30);
    auto* title = new QLabel(tr("What is on the bench?"), this);
    title->setFont(face(30, QFont::Bold));
    title->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    column->addWidget(title);
    auto* hint = new QLabel(
        tr("Ilvek needs the map of the machine: a ready one, or one made from a list of the module's pins."), this);
    hint->setWordWrap(true);
    hint->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    column->addWidget(hint);
    column->addSpacing(12);
    const auto button = [&](const char* name, const QString& words, void (StartScreen::*signal)()) {
        auto* b = new QPushButton(words, this);
        b->setObjectName(QLatin1String(name));
        b->setMinimumHeight(52);
        b->setFont(face(18));
        connect(b, &QPushButton::clicked, this, signal);
        column->addWidget(b);
        return b;
    };
    button("openDemo", tr("Open the &demonstration: a groomer that loses its drive supply"), &StartScreen::demoWanted)
        ->setFocus();
    button("openMap", tr("New job from a &map …"), &StartScreen::mapWanted);
    button("typePins", tr("New job: &type the pins of a machine …"), &StartScreen::benchWanted);
    button("openSheet", tr("New job from a &pin sheet (CSV) …"), &StartScreen::sheetWanted);
    button("openFile", tr("Open a &job, or any file Ilvek reads …"), &StartScreen::fileWanted);
    button("openHandOver", tr("Open a &hand-over file …"), &StartScreen::handOverWanted);
    message_ = new QLabel(this);
    message_->setObjectName(QStringLiteral("startMessage"));
    message_->setWordWrap(true);
    message_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    message_->setFont(face(15, QFont::Bold));
    message_->setTextFormat(Qt::PlainText);
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(message_);
    jobsTitle_ = new QLabel(tr("Jobs kept here"), this);
    jobsTitle_->setFont(face(18, QFont::Bold));
    column->addSpacing(10);
    column->addWidget(jobsTitle_);
    jobs_ = new QListWidget(this);
    jobs_->setObjectName(QStringLiteral("jobs"));
    jobs_->setAccessibleName(tr("Jobs kept here"));
    connect(jobs_, &QListWidget::itemActivated, this,
            [this](QListWidgetItem* item) { emit jobWanted(item->data(Qt::UserRole).toString()); });
    column->addWidget(jobs_, 1);
    column->addStretch(1);
    column->addSpacing(20);
}

void StartScreen::showJobs(const QStringList& paths)
{
    jobs_->clear();
    for (const QString& path : paths) {
        const QFileInfo info(path);
        auto* item = new QListWidgetItem(
            tr("%1   –   last used %2")
                .arg(info.completeBaseName(), info.lastModified().toString(QStringLiteral("d MMM yyyy, hh:mm"))));
        item->setData(Qt::UserRole, path);
        item->setFont(face(16));
        jobs_->addItem(item);
    }
    jobs_->setVisible(!paths.isEmpty());
    jobsTitle_->setVisible(!paths.isEmpty());
}

void StartScreen::showMessage(const QString& message)
{
    message_->setText(message);
    setTextColour(message_, Theme::current().bad);
}

}  // namespace ilvek::app
