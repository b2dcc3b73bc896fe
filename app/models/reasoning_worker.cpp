#include "models/reasoning_worker.h"

#include <QTimer>

#include "base/stop.h"
#include "models/give_way.h"

namespace ilvek::app {

namespace {

// An answer after every so many set-ups while the table grows, and one when it is complete.
constexpr std::size_t answerEvery = 4;

}  // namespace

template <class Work>
void ReasoningWorker::stoppable(Work work)
{
    if (stopped_) return;
    const StopScope scope([this] { return !stopped_; });
    try {
        work();
    } catch (const Stopped&) {
        reasoner_.reset();
    }
}

void ReasoningWorker::take(const SharedTask& task)
{
    stoppable([&] { begin(task); });
}

void ReasoningWorker::begin(const SharedTask& task)
{
    const WayOfWorking& working = task->assessment.evidence.working;
    // What the suspects and the tests are made of: the map, and the way of working with its load.
    const bool another =
        !reasoner_ || document_ != task->map.document || beside_ != task->map.weighedBeside || !(working_ == working);
    if (!another && complaint_ != task->complaint) reasoner_->forget(task->complaint);
    complaint_ = task->complaint;
    task_ = task;
    if (another) {
        giveWay();
        reasoner_ = std::make_unique<Reasoner>(task->map, working, task->complaint);
        document_ = task->map.document;
        beside_ = task->map.weighedBeside;
        working_ = working;
        reasoner_->buildNext();
    }
    answer(another ? 0 : 1);
    if (!building_) QTimer::singleShot(0, this, &ReasoningWorker::buildMore);
    building_ = true;
}

void ReasoningWorker::answer(std::size_t mostSetups)
{
    counted_ = reasoner_->observe(task_->assessment, task_->reports, task_->revision, mostSetups);
    const bool coarse = !reasoner_->isRefined();
    emit reasoned(std::make_shared<const Reasoning>(reasoner_->reason(task_->standing)));
    if (coarse && reasoner_->refine())
        emit reasoned(std::make_shared<const Reasoning>(reasoner_->reason(task_->standing)));
}

void ReasoningWorker::buildMore()
{
    building_ = false;
    bool more = false;
    stoppable([&] {
        // What was read counts before what might be.
        if (!counted_) {
            answer(1);
            more = true;
        } else {
            more = reasoner_->buildNext();
            if (!more || reasoner_->built() % answerEvery == 0) answer(SIZE_MAX);
        }
    });
    if (!more || stopped_) return;
    building_ = true;
    QTimer::singleShot(0, this, &ReasoningWorker::buildMore);
}

}  // namespace ilvek::app
