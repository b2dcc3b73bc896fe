#include "trace/formats/wav_file.h"

#include <fmt/format.h>
#include <sndfile.h>

#include <algorithm>
#include <memory>

#include "base/stop.h"

namespace ilvek {

namespace {

constexpr sf_count_t mostFrames = 500'000'000;

}  // namespace

Result<Recording> readWav(const std::string& path)
{
    SF_INFO info{};
    const std::unique_ptr<SNDFILE, int (*)(SNDFILE*)> file(sf_open(path.c_str(), SFM_READ, &info), sf_close);
    if (!file) return fail(path, std::string("is not read as sound: ") + sf_strerror(nullptr));
    if (info.frames <= 0 || info.frames > mostFrames || info.channels <= 0 || info.samplerate <= 0)
        return fail(path, "holds no samples, or more than can be");
    const auto frames = static_cast<std::size_t>(info.frames), channels = static_cast<std::size_t>(info.channels);
    const bool steps =
        (info.format & SF_FORMAT_SUBMASK) == SF_FORMAT_PCM_16 || (info.format & SF_FORMAT_SUBMASK) == SF_FORMAT_PCM_U8;
    // They grow with what is really there: a head may claim anything.
    std::vector<std::vector<std::int16_t>> raw(steps ? channels : 0);
    std::vector<std::vector<float>> values(steps ? 0 : channels);
    const std::size_t block = std::max<std::size_t>(1, std::min<std::size_t>(65536, (1U << 22U) / channels));
    std::vector<std::int16_t> shorts(block * channels);
    std::vector<float> floats(block * channels);
    for (std::size_t done = 0; done < frames;) {
        const auto want = static_cast<sf_count_t>(std::min(block, frames - done));
        const sf_count_t got =
            steps ? sf_readf_short(file.get(), shorts.data(), want) : sf_readf_float(file.get(), floats.data(), want);
        stopPoint();
        if (got <= 0) return fail(path, fmt::format("ends after {} of {} samples", done, frames));
        for (std::size_t i = 0; i < static_cast<std::size_t>(got); ++i) {
            for (std::size_t c = 0; c < channels; ++c) {
                if (steps)
                    raw[c].push_back(shorts[i * channels + c]);
                else
                    values[c].push_back(floats[i * channels + c]);
            }
        }
        done += static_cast<std::size_t>(got);
    }
    Recording out;
    out.name = path.substr(path.rfind('/') + 1);
    out.interval_s = 1.0 / info.samplerate;
    out.notes.push_back("Sound files carry no volts: full scale counts as 1 V until the attenuation is said.");
    for (std::size_t c = 0; c < channels; ++c) {
        Channel channel;
        channel.name = "channel " + std::to_string(c + 1);
        channel.unitScale = steps ? 1.0 / 32768 : 1.0;
        if (!steps) channel.gaps = takeGaps(values[c]);
        if (!channel.gaps.empty())
            out.notes.push_back(
                gapWords(channel.gaps, fmt::format("sample {} of {}", channel.gaps.front().first + 1, channel.name)));
        channel.samples = steps ? Samples(std::move(raw[c]), channel.unitScale, 0) : Samples(std::move(values[c]));
        out.channels.push_back(std::move(channel));
    }
    return out;
}

}  // namespace ilvek
