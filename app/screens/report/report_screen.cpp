#include "screens/report/report_screen.h"

#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMarginsF>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QRegularExpression>
#include <QSaveFile>
#include <QTextBrowser>
#include <QTextDocument>
#include <QVBoxLayout>

#include "base/file.h"
#include "job/hand_over.h"
#include "report/report.h"
#include "theme.h"
#include "widgets/loop_strip.h"

namespace ilvek::app {

namespace {

constexpr int pictureWidth = 640;
constexpr int pictureHeight = 300;

// The light theme for as long as this lives: paper is white.
class OnPaper {
public:
    OnPaper() : wasNight_(Theme::current().night)
    {
        if (wasNight_) Theme::use(false);
    }
    ~OnPaper()
    {
        if (wasNight_) Theme::use(true);
    }
    OnPaper(const OnPaper&) = delete;
    OnPaper& operator=(const OnPaper&) = delete;

private:
    bool wasNight_;
};

QImage staircaseImage(const LiveJob& liveJob, int terminal)
{
    QImage image(pictureWidth * 3, pictureHeight * 3, QImage::Format_RGB32);
    image.fill(Theme::current().panel);
    QPainter painter(&image);
    painter.scale(3, 3);
    drawLoop(painter, QRectF(0, 0, pictureWidth, pictureHeight), loopPicture(liveJob, terminal));
    return image;
}

void fill(QTextDocument& document, const LiveJob& liveJob)
{
    const OnPaper paper;
    const ReportInput input{liveJob.job(), liveJob.assessment(), liveJob.gate(), liveJob.now()};
    const std::string html = reportHtml(input, [&](int terminal) {
        const QString name = QStringLiteral("staircase-%1").arg(terminal);
        document.addResource(QTextDocument::ImageResource, QUrl(name), staircaseImage(liveJob, terminal));
        return QStringLiteral("<p><img src=\"%1\" width=\"%2\" height=\"%3\"></p>")
            .arg(name)
            .arg(pictureWidth)
            .arg(pictureHeight)
            .toStdString();
    });
    document.setDefaultFont(face(13));
    document.setHtml(QString::fromStdString(html));
}

}  // namespace

ReportScreen::ReportScreen(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("reportScreen"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& label, const QString& ending,
                            Result<void> (ReportScreen::*write)(const QString&) const) {
        auto* b = new QPushButton(label, this);
        b->setObjectName(QLatin1String(name));
        b->setMinimumHeight(36);
        connect(b, &QPushButton::clicked, this, [this, label, ending, write] { ask(label, ending, write); });
        buttons->addWidget(b);
    };
    button("writePdf", tr("Write &PDF …"), QStringLiteral("pdf"), &ReportScreen::writePdf);
    button("writeHtml", tr("Write &HTML …"), QStringLiteral("html"), &ReportScreen::writeHtml);
    button("writeCsv", tr("&Readings as CSV …"), QStringLiteral("csv"), &ReportScreen::writeCsv);
    button("writeHandOver", tr("Hand &over as one file …"), QStringLiteral("ilvek.json"),
           &ReportScreen::writeHandOverFile);
    auto* print = new QPushButton(tr("Pr&int …"), this);
    print->setObjectName(QStringLiteral("print"));
    print->setMinimumHeight(36);
    connect(print, &QPushButton::clicked, this, &ReportScreen::print);
    buttons->addWidget(print);
    buttons->addStretch(1);
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
}

void ReportScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
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
    auto* document = new QTextDocument(preview_);
    document->setDocumentMargin(24);
    fill(*document, *liveJob_);
    preview_->setDocument(document);
}

Result<void> ReportScreen::writePdf(const QString& path) const
{
    if (!liveJob_) return fail(path.toStdString(), "no job is open");
    QSaveFile file(path);
    if (!file.open(QIODevice::WriteOnly))
        return fail(path.toStdString(), "cannot be written: " + file.errorString().toStdString());
    {
        QPdfWriter writer(&file);
        writer.setResolution(96);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(15, 15, 15, 15), QPageLayout::Millimeter);
        writer.setTitle(QString::fromStdString(liveJob_->job().details.title));
        writer.setCreator(QStringLiteral("Ilvek " ILVEK_VERSION));
        QTextDocument document;
        fill(document, *liveJob_);
        document.setPageSize(QSizeF(writer.width(), writer.height()));
        document.print(&writer);
    }
    if (!file.commit()) return fail(path.toStdString(), "cannot be written: " + file.errorString().toStdString());
    return {};
}

void ReportScreen::print()
{
    if (!liveJob_) return;
    QPrinter printer(QPrinter::HighResolution);
    QPrintDialog dialog(&printer, this);
    if (dialog.exec() != QDialog::Accepted) return;
    QTextDocument document;
    fill(document, *liveJob_);
    document.print(&printer);
    emit written(tr("Sent to the printer"));
}

Result<void> ReportScreen::writeHtml(const QString& path) const
{
    if (!liveJob_) return fail(path.toStdString(), "no job is open");
    return writeFile(path.toStdString(),
                     reportHtml({liveJob_->job(), liveJob_->assessment(), liveJob_->gate(), liveJob_->now()}));
}

Result<void> ReportScreen::writeCsv(const QString& path) const
{
    if (!liveJob_) return fail(path.toStdString(), "no job is open");
    return writeFile(path.toStdString(),
                     readingsCsv({liveJob_->job(), liveJob_->assessment(), liveJob_->gate(), liveJob_->now()}));
}

Result<void> ReportScreen::writeHandOverFile(const QString& path) const
{
    if (!liveJob_) return fail(path.toStdString(), "no job is open");
    return exportJob(liveJob_->journal(), path.toStdString());
}

void ReportScreen::ask(const QString& title, const QString& ending,
                       Result<void> (ReportScreen::*write)(const QString&) const)
{
    if (!liveJob_) return;
    QString name = QString::fromStdString(liveJob_->job().details.title)
                       .toLower()
                       .replace(QRegularExpression(QStringLiteral("[^a-z0-9]+")), QStringLiteral("-"));
    if (name.isEmpty()) name = QStringLiteral("job");
    const QString path = QFileDialog::getSaveFileName(this, title.chopped(2).remove(QLatin1Char('&')),
                                                      QDir::home().filePath(name + QLatin1Char('.') + ending));
    if (path.isEmpty()) return;
    const auto done = (this->*write)(path);
    emit written(done ? tr("Written: %1").arg(path) : QString::fromStdString(done.error().message()));
}

}  // namespace ilvek::app
