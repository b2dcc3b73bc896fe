// Any bytes as a damaged job file: what is found in it can be written and read again.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "job/job.h"
#include "job/salvage.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view bytes(reinterpret_cast<const char*>(data), size);
    const auto found = ilvek::salvage(bytes, {});
    for (const ilvek::Event& event : found.content.events) {
        const std::string written = ilvek::writeBody(event.body);
        const auto again = ilvek::readBody(ilvek::eventKind(event.body), written, "again");
        if (!again) std::abort();
    }
    if (!found.content.mapDocument.empty()) (void)ilvek::foldJob(found.content);
    return 0;
}
