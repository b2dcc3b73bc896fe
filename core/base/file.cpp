#include "base/file.h"

#include <fcntl.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstdio>
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

constexpr const char* nameTaken = "a file of this name exists already";

std::filesystem::path folderOf(const std::filesystem::path& path)
{
    return path.has_parent_path() ? path.parent_path() : std::filesystem::path(".");
}

// A new name in a folder is only safe from a power cut when the folder is on disk too.
void syncFolder(const std::filesystem::path& path)
{
    const int folder = ::open(folderOf(path).c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (folder < 0) return;
    ::fsync(folder);
    ::close(folder);
}

// A file without a name, which the kernel drops with its last user; -1 where the file system has no such thing.
int openNameless(const std::filesystem::path& path)
{
    return ::open(folderOf(path).c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0644);
}

bool giveName(int file, const std::filesystem::path& path)
{
    const std::string self = "/proc/self/fd/" + std::to_string(file);
    return ::linkat(AT_FDCWD, self.c_str(), AT_FDCWD, path.c_str(), AT_SYMLINK_FOLLOW) == 0;
}

std::string nameBeside(const std::filesystem::path& path)
{
    static std::atomic<int> count{0};
    return (folderOf(path) / ("." + path.filename().string().substr(0, 200) + "." + std::to_string(::getpid()) + "-" +
                              std::to_string(++count) + ".part"))
        .string();
}

// All bytes on disk under another name in the same folder.
Result<std::string> writeBeside(const std::filesystem::path& path, std::string_view bytes)
{
    const std::string beside = nameBeside(path);
    const int nameless = openNameless(path);
    const int file = nameless >= 0 ? nameless : ::open(beside.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0644);
    if (file < 0) return fail(path.string(), systemReason("cannot be written"));
    const bool written = writeAll(file, bytes) && ::fsync(file) == 0 && (nameless < 0 || giveName(file, beside));
    const std::string reason = written ? "" : systemReason("cannot be written");
    ::close(file);
    if (written) return beside;
    if (nameless < 0) ::unlink(beside.c_str());
    return fail(path.string(), reason);
}

Result<void> writeInto(const std::filesystem::path& device, std::string_view bytes)
{
    const int file = ::open(device.c_str(), O_WRONLY | O_CLOEXEC);
    if (file < 0) return fail(device.string(), systemReason("cannot be written"));
    const bool written = writeAll(file, bytes);
    const std::string reason = written ? "" : systemReason("cannot be written");
    ::close(file);
    return written ? Result<void>() : fail(device.string(), reason);
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
    std::error_code code;
    const auto status = std::filesystem::status(path, code);
    if (std::filesystem::exists(status) && !std::filesystem::is_regular_file(status)) return writeInto(path, bytes);
    const auto target = std::filesystem::exists(status) ? std::filesystem::canonical(path, code) : path;
    auto beside = writeBeside(target, bytes);
    if (!beside) return tl::unexpected(beside.error());
    if (::rename(beside->c_str(), target.c_str()) != 0) {
        const std::string reason = systemReason("cannot be put in place");
        ::unlink(beside->c_str());
        return fail(path.string(), reason);
    }
    syncFolder(target);
    return {};
}

Result<void> writeNewFile(const std::filesystem::path& path, std::string_view bytes)
{
    if (const int file = openNameless(path); file >= 0) {
        const bool written = writeAll(file, bytes) && ::fsync(file) == 0;
        const bool named = written && giveName(file, path);
        const bool taken = written && !named && errno == EEXIST;
        const std::string reason = named ? "" : systemReason("cannot be written");
        ::close(file);
        if (named) return syncFolder(path), Result<void>();
        return taken ? fail(path.string(), nameTaken) : fail(path.string(), reason);
    }
    auto beside = writeBeside(path, bytes);
    if (!beside) return tl::unexpected(beside.error());
    const bool placed = ::renameat2(AT_FDCWD, beside->c_str(), AT_FDCWD, path.c_str(), RENAME_NOREPLACE) == 0;
    const bool taken = !placed && errno == EEXIST;
    const std::string reason = placed ? "" : systemReason("cannot be put in place");
    if (placed) return syncFolder(path), Result<void>();
    ::unlink(beside->c_str());
    return taken ? fail(path.string(), nameTaken) : fail(path.string(), reason);
}

Result<void> checkOutput(const std::filesystem::path& out, const std::vector<std::filesystem::path>& inputs)
{
    std::error_code code;
    for (const auto& input : inputs) {
        if (std::filesystem::equivalent(out, input, code) && !code)
            return fail(out.string(), "this is the very file that is read; choose another name");
    }
    if (!std::filesystem::is_regular_file(out, code)) return {};
    std::string start(16, '\0');
    std::ifstream(out, std::ios::binary).read(start.data(), 16);
    if (start == std::string_view("SQLite format 3\0", 16))
        return fail(out.string(), "this is a job file and is not written over; choose another name");
    return {};
}

void surviveFailedWrites()
{
    std::signal(SIGXFSZ, SIG_IGN);
    std::signal(SIGPIPE, SIG_IGN);
}

}  // namespace ilvek
