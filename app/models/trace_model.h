// A recording on the screen: loaded and studied off the interface thread.
#pragma once

#include <QObject>
#include <atomic>
#include <memory>
#include <thread>
#include <vector>

#include "trace/pyramid.h"
#include "trace/study.h"

namespace ilvek::app {

// What a recording and its study come to; never changed once it is there.
struct TraceView {
    Recording recording;
    std::vector<Pyramid> pyramids;  // by channel
    std::optional<Study> study;
    QString whyNot;  // why there is no study
};

class TraceModel : public QObject {
    Q_OBJECT
public:
    explicit TraceModel(QObject* parent = nullptr);
    ~TraceModel() override;

    // Reads a file and studies it; signals come on this object's thread. What was asked before is stopped.
    void open(const QString& path, const StudyWishes& wishes = {});
    // The same recording with other wishes and another scale of the channel of current.
    void studyAgain(const StudyWishes& wishes, int current, const ChannelScale& scale);
    void stop();
    std::shared_ptr<const TraceView> view() const { return view_; }

signals:
    void progressed(double share);
    void ready();
    void failed(const QString& reason);

private:
    template <class Work>
    void begin(Work work);

    std::shared_ptr<const TraceView> view_;
    std::thread worker_;
    std::shared_ptr<std::atomic<bool>> stop_;
    int asked_ = 0;  // answers to what was asked before are dropped
};

}  // namespace ilvek::app
