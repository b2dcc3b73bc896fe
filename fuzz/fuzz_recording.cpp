// Any bytes as a recording, and what is measured of it.
#include <fcntl.h>
#include <unistd.h>

#include <cstdint>
#include <string>

#include "trace/study.h"
#include "trace/switching.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    static const std::string path = "/tmp/ilvek-fuzz-recording-" + std::to_string(::getpid());
    const int file = ::open(path.c_str(), O_CREAT | O_TRUNC | O_WRONLY, 0600);
    if (file < 0) return 0;
    const bool whole = ::write(file, data, size) == static_cast<ssize_t>(size);
    ::close(file);
    if (!whole) return 0;
    const auto recording = ilvek::readRecording(path);
    if (!recording || recording->size() > 100000) return 0;
    (void)ilvek::study(*recording, {"1", "-", "-", {}, {}, {}});
    if (const auto s = ilvek::measureSwitching(*recording, recording->channels.front()))
        (void)ilvek::measureWheel(s->rises_s);
    return 0;
}
