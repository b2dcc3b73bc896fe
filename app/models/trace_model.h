// A recording on the screen: loaded and studied off the interface thread.
#pragma once

#include <QObject>
#include <atomic>
#include <functional>
#include <map>
#include <memory>
#include <thread>
#include <vector>

#include "trace/formats/csv_reader.h"
#include "trace/signal/pyramid.h"
#include "trace/study/study.h"

namespace ilvek::app {

// How a recording is read, where that differs from what it looks like.
struct ImportWish {
    struct Lead {
        std::string name;
        Unit unit = Unit::Volt;
        ChannelScale scale;
    };
    std::optional<CsvGuess> csv;
    std::vector<Lead> leads;  // by channel; empty: as the file says
    std::optional<double> interval_s;
};

// What a recording and its study come to; never changed once it is there.
struct TraceView {
    TraceView() = default;
    TraceView(const TraceView&) = delete;  // its pyramids stand on its recording
    TraceView& operator=(const TraceView&) = delete;

    QString path;
    Recording recording;
    std::optional<CsvGuess> csv;    // as it was read, where it is a table of text
    std::vector<Pyramid> pyramids;  // by channel
    std::optional<Study> study;
    QString whyNot;     // why there is no study
    bool whole = true;  // false: a first picture, while the rest is read and measured
};

class TraceModel : public QObject {
    Q_OBJECT
public:
    explicit TraceModel(QObject* parent = nullptr);
    ~TraceModel() override;

    // Reads a file and studies it; signals come on this object's thread. What was asked before is stopped.
    void open(const QString& path, const StudyWishes& wishes = {}, const ImportWish& import = {});
    // The same recording with other wishes, and another scale of one of its channels. `nothing`: a stretch, in seconds
    // from its first sample, in which nothing flowed through that one's clamp.
    struct Stretch {
        double from_s = 0, to_s = 0;
    };
    void studyAgain(const StudyWishes& wishes, int channel, std::optional<double> clamp_mVPerA,
                    std::optional<Stretch> nothing = {});
    void stop();
    std::shared_ptr<const TraceView> view() const { return view_; }

signals:
    void progressed(double share);
    // The beginning of a table; should the rest fail, what was there comes back.
    void previewed();
    void ready();
    void failed(const QString& reason);

private:
    using Show = std::function<void(std::shared_ptr<const TraceView>)>;
    template <class Work>
    void begin(Work work);
    void preview(int number, std::shared_ptr<const TraceView> view);

    std::shared_ptr<const TraceView> view_;
    std::optional<std::shared_ptr<const TraceView>> before_;  // what a preview stands in place of
    std::map<int, std::thread> workers_;                      // by what was asked; joined once they have answered
    std::shared_ptr<std::atomic<bool>> stop_;
    int asked_ = 0;  // answers to what was asked before are dropped
};

}  // namespace ilvek::app
