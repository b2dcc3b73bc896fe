// The Report screen: the report as it will be printed, page by page, and where to write it.
#pragma once

#include <QThreadPool>
#include <atomic>
#include <functional>
#include <memory>

#include "models/live_job.h"
#include "screens/report/report_pages.h"
#include "screens/window_screen.h"

class QComboBox;
class QLabel;
class QPushButton;
class QTextBrowser;

namespace ilvek::app {

class ReportScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit ReportScreen(QWidget* parent = nullptr);
    ~ReportScreen() override;
    void setLiveJob(LiveJob* liveJob) override;
    // Each writes one file and comes back when it is done. ERRORS: the place cannot be written to.
    Result<void> writePdf(const QString& path) const;
    Result<void> writeHtml(const QString& path) const;
    Result<void> writeCsv(const QString& path) const;
    Result<void> writeHandOverFile(const QString& path) const;
    // Writes one behind the window and says when it is done.
    void writeBehind(const QString& path, std::function<Result<void>()> write);
    std::size_t pages() const { return pages_.size(); }
    void turnTo(std::size_t page);

public slots:
    // Builds the pages anew, behind the window, when the screen is shown.
    void refresh() override;

signals:
    void said(const QString& message, bool bad);
    void built();

protected:
    void showEvent(QShowEvent* event) override;

private:
    using Prepare = std::function<Result<void>()> (ReportScreen::*)(const QString&) const;
    std::function<Result<void>()> pdf(const QString& path) const;
    std::function<Result<void>()> html(const QString& path) const;
    std::function<Result<void>()> csv(const QString& path) const;
    std::function<Result<void>()> handOver(const QString& path) const;
    Reader reader() const;
    void print();
    void ask(const QString& title, const QString& ending, Prepare prepare);
    void stop();

    LiveJob* liveJob_ = nullptr;
    QTextBrowser* preview_;
    QComboBox* reader_;
    QPushButton *before_, *next_, *stop_;
    QLabel* page_;
    std::vector<ReportPage> pages_;
    std::size_t shown_ = 0;
    int asked_ = 0;  // pages of an older state are dropped
    QThreadPool pool_;
    std::shared_ptr<std::atomic<bool>> stopped_ = std::make_shared<std::atomic<bool>>(false);
    std::shared_ptr<std::atomic<bool>> outdated_ = std::make_shared<std::atomic<bool>>(false);
};

}  // namespace ilvek::app
