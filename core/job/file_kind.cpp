#include "job/file_kind.h"

#include <fstream>
#include <string>

#include "base/text.h"
#include "bench_map/pin_sheet.h"

namespace ilvek {

namespace {

constexpr std::size_t looksAt_bytes = 64 * 1024;

std::string beginningOf(const std::filesystem::path& path)
{
    std::error_code code;
    if (!std::filesystem::is_regular_file(path, code)) return {};
    std::string bytes(looksAt_bytes, '\0');
    std::ifstream in(path, std::ios::binary);
    in.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    bytes.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, in.gcount())));
    return bytes;
}

// The text of "format" in a JSON document, which may go on behind what is seen of it: maps write it first, hand-over
// files too, but whoever edited one by hand may have moved it behind the entries.
FileKind kindOfJson(const std::string& bytes)
{
    if (bytes.find("\"ilvek-machine\"") != std::string::npos) return FileKind::Machine;
    const bool map = bytes.find("\"ilvek-map\"") != std::string::npos;
    const bool job = bytes.find("\"ilvek-job\"") != std::string::npos;
    if (job || bytes.find("\"events\"") != std::string::npos) return FileKind::HandOver;
    return map || bytes.find("\"elements\"") != std::string::npos ? FileKind::Map : FileKind::None;
}

}  // namespace

FileKind fileKindOf(const std::filesystem::path& path)
{
    const std::string bytes = beginningOf(path);
    const std::string ending = lowered(path.extension().string());
    if (bytes.empty()) return FileKind::None;
    if (bytes.starts_with("SQLite format 3") || ending == ".ilvek") return FileKind::Job;
    if (ending == ".wav" || ending == ".mat" || ending == ".npy") return FileKind::Recording;
    const std::string_view text = trimmed(std::string_view(bytes).substr(bytes.starts_with("\xEF\xBB\xBF") ? 3 : 0));
    if (text.starts_with('{')) return kindOfJson(bytes);
    // Whole lines only: the last one may be cut.
    const auto lastLine = bytes.size() < looksAt_bytes ? bytes.size() : bytes.rfind('\n');
    if (readPinSheet(bytes.substr(0, lastLine), path.string())) return FileKind::PinSheet;
    return FileKind::Recording;
}

}  // namespace ilvek
