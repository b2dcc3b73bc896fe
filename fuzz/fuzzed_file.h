// Any bytes as a file of recordings, and what every kind of study makes of it.
#pragma once

#include <fcntl.h>
#include <unistd.h>

#include <cstdint>
#include <string>

#include "trace/study/study.h"

namespace ilvek::fuzz {

inline int study(const std::uint8_t* data, std::size_t size, Result<Recording> (*read)(const std::string&))
{
    static const std::string path = "/tmp/ilvek-fuzz-" + std::to_string(::getpid());
    const int file = ::open(path.c_str(), O_CREAT | O_TRUNC | O_WRONLY, 0600);
    if (file < 0) return 0;
    const bool whole = ::write(file, data, size) == static_cast<ssize_t>(size);
    ::close(file);
    if (!whole) return 0;
    const auto recording = read(path);
    if (!recording || recording->size() > 20000) return 0;
    for (const RecordedKind& kind : recordedKinds()) {
        StudyWishes wishes;
        wishes.kind = kind.kind;
        wishes.main = "1";
        (void)ilvek::study(*recording, wishes);
    }
    return 0;
}

}  // namespace ilvek::fuzz
