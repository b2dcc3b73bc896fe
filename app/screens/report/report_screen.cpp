#include "screens/report/report_screen.h"

#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QRegularExpression>
#include <QTextBrowser>
#include <QTextDocument>
#include <QVBoxLayout>

#include "base/file.h"
#include "base/stop.h"
#include "job/hand_over.h"
#include "report/report.h"
#include "theme.h"

namespace ilvek::app {

ReportScreen::ReportScreen(QWidget* parent) : WindowScreen(parent)
{
    setObjectName(QStringLiteral("reportScreen"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& label) {
        auto* b = new QPushButton(label, this);
        b->setObjectName(QLatin1String(name));
        b->setMinimumHeight(36);
        b->setMinimumWidth(std::max(44, b->fontMetrics().horizontalAdvance(label) + 24));
        buttons->addWidget(b);
        return b;
    };
    reader_ = new QComboBox(this);
    reader_->setObjectName(QStringLiteral("reportFor"));
    reader_->setAccessibleName(tr("Who reads it"));
    reader_->setMinimumHeight(36);
    reader_->addItems({tr("for the next technician"), tr("for the customer"), tr("test schedule")});
    connect(reader_, &QComboBox::currentIndexChanged, this, [this] {
        shown_ = 0;
        refresh();
    });
    buttons->addWidget(reader_);
    const auto writer = [&](const char* name, const QString& label, const QString& ending, Prepare prepare) {
        connect(button(name, label), &QPushButton::clicked, this,
                [this, label, ending, prepare] { ask(label, ending, prepare); });
    };
    writer("writePdf", tr("Write &PDF …"), QStringLiteral("pdf"), &ReportScreen::pdf);
    writer("writeHtml", tr("Write &HTML …"), QStringLiteral("html"), &ReportScreen::html);
    writer("writeCsv", tr("&Readings as CSV …"), QStringLiteral("csv"), &ReportScreen::csv);
    writer("writeHandOver", tr("Hand &over as one file …"), QStringLiteral("ilvek.json"), &ReportScreen::handOver);
    connect(button("print", tr("Pr&int …")), &QPushButton::clicked, this, &ReportScreen::print);
    stop_ = button("stopWriting", tr("Stop writing"));
    stop_->hide();
    connect(stop_, &QPushButton::clicked, this, [this] { *stopped_ = true; });
    buttons->addStretch(1);
    before_ = button("pageBefore", tr("‹"));
    page_ = new QLabel(this);
    page_->setObjectName(QStringLiteral("pageShown"));
    buttons->addWidget(page_);
    next_ = button("pageNext", tr("›"));
    before_->setAccessibleName(tr("Page before"));
    next_->setAccessibleName(tr("Next page"));
    connect(before_, &QPushButton::clicked, this, [this] { turnTo(shown_ - 1); });
    connect(next_, &QPushButton::clicked, this, [this] { turnTo(shown_ + 1); });
    preview_ = new QTextBrowser(this);
    preview_->setObjectName(QStringLiteral("reportPreview"));
    preview_->setAccessibleName(tr("Report"));
    preview_->setOpenLinks(false);
    // Paper stays paper in the night theme too.
    QPalette palette = paletteOf(Theme::light());
    palette.setColor(QPalette::Base, Qt::white);
    preview_->setPalette(palette);
    layout->addLayout(buttons);
    layout->addWidget(preview_, 1);
    pool_.setMaxThreadCount(1);
    turnTo(0);
}

ReportScreen::~ReportScreen()
{
    stop();
}

Reader ReportScreen::reader() const
{
    return static_cast<Reader>(std::max(0, reader_->currentIndex()));
}

void ReportScreen::stop()
{
    *stopped_ = *outdated_ = true;
    pool_.clear();
    pool_.waitForDone();
}

void ReportScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    ++asked_;
    pages_.clear();
    turnTo(0);
    if (liveJob_) connect(liveJob_, &LiveJob::changed, this, &ReportScreen::refresh);
    refresh();
}

void ReportScreen::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    refresh();
}

void ReportScreen::refresh()
{
    if (!liveJob_ || !isVisible()) return;
    *outdated_ = true;
    outdated_ = std::make_shared<std::atomic<bool>>(false);
    const int number = ++asked_;
    if (pages_.empty()) page_->setText(tr("being made …"));
    pool_.start(
        [this, number, outdated = outdated_, snapshot = std::make_shared<const ReportSnapshot>(*liveJob_, reader())] {
            const StopScope scope([outdated] { return !*outdated; });
            try {
                auto pages = std::make_shared<std::vector<ReportPage>>(pagesOf(*snapshot));
                QMetaObject::invokeMethod(this, [this, number, pages] {
                    if (number != asked_) return;
                    pages_ = std::move(*pages);
                    turnTo(std::min(shown_, pages_.size() - 1));
                    emit built();
                });
            } catch (const Stopped&) {
            }
        });
}

