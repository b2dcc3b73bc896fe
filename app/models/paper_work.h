// What a map's functions share and what its codes mean, solved behind the window.
#pragma once

#include <QObject>
#include <QThread>

#include <atomic>

#include "job/job.h"
#include "papers/codes_on_paper.h"
#include "papers/shared_branches.h"

namespace ilvek::app {

class PaperWork : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    ~PaperWork() override;

    // Starts over where the map or the codes are others than those that were worked on last; ready() when it is done.
    void want(const Job& job);
    bool isBusy() const { return working_ != nullptr; }
    const std::vector<Branch>& branches() const { return branches_; }
    const std::vector<CodeOnPaper>& codes() const { return codes_; }

signals:
    void ready();

private:
    struct Question {
        std::string document;
        std::vector<std::string> beside, codes;
        bool operator==(const Question&) const = default;
    };
    void begin();

    Question wanted_, answered_;
    Map map_;
    std::vector<Branch> branches_;
    std::vector<CodeOnPaper> codes_;
    QThread* working_ = nullptr;
    std::atomic<bool> stop_ = false;
};

}  // namespace ilvek::app
