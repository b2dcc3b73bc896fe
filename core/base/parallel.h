// One piece of work on several cores.
#pragma once

#include <cstddef>
#include <functional>

namespace ilvek {

// Calls `work` on up to `most` threads at once, this one among them, and comes back when all of them have. The work
// shares out what there is to do by itself (an atomic counter). It can be stopped as this thread's own work can.
// ERRORS: Stopped, once all have ended.
void onSeveralCores(std::size_t most, const std::function<void()>& work);

}  // namespace ilvek
