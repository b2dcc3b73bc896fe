#include "models/trace_model.h"

#include <QCoreApplication>

#include "base/stop.h"
#include "models/give_way.h"

namespace ilvek::app {

namespace {

using View = std::shared_ptr<TraceView>;

void draw(TraceView& view)
{
    view.pyramids.reserve(view.recording.channels.size());
    for (const Channel& c : view.recording.channels)
        view.pyramids.emplace_back(c.samples);
}

View studied(View view, const StudyWishes& wishes)
{
    auto study = ilvek::study(view->recording, wishes);
    if (study)
        view->study = std::move(*study);
    else
        view->whyNot = QString::fromStdString(study.error().message());
    return view;
}

void lead(Channel& c, const ImportWish::Lead& l)
{
    c.name = l.name;
    c.recordedUnit = l.unit;
    c.scale = l.scale;
    applyScale(c);
}

// As the technician wants it, ready to be drawn.
View viewOf(const std::string& file, const ImportWish& import, const std::optional<CsvGuess>& csv, Recording recording)
{
    auto view = std::make_shared<TraceView>();
    view->path = QString::fromStdString(file);
    view->csv = csv;
    view->recording = std::move(recording);
    if (import.interval_s) view->recording.interval_s = *import.interval_s;
    for (std::size_t c = 0; c < std::min(import.leads.size(), view->recording.channels.size()); ++c)
        lead(view->recording.channels[c], import.leads[c]);
    draw(*view);
    return view;
}

template <class Show>
Result<View> read(const std::string& file, const ImportWish& import, const Progress& progress, const Show& show)
{
    std::optional<CsvGuess> csv = import.csv;
    if (!csv && isText(file)) {
        auto guess = guessCsv(file);
        if (!guess) return tl::unexpected(guess.error());
        csv = std::move(*guess);
    }
    if (csv) {
        if (auto beginning = readCsvBeginning(file, *csv)) {
            View first = viewOf(file, import, csv, std::move(*beginning));
            first->whyNot = QCoreApplication::translate("TraceModel", "Reading and measuring …");
            first->whole = false;
            show(first);
            giveWay();
        }
    }
    auto recording = csv ? readCsv(file, *csv, progress) : readRecording(file, progress);
    if (!recording) return tl::unexpected(recording.error());
    return viewOf(file, import, csv, std::move(*recording));
}

}  // namespace

TraceModel::TraceModel(QObject* parent) : QObject(parent) {}

TraceModel::~TraceModel()
{
    stop();
    for (auto& [number, worker] : workers_)
        worker.join();
}

void TraceModel::stop()
{
    if (stop_) *stop_ = true;
}

template <class Work>
void TraceModel::begin(Work work)
{
    stop();
    stop_ = std::make_shared<std::atomic<bool>>(false);
    const int number = ++asked_;
    workers_[number] = std::thread([this, number, stopped = stop_, work] {
        const Progress progress = [this, number, stopped](double share) {
            QMetaObject::invokeMethod(
                this,
                [this, number, share] {
                    if (number == asked_) emit progressed(share);
                },
                Qt::QueuedConnection);
            return !*stopped;
        };
        const Show show = [this, number](std::shared_ptr<const TraceView> view) {
            QMetaObject::invokeMethod(
                this, [this, number, view] { preview(number, view); }, Qt::QueuedConnection);
        };
        const StopScope scope([stopped] { return !*stopped; });
        Result<View> done = fail("", "stopped");
        try {
            done = work(progress, show);
        } catch (const Stopped&) {
            // As it stands: said to have been stopped.
        }
        QMetaObject::invokeMethod(
            this,
            [this, number, done] {
                workers_[number].join();
                workers_.erase(number);
                if (number != asked_) return;
                if (!done) {
                    if (before_) view_ = *before_;
                    before_.reset();
                    return emit failed(QString::fromStdString(done.error().message()));
                }
                before_.reset();
                view_ = *done;
                emit ready();
            },
            Qt::QueuedConnection);
    });
}

void TraceModel::preview(int number, std::shared_ptr<const TraceView> view)
{
    if (number != asked_) return;
    if (!before_) before_ = view_;
    view_ = std::move(view);
    emit previewed();
}

void TraceModel::open(const QString& path, const StudyWishes& wishes, const ImportWish& import)
{
    begin([file = path.toStdString(), wishes, import](const Progress& progress, const Show& show) -> Result<View> {
        auto view = read(file, import, progress, show);
        if (!view) return view;
        return studied(std::move(*view), wishes);
    });
}

void TraceModel::studyAgain(const StudyWishes& wishes, int channel, std::optional<double> clamp_mVPerA,
                            std::optional<Stretch> nothing)
{
    if (!view_) return;
    begin([old = view_, wishes, channel, clamp_mVPerA, nothing](const Progress&, const Show&) -> Result<View> {
        auto view = std::make_shared<TraceView>();
        view->path = old->path, view->csv = old->csv, view->recording = old->recording;
        if (channel >= 0 && channel < static_cast<int>(view->recording.channels.size())) {
            Channel& c = view->recording.channels[static_cast<std::size_t>(channel)];
            c.scale.clamp_mVPerA = clamp_mVPerA;
            if (nothing) {
                const auto zero = levelBetween(c, view->recording.interval_s, nothing->from_s, nothing->to_s);
                if (!zero) return tl::unexpected(zero.error());
                c.scale.zero = *zero;
            }
            applyScale(c);
        }
        draw(*view);
        return studied(std::move(view), wishes);
    });
}

}  // namespace ilvek::app
