#include "models/job_list.h"

#include <QDir>

#include "base/stop.h"

namespace ilvek::app {

JobList::JobList(const QString& folder, QObject* parent)
    : QObject(parent), folder_(folder), index_(QDir(folder).filePath(QStringLiteral("logbook.index")))
{
}

JobList::~JobList()
{
    stop_ = true;
    if (reading_) reading_->wait();
}

void JobList::refresh()
{
    if (!QDir(folder_).exists()) return;  // no job was ever kept
    if (!book_) {
        if (auto book = Logbook::open(index_.toStdString())) book_.emplace(std::move(*book));
    }
    if (reading_) {
        again_ = true;
        return;
    }
    again_ = false;
    reading_ = QThread::create([this, folder = folder_.toStdString(), index = index_.toStdString()] {
        const StopScope scope([this] { return !stop_; });
        try {
            if (auto book = Logbook::open(index)) (void)book->bringUpToDate(folder);
        } catch (const Stopped&) {
        }
    });
    connect(reading_, &QThread::finished, this, [this] {
        reading_->deleteLater();
        reading_ = nullptr;
        emit changed();
        if (again_) refresh();
    });
    reading_->start();
}

std::vector<LoggedJob> JobList::find(const QString& words) const
{
    if (book_) return book_->find(words.toStdString());
    // Where no index can be kept the files are there all the same, by their names.
    std::vector<LoggedJob> out;
    const QDir folder(folder_);
    for (const QString& name : folder.entryList({QStringLiteral("*.ilvek")}, QDir::Files, QDir::Time)) {
        if (!name.contains(words, Qt::CaseInsensitive)) continue;
        LoggedJob job;
        job.file = folder.filePath(name).toStdString();
        out.push_back(std::move(job));
    }
    return out;
}

}  // namespace ilvek::app
