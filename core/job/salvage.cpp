#include "job/salvage.h"

#include <algorithm>
#include <array>
#include <fstream>
#include <map>
#include <optional>
#include <vector>

namespace ilvek {

namespace {

constexpr std::size_t pageSize = 4096;  // of every job file
constexpr std::uint64_t longestRow = 256ULL << 20U;
constexpr std::uint64_t largestSalvaged = 1ULL << 30U;

// Reads on from a place, and says when the bytes end.
struct Cursor {
    std::string_view bytes;
    std::size_t at = 0;
    bool good = true;

    // Seven bits a byte, most significant first; the ninth byte gives eight.
    std::uint64_t varint()
    {
        std::uint64_t value = 0;
        for (int i = 0; i < 9; ++i) {
            if (at >= bytes.size()) return good = false, 0;
            const auto byte = static_cast<std::uint8_t>(bytes[at++]);
            if (i == 8) return (value << 8U) | byte;
            value = (value << 7U) | (byte & 0x7FU);
            if (byte < 0x80) return value;
        }
        return value;
    }
};

std::uint32_t bigEndian(std::string_view bytes)
{
    std::uint32_t value = 0;
    for (const char c : bytes.substr(0, 4))
        value = (value << 8U) | static_cast<std::uint8_t>(c);
    return value;
}

// How much of a row of P bytes stands in the leaf itself; the rest is in overflow pages. U = page size.
//   X = U − 35;  M = (U − 12)·32/255 − 23;  K = M + (P − M) mod (U − 4);  local = P ≤ X ? P : K ≤ X ? K : M
std::size_t localPart(std::uint64_t p)
{
    constexpr std::uint64_t u = pageSize, x = u - 35, m = (u - 12) * 32 / 255 - 23;
    if (p <= x) return static_cast<std::size_t>(p);
    const std::uint64_t k = m + (p - m) % (u - 4);
    return static_cast<std::size_t>(k <= x ? k : m);
}

// The whole row of `size` bytes that begins at `at`; nullopt where the chain of its pages is broken.
std::optional<std::string> payload(std::string_view source, std::size_t at, std::uint64_t size, std::string_view file)
{
    const std::size_t local = localPart(size);
    if (at + local > source.size()) return std::nullopt;
    std::string row(source.substr(at, local));
    if (local == size) return row;
    if (at + local + 4 > source.size()) return std::nullopt;
    std::uint32_t page = bigEndian(source.substr(at + local, 4));
    while (row.size() < size) {
        const std::uint64_t begin = (std::uint64_t{page} - 1) * pageSize;
        if (page == 0 || begin + pageSize > file.size()) return std::nullopt;
        const std::string_view content = file.substr(begin, pageSize);
        row += content.substr(4, static_cast<std::size_t>(std::min<std::uint64_t>(size - row.size(), pageSize - 4)));
        page = bigEndian(content);
    }
    return row;
}

// A row whose first column is the row number and all others are texts or bytes.
struct Cell {
    std::int64_t id = 0;
    std::vector<std::string> texts;
};

std::optional<Cell> cellAt(std::string_view source, std::size_t at, std::string_view file)
{
    Cursor cell{source, at};
    const std::uint64_t size = cell.varint();
    const std::uint64_t id = cell.varint();
    const std::size_t begin = cell.at;
    if (!cell.good || size < 8 || size > longestRow || id == 0 || id > INT64_MAX) return std::nullopt;
    const std::uint64_t header = cell.varint();
    const std::uint64_t rowNumber = cell.varint();  // stands as NULL in the row itself
    if (!cell.good || rowNumber != 0 || header < 4 || header > 40) return std::nullopt;
    std::array<std::uint64_t, 5> lengths{};
    std::size_t columns = 0;
    std::uint64_t total = header;
    while (cell.good && cell.at < begin + header) {
        const std::uint64_t type = cell.varint();
        if (type < 12 || columns == lengths.size()) return std::nullopt;  // a text (odd) or bytes (even)
        lengths[columns++] = (type - 12) / 2;
        total += (type - 12) / 2;
        if (total > longestRow) return std::nullopt;
    }
    if (!cell.good || cell.at != begin + header || total != size || columns < 2) return std::nullopt;
    const auto row = payload(source, begin, size, file);
    if (!row) return std::nullopt;
    Cell out{static_cast<std::int64_t>(id), {}};
    std::size_t from = static_cast<std::size_t>(header);
    for (std::size_t i = 0; i < columns; ++i) {
        out.texts.push_back(row->substr(from, static_cast<std::size_t>(lengths[i])));
        from += static_cast<std::size_t>(lengths[i]);
    }
    return out;
}

// Everything found so far; a row that fits takes the place of one that does not.
struct Finds {
    std::map<std::int64_t, Event> events;
    std::map<std::int64_t, SetAside> setAside;
    std::string map;

    void take(Cell cell)
    {
        auto& t = cell.texts;
        if (t.size() == 2) {
            if (map.empty() && sealOf(t[0]) == t[1]) map = std::move(t[0]);
            return;
        }
        const bool sealed = t.size() == 4;
        const bool looksLikeOne = readTime(t[0]).has_value();
        JobContent one;
        takeRow({cell.id, std::move(t[0]), std::move(t[1]), std::move(t[2]), sealed ? std::move(t[3]) : ""}, one);
        // A row without a checksum is taken for one only where it reads well from end to end.
        for (Event& event : one.events)
            events.insert_or_assign(cell.id, std::move(event));
        for (SetAside& entry : one.setAside) {
            if (looksLikeOne && sealed) setAside.insert_or_assign(cell.id, std::move(entry));
        }
    }
};

void search(std::string_view source, std::string_view file, Finds& found)
{
    for (std::size_t at = 0; at + 8 < source.size(); ++at) {
        if (auto cell = cellAt(source, at, file)) found.take(std::move(*cell));
    }
}

std::string bytesOf(const std::filesystem::path& path)
{
    std::error_code code;
    const auto size = std::filesystem::file_size(path, code);
    if (code || size > largestSalvaged) return {};
    std::string bytes(size, '\0');
    std::ifstream in(path, std::ios::binary);
    in.read(bytes.data(), static_cast<std::streamsize>(size));
    bytes.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, in.gcount())));
    return bytes;
}

}  // namespace

JobFile salvage(std::string_view bytes, std::string_view beside)
{
    Finds found;
    search(bytes, bytes, found);
    search(beside, bytes, found);
    JobFile file;
    file.content.mapDocument = std::move(found.map);
    std::int64_t next = 1, missing = 0;
    for (auto& [id, event] : found.events) {
        file.content.events.push_back(std::move(event));
        found.setAside.erase(id);
    }
    for (auto& [id, entry] : found.setAside)
        file.content.setAside.push_back(std::move(entry));
    for (const Event& event : file.content.events) {
        missing += event.id - next;
        next = event.id + 1;
    }
    missing -= static_cast<std::int64_t>(file.content.setAside.size());
    file.damage.push_back("the file is damaged");
    file.damage.push_back(std::to_string(file.content.events.size()) + " entries could be read from it" +
                          (missing > 0 ? ", " + std::to_string(missing) + " numbers between them are missing" : ""));
    return file;
}

JobFile salvageFile(const std::filesystem::path& path)
{
    std::string beside = bytesOf(path.string() + "-wal");
    beside += bytesOf(path.string() + "-journal");
    return salvage(bytesOf(path), beside);
}

}  // namespace ilvek
