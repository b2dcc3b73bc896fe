#include "models/paper_work.h"

#include "base/stop.h"
#include "models/give_way.h"
#include "papers/told.h"

namespace ilvek::app {

PaperWork::~PaperWork()
{
    stop_ = true;
    if (working_) working_->wait();
}

void PaperWork::want(const Job& job)
{
    Question question{job.map.document, job.map.weighedBeside, storedCodes(job)};
    if (question == wanted_) return;
    wanted_ = std::move(question);
    map_ = job.map;
    if (working_)
        stop_ = true;  // and begins anew
    else
        begin();
}

void PaperWork::begin()
{
    struct Answer {
        std::vector<Branch> branches;
        std::vector<CodeOnPaper> codes;
        bool whole = false;
    };
    stop_ = false;
    const auto answer = std::make_shared<Answer>();
    const auto question = std::make_shared<const Question>(wanted_);
    working_ = QThread::create([this, answer, question, map = map_] {
        giveWay();
        const StopScope scope([this] { return !stop_; });
        try {
            answer->branches = sharedBranches(map, question->codes);
            answer->codes = codesOnPaper(map, question->codes);
            answer->whole = true;
        } catch (const Stopped&) {
        }
    });
    connect(working_, &QThread::finished, this, [this, answer, question] {
        working_->deleteLater();
        working_ = nullptr;
        if (answer->whole) {
            branches_ = std::move(answer->branches), codes_ = std::move(answer->codes);
            answered_ = *question;
        }
        if (!(wanted_ == answered_)) return begin();
        emit ready();
    });
    working_->start();
}

}  // namespace ilvek::app
