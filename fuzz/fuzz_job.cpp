// Any bytes as a hand-over file: read whole or refused; what is read can be folded and judged.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "job/hand_over.h"
#include "job/job.h"
#include "verdict/gate.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto file = ilvek::readHandOver({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!file) {
        if (file.error().empty()) std::abort();
        return 0;
    }
    const auto job = ilvek::foldJob(*file);
    if (!job) return 0;
    const auto assessment = ilvek::assess(job->map, job->evidence);
    (void)ilvek::gateOf(job->map, assessment, {0, job->state});
    return 0;
}
