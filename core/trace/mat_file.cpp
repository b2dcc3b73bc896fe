#include "trace/mat_file.h"

#include <fmt/format.h>
#include <matio.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>

#include "base/text.h"

namespace ilvek {

namespace {

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
    if (v.isComplex || !v.data || v.rank != 2) return;
    const std::size_t rows = v.dims[0], columns = v.dims[1];
    if (rows == 0 || columns == 0) return;
    const std::vector<double> all = figuresOf(v, rows * columns);
    if (all.empty()) return;
    const bool sideways = columns > rows;
    const std::size_t lines = sideways ? rows : columns, length = sideways ? columns : rows;
    for (std::size_t k = 0; k < lines; ++k) {
        Named one{lines == 1 ? v.name : fmt::format("{} {}", v.name, k + 1), {}};
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

}  // namespace

Result<Recording> readMat(const std::string& path)
{
    const std::unique_ptr<mat_t, int (*)(mat_t*)> file(Mat_Open(path.c_str(), MAT_ACC_RDONLY), Mat_Close);
    if (!file) return fail(path, "is not read as a MATLAB file");
    std::vector<Named> all;
    while (matvar_t* v = Mat_VarReadNext(file.get())) {
        if (v->name) take(*v, all);
        Mat_VarFree(v);
    }
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
        if (const auto odd = std::find_if(n.values.begin(), n.values.end(),
                                          [](double x) { return !std::isfinite(static_cast<float>(x)); });
            odd != n.values.end())
            return fail(fmt::format("{}, {}, sample {}", path, n.name, odd - n.values.begin() + 1), "is no figure");
        channel.samples = Samples(std::vector<float>(n.values.begin(), n.values.end()));
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
