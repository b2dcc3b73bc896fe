// A report as pages to look at and to print, made from a job as it stood: off the interface thread, and stoppable.
#pragma once

#include <QImage>
#include <QString>
#include <map>
#include <vector>

#include "models/live_job.h"
#include "report/report.h"
#include "widgets/loop_strip.h"

class QPagedPaintDevice;
class QTextDocument;

namespace ilvek::app {

// Who reads it.
enum class Reader { Technician, Customer, Schedule };

// Everything that a report shows, as of one moment.
struct ReportSnapshot {
    Job job;
    Assessment assessment;
    Gate gate;
    std::int64_t written_ms = 0;
    std::vector<Event> events;
    std::map<int, LoopPicture> pictures;  // by failed terminal

    Reader reader;

    ReportSnapshot(const LiveJob& liveJob, Reader reader);
    // The whole as one file.
    std::string html() const;
    ReportInput input() const { return {job, assessment, gate, written_ms, &events}; }
};

struct ReportPage {
    QString html;
    std::map<QString, QImage> images;  // by the name that the page calls them by
};

// Stopped (base/stop.h) where nobody wants them any more.
std::vector<ReportPage> pagesOf(const ReportSnapshot& snapshot);
void fill(QTextDocument& document, const ReportPage& page);

// Page after page onto paper.
void print(const std::vector<ReportPage>& pages, QPagedPaintDevice& device);

// ERRORS: the place cannot be written to; stopped.
Result<void> writePdf(const ReportSnapshot& snapshot, const QString& path);

}  // namespace ilvek::app
