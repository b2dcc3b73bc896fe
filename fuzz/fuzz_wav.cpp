// Any bytes as a sound file.
#include "fuzzed_file.h"
#include "trace/formats/wav_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    return ilvek::fuzz::study(data, size, [](const std::string& path) { return ilvek::readWav(path); });
}