void ReportScreen::turnTo(std::size_t page)
{
    shown_ = page < pages_.size() ? page : 0;
    before_->setEnabled(shown_ > 0);
    next_->setEnabled(shown_ + 1 < pages_.size());
    page_->setText(pages_.empty() ? QString() : tr("Page %1 of %2").arg(shown_ + 1).arg(pages_.size()));
    auto* document = new QTextDocument(preview_);
    document->setDocumentMargin(24);
    if (!pages_.empty()) fill(*document, pages_[shown_]);
    preview_->setDocument(document);
}

std::function<Result<void>()> ReportScreen::pdf(const QString& path) const
{
    return [snapshot = std::make_shared<const ReportSnapshot>(*liveJob_, reader()), path] {
        return app::writePdf(*snapshot, path);
    };
}

std::function<Result<void>()> ReportScreen::html(const QString& path) const
{
    return [snapshot = std::make_shared<const ReportSnapshot>(*liveJob_, reader()), path]() -> Result<void> {
        if (auto allowed = checkOutput(path.toStdString(), {}); !allowed) return allowed;
        return writeFile(path.toStdString(), snapshot->html());
    };
}

std::function<Result<void>()> ReportScreen::csv(const QString& path) const
{
    return [snapshot = std::make_shared<const ReportSnapshot>(*liveJob_, reader()), path]() -> Result<void> {
        if (auto allowed = checkOutput(path.toStdString(), {}); !allowed) return allowed;
        return writeFile(path.toStdString(), readingsCsv(snapshot->input()));
    };
}

std::function<Result<void>()> ReportScreen::handOver(const QString& path) const
{
    return [content = liveJob_->journal().content(), job = liveJob_->journal().path(), path] {
        return exportContent(content, path.toStdString(), {job});
    };
}

Result<void> ReportScreen::writePdf(const QString& path) const
{
    return liveJob_ ? pdf(path)() : fail(path.toStdString(), "no job is open");
}

Result<void> ReportScreen::writeHtml(const QString& path) const
{
    return liveJob_ ? html(path)() : fail(path.toStdString(), "no job is open");
}

Result<void> ReportScreen::writeCsv(const QString& path) const
{
    return liveJob_ ? csv(path)() : fail(path.toStdString(), "no job is open");
}

Result<void> ReportScreen::writeHandOverFile(const QString& path) const
{
    return liveJob_ ? handOver(path)() : fail(path.toStdString(), "no job is open");
}

void ReportScreen::writeBehind(const QString& path, std::function<Result<void>()> write)
{
    stopped_ = std::make_shared<std::atomic<bool>>(false);
    stop_->show();
    emit said(tr("Being written: %1").arg(path), false);
    pool_.start([this, path, write = std::move(write), stopped = stopped_] {
        const StopScope scope([stopped] { return !*stopped; });
        Result<void> done = fail(path.toStdString(), "writing was stopped");
        try {
            done = write();
        } catch (const Stopped&) {
        }
        QMetaObject::invokeMethod(this, [this, path, done] {
            stop_->hide();
            emit said(done ? tr("Written: %1").arg(path) : QString::fromStdString(done.error().message()), !done);
        });
    });
}

void ReportScreen::print()
{
    if (!liveJob_) return;
    QPrinter printer(QPrinter::HighResolution);
    QPrintDialog dialog(&printer, this);
    if (dialog.exec() != QDialog::Accepted) return;
    app::print(pagesOf(ReportSnapshot(*liveJob_, reader())), printer);
    emit said(tr("Sent to the printer"), false);
}

void ReportScreen::ask(const QString& title, const QString& ending, Prepare prepare)
{
    if (!liveJob_) return;
    QString name = QString::fromStdString(liveJob_->job().details.title)
                       .toLower()
                       .replace(QRegularExpression(QStringLiteral("[^a-z0-9]+")), QStringLiteral("-"));
    if (name.isEmpty()) name = QStringLiteral("job");
    const QString path = QFileDialog::getSaveFileName(this, title.chopped(2).remove(QLatin1Char('&')),
                                                      QDir::home().filePath(name + QLatin1Char('.') + ending));
    if (!path.isEmpty()) writeBehind(path, (this->*prepare)(path));
}

}  // namespace ilvek::app
