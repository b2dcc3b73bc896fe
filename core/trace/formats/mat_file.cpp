#include "trace/formats/mat_file.h"

#include <fmt/format.h>
#include <matio.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <map>
#include <memory>

#include "base/text.h"

namespace ilvek {

namespace {

// More than any recorder of the trade has memory for.
constexpr double mostFigures = 5e8;
// Recordings shrink to a tenth or a twentieth of their size; what shrinks to less is made to fill the memory.
constexpr double mostPerByte = 10;

struct Named {
    std::string name;
    std::vector<double> values;
};

template <class T>
std::vector<double> figures(const matvar_t& v, std::size_t count)
{
    const T* from = static_cast<const T*>(v.data);
    return std::vector<double>(from, from + count);
}

std::vector<double> figuresOf(const matvar_t& v, std::size_t count)
{
    switch (v.class_type) {
        case MAT_C_DOUBLE:
            return figures<double>(v, count);
        case MAT_C_SINGLE:
            return figures<float>(v, count);
        case MAT_C_INT8:
            return figures<std::int8_t>(v, count);
        case MAT_C_UINT8:
            return figures<std::uint8_t>(v, count);
        case MAT_C_INT16:
            return figures<std::int16_t>(v, count);
        case MAT_C_UINT16:
            return figures<std::uint16_t>(v, count);
        case MAT_C_INT32:
            return figures<std::int32_t>(v, count);
        case MAT_C_UINT32:
            return figures<std::uint32_t>(v, count);
        default:
            return {};
    }
}

// A table's columns, or its rows where it lies sideways, one by one.
void take(const matvar_t& v, std::vector<Named>& out)
{
    if (!v.data) return;
    const std::size_t rows = v.dims[0], columns = v.dims[1];
    if (rows == 0 || columns == 0) return;
    // The library gives fewer bytes than it says where a variable is cut short.
    if (rows * columns > v.nbytes / static_cast<std::size_t>(std::max(1, v.data_size))) return;
    const std::vector<double> all = figuresOf(v, rows * columns);
    if (all.empty()) return;
    const bool sideways = columns > rows;
    const std::size_t lines = sideways ? rows : columns, length = sideways ? columns : rows;
    for (std::size_t k = 0; k < lines; ++k) {
        Named one{lines == 1 ? v.name : fmt::format("{} {}", v.name, k + 1), {}};
        one.values.reserve(length);
        for (std::size_t i = 0; i < length; ++i)
            one.values.push_back(sideways ? all[i * rows + k] : all[k * rows + i]);
        out.push_back(std::move(one));
    }
}

bool isTime(const std::vector<double>& t)
{
    if (t.size() < 3) return false;
    const double step = (t.back() - t.front()) / static_cast<double>(t.size() - 1);
    for (std::size_t i = 0; i < t.size(); ++i) {
        if (!(std::abs(t[i] - t.front() - step * static_cast<double>(i)) <= 1e-3 * step)) return false;
    }
    return step > 0;
}

// The library takes what it can and stops silently: each variable must end within the file, the last one at its end.
// SOURCE: MAT-File Format, level 5: a head of 128 bytes with the byte order in its last two, then elements of a type, a
// size and so many bytes; those that are no compressed ones fill up to eight.
Result<void> isWhole(const std::string& path)
{
    constexpr std::size_t head = 128, tag = 8;
    constexpr std::uint32_t compressed = 15;
    std::error_code code;
    const std::size_t bytes = std::filesystem::file_size(path, code);
    std::ifstream in(path, std::ios::binary);
    std::array<char, tag> read{};
    if (code || bytes < head || !in.seekg(head - 2) || !in.read(read.data(), 2))
        return fail(path, "ends within its head");
    const bool swapped = read[0] == 'M';
    const auto word = [&](std::size_t from) {
        std::uint32_t w = 0;
        for (std::size_t i = 0; i < 4; ++i)
            w |= static_cast<std::uint32_t>(static_cast<unsigned char>(read[from + i])) << (8 * (swapped ? 3 - i : i));
        return w;
    };
    for (std::size_t at = head; at < bytes;) {
        const bool there = at + tag <= bytes && in.seekg(static_cast<std::streamoff>(at)) && in.read(read.data(), tag);
        const std::size_t size = there ? word(4) : 0, filled = word(0) == compressed ? size : (size + 7) / 8 * 8;
        if (!there || size > bytes - at - tag)
            return fail(path, fmt::format("ends within the variable at byte {}", at));
        at += tag + filled;
    }
    return {};
}

struct FreeVariable {
    void operator()(matvar_t* v) const { Mat_VarFree(v); }
};

Result<std::vector<Named>> variablesOf(const std::string& path)
{
    const std::unique_ptr<mat_t, int (*)(mat_t*)> file(Mat_Open(path.c_str(), MAT_ACC_RDONLY), Mat_Close);
    if (!file) return fail(path, "is not read as a MATLAB file");
    std::error_code code;
    const auto bytes = static_cast<double>(std::filesystem::file_size(path, code));
    double claimed = 0;
    std::vector<Named> all;
    while (const std::unique_ptr<matvar_t, FreeVariable> v{Mat_VarReadNextInfo(file.get())}) {
        if (!v->name || v->rank != 2 || v->isComplex) continue;
        const auto figures = static_cast<double>(v->dims[0]) * static_cast<double>(v->dims[1]);
        claimed += figures;
        if (claimed > mostFigures || claimed > 1e6 + mostPerByte * bytes)
            return fail(path,
                        fmt::format("{} claims {:g} figures, more than a file of this size holds", v->name, figures));
        if (Mat_VarReadDataAll(file.get(), v.get()) != 0)
            return fail(path, fmt::format("the figures of {} cannot be read", v->name));
        take(*v, all);
    }
    return all;
}

}  // namespace

Result<Recording> readMat(const std::string& path)
{
    if (const auto whole = isWhole(path); !whole) return tl::unexpected(whole.error());
    const auto variables = variablesOf(path);
    if (!variables) return tl::unexpected(variables.error());
    const std::vector<Named>& all = *variables;
    Recording out;
    out.name = path.substr(path.rfind('/') + 1);
    std::map<std::size_t, int> lengths;
    for (const Named& n : all) {
        const std::string name = lowered(n.name);
        if (n.values.size() > 1) ++lengths[n.values.size()];
        if (n.values.size() != 1 || !(n.values.front() > 0)) continue;
        if (name == "dt" || name == "ts" || name == "interval" || name == "tinterval")
            out.interval_s = n.values.front();
        if (name == "fs" || name == "rate" || name == "samplerate") out.interval_s = 1 / n.values.front();
        if (name == "tstart" || name == "t0") out.start_s = n.values.front();
    }
    if (lengths.empty()) return fail(path, "holds no vector of figures");
    const auto commonest = std::max_element(lengths.begin(), lengths.end(), [](const auto& a, const auto& b) {
                               return a.second != b.second ? a.second < b.second : a.first < b.first;
                           })->first;
    for (const Named& n : all) {
        if (n.values.size() != commonest) continue;
        if (out.interval_s == 0 && isTime(n.values)) {
            out.start_s = n.values.front();
            out.interval_s = (n.values.back() - n.values.front()) / static_cast<double>(n.values.size() - 1);
            continue;
        }
        Channel channel;
        channel.name = n.name;
        std::vector<float> values;
        values.reserve(n.values.size());
        for (const double x : n.values)
            values.push_back(static_cast<float>(x));
        channel.gaps = takeGaps(values);
        if (!channel.gaps.empty())
            out.notes.push_back(
                gapWords(channel.gaps, fmt::format("sample {} of {}", channel.gaps.front().first + 1, n.name)));
        channel.samples = Samples(std::move(values));
        out.channels.push_back(std::move(channel));
    }
    if (out.channels.empty()) return fail(path, "holds a time and no channel");
    if (out.interval_s == 0) {
        out.interval_s = 1;
        out.notes.push_back("It says nothing of time; one second between two samples is assumed.");
    }
    return out;
}

}  // namespace ilvek
