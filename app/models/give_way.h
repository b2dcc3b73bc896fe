// Work behind the interface gives way to typing and drawing.
#pragma once

#include <sys/resource.h>
#include <unistd.h>

namespace ilvek::app {

// For the calling thread and those that it starts from now on. The priorities of QThread do nothing under the usual
// scheduler; on Linux every thread has a nice value of its own.
inline void giveWay()
{
    constexpr int nice = 5;
    ::setpriority(PRIO_PROCESS, static_cast<id_t>(::gettid()), nice);
}

}  // namespace ilvek::app
