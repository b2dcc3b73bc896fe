// The Report screen: the report as it will be printed, and where to write it.
#pragma once

#include <QWidget>

#include "models/live_job.h"

class QTextBrowser;

namespace ilvek::app {

class ReportScreen : public QWidget {
    Q_OBJECT
public:
    explicit ReportScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob);
    // Each writes one file. ERRORS: the place cannot be written to.
    Result<void> writePdf(const QString& path) const;
    Result<void> writeHtml(const QString& path) const;
    Result<void> writeCsv(const QString& path) const;
    Result<void> writeHandOverFile(const QString& path) const;

public slots:
    void refresh();

signals:
    void written(const QString& message);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void print();
    void ask(const QString& title, const QString& ending, Result<void> (ReportScreen::*write)(const QString&) const);

    LiveJob* liveJob_ = nullptr;
    QTextBrowser* preview_;
};

}  // namespace ilvek::app
