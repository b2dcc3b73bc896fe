// Long work that nobody waits for any more.
#pragma once

#include <cstddef>
#include <functional>

namespace ilvek {

// Thrown by stopPoint() out of the work. Whoever set a StopScope catches it; it never goes further.
struct Stopped {};

// For as long as this lives, what this thread works on can be stopped: `wanted` is asked often and from this thread
// (and those that it shares the work with), and says whether to go on. Scopes nest; the innermost counts.
class StopScope {
public:
    explicit StopScope(std::function<bool()> wanted);
    StopScope(const StopScope&) = delete;
    StopScope& operator=(const StopScope&) = delete;
    ~StopScope();

private:
    std::function<bool()> wanted_;
    const std::function<bool()>* before_;
};

// Asked wherever work may go on for more than a few milliseconds. Costs some nanoseconds.
// ERRORS: Stopped, where the work is no longer wanted.
void stopPoint();

// The same inside a loop over samples, asked once in some ten thousand of them.
inline void stopPointAt(std::size_t sample)
{
    if (sample % 16384 == 0) stopPoint();
}

// The question of this thread's innermost scope, for threads that share its work; null when there is none.
const std::function<bool()>* stopQuestion();

}  // namespace ilvek
