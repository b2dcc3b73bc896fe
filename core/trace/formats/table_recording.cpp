#include "trace/formats/table_recording.h"

#include <fmt/format.h>

#include <cmath>

namespace ilvek {

namespace {

constexpr double evenShare = 1e-3;

bool takeTime(std::vector<std::vector<double>>& columns, Recording& recording)
{
    const auto& t = columns.front();
    if (columns.size() < 2 || t.size() < 3) return false;
    const double step = (t.back() - t.front()) / static_cast<double>(t.size() - 1);
    if (!(step > 0)) return false;
    for (std::size_t i = 0; i < t.size(); ++i) {
        if (!(std::abs(t[i] - t.front() - step * static_cast<double>(i)) <= evenShare * step + 1e-9 * std::abs(t[i])))
            return false;
    }
    recording.start_s = t.front();
    recording.interval_s = step;
    columns.erase(columns.begin());
    return true;
}

}  // namespace

Result<Recording> recordingOf(const std::string& path, std::vector<std::vector<double>> columns)
{
    Recording out;
    out.name = path.substr(path.rfind('/') + 1);
    if (!takeTime(columns, out)) {
        out.interval_s = 1;
        out.notes.push_back("It says nothing of time; one second between two samples is assumed.");
    }
    for (std::size_t c = 0; c < columns.size(); ++c) {
        Channel channel;
        channel.name = "channel " + std::to_string(c + 1);
        std::vector<float> values;
        values.reserve(columns[c].size());
        for (const double x : columns[c])
            values.push_back(static_cast<float>(x));
        channel.gaps = takeGaps(values);
        if (!channel.gaps.empty())
            out.notes.push_back(
                gapWords(channel.gaps, fmt::format("row {} of channel {}", channel.gaps.front().first + 1, c + 1)));
        channel.samples = Samples(std::move(values));
        out.channels.push_back(std::move(channel));
    }
    return out;
}

}  // namespace ilvek
