// Any bytes as a kept recording: read whole and written back the same, or refused with a reason.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "trace/study/reference.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto kept = ilvek::readReference({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!kept) {
        if (kept.error().empty()) std::abort();
        return 0;
    }
    if (!ilvek::readReference(ilvek::writeReference(*kept), "again")) std::abort();
    return 0;
}
