#include "base/file.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>

namespace ilvek {

namespace {

std::string systemReason(const char* doing)
{
    return std::string(doing) + ": " + std::strerror(errno);
}

bool writeAll(int file, std::string_view bytes)
{
    while (!bytes.empty()) {
        const ssize_t n = ::write(file, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(n));
    }
    return true;
}

}  // namespace

Result<std::string> readFile(const std::filesystem::path& path)
{
    std::error_code code;
    const auto status = std::filesystem::status(path, code);
    if (code || !std::filesystem::exists(status)) return fail(path.string(), "there is no such file");
    if (std::filesystem::is_directory(status)) return fail(path.string(), "this is a folder, not a file");
    if (!std::filesystem::is_regular_file(status)) return fail(path.string(), "this is not an ordinary file");
    const auto size = std::filesystem::file_size(path, code);
    if (code) return fail(path.string(), "cannot be read: " + code.message());
    if (size > largestTextFile_bytes) return fail(path.string(), "is larger than 64 MB, which no map or job is");

    std::ifstream in(path, std::ios::binary);
    if (!in) return fail(path.string(), systemReason("cannot be opened"));
    std::string bytes(static_cast<std::size_t>(size), '\0');
    in.read(bytes.data(), static_cast<std::streamsize>(size));
    bytes.resize(static_cast<std::size_t>(in.gcount()));
    if (in.bad()) return fail(path.string(), systemReason("cannot be read"));
    return bytes;
}

Result<void> writeFile(const std::filesystem::path& path, std::string_view bytes)
{
    const std::string beside = path.string() + ".part";
    const int file = ::open(beside.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    if (file < 0) return fail(path.string(), systemReason("cannot be written"));
    const bool written = writeAll(file, bytes) && ::fsync(file) == 0;
    const std::string reason = written ? "" : systemReason("cannot be written");
    ::close(file);
    if (written && ::rename(beside.c_str(), path.c_str()) == 0) return {};
    const std::string final = written ? systemReason("cannot be put in place") : reason;
    ::unlink(beside.c_str());
    return fail(path.string(), final);
}

}  // namespace ilvek
