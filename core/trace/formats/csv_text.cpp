#include "trace/formats/csv_text.h"

#include <iconv.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <filesystem>

namespace ilvek {

namespace {

constexpr std::size_t longestLine_bytes = 1U << 20U;

std::size_t widthOf(const std::string& encoding)
{
    return encoding == "UTF-8" ? 1 : 2;
}

// Behind the last line's end.
std::size_t lastLineEnd(const std::string& bytes, const std::string& encoding)
{
    if (widthOf(encoding) == 1) {
        const auto at = bytes.rfind('\n');
        return at == std::string::npos ? 0 : at + 1;
    }
    const std::size_t low = encoding == "UTF-16LE" ? 0 : 1;
    for (std::size_t i = bytes.size() / 2; i-- > 0;) {
        if (bytes[2 * i + low] == '\n' && bytes[2 * i + 1 - low] == '\0') return 2 * i + 2;
    }
    return 0;
}

bool toUtf8(const std::string& encoding, std::string& bytes)
{
    const iconv_t way = iconv_open("UTF-8", encoding.c_str());
    if (way == reinterpret_cast<iconv_t>(-1)) return false;
    std::string out(2 * bytes.size() + 16, '\0');
    char* from = bytes.data();
    char* to = out.data();
    std::size_t left = bytes.size(), room = out.size();
    const std::size_t status = iconv(way, &from, &left, &to, &room);
    iconv_close(way);
    if (status == static_cast<std::size_t>(-1)) return false;
    out.resize(out.size() - room);
    bytes = std::move(out);
    return true;
}

}  // namespace

Result<CsvText> CsvText::open(const std::string& path)
{
    std::error_code code;
    const auto status = std::filesystem::status(path, code);
    if (!std::filesystem::exists(status)) return fail(path, "there is no such file");
    if (!std::filesystem::is_regular_file(status)) return fail(path, "this is not an ordinary file");
    CsvText text;
    text.path_ = path;
    text.bytes_ = std::filesystem::file_size(path, code);
    text.in_.open(path, std::ios::binary);
    if (!text.in_) return fail(path, std::string("cannot be opened: ") + std::strerror(errno));
    return text;
}

Result<std::string> CsvText::next(std::size_t most_bytes, std::string spare)
{
    // What is of no use any more is overwritten, which is cheaper than room made of noughts.
    std::string bytes = std::move(spare);
    std::size_t had = carried_.size();
    bytes.resize(had + most_bytes);
    carried_.copy(bytes.data(), had);
    carried_.clear();
    // On until a line ends.
    for (;;) {
        in_.read(bytes.data() + had, static_cast<std::streamsize>(most_bytes));
        bytes.resize(had += static_cast<std::size_t>(in_.gcount()));
        if (!in_ || lastLineEnd(bytes, encoding_) > 0 || bytes.size() > longestLine_bytes) break;
        bytes.resize(had + most_bytes);
    }
    if (in_.bad()) return fail(path_, "cannot be read to its end");
    if (!started_) {
        started_ = true;
        if (bytes.starts_with("\xEF\xBB\xBF")) bytes.erase(0, 3);
        if (bytes.starts_with("\xFF\xFE")) encoding_ = "UTF-16LE", bytes.erase(0, 2);
        if (bytes.starts_with("\xFE\xFF")) encoding_ = "UTF-16BE", bytes.erase(0, 2);
    }
    if (!in_.eof()) {
        const std::size_t end = lastLineEnd(bytes, encoding_);
        if (bytes.size() - end > longestLine_bytes)
            return fail(path_, "has a line of more than a megabyte, which no table of figures has");
        carried_ = bytes.substr(end);
        bytes.resize(end);
    }
    done_ += bytes.size();
    if (encoding_ == "UTF-8" && bytes.find('\0') != std::string::npos) return fail(path_, "is no text");
    if (encoding_ != "UTF-8" && !bytes.empty() && !toUtf8(encoding_, bytes))
        return fail(path_, "says that it is " + encoding_ + " text, and is not");
    return bytes;
}

bool isBlank(std::string_view line)
{
    return line.find_first_not_of(" \t\r") == std::string_view::npos;
}

bool isRemark(std::string_view line)
{
    const auto at = line.find_first_not_of(" \t");
    return at != std::string_view::npos &&
           (line[at] == '#' || line[at] == '%' || line[at] == '!' || line.substr(at).starts_with("//"));
}

std::vector<std::string> fieldsOf(std::string_view line, char separator)
{
    if (line.ends_with('\r')) line.remove_suffix(1);
    std::vector<std::string> out;
    std::string field;
    bool quoted = false;
    const auto close = [&] {
        const auto a = field.find_first_not_of(" \t"), b = field.find_last_not_of(" \t");
        out.push_back(a == std::string::npos ? "" : field.substr(a, b - a + 1));
        field.clear();
    };
    for (const char c : line) {
        if (c == '"')
            quoted = !quoted;
        else if (c == separator && !quoted && !(separator == ' ' && field.empty()))
            close();
        else if (c != separator || quoted)
            field += c;
    }
    close();
    while (out.size() > 1 && out.back().empty())
        out.pop_back();
    return out;
}

}  // namespace ilvek
