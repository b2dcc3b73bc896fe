#include "models/reasoning_worker.h"

#include <QThread>
#include <QTimer>

#include "models/give_way.h"

namespace ilvek::app {

namespace {

// An answer after every so many set-ups while the table grows, and one when it is complete.
constexpr std::size_t answerEvery = 4;

}  // namespace

void ReasoningWorker::take(const SharedTask& task)
{
    if (QThread::currentThread()->isInterruptionRequested()) return;
    const School& school = task->assessment.evidence.school;
    const bool another =
        !reasoner_ || document_ != task->map.document || mated_ != school.mated || signalFirst_ != school.signalFirst;
    task_ = task;
    if (another) {
        giveWay();
        reasoner_ = std::make_unique<Reasoner>(task->map, school, task->complaint);
        document_ = task->map.document;
        mated_ = school.mated;
        signalFirst_ = school.signalFirst;
        reasoner_->setStop([] { return QThread::currentThread()->isInterruptionRequested(); });
        reasoner_->buildNext();
    }
    answer(another ? 0 : 1);
    if (!building_) QTimer::singleShot(0, this, &ReasoningWorker::buildMore);
    building_ = true;
}

void ReasoningWorker::answer(std::size_t mostSetups)
{
    counted_ = reasoner_->observe(task_->assessment, task_->paper, mostSetups);
    const bool coarse = !reasoner_->isRefined();
    emit reasoned(std::make_shared<const Reasoning>(reasoner_->reason(task_->standing)));
    if (coarse && reasoner_->refine())
        emit reasoned(std::make_shared<const Reasoning>(reasoner_->reason(task_->standing)));
}

void ReasoningWorker::buildMore()
{
    building_ = false;
    if (QThread::currentThread()->isInterruptionRequested()) return;
    // What was read counts before what might be.
    if (!counted_) {
        answer(1);
    } else {
        const bool more = reasoner_->buildNext();
        if (!more || reasoner_->built() % answerEvery == 0) answer(SIZE_MAX);
        if (!more) return;
    }
    building_ = true;
    QTimer::singleShot(0, this, &ReasoningWorker::buildMore);
}

}  // namespace ilvek::app
