// Any bytes as a table of figures in text, in any dialect.
#include "fuzzed_file.h"
#include "trace/formats/recording.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    return ilvek::fuzz::study(data, size, [](const std::string& path) { return ilvek::readRecording(path); });
}
