#include "models/trace_model.h"

namespace ilvek::app {

namespace {

std::shared_ptr<TraceView> viewOf(Recording recording, const StudyWishes& wishes)
{
    auto view = std::make_shared<TraceView>();
    view->recording = std::move(recording);
    view->pyramids.reserve(view->recording.channels.size());
    for (const Channel& c : view->recording.channels)
        view->pyramids.emplace_back(c.samples);
    auto studied = study(view->recording, wishes);
    if (studied)
        view->study = std::move(*studied);
    else
        view->whyNot = QString::fromStdString(studied.error().message());
    return view;
}

}  // namespace

TraceModel::TraceModel(QObject* parent) : QObject(parent) {}

TraceModel::~TraceModel()
{
    stop();
    if (worker_.joinable()) worker_.join();
}

void TraceModel::stop()
{
    if (stop_) *stop_ = true;
}

template <class Work>
void TraceModel::begin(Work work)
{
    stop();
    if (worker_.joinable()) worker_.join();
    stop_ = std::make_shared<std::atomic<bool>>(false);
    const int number = ++asked_;
    worker_ = std::thread([this, number, stopped = stop_, work] {
        const Progress progress = [this, stopped](double share) {
            QMetaObject::invokeMethod(
                this, [this, share] { emit progressed(share); }, Qt::QueuedConnection);
            return !*stopped;
        };
        Result<std::shared_ptr<TraceView>> done = work(progress);
        QMetaObject::invokeMethod(
            this,
            [this, number, done] {
                if (number != asked_) return;
                if (!done) return emit failed(QString::fromStdString(done.error().message()));
                view_ = *done;
                emit ready();
            },
            Qt::QueuedConnection);
    });
}

void TraceModel::open(const QString& path, const StudyWishes& wishes)
{
    begin([file = path.toStdString(), wishes](const Progress& progress) -> Result<std::shared_ptr<TraceView>> {
        auto recording = readRecording(file, progress);
        if (!recording) return tl::unexpected(recording.error());
        return viewOf(std::move(*recording), wishes);
    });
}

void TraceModel::studyAgain(const StudyWishes& wishes, int current, const ChannelScale& scale)
{
    if (!view_) return;
    begin([old = view_, wishes, current, scale](const Progress&) -> Result<std::shared_ptr<TraceView>> {
        Recording recording = old->recording;
        if (current >= 0 && current < static_cast<int>(recording.channels.size())) {
            Channel& c = recording.channels[static_cast<std::size_t>(current)];
            c.scale = scale;
            if (scale.clamp_mVPerA) c.scale.zero = quietLevel(c, recording.interval_s).value_or(0);
            applyScale(c);
        }
        return viewOf(std::move(recording), wishes);
    });
}

}  // namespace ilvek::app
