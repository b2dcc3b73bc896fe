// The reasoning, off the interface thread: takes the job as it stands, answers at once with what is built, and goes on
// building the table behind it.
#pragma once

#include <QObject>
#include <atomic>
#include <memory>

#include "papers/common_cause.h"
#include "verdict/reasoner.h"

namespace ilvek::app {

// A job as it stands, copied for the worker.
struct ReasoningTask {
    Map map;
    Assessment assessment;
    Reports reports;
    Standing standing;
    bool complaint = false;
    std::int64_t revision = 0;  // of the job
};

using SharedTask = std::shared_ptr<const ReasoningTask>;
using SharedReasoning = std::shared_ptr<const Reasoning>;

class ReasoningWorker : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    // From any thread: what is being worked on is left within a tenth of a second, and nothing is begun any more.
    void stop() { stopped_ = true; }

public slots:
    void take(const ilvek::app::SharedTask& task);

signals:
    void reasoned(const ilvek::app::SharedReasoning& reasoning);

private:
    template <class Work>
    void stoppable(Work work);
    void answer(std::size_t mostSetups);
    void begin(const SharedTask& task);
    void buildMore();

    std::atomic<bool> stopped_ = false;

    SharedTask task_;
    std::unique_ptr<Reasoner> reasoner_;
    std::string document_;
    std::vector<std::string> beside_;
    WayOfWorking working_;
    bool complaint_ = false;
    bool building_ = false;
    bool counted_ = true;  // every reading has its predictions
};

}  // namespace ilvek::app
