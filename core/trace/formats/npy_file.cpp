#include "trace/formats/npy_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <filesystem>
#include <fstream>

#include "base/file.h"
#include "base/stop.h"
#include "trace/formats/table_recording.h"

namespace ilvek {

namespace {

constexpr std::size_t largest_bytes = std::size_t{4} << 30U;

struct Head {
    char endian = '<', kind = 'f';
    std::size_t width = 8;
    bool columnsFirst = false;
    std::vector<std::size_t> shape;
    std::size_t dataAt = 0;
};

// "{'descr': '<f8', 'fortran_order': False, 'shape': (3, 4), }"
Result<Head> headOf(const std::string& path, const std::string& bytes)
{
    if (bytes.size() < 12 || !bytes.starts_with("\x93NUMPY")) return fail(path, "is no NumPy file");
    const bool longHead = bytes[6] >= 2;
    const auto byte = [&](std::size_t i) { return static_cast<std::size_t>(static_cast<unsigned char>(bytes[i])); };
    const std::size_t length =
        longHead ? byte(8) | byte(9) << 8U | byte(10) << 16U | byte(11) << 24U : byte(8) | byte(9) << 8U;
    Head head;
    head.dataAt = (longHead ? 12 : 10) + length;
    if (head.dataAt > bytes.size()) return fail(path, "ends within its head");
    const std::string text = bytes.substr(longHead ? 12 : 10, length);
    const auto after = [&](const char* key, char mark) {
        const auto at = text.find(key);
        return at == std::string::npos ? at : text.find(mark, at + std::strlen(key));
    };
    const auto descr = after("'descr'", '\'');
    const auto type = descr;
    const auto shape = after("'shape'", '(');
    if (type == std::string::npos || type + 3 >= text.size() || shape == std::string::npos)
        return fail(path, "has a head that is not understood");
    head.endian = text[type + 1];
    head.kind = text[type + 2];
    head.width = static_cast<std::size_t>(text[type + 3] - '0');
    const bool known = (head.kind == 'f' && (head.width == 4 || head.width == 8)) ||
                       ((head.kind == 'i' || head.kind == 'u') &&
                        (head.width == 1 || head.width == 2 || head.width == 4 || head.width == 8));
    if (!known)
        return fail(path, fmt::format("holds numbers of the kind “{}”, which are not read", text.substr(type + 1, 4)));
    const auto order = text.find("True", text.find("fortran_order"));
    head.columnsFirst = order != std::string::npos && order < text.find(',', text.find("fortran_order"));
    std::size_t n = 0;
    bool digit = false;
    for (std::size_t i = shape + 1; i < text.size(); ++i) {
        if (text[i] >= '0' && text[i] <= '9' && n < largest_bytes) {
            n = 10 * n + static_cast<std::size_t>(text[i] - '0');
            digit = true;
        } else {
            if (digit) head.shape.push_back(n);
            n = 0;
            digit = false;
            if (text[i] == ')') break;
        }
    }
    return head;
}

template <class T>
double figure(const char* at, bool swap)
{
    char raw[sizeof(T)];
    std::memcpy(raw, at, sizeof(T));
    if (swap) std::reverse(raw, raw + sizeof(T));
    T value;
    std::memcpy(&value, raw, sizeof(T));
    return static_cast<double>(value);
}

double figureAt(const Head& head, const char* at)
{
    const bool swap = head.endian == '>';
    if (head.kind == 'f') return head.width == 4 ? figure<float>(at, swap) : figure<double>(at, swap);
    if (head.kind == 'i')
        return head.width == 1   ? figure<std::int8_t>(at, swap)
               : head.width == 2 ? figure<std::int16_t>(at, swap)
               : head.width == 4 ? figure<std::int32_t>(at, swap)
                                 : figure<std::int64_t>(at, swap);
    return head.width == 1   ? figure<std::uint8_t>(at, swap)
           : head.width == 2 ? figure<std::uint16_t>(at, swap)
           : head.width == 4 ? figure<std::uint32_t>(at, swap)
                             : figure<std::uint64_t>(at, swap);
}

Result<std::string> bytesOf(const std::string& path)
{
    std::error_code code;
    if (!std::filesystem::is_regular_file(path, code)) return fail(path, "there is no such ordinary file");
    const auto size = std::filesystem::file_size(path, code);
    if (code || size > largest_bytes) return fail(path, "is larger than 4 GB");
    std::ifstream in(path, std::ios::binary);
    std::string bytes(size, '\0');
    in.read(bytes.data(), static_cast<std::streamsize>(size));
    if (static_cast<std::size_t>(in.gcount()) != size) return fail(path, "cannot be read to its end");
    return bytes;
}

}  // namespace

Result<Recording> readNpy(const std::string& path)
{
    const auto bytes = bytesOf(path);
    if (!bytes) return tl::unexpected(bytes.error());
    const auto head = headOf(path, *bytes);
    if (!head) return tl::unexpected(head.error());
    if (head->shape.empty() || head->shape.size() > 2) return fail(path, "is no table: one or two dimensions are read");
    const std::size_t rows = head->shape[0], columns = head->shape.size() == 2 ? head->shape[1] : 1;
    const std::size_t room = (bytes->size() - head->dataAt) / head->width;
    if (rows == 0 || columns == 0 || rows > room / columns)
        return fail(path, "is shorter than its head says, or empty");
    const bool sideways = columns > rows;
    std::vector<std::vector<double>> out(sideways ? rows : columns);
    for (std::size_t r = 0; r < rows; ++r) {
        if (r % 4096 == 0) stopPoint();
        for (std::size_t c = 0; c < columns; ++c) {
            const std::size_t at = head->columnsFirst ? c * rows + r : r * columns + c;
            out[sideways ? r : c].push_back(figureAt(*head, bytes->data() + head->dataAt + at * head->width));
        }
    }
    return recordingOf(path, std::move(out));
}

Result<void> writeNpy(const std::string& path, const Recording& r)
{
    static_assert(std::endian::native == std::endian::little);
    std::string head =
        fmt::format("{{'descr': '<f8', 'fortran_order': False, 'shape': ({}, {}), }}", r.size(), r.channels.size() + 1);
    head.append(63 - (head.size() + 10) % 64, ' ');
    head += '\n';
    std::string out("\x93NUMPY\x01\x00", 8);
    out += static_cast<char>(head.size() & 0xFFU);
    out += static_cast<char>(head.size() >> 8U);
    out += head;
    const auto put = [&](double value) {
        char raw[sizeof value];
        std::memcpy(raw, &value, sizeof value);
        out.append(raw, sizeof value);
    };
    for (std::size_t i = 0; i < r.size(); ++i) {
        put(r.start_s + r.interval_s * static_cast<double>(i));
        for (const Channel& c : r.channels)
            put(c.samples.at(i));
    }
    return writeFile(path, out);
}

}  // namespace ilvek
