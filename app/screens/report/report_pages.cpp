#include "screens/report/report_pages.h"

#include <QMarginsF>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QSaveFile>
#include <QTextDocument>
#include <QUrl>

#include "base/file.h"
#include "base/stop.h"
#include "report/report.h"
#include "theme.h"

namespace ilvek::app {

namespace {

constexpr int pictureWidth = 640;
constexpr int pictureHeight = 300;
constexpr double screenDpi = 96;
// So many that a page is laid out in some hundredths of a second.
constexpr std::size_t readingsOnEach = 60;

QImage staircaseImage(const LoopPicture& picture)
{
    QImage image(pictureWidth * 3, pictureHeight * 3, QImage::Format_RGB32);
    image.fill(Theme::current().panel);
    QPainter painter(&image);
    painter.scale(3, 3);
    drawLoop(painter, QRectF(0, 0, pictureWidth, pictureHeight), picture);
    return image;
}

}  // namespace

ReportSnapshot::ReportSnapshot(const LiveJob& liveJob, Reader reader_)
    : job(liveJob.job()),
      assessment(liveJob.assessment()),
      gate(liveJob.gate()),
      written_ms(liveJob.now()),
      events(liveJob.journal().content().events),
      reader(reader_)
{
    if (reader != Reader::Technician) return;
    for (const int terminal : failedTerminals(job.map, assessment))
        pictures.emplace(terminal, loopPicture(liveJob, terminal));
}

std::string ReportSnapshot::html() const
{
    switch (reader) {
        case Reader::Customer:
            return customerHtml(input());
        case Reader::Schedule:
            return scheduleHtml(job.map, assessment);
        case Reader::Technician:
            break;
    }
    return reportHtml(input());
}

std::vector<ReportPage> pagesOf(const ReportSnapshot& snapshot)
{
    const Theme::OnPaper paper;
    std::vector<ReportPage> pages;
    if (snapshot.reader != Reader::Technician) {
        pages.push_back({QString::fromStdString(snapshot.html()), {}});
        return pages;
    }
    std::map<QString, QImage> images;
    const auto picture = [&](int terminal) -> std::string {
        stopPoint();
        const auto at = snapshot.pictures.find(terminal);
        if (at == snapshot.pictures.end()) return {};
        const QString name = QStringLiteral("staircase-%1").arg(terminal);
        images.emplace(name, staircaseImage(at->second));
        return QStringLiteral("<p><img src=\"%1\" width=\"%2\" height=\"%3\"></p>")
            .arg(name)
            .arg(pictureWidth)
            .arg(pictureHeight)
            .toStdString();
    };
    for (const std::string& html : reportPages(snapshot.input(), readingsOnEach, picture))
        pages.push_back({QString::fromStdString(html), {}});
    pages.front().images = std::move(images);
    return pages;
}

void fill(QTextDocument& document, const ReportPage& page)
{
    for (const auto& [name, image] : page.images)
        document.addResource(QTextDocument::ImageResource, QUrl(name), image);
    document.setDefaultFont(face(13));
    document.setHtml(page.html);
}

void print(const std::vector<ReportPage>& pages, QPagedPaintDevice& device)
{
    const Theme::OnPaper paper;
    QPainter painter(&device);
    // Laid out as on a screen of 96 dots per inch, whatever the paper has.
    const double dots = device.logicalDpiX() / screenDpi;
    painter.scale(dots, dots);
    const QSizeF size = QSizeF(device.pageLayout().paintRectPixels(device.logicalDpiX()).size()) / dots;
    bool first = true;
    for (const ReportPage& page : pages) {
        QTextDocument document;
        fill(document, page);
        document.setPageSize(size);
        for (int n = 0; n < document.pageCount(); ++n) {
            stopPoint();
            if (!first) device.newPage();
            first = false;
            painter.save();
            painter.translate(0, -n * size.height());
            document.drawContents(&painter, QRectF(0, n * size.height(), size.width(), size.height()));
            painter.restore();
        }
    }
}

Result<void> writePdf(const ReportSnapshot& snapshot, const QString& path)
{
    if (auto allowed = checkOutput(path.toStdString(), {}); !allowed) return allowed;
    QSaveFile file(path);
    const auto failed = [&] {
        return fail(path.toStdString(), "cannot be written: " + file.errorString().toStdString());
    };
    if (!file.open(QIODevice::WriteOnly)) return failed();
    try {
        QPdfWriter writer(&file);
        writer.setResolution(static_cast<int>(screenDpi));
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(15, 15, 15, 15), QPageLayout::Millimeter);
        writer.setTitle(QString::fromStdString(snapshot.job.details.title));
        writer.setCreator(QStringLiteral("Ilvek " ILVEK_VERSION));
        print(pagesOf(snapshot), writer);
    } catch (const Stopped&) {
        file.cancelWriting();
        return fail(path.toStdString(), "writing was stopped; nothing is left of it");
    }
    if (!file.commit()) return failed();
    return {};
}

}  // namespace ilvek::app
