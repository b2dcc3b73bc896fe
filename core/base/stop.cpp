#include "base/stop.h"

namespace ilvek {

namespace {

thread_local const std::function<bool()>* question = nullptr;

}  // namespace

StopScope::StopScope(std::function<bool()> wanted) : wanted_(std::move(wanted)), before_(question)
{
    question = &wanted_;
}

StopScope::~StopScope()
{
    question = before_;
}

void stopPoint()
{
    if (question && !(*question)()) throw Stopped{};
}

const std::function<bool()>* stopQuestion()
{
    return question;
}

}  // namespace ilvek
